"""Where next: the probe that tells most for its price, and to the end where few suspects are left; danger is a barrier,
not a price."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np
import numpy.typing as npt

from young_spark.core.ground import Frozen
from young_spark.core.trace.chain import OutputProbe, Probe, Risk, StressProbe
from young_spark.core.trace.suspicion import UNKNOWN, Engine, Seen, Weights, entropy_bits

Chosen = npt.NDArray[np.bool_]
Strategy = Literal["best-value", "half-split", "walk-back", "walk-forward"]
STRATEGIES: tuple[Strategy, ...] = ("best-value", "half-split", "walk-back", "walk-forward")
# tuned over simulated traces: `./spark bench --only tracing` prints what these come to
COVERS_MIN = 4.0  # to take them off, once
# the hand's own price of any look, to find the point, turn to it, read it and say it: few good ones, not many small
# ones
TURN_MIN = 3.0
LEAST_BITS = 0.03  # a probe that tells less tells nothing
OF_THE_BEST = 0.4  # the share of what the best cold test tells, below which no other is made after damage
WITHIN = 0.25  # what telling faults of one stage apart is worth, against telling stages apart
FORGOTTEN = 1e-4  # hypotheses with less than that share are not followed
FEW_SUSPECTS = 8  # where so few hold nearly all of the suspicion, the rest of the trace is planned to its end
FEW_PROBES = 14
NEARLY_ALL = 0.93
SHOWN = 3
OUTPUT = "output"  # the probe of what comes out at the end, in every chain


class Advice(Frozen):
    """A probe to make next: what it tells in bits of the suspicion, how long it takes, and why in words of the
    trade."""

    probe: str
    bits: float
    minutes: float
    risk: Risk
    why: str
    expect: str


@dataclass(frozen=True)
class _Worth:
    bits: Weights  # of the suspicion, (probes,)
    value: Weights  # bits that count, (probes,)
    answers: Weights  # P(answer), (probes, answers)


def _worth_of(engine: Engine, belief: Weights) -> _Worth:
    """What each probe tells, under a belief."""
    probes = len(engine.noise)
    answers = (belief @ engine.flat).reshape(probes, -1)
    whole = _entropies(answers)
    bits = whole - engine.noise @ belief
    joint = (engine.groups * belief) @ engine.flat  # (stages, probes · answers)
    # H(answer | stage) = H(answer, stage) − H(stage)
    together = _entropies(joint.reshape(len(joint), probes, -1)).sum(axis=0)
    told = whole - (together - entropy_bits(engine.groups @ belief))
    return _Worth(np.maximum(bits, 0.0), np.maximum(told + WITHIN * (bits - told), 0.0), answers)


def advised(engine: Engine, evidence: Sequence[Seen], strategy: Strategy = "best-value") -> tuple[Advice, ...]:
    """What to probe next, the best first; nothing where no probe tells anything. A lethal probe only where no safe
    one does."""
    belief = engine.belief(evidence)
    prices = prices_of(engine, evidence)
    worth = _worth_of(engine, belief)
    open_now = _open(engine, evidence, worth)
    if not open_now:
        return ()
    if strategy == "best-value":
        order = _by_value(engine, belief, prices, open_now, worth)
    else:
        order = _walked(engine, strategy, worth, open_now)
        rest = [n for n in _by_rate(open_now, worth, prices) if n not in order]
        order = [*order, *rest]
    return tuple(_advice(engine, belief, n, worth) for n in order[:SHOWN])


def _open(engine: Engine, evidence: Sequence[Seen], worth: _Worth) -> list[int]:
    asked = {seen.probe for seen in evidence}
    if not _fades(engine, evidence):
        asked |= {p.id for p in engine.probes if isinstance(p, StressProbe) and p.stress == "cold"}
    telling = [
        n
        for n, p in enumerate(engine.probes)
        if not p.told and p.id not in asked and worth.bits[n] >= LEAST_BITS and can_be_made(p, evidence)
    ]
    if _is_damaged(engine, evidence):  # nothing is keyed while a cold test still tells something
        cold = [n for n in telling if not engine.probes[n].is_powered]
        most = max((float(worth.bits[n]) for n in cold), default=0.0)
        # the damage is found before anything else is asked, however cheaply
        telling = [n for n in cold if worth.bits[n] >= OF_THE_BEST * most] or telling
    return [n for n in telling if engine.probes[n].risk != "lethal"] or telling


def can_be_made(probe: Probe, evidence: Sequence[Seen]) -> bool:
    """Whether there is anything to look at: of a carrier that does not come, no counter tells a frequency."""
    return not (probe.of_the_signal and any(seen.probe == OUTPUT and seen.answer == "dead" for seen in evidence))


def _fades(engine: Engine, evidence: Sequence[Seen]) -> bool:
    """Whether a part can be cooled while something fades: a fade was seen, or no look of this chain shows one."""
    warm = {p.id for p in engine.probes if isinstance(p, StressProbe) and p.stress == "warm"}
    return not warm or any(seen.probe in warm and seen.answer == "changes" for seen in evidence)


def _is_damaged(engine: Engine, evidence: Sequence[Seen]) -> bool:
    """Whether an arc or a burnt part was seen."""
    seen = ((engine.chain.by_probe.get(s.probe), s.answer) for s in evidence)
    return any(
        probe is not None and probe.damage and answer not in (UNKNOWN, probe.answers[0]) for probe, answer in seen
    )


def prices_of(engine: Engine, evidence: Sequence[Seen]) -> Weights:
    """Minutes, with those for what is fragile, for the covers while they are on, and for turning to anything at all."""
    off = any(engine.chain.by_probe[s.probe].covers for s in evidence if s.probe in engine.chain.by_probe)
    return np.array(
        [TURN_MIN + p.minutes + p.fragile + (COVERS_MIN if p.covers and not off else 0.0) for p in engine.probes]
    )


def _entropies(shares: Weights) -> Weights:
    return np.asarray(-(shares * np.log2(np.maximum(shares, 1e-300))).sum(axis=-1))


def _by_rate(numbers: list[int], worth: _Worth, prices: Weights) -> list[int]:
    return sorted(numbers, key=lambda n: (-worth.value[n] / prices[n], n))


def _by_value(engine: Engine, belief: Weights, prices: Weights, open_now: list[int], worth: _Worth) -> list[int]:
    """Open probes by what they tell for their price; where few suspects are left, as the rest of the trace is
    planned."""
    order = _by_rate(open_now, worth, prices)
    kept = np.flatnonzero(belief > FORGOTTEN)
    planned = [
        open_now[n] for n in _planned(engine, belief[kept] / belief[kept].sum(), kept, prices[open_now], open_now)
    ]
    return [*planned, *(n for n in order if n not in planned)]


def _planned(
    engine: Engine, left: Weights, kept: npt.NDArray[np.int_], prices: Weights, open_now: list[int]
) -> list[int]:
    """The probes that split what is left, by what the whole trace costs with each of them first, worked out to its
    end as if answers did not err (dynamic programming); nothing where too much is left for that. One that errs
    costs as many looks as it needs to be sure."""
    suspects = [n for n in np.argsort(-left, kind="stable")[:FEW_SUSPECTS].tolist() if left[n] > FORGOTTEN]
    if not suspects or left[suspects].sum() < NEARLY_ALL:
        return []
    stages = [engine.hypotheses[kept[n]].stage for n in suspects]
    shown = {m: tuple(engine.codes[number][kept[n]] for n in suspects) for m, number in enumerate(open_now)}
    cheapest: dict[tuple[int, ...], int] = {}
    sure = {m: float(prices[m]) / _certainty(engine.probes[number].errs) for m, number in enumerate(open_now)}
    for m in sorted(shown, key=lambda m: sure[m]):
        if len(set(shown[m])) > 1:
            cheapest.setdefault(shown[m], m)  # of those that tell the same apart
    if not 0 < len(cheapest) <= FEW_PROBES:
        return []
    shares = [float(left[n]) for n in suspects]

    @cache
    def cost(among: frozenset[int]) -> float:
        if len({stages[n] for n in among}) <= 1:
            return 0.0
        least = min(with_first(m, among) for m in cheapest.values())
        return least if least < math.inf else 0.0  # nothing tells these apart

    def with_first(m: int, among: frozenset[int]) -> float:
        parts: dict[int, set[int]] = {}
        for n in among:
            parts.setdefault(shown[m][n], set()).add(n)
        if len(parts) == 1:
            return math.inf
        whole = sum(shares[n] for n in among)
        rest = sum(sum(shares[n] for n in part) * cost(frozenset(part)) for part in parts.values())
        return sure[m] + rest / whole

    if len(set(stages)) <= 1:
        return []
    every = frozenset(range(len(suspects)))
    return sorted(cheapest.values(), key=lambda m: with_first(m, every))


def _certainty(errs: float) -> float:
    """What an answer that errs so often tells of a question with two answers, in bits."""
    return 1.0 - entropy_bits([errs, 1 - errs])


def _walked(engine: Engine, strategy: Strategy, worth: _Worth, open_now: list[int]) -> list[int]:
    """The orders of habit: where half of the suspicion lies on each side, or stage by stage from one end."""
    along = {n: probe.at for n in open_now if isinstance(probe := engine.probes[n], OutputProbe)}
    if strategy == "half-split":
        return sorted(along, key=lambda n: abs(float(worth.answers[n, 0]) - 0.5))
    sign = -1 if strategy == "walk-back" else 1
    return sorted(along, key=lambda n: (sign * engine.chain.order[along[n]], n))


def _advice(engine: Engine, belief: Weights, number: int, worth: _Worth) -> Advice:
    probe = engine.probes[number]
    return Advice(
        probe=probe.id,
        bits=float(worth.bits[number]),
        minutes=probe.minutes,
        risk=probe.risk,
        why=why(engine, belief, probe, worth.answers[number]),
        expect=expect(engine, probe),
    )


def expect(engine: Engine, probe: Probe) -> str:
    """What a healthy unit shows there."""
    if (figure := probe.figure) is not None:
        return f"{figure.good[0]:g} to {figure.good[1]:g} {figure.unit}"
    if probe.due:
        return probe.due
    if (
        isinstance(probe, OutputProbe)
        and probe.kind in {"level", "dc", "audio"}
        and (due := engine.chain.by_stage[probe.at].level)
    ):
        return due
    return probe.said(probe.answers[0])


def why(engine: Engine, belief: Weights, probe: Probe, answers: Weights) -> str:
    """Why this one, in a sentence of the trade: where each answer would send the hand, and to which part where all
    send it to one stage."""
    number = engine.number[probe.id]
    after = {
        probe.said(answer): belief * engine.table[number, :, n] / answers[n]
        for n, answer in enumerate(probe.answers)
        if answers[n] >= 0.03
    }
    for named in (_named, _part_named):
        leads = {said: named(engine, then) for said, then in after.items()}
        if len(set(leads.values())) > 1:
            return "; ".join(f"“{said}” points to {where}" for said, where in leads.items()) + "."
    return f"It tells how sure the {_named(engine, belief)} is."


def _named(engine: Engine, belief: Weights) -> str:
    """The stages that hold most of a suspicion, two at most."""
    top = [(s, share) for s, share in engine.by_stage(belief).items() if s is not None][:2]
    names = [engine.chain.by_stage[s].name for s, share in top if share > 0.15 or s == top[0][0]]
    return " or ".join(name[:1].lower() + name[1:] for name in names)


def _part_named(engine: Engine, belief: Weights) -> str:
    """The fault that holds most of a suspicion, or both of a pair."""
    faults = engine.hypotheses[int(np.argmax(belief))].faults
    return " and ".join(fault.name for fault in faults) or "something that is not listed"


def swap_instead(engine: Engine, belief: Weights, following: Sequence[Advice]) -> str | None:
    """Where the likeliest part costs less time than the next probe, to swap it is the better test; None otherwise."""
    top = int(np.argmax(belief))
    hypothesis = engine.hypotheses[top]
    if len(hypothesis.faults) != 1 or belief[top] < 0.5 or not following:
        return None
    fault = hypothesis.faults[0]
    if fault.minutes > following[0].minutes:
        return None
    return f"Swap it: {fault.name} takes {fault.minutes:g} minutes, the next probe {following[0].minutes:g}."
