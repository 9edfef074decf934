"""What the slip already knows, as answers of probes: figures, modes and bands tried, findings and tests of parts
feed a trace without being typed again. What a repair made stale counts no more, and says so."""

import math
from collections.abc import Sequence

from young_spark.core.figure import Conditions
from young_spark.core.gear import PlanRow
from young_spark.core.job import ReadingFact, due_of
from young_spark.core.trace.chain import Chain, FunctionProbe, Probe
from young_spark.core.trace.findings import SlipAnswer, SlipLine, puts_right
from young_spark.core.trace.suspicion import UNKNOWN, Seen

# of what a healthy one gives: below the first it is dead, below the second weak
SHARES = {"level": (0.05, 0.7), "function": (0.1, 0.6), "dc": (0.15, 0.9), "current": (0.35, 0.75)}
# the share of what is due from which a current is too much; simulated circuit and chains agree on it (tests/bench)
HIGH = 1.25
TOO_MUCH = {"current": HIGH, "dc": 1.15}
PUT_RIGHT = "it was put right"
OF_PARTS = {
    "part",
    "look",
    "resistance",
}  # what was seen of a part outlives a repair; what the unit did is looked at again


def answers_of_readings(chain: Chain, facts: Sequence[ReadingFact], rows: Sequence[PlanRow]) -> tuple[SlipAnswer, ...]:
    """The newest reading for each probe that reads it, held against what a healthy unit gives there by the rows of
    the plan. A reading without such a figure answers nothing. One that tries a mode or a band answers the probe
    of that, and no other: a dead band says nothing of the rest."""
    newest: dict[str, ReadingFact] = {}
    for fact in facts:
        probe = _read_by(chain, fact)
        if probe is not None and newest.get(probe.id, fact).order <= fact.order and due_of(rows, fact) is not None:
            newest[probe.id] = fact
    answers = []
    for probe_id, fact in newest.items():
        answer = _answer(chain.by_probe[probe_id], fact, due_of(rows, fact) or 0.0)
        if answer is not None:
            answers.append(
                SlipAnswer(probe=probe_id, answer=answer, line=fact.line, order=fact.order, words=fact.figure)
            )
    return tuple(answers)


def _read_by(chain: Chain, fact: ReadingFact) -> Probe | None:
    reading = [p for p in chain.probes if fact.quantity in p.reads and p.state in (None, fact.conditions.state)]
    tried = [p for p in reading if _tries(chain, p, fact.conditions)]
    open_to_all = [p for p in reading if _tries(chain, p, fact.conditions) is None]
    return next(iter([*tried, *open_to_all]), None)


def _tries(chain: Chain, probe: Probe, conditions: Conditions) -> bool | None:
    """Whether a reading taken so tries the mode or band of a probe; None for a probe of neither."""
    function = chain.by_function[probe.function] if isinstance(probe, FunctionProbe) else None
    if function is None or not (function.modes or function.mhz):
        return None
    in_band = function.mhz is None or (
        conditions.frequency_hz is not None and function.mhz[0] <= conditions.frequency_hz / 1e6 <= function.mhz[1]
    )
    return in_band and (not function.modes or conditions.mode in function.modes)


def _answer(probe: Probe, fact: ReadingFact, due: float) -> str | None:
    healthy, *_ = probe.answers
    dead, weak = ("no_rise", "low") if probe.kind == "current" else ("dead", "weak")
    if fact.nothing:
        return dead
    if fact.value is None or probe.kind not in SHARES:
        return None
    if fact.quantity.startswith(
        "sensitivity_"
    ):  # dBm at the aerial: the more it takes, the deafer; as a share of volts
        share = 10 ** ((due - fact.value) / 20)
    elif due > 0:
        share = fact.value / due
    else:
        return None
    least, enough = SHARES[probe.kind]
    if share < least:
        return dead
    if share < enough:
        return weak
    return "high" if share > TOO_MUCH.get(probe.kind, math.inf) and "high" in probe.answers else healthy


def made_stale(chain: Chain, seen: Seen, order: int, lines: Sequence[SlipLine]) -> str:
    """Why an answer of that place on the slip counts no more, or an empty string. A repair makes stale what the unit
    did; of parts it leaves what was seen, but for the bad part that it put right."""
    repairs = [line for line in lines if line.kind == "did" and line.order > order]
    if not repairs:
        return ""
    probe = chain.by_probe[seen.probe]
    if probe.kind not in OF_PARTS:
        return "a repair came after it"
    bad = seen.answer not in (UNKNOWN, probe.answers[0])
    return PUT_RIGHT if bad and any(puts_right(chain, probe, line.words) for line in repairs) else ""
