"""Traces against faults drawn by their shares, answers wrong at their stated rate; and against the best that can be
done."""

import math
import time
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import cache
from itertools import repeat

import numpy as np

from young_spark.core.trace import (
    STRATEGIES,
    Advice,
    Chain,
    Engine,
    Seen,
    Strategy,
    advised,
    chain_names,
    shipped_chain,
)
from young_spark.core.trace.hidden import is_told_at_check_in
from young_spark.core.trace.next_probe import prices_of

MOST_PROBES = 30
FEW = 4  # what a good technician needs at most, mostly


@dataclass(frozen=True)
class Traced:
    """How one trace ended: the guilty stage, the stage settled on, its probes and minutes, and the shares on the
    way."""

    guilty: str | None
    settled: str | None
    probes: int
    minutes: float
    shares: tuple[float, ...]  # of the stage suspected most, at each step
    right: tuple[bool, ...]  # whether it was the guilty one


def answered(engine: Engine, hypothesis: int, probe: str, dice: np.random.Generator) -> str:
    """What the probe answers for a fault: the expected answer, or another at the rate at which its kind of test
    errs."""
    number = engine.number[probe]
    answers = engine.chain.by_probe[probe].answers
    return answers[int(dice.choice(len(answers), p=engine.table[number, hypothesis, : len(answers)]))]


@cache
def engine_of(name: str) -> Engine:
    """The engine of a shipped chain; nothing changes it, so it is built once."""
    return Engine(shipped_chain(name))


Known = dict[frozenset[Seen], tuple[Advice, ...]]


def trace(
    engine: Engine,
    hypothesis: int,
    strategy: Strategy,
    dice: np.random.Generator,
    known: Known,
    given: Sequence[Seen] = (),
) -> Traced:
    """One whole trace until it is settled, or nothing tells anything any more; probes are those after what was
    given. `known` keeps advice for what many traces see."""
    evidence = [*given]
    guilty, minutes = engine.hypotheses[hypothesis].stage, 0.0
    shares, right = [], []
    while True:
        belief = engine.belief(evidence)
        stage, share = next(iter(engine.by_stage(belief).items()))
        shares.append(share)
        right.append(stage == guilty)
        settled = engine.settled(belief)
        so_far = frozenset(evidence)
        if settled is None and so_far not in known:
            known[so_far] = advised(engine, evidence, strategy)
        following = known.get(so_far, ())
        if settled is not None or not following or len(evidence) - len(given) >= MOST_PROBES:
            return Traced(guilty, settled, len(evidence) - len(given), minutes, tuple(shares), tuple(right))
        probe = following[0].probe
        minutes += float(prices_of(engine, evidence)[engine.number[probe]])
        evidence.append(Seen(probe=probe, answer=answered(engine, hypothesis, probe, dice)))


def traces(engine: Engine, strategy: Strategy, count: int, seed: int) -> list[Traced]:
    """Traces of faults drawn by their shares; what is not listed is left out, since it has no stage to find."""
    dice = np.random.default_rng(seed)
    listed = engine.prior[:-1] / engine.prior[:-1].sum()
    known: Known = {}
    return [trace(engine, int(dice.choice(len(listed), p=listed)), strategy, dice, known) for _ in range(count)]


def after_check_in(engine: Engine, count: int, seed: int) -> list[Traced]:
    """The same by value for price, where the figures and words of a check-in stand on the slip already, wrong at
    their own rates."""
    dice = np.random.default_rng(seed)
    listed = engine.prior[:-1] / engine.prior[:-1].sum()
    outside = [probe.id for probe in engine.probes if is_told_at_check_in(probe)]
    found = []
    for _ in range(count):
        guilty = int(dice.choice(len(listed), p=listed))
        given = [Seen(probe=p, answer=answered(engine, guilty, p, dice)) for p in outside]
        found.append(trace(engine, guilty, "best-value", dice, {}, given))
    return found


def calibration_error(found: list[Traced]) -> float:
    """Expected calibration error over deciles of the share of the stage suspected most, at every step of every
    trace."""
    shares = np.array([s for t in found for s in t.shares])
    right = np.array([r for t in found for r in t.right])
    deciles = np.minimum((shares * 10).astype(int), 9)
    return float(
        sum(
            (deciles == d).mean() * abs(shares[deciles == d].mean() - right[deciles == d].mean())
            for d in range(10)
            if (deciles == d).any()
        )
    )


def exact_minutes(outcomes: list[list[str]], stages: list[str], shares: list[float], prices: list[float]) -> float:
    """Least mean price to tell the stages apart with tests that never err (dynamic programming over what is still
    possible); `outcomes` holds the answer of each test for each hypothesis."""

    @cache
    def cost(left: tuple[int, ...]) -> float:
        if len({stages[n] for n in left}) <= 1:
            return 0.0
        best = math.inf
        total = sum(shares[n] for n in left)
        for test, answers in enumerate(outcomes):
            split: dict[str, list[int]] = {}
            for n in left:
                split.setdefault(answers[n], []).append(n)
            if len(split) > 1:
                rest = sum(sum(shares[n] for n in part) * cost(tuple(part)) for part in split.values()) / total
                best = min(best, prices[test] + rest)
        return 0.0 if best == math.inf else best

    return cost(tuple(range(len(shares))))


