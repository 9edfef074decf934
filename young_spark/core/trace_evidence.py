"""What the slip already knows, as answers of probes: powers, currents, volts and modulation feed a trace without being typed again."""

from collections.abc import Sequence

from young_spark.core.chain import Chain, Probe
from young_spark.core.plans import ReadingFact
from young_spark.core.tracing import Seen

# of what a healthy one gives: below the first it is dead, below the second weak
SHARES = {"level": (0.05, 0.7), "function": (0.1, 0.6), "dc": (0.15, 0.9), "current": (0.35, 0.75)}
HIGH = 1.35
OUTLIVES_A_REPAIR = {
    "part",
    "look",
    "resistance",
}  # what was seen of a part stands; what the unit did is looked at again
# which quantity of the slip answers which probe of every chain, and in which state of the supply
READS: dict[str, tuple[tuple[str, ...], str | None]] = {
    "output": (("carrier_power", "peak_envelope_power"), None), "current_tx": (("supply_current",), "transmit"),
    "lead_v": (("supply_voltage",), None), "speech": (("am_depth", "fm_deviation"), None), "plate_current": (("plate_current",), None),
}  # fmt: skip


class SlipAnswer(Seen):
    """A look that a reading of the slip gave: its line, and the figure in words."""

    line: str
    figure: str


def answers_of_slip(chain: Chain, facts: Sequence[ReadingFact], expected: dict[str, float]) -> tuple[SlipAnswer, ...]:
    """The newest reading for each probe that the slip can answer, held against what a healthy unit gives at its plan row
    (`expected` by row, in the quantity's unit). A reading without such a figure answers nothing."""
    found = []
    for probe_id, (quantities, state) in READS.items():
        probe = chain.by_probe.get(probe_id)
        if probe is None:
            continue
        fitting = [
            f for f in facts
            if f.quantity in quantities and (state is None or f.conditions.state == state) and f.plan_row in expected
        ]  # fmt: skip
        if not fitting:
            continue
        fact = max(fitting, key=lambda f: f.order)
        answer = _answer(probe, fact, expected[fact.plan_row or ""])
        if answer is not None:
            found.append(SlipAnswer(probe=probe_id, answer=answer, line=fact.line, figure=fact.figure))
    return tuple(found)


def _answer(probe: Probe, fact: ReadingFact, due: float) -> str | None:
    healthy, *_ = probe.answers
    dead, weak = ("no_rise", "low") if probe.kind == "current" else ("dead", "weak")
    if fact.nothing:
        return dead
    if fact.value is None or due <= 0 or probe.kind not in SHARES:
        return None
    share, (least, enough) = fact.value / due, SHARES[probe.kind]
    if share < least:
        return dead
    if share < enough:
        return weak
    return "high" if probe.kind == "current" and share > HIGH else healthy
