"""From evidence to suspicion: single faults, named pairs and what is not listed, weighed by what each would have shown.

Every answer may err, at the rate of its kind of test, so that nothing is ever more certain than the evidence."""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from young_spark.core.ground import CoreError, Frozen, UnknownName
from young_spark.core.trace.answers import expected_answer, states_of
from young_spark.core.trace.chain import HIGH, Chain, Fault, Probe

Weights = npt.NDArray[np.float64]
# tuned over simulated traces: `./spark bench --only tracing` prints what these come to
SETTLED = 0.95
SHOP_WEIGHT = 30.0  # closed jobs that weigh as much as what the chain ships with
# how often a loose fault is not there while it is looked at, and one that comes with warmth, which a cold look does not
# see
LOOSE_AWAY = 0.1
THERMAL_AWAY = 0.3
UNLISTED_HEALTHY = 0.5  # what is not listed shows the healthy answer so often, since most of the unit works
TOLD_ERRS = 0.01  # how often an owner complains of what is not so
UNLISTED_NOT_COMPLAINED_OF = 0.75  # how often what is not listed would not have made the owner say just that
FAR_TOO_MUCH = 4.0  # times what is due: a reading of ten decibels more is a slip, and no power
NOT_LISTED = "not_listed"
UNKNOWN = "unknown"


class BadAnswer(CoreError):
    """An answer that a probe does not have: which, and what it may be."""

    code = "bad_answer"


class Seen(Frozen):
    """One look: the probe, and what it answered. The same probe twice is two looks. What is `told` nobody looked at:
    it is what the owner complains of."""

    probe: str
    answer: str
    told: bool = False


class Suspect(Frozen):
    """A hypothesis with its share; `stage` is None for what the chain does not list."""

    stage: str | None
    fault: str
    probability: float


class Contradiction(Frozen):
    """Looks that no single fault explains together, and why."""

    evidence: tuple[str, ...]
    why: str


@dataclass(frozen=True)
class Hypothesis:
    """A fault, two in company, or (without faults) what is not listed."""

    faults: tuple[Fault, ...]

    @property
    def stage(self) -> str | None:
        """Where hands go first: the stage of its first fault."""
        return self.faults[0].stage if self.faults else None

    @property
    def name(self) -> str:
        """Its fault, or both of them."""
        return "+".join(f.id for f in self.faults) or NOT_LISTED