def small(chain: Chain, seed: int, faults: int = 8, probes: int = 9) -> Chain:
    """A few faults and safe probes of a chain, whose answers never err: small enough for the exact optimum."""
    dice = np.random.default_rng(seed)
    kept = [
        chain.faults[n].model_copy(update={"stress": ()}) for n in dice.choice(len(chain.faults), faults, replace=False)
    ]
    names = {f.id for f in kept}
    safe = [
        p
        for p in chain.probes
        if p.risk != "lethal" and p.kind != "stress" and not p.told and (not p.tests or names & set(p.tests))
    ]
    asked = [
        safe[n].model_copy(update={"error": 1e-9, "covers": False, "fragile": 0.0})
        for n in dice.choice(len(safe), min(probes, len(safe)), replace=False)
    ]
    return chain.model_copy(update={"faults": tuple(kept), "probes": tuple(asked), "compounds": (), "not_listed": 1e-9})


def against_the_optimum(chain: Chain) -> tuple[float, float]:
    """Mean price of the engine's traces over every fault, and the least there can be."""
    engine = Engine(chain)
    count = len(chain.faults)
    shares = list(engine.prior[:count] / engine.prior[:count].sum())
    prices = [float(x) for x in prices_of(engine, [])]
    spent = 0.0
    for n in range(count):
        evidence: list[Seen] = []
        while True:
            left = [
                m for m in range(count) if all(engine.expected[engine.number[s.probe]][m] == s.answer for s in evidence)
            ]
            if len({engine.hypotheses[m].stage for m in left}) == 1 or not (following := advised(engine, evidence)):
                break
            number = engine.number[following[0].probe]
            spent += shares[n] * prices[number]
            evidence.append(Seen(probe=following[0].probe, answer=engine.expected[number][n]))
    outcomes = [row[:count] for row in engine.expected]
    return spent, exact_minutes(outcomes, [str(h.stage) for h in engine.hypotheses[:count]], shares, prices)


def told_of(name: str, count: int, seed: int) -> tuple[str, list[Traced], list[Traced]]:
    """A chain traced in every order: a line for ./spark bench, the traces by value for their price, and those after
    a check-in."""
    engine = engine_of(name)
    told: list[str] = []
    kept: list[Traced] = []
    for strategy in STRATEGIES:
        found = traces(engine, strategy, count, seed)
        kept = found if strategy == "best-value" else kept
        settled = sum(t.settled == t.guilty for t in found) / count
        wrong = sum(t.settled not in {None, t.guilty} for t in found) / count
        probes, minutes = np.mean([t.probes for t in found]), np.mean([t.minutes for t in found])
        told.append(f"{strategy} {settled:.0%} (wrong {wrong:.0%}), {probes:.1f} probes, {minutes:.0f} min")
    begun = after_check_in(engine, count, seed)
    right = [t for t in begun if t.settled == t.guilty]
    told.append(
        f"after a check-in {len(right) / count:.0%}, median {np.median([t.probes for t in begun]):.0f} probes, "
        f"{np.mean([t.probes <= FEW for t in begun]):.0%} done in {FEW}"
    )
    return f"  {name:26} {'; '.join(told)}", kept, begun


def tracing_lines(count: int, seed: int) -> Iterator[str]:
    """What ./spark bench prints of tracing: every chain, every order, calibration, and the ratio to the optimum."""
    every: list[Traced] = []
    begun: list[Traced] = []
    with ProcessPoolExecutor() as pool:
        for line, found, later in pool.map(told_of, chain_names(), repeat(count), repeat(seed)):
            every += found
            begun += later
            yield line
    probes = np.array([t.probes for t in begun])
    yield (
        f"  all of them after a check-in: median {np.median(probes):.0f} probes, mean "
        f"{probes.mean():.1f}, {np.mean(probes <= FEW):.0%} done in "
        f"{FEW} (a good technician: most)"
    )
    yield f"  expected calibration error over deciles: {calibration_error(every):.3f} (aim 0.05)"
    pairs = [against_the_optimum(small(shipped_chain(name), s)) for name in chain_names() for s in range(6)]
    ratios = [spent / least for spent, least in pairs if least > 0]
    mean = sum(spent for spent, _ in pairs) / sum(least for _, least in pairs)
    yield (
        f"  mean price against the exact optimum on {len(ratios)} small chains: {mean:.3f}, worst "
        f"{max(ratios):.2f} (aim 1.10)"
    )
    largest = max((engine_of(n) for n in chain_names()), key=lambda e: e.table.size)
    times = []
    for _ in range(20):
        began = time.perf_counter()
        advised(largest, [Seen(probe=largest.probes[0].id, answer=largest.probes[0].answers[0])])
        times.append(time.perf_counter() - began)
    yield f"  one step on the largest chain: median {1e3 * float(np.median(times)):.0f} ms (aim 50)"
