"""Where a trace stands: suspicion, what to look at next, what is settled, and what looks that count no more are to
be made again."""

from collections.abc import Sequence
from dataclasses import dataclass

from young_spark.core.trace.chain import Fault, Probe
from young_spark.core.trace.evidence import PUT_RIGHT
from young_spark.core.trace.findings import first_look
from young_spark.core.trace.looks import Evidence
from young_spark.core.trace.next_probe import Advice, Strategy, advised, expect, swap_instead
from young_spark.core.trace.suspicion import Contradiction, Engine, Seen, Weights
from young_spark.core.trace.words import what_it_did
from young_spark.core.trace.worth import minutes_to_go, parts_to_come

SYMPTOM_FIRST = "The symptom first, as it is now: what it shows decides where to look."
MOST_GUILTY = 4


@dataclass(frozen=True)
class NextLook:
    """A probe that is advised: what to expect there, and why it is next."""

    probe: Probe
    expect: str
    why: str


@dataclass(frozen=True)
class Guilty:
    """A fault of the stage that is settled on, with its share of the suspicion."""

    fault: Fault
    share: float


@dataclass(frozen=True)
class Standing:
    """A trace worked out once: everything that a page shows of it."""

    engine: Engine
    evidence: tuple[Evidence, ...]
    counting: tuple[Seen, ...]
    belief: Weights
    settled: str | None
    following: tuple[Advice, ...]
    confirm: Probe | None  # the symptom's own probe, for as long as nobody has looked at it here

    @property
    def next(self) -> tuple[NextLook, ...]:
        """What is advised, the symptom before everything else."""
        chain = self.engine.chain
        told = [NextLook(chain.by_probe[a.probe], a.expect, a.why) for a in self.following]
        if self.confirm is None:
            return tuple(told)
        first = NextLook(self.confirm, expect(self.engine, self.confirm), SYMPTOM_FIRST)
        return (first, *(look for look in told if look.probe is not self.confirm))

    @property
    def others(self) -> tuple[NextLook, ...]:
        """Every probe that was neither made nor is advised."""
        asked = {s.probe for s in self.counting} | {look.probe.id for look in self.next}
        return tuple(NextLook(p, expect(self.engine, p), "") for p in self.engine.chain.probes if p.id not in asked)

    @property
    def again(self) -> tuple[str, ...]:
        """Probes whose answer something made stale, not made since; what was put right is no question any more."""
        seen = {s.probe for s in self.counting}
        stale = (e.seen.probe for e in self.evidence if e.stale not in ("", PUT_RIGHT))
        return tuple(dict.fromkeys(probe for probe in stale if probe not in seen))

    @property
    def guilty(self) -> tuple[Guilty, ...]:
        """The likeliest faults of the stage that is settled on, each once; none before one is."""
        chain, found = self.engine.chain, dict[str, Guilty]()
        for suspect in self.engine.suspects(self.belief) if self.settled else ():
            fault = chain.by_fault.get(suspect.fault.split("+")[0])
            if fault is not None and fault.stage == self.settled:
                found.setdefault(fault.id, Guilty(fault, suspect.probability))
        return tuple(found.values())[:MOST_GUILTY]

    @property
    def swap(self) -> str | None:
        """What to swap instead of looking further, where that is cheaper."""
        return swap_instead(self.engine, self.belief, self.following)

    @property
    def contradictions(self) -> tuple[Contradiction, ...]:
        """Looks that no single fault explains."""
        return self.engine.contradictions(self.counting)

    @property
    def minutes_to_go(self) -> float | None:
        """As `worth.minutes_to_go`."""
        return minutes_to_go(self.engine, self.counting, self.following)

    @property
    def parts_to_come(self) -> float:
        """As `worth.parts_to_come`."""
        return parts_to_come(self.engine, self.belief)

    def did(self, evidence: Evidence) -> str:
        """What a look did to the suspicion, in words; nothing where it does not count."""
        return what_it_did(self.engine, self.counting, evidence.seen) if evidence.counts else ""


def where_it_stands(engine: Engine, evidence: Sequence[Evidence], *, symptom: str, strategy: Strategy) -> Standing:
    """A trace of one symptom, worked out from all that is known."""
    counting = tuple(e.seen for e in evidence if e.counts)
    belief = engine.belief(counting)
    settled = engine.settled(belief)
    confirm = (
        None
        if settled
        else first_look(engine.chain, symptom, {e.seen.probe for e in evidence if e.counts and not e.told})
    )
    following = tuple(advised(engine, counting, strategy))
    return Standing(engine, tuple(evidence), counting, belief, settled, following, confirm)
