"""A fault that hides, for practice: drawn by how often it is met, shown as a circuit with it would show, priced as at
the bench, and beside it what this program would have paid."""

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from young_spark.core.trace.chain import Probe
from young_spark.core.trace.next_probe import advised, can_be_made, prices_of
from young_spark.core.trace.suspicion import Engine, Seen

Rarity = Literal["often", "sometimes", "rarely"]
RARITIES: tuple[Rarity, ...] = get_args(Rarity)
HINT_MIN = 3.0  # what a word of somebody who knows costs: as much as a quick look
MOST_LOOKS = 30


@dataclass(frozen=True)
class Way:
    """Looks in their order, and what they cost in minutes."""

    looks: tuple[Seen, ...]
    minutes: float


@dataclass(frozen=True)
class HiddenFault:
    """One fault of a chain; `number` is its hypothesis, `told` what check-in says of the unit."""

    engine: Engine
    number: int
    told: tuple[Seen, ...]

    @property
    def fault(self) -> str:
        """Its id in the chain."""
        return self.engine.hypotheses[self.number].faults[0].id

    @property
    def stage(self) -> str | None:
        """The stage where it sits."""
        return self.engine.hypotheses[self.number].stage

    def seen_at(self, probe: str) -> Seen:
        """What the unit shows there."""
        return _shown(self.engine, self.number, probe)

    def way(self, probes: tuple[str, ...]) -> Way:
        """Looks at probes one after the other; one that was looked at before costs nothing and says nothing new."""
        looks: list[Seen] = []
        minutes = 0.0
        for probe in dict.fromkeys(probes):
            minutes += float(prices_of(self.engine, (*self.told, *looks))[self.engine.number[probe]])
            looks.append(self.seen_at(probe))
        return Way(tuple(looks), minutes)

    def best_way(self) -> Way:
        """What this program does, until a stage is settled or nothing tells more."""
        probes: tuple[str, ...] = ()
        while len(probes) < MOST_LOOKS:
            seen = (*self.told, *self.way(probes).looks)
            following = advised(self.engine, seen)
            if self.engine.settled(self.engine.belief(seen)) is not None or not following:
                break
            probes = (*probes, following[0].probe)
        return self.way(probes)

    def open_probes(self, looks: tuple[Seen, ...]) -> tuple[Probe, ...]:
        """Where one may look still: at nothing twice, and at nothing that endangers hands."""
        known = {s.probe for s in (*self.told, *looks)}
        chain = self.engine.chain
        seen = (*self.told, *looks)
        return tuple(
            p
            for p in self.engine.probes
            if p.id not in known and not p.told and not chain.is_lethal(p) and can_be_made(p, seen)
        )


def is_told_at_check_in(probe: Probe) -> bool:
    """Whether the slip holds its answer before a trace begins: who was inside, what works, and what was read with
    the covers on."""
    return probe.told or (not probe.covers and (probe.kind in {"function", "current"} or bool(probe.reads)))


def hidden(engine: Engine, rarity: Rarity, draw: int) -> HiddenFault | None:
    """The fault of a draw: the same number hides the same fault. None where nothing of such rarity shows at all."""
    outside = [p.id for p in engine.probes if is_told_at_check_in(p)]
    single = (n for n, h in enumerate(engine.hypotheses) if len(h.faults) == 1)
    listed = sorted((n for n in single if _is_complained_of(engine, n, outside)), key=lambda n: -engine.prior[n])
    third = np.array_split(np.array(listed), len(RARITIES))
    these = third[RARITIES.index(rarity)]
    if not these.size:
        return None
    number = int(these[np.random.default_rng(draw).integers(these.size)])
    told = tuple(_shown(engine, number, p) for p in outside)
    seen = tuple(s for s in told if can_be_made(engine.chain.by_probe[s.probe], told))
    return HiddenFault(engine, number, seen)


def _shown(engine: Engine, number: int, probe: str) -> Seen:
    return Seen(probe=probe, answer=engine.expected[engine.number[probe]][number])


def _is_complained_of(engine: Engine, number: int, outside: list[str]) -> bool:
    """Whether anybody would bring it in, and would not see at once where it is."""
    told = [_shown(engine, number, p) for p in outside]
    complained = any(s.answer != engine.chain.by_probe[s.probe].answers[0] for s in told)
    return complained and engine.settled(engine.belief(told)) is None