class Engine:
    """A chain made ready: its hypotheses, their shares before anything is seen, and what each shows at each probe.

    `counts` are closed jobs of this shop by proven fault; they add to what the chain ships with (a Dirichlet prior)."""

    def __init__(self, chain: Chain, counts: Mapping[str, int] | None = None) -> None:
        self.chain = chain
        singles = [Hypothesis((fault,)) for fault in chain.faults]
        pairs = [Hypothesis((chain.by_fault[a], chain.by_fault[b])) for a, b in (c.faults for c in chain.compounds)]
        self.hypotheses = [*singles, *pairs, Hypothesis(())]
        weights = np.array([f.weight for f in chain.faults] + [c.weight for c in chain.compounds])
        listed = (1 - chain.not_listed) * weights / weights.sum()
        pseudo = SHOP_WEIGHT * np.append(listed, chain.not_listed)
        pseudo += [(counts or {}).get(h.name, 0) for h in self.hypotheses]
        self.prior: Weights = pseudo / pseudo.sum()
        self.probes = list(chain.probes)
        self.number = {probe.id: n for n, probe in enumerate(self.probes)}
        self.states = [states_of(chain, h.faults) for h in self.hypotheses]
        self.expected = [[self._expected(n, probe) for n in range(len(self.hypotheses))] for probe in self.probes]
        # the same as numbers of answers, (probes, hypotheses)
        self.codes = [[p.answers.index(a) for a in row] for p, row in zip(self.probes, self.expected, strict=True)]
        self.table = self._table()
        self.flat = np.ascontiguousarray(self.table.transpose(1, 0, 2).reshape(len(self.hypotheses), -1))
        # entropy of each probe's answer while a hypothesis is true, in bits, (probes, hypotheses)
        self.noise: Weights = -(self.table * np.log2(np.maximum(self.table, 1e-300))).sum(axis=2)

    @cached_property
    def stages(self) -> list[str | None]:
        """The stages that hypotheses stand in; None for what is not listed."""
        return list(dict.fromkeys(h.stage for h in self.hypotheses))

    @cached_property
    def groups(self) -> Weights:
        """Which hypothesis stands in which stage, (stages, hypotheses) of 0 and 1."""
        return np.array([[1.0 if h.stage == stage else 0.0 for h in self.hypotheses] for stage in self.stages])

    def _expected(self, number: int, probe: Probe) -> str:
        hypothesis = self.hypotheses[number]
        if not hypothesis.faults:
            return probe.answers[0]
        return expected_answer(self.chain, hypothesis.faults, probe, self.states[number])

    def _table(self) -> Weights:
        """P(answer | hypothesis), (probes, hypotheses, answers); nothing where a probe has fewer answers."""
        most = max((len(p.answers) for p in self.probes), default=1)
        table = np.zeros((len(self.probes), len(self.hypotheses), most))
        for n, probe in enumerate(self.probes):
            for m, hypothesis in enumerate(self.hypotheses):
                table[n, m, : len(probe.answers)] = self._row(probe, hypothesis, self.expected[n][m])
        return table

    def _is_of_one_way(self, hypothesis: Hypothesis) -> bool:
        """Whether only a band or a mode goes through what is wrong: the rest draws what it always drew."""
        on_the_way = self.chain.behind[self.chain.output]
        return all(fault.stage not in on_the_way for fault in hypothesis.faults)

    def _row(self, probe: Probe, hypothesis: Hypothesis, expected: str) -> Weights:
        count = len(probe.answers)
        if not hypothesis.faults:
            row = np.full(count, (1 - UNLISTED_HEALTHY) / max(1, count - 1))
            row[0] = UNLISTED_HEALTHY if count > 1 else 1.0
            return row
        row = np.full(count, probe.errs / max(1, count - 1))
        row[probe.answers.index(expected)] = 1 - probe.errs
        if probe.kind == "current" and self._is_of_one_way(hypothesis) and expected != probe.answers[0]:
            usual = np.full(count, probe.errs / max(1, count - 1))
            usual[0] = 1 - probe.errs
            row = (row + usual) / 2  # keyed on that band, or on one that is well
        if probe.kind != "stress" and expected != probe.answers[0] and any(f.stress for f in hypothesis.faults):
            healthy = np.full(count, probe.errs / max(1, count - 1))
            healthy[0] = 1 - probe.errs
            away = THERMAL_AWAY if any("warm" in f.stress for f in hypothesis.faults) else LOOSE_AWAY
            row = (1 - away) * row + away * healthy
        return row

    def belief(self, evidence: Sequence[Seen]) -> Weights:
        """Shares of the hypotheses after what was seen, in their order."""
        log = np.log(self.prior)
        for seen in evidence:
            if seen.answer == UNKNOWN:
                continue
            number = self.number[self.chain.probe(seen.probe).id]
            log = log + np.log(np.maximum(self._likely(number, seen), 1e-12))
        shares = np.exp(log - log.max())
        return np.asarray(shares / shares.sum())

    def _likely(self, number: int, seen: Seen) -> Weights:
        """How likely each hypothesis makes an answer. A tap or a fade errs often as a test, and hardly as the reason
        why the owner came: who has a dead microphone does not complain that it fades."""
        answer = self._answer(seen)
        row = self.table[number, :, answer]
        probe = self.probes[number]
        if not seen.told or probe.told or answer == 0 or probe.errs <= TOLD_ERRS:
            return row
        shown = np.array(self.codes[number]) == answer
        row = np.where(shown, 1 - TOLD_ERRS, np.minimum(row, TOLD_ERRS / (len(probe.answers) - 1)))
        row[-1] = (1 - UNLISTED_NOT_COMPLAINED_OF) / (len(probe.answers) - 1)
        return row

    def _answer(self, seen: Seen) -> int:
        answers = self.chain.by_probe[seen.probe].answers
        if seen.answer not in answers:
            raise BadAnswer(f"{seen.probe} does not answer {seen.answer!r}: {', '.join(answers)} or unknown")
        return answers.index(seen.answer)

    def suspects(self, belief: Weights) -> tuple[Suspect, ...]:
        """Hypotheses with their shares, the gravest first."""
        order = np.argsort(-belief, kind="stable")
        return tuple(
            Suspect(stage=self.hypotheses[n].stage, fault=self.hypotheses[n].name, probability=float(belief[n]))
            for n in order
        )

    def by_stage(self, belief: Weights) -> dict[str | None, float]:
        """Share of each stage, the gravest first."""
        shares = self.groups @ belief
        return {self.stages[n]: float(shares[n]) for n in np.argsort(-shares, kind="stable")}

    def settled(self, belief: Weights) -> str | None:
        """The stage that is guilty at 95 % or more, or None."""
        stage, share = next(iter(self.by_stage(belief).items()))
        return stage if stage is not None and share >= SETTLED else None

    def contradictions(self, evidence: Sequence[Seen]) -> tuple[Contradiction, ...]:
        """Looks that no listed fault explains together: the same place seen in two ways, or the smallest such set."""
        once = {(s.probe, s.answer): s for s in evidence}.values()  # told, and then seen: the same
        seen_here = (s for s in once if not self.chain.by_probe[s.probe].told)  # who was inside is a hint
        looks = [s for s in seen_here if s.answer != UNKNOWN]
        found = []
        for one, other in itertools.combinations(looks, 2):
            if one.probe == other.probe:
                found.append(
                    Contradiction(
                        evidence=(one.probe,),
                        why=f"{self._what(one)}, and then {self.chain.by_probe[other.probe].said(other.answer)}: look "
                        "once more",
                    )
                )
        fits = {seen: self._explaining(seen) for seen in looks}
        if found or not looks or bool(np.logical_and.reduce(list(fits.values())).any()):
            return tuple(found)
        for size in range(1, min(4, len(looks)) + 1):
            for few in itertools.combinations(looks, size):
                if not np.logical_and.reduce([fits[s] for s in few]).any():
                    return (self._contradiction(few),)
        return (self._contradiction(tuple(looks)),)

    def _explaining(self, seen: Seen) -> npt.NDArray[np.bool_]:
        """Which listed hypotheses would have shown this."""
        expected = self.expected[self.number[seen.probe]]
        fickle = seen.answer == self.chain.by_probe[seen.probe].answers[0]
        return np.array([
            bool(h.faults) and (expected[n] == seen.answer or (fickle and any(f.stress for f in h.faults)))
            for n, h in enumerate(self.hypotheses)
        ])  # fmt: skip

    def _what(self, seen: Seen) -> str:
        probe = self.chain.by_probe[seen.probe]
        return probe.with_words(probe.said(seen.answer))

    def _contradiction(self, looks: tuple[Seen, ...]) -> Contradiction:
        told = "; ".join(self._what(s) for s in looks)
        if len(looks) == 1:
            why = f"No fault that this chain lists gives it: {told}. Look once more, or it is something not listed"
        else:
            why = (
                f"No single fault gives all of it: {told}. One was read wrong, two faults are there, or "
                "it is something not listed"
            )
        return Contradiction(evidence=tuple(s.probe for s in looks), why=why)


def entropy_bits(shares: Any) -> float:
    """Entropy of shares that sum to 1, in bits."""
    each = np.asarray(shares, float)
    return float(-(each * np.log2(np.maximum(each, 1e-300))).sum())


def answer_of_figure(probe: Probe, value: float, unit: str) -> str:
    """The answer that a figure is, by the range due there. Raises BadAnswer for another unit, or where no range is
    known."""
    if (figure := probe.figure) is None:
        raise BadAnswer(f"{probe.id} has no range to hold a figure against: {', '.join(probe.answers)} or unknown")
    if unit != figure.unit:
        raise BadAnswer(f"{probe.id} is read in {figure.unit}, not in {unit}")
    if not math.isfinite(value):
        raise BadAnswer(f"{probe.id}: {value} is no figure")
    healthy, *others = probe.answers
    low, high = figure.good
    if low <= value <= high:
        return healthy
    if value > high:
        return _above(probe, value, unit)
    dead_below = figure.dead_below if figure.dead_below is not None else low / 10
    worst = "dead" if "dead" in others else "no_rise" if "no_rise" in others else others[-1]
    less = "weak" if "weak" in others else "low" if "low" in others else others[0]
    return worst if value < dead_below else less


def _above(probe: Probe, value: float, unit: str) -> str:
    """The answer that a figure above its range is. Raises BadAnswer for a level that can only be a slip."""
    healthy, *others = probe.answers
    low, high = probe.figure.good if probe.figure is not None else (0.0, 0.0)
    if probe.kind == "level" and value > FAR_TOO_MUCH * high:
        raise BadAnswer(
            f"{probe.what}: {value:g} {unit} where {low:g} to {high:g} is due. The meter's element or a pad first; as "
            "it stands it says nothing of any stage"
        )
    if HIGH in others:
        return HIGH
    return others[0] if probe.kind == "resistance" else healthy


def seen_as(chain: Chain, text: str, units: Mapping[str, tuple[str, float]]) -> Seen:
    """'tp3=dead', 'tp3=4.2V' or 'tp3=unknown' as one look; `units` are written units with plain unit and factor. Raises
    BadAnswer or UnknownName."""
    name, sign, told = text.partition("=")
    probe = chain.probe(name.strip())
    told = told.strip()
    if not sign or not told:
        raise BadAnswer(f"{name.strip()}: what was seen? For example {name.strip()}={probe.answers[0]}")
    if told in (*probe.answers, UNKNOWN):
        return Seen(probe=probe.id, answer=told)
    number = told.rstrip("%°ΩωµμABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz").strip().replace(",", ".")
    written = told[len(number) :].strip()
    try:
        value = float(number)
    except ValueError:
        raise BadAnswer(
            f"{probe.id} does not answer {told!r}: {', '.join(probe.answers)}, unknown or a figure"
        ) from None
    if written.lower() not in units:
        raise UnknownName("unit", written or "(none)", None)
    plain, factor = units[written.lower()]
    return Seen(probe=probe.id, answer=answer_of_figure(probe, value * factor, plain))
