"""Judging a reading against the rows of limit profiles.

Three kinds of line are kept apart: regulation (must not exceed), specification (the maker's sheet), house (where this
shop sets it). A verdict says which row it comes from, its source, and how sure that source is."""

import math
from typing import Literal

from young_spark.core.figure import VERDICT_WORDS, WORST_FIRST, Measured, Verdict, format_value, judge, sums
from young_spark.core.ground import Frozen
from young_spark.core.judging.profile import (
    AbsoluteRow,
    Applies,
    BelowCarrierRow,
    EitherRow,
    LimitKind,
    MaskRow,
    NominalRow,
    Profile,
    RangeRow,
    Row,
    limit_words,
)

NO_BAND = "the limit is another one in another band: say at which frequency it was read"
NO_PLACE = "where in the spectrum is not known: give its frequency and the channel"
# a limit from above says nothing of how little these may be, and too little of them is a fault
FALL_SHORT = frozenset({"carrier_power", "peak_envelope_power", "am_depth", "fm_deviation"})
TOLD = "told"  # the profile of what a hand said is due
TYPICAL = "typical"  # the profile of what is due of a kind: by no maker's word
SUPPLIES_APART = 0.2  # of the volts that a current is due at
NOTHING_CAME = frozenset({"none", "dead"})
CHECK_LOCALLY = "Starting value: check it against the rules in force where you are."


class Situation(Frozen):
    """What a row may depend on besides the figure."""

    mode: str | None = None
    power_setting: str | None = None
    state: str | None = None
    modulation: Literal["on", "off"] | None = None
    assigned_hz: float | None = None
    carrier_w: float | None = None
    supply_v: float | None = None  # as it was measured


class VerdictLine(Frozen):
    """What one row says of one reading; `low` and `high` in `unit`, the reading's own."""

    kind: LimitKind
    row: str
    words: str
    low: float | None
    high: float | None
    unit: str
    verdict: Verdict
    reason: str | None = None
    only_under: bool = False  # under a limit from above, where nothing says what is due
    source: str
    confidence: str
    profile: str
    version: str


class Refusal(Exception):
    """A row that cannot judge here, with the reason for the person."""


def applies(row: Row, situation: Situation) -> bool:
    """Whether a row holds in this situation; what is not known of the situation does not exclude it."""
    rule = row.applies
    if rule.mode and situation.mode is not None and situation.mode not in rule.mode:
        return False
    if not (_of_its_band(rule, situation) and _of_its_power(rule, situation) and _of_its_supply(rule, situation)):
        return False
    if rule.state is not None and rule.state != situation.state:
        return False  # a current without its state fits no row
    pairs = ((rule.power_setting, situation.power_setting or "high"), (rule.modulation, situation.modulation))
    return all(wanted is None or given is None or wanted == given for wanted, given in pairs)


def _of_its_band(rule: Applies, situation: Situation) -> bool:
    at = situation.assigned_hz
    return rule.band_hz is None or at is None or rule.band_hz[0] <= at <= rule.band_hz[1]


def _of_its_power(rule: Applies, situation: Situation) -> bool:
    watts = situation.carrier_w
    return rule.power_w is None or watts is None or rule.power_w[0] <= watts < rule.power_w[1]


def _of_its_supply(rule: Applies, situation: Situation) -> bool:
    volts = situation.supply_v
    return not rule.supply_v or not volts or abs(volts / rule.supply_v - 1) <= SUPPLIES_APART


def resolve(row: Row, situation: Situation, at_hz: float | None = None) -> tuple[float, float]:
    """The row's (low, high) in the quantity's unit, ±inf where open. Raises Refusal where a figure it needs is
    missing."""
    match row:
        case RangeRow():
            return _or(row.low, -math.inf), _or(row.high, math.inf)
        case NominalRow():
            return _nominal(row, situation)
        case MaskRow():
            return -math.inf, _mask_ceiling(row, situation, at_hz)
    if row.beyond_offset_hz is not None:
        if at_hz is None or situation.assigned_hz is None:
            raise Refusal(NO_PLACE)
        if abs(at_hz - situation.assigned_hz) < row.beyond_offset_hz:
            return -math.inf, math.inf
    return -math.inf, _formula_ceiling(row, situation)


def _or(value: float | None, otherwise: float) -> float:
    return otherwise if value is None else value


def _nominal(row: NominalRow, situation: Situation) -> tuple[float, float]:
    nominal, tolerance = row.nominal, row.tolerance
    if row.tolerance_unit == "dB":
        return nominal * 10 ** (-tolerance / 10), nominal * 10 ** (tolerance / 10)
    if row.tolerance_unit == "%":
        return nominal * (1 - tolerance / 100), nominal * (1 + tolerance / 100)
    if row.tolerance_unit == "ppm":
        if situation.assigned_hz is None:
            raise Refusal("the assigned frequency is not known: name the channel")
        width = sums.hz_from_ppm(tolerance, situation.assigned_hz)
        return nominal - width, nominal + width
    return nominal - tolerance, nominal + tolerance


def _carrier_dbm(situation: Situation) -> float:
    if not situation.carrier_w:
        raise Refusal("this limit needs the carrier power: measure it first")
    return sums.dbm_from_watts(situation.carrier_w)


def _mask_ceiling(row: MaskRow, situation: Situation, at_hz: float | None) -> float:
    if at_hz is None or (row.offset and situation.assigned_hz is None):
        raise Refusal(NO_PLACE)
    place = abs(at_hz - (situation.assigned_hz or 0.0)) if row.offset else at_hz
    for band in row.bands:
        if band.low_hz <= place < band.high_hz:
            return band.ceiling if band.unit == "dBc" else band.ceiling - _carrier_dbm(situation)
    return math.inf


def _formula_ceiling(row: BelowCarrierRow | AbsoluteRow | EitherRow, situation: Situation) -> float:
    carrier = _carrier_dbm(situation)
    match row:
        case BelowCarrierRow():
            return -(row.base_db + carrier - 30)
        case AbsoluteRow():
            return row.ceiling_dbm - carrier
        case EitherRow():
            choices = (-row.base_db, row.ceiling_dbm - carrier)
            return min(choices) if row.formula == "stricter_of" else max(choices)


def judge_against(reading: Measured, low: float, high: float) -> tuple[Verdict, str | None]:
    """The verdict of one range, and the reason of a refusal. A figure that bounces is judged at its worse end."""
    if reading.not_judged is not None:
        return Verdict.NO_VERDICT, reading.not_judged
    if reading.value is None and reading.result in NOTHING_CAME and (low > 0 or reading.quantity in FALL_SHORT):
        return Verdict.FAIL, "nothing came"
    if reading.value is None:
        return Verdict.NO_VERDICT, "no figure"
    if reading.bound is not None:
        return _judge_bound(reading.value, reading.bound, low, high)
    arms = reading.arms
    if arms is None:
        return Verdict.NO_VERDICT, "the spread is not known"
    if reading.ends is None:
        reaches = reading.value - arms[0] <= high and reading.value + arms[1] >= low
        if reaches and sum(arms) > TOO_WIDE * (high - low):
            return Verdict.NO_VERDICT, "the spread is far wider than all that is allowed: read it finer"
        return judge(reading.value, low=low, high=high, below=arms[0], above=arms[1]), None
    below, above = reading.ends[0] - (reading.value - arms[0]), reading.value + arms[1] - reading.ends[1]
    ends = [judge(end, low=low, high=high, below=max(below, 0.0), above=max(above, 0.0)) for end in reading.ends]
    return min(ends, key=WORST_FIRST.index), None


TOO_WIDE = 2.0  # times: a figure in the middle is then inside with two chances in three at most


def _judge_bound(value: float, bound: str, low: float, high: float) -> tuple[Verdict, str | None]:
    inside, outside = (
        (value <= high and low == -math.inf, value < low)
        if bound == "upper"
        else (value >= low and high == math.inf, value > high)
    )
    if inside:
        return Verdict.PASS, None
    return (
        (Verdict.FAIL, None)
        if outside
        else (Verdict.NO_VERDICT, "only a bound, and it is not wholly inside or outside")
    )


def judge_reading(reading: Measured, chosen: dict[str, Profile], situation: Situation) -> tuple[VerdictLine, ...]:
    """Every row that concerns the reading and applies here, the worst verdict first.

    A figure that is only known to be under a limit is not called within it: too little may be a fault as well."""
    judged = (
        _judged(reading, name, profile, row, situation)
        for name, profile in chosen.items()
        for row in profile.rows
        if row.concerns(reading.quantity) and applies(row, situation)
    )
    lines = [line for line in judged if line is not None]
    if situation.assigned_hz is None:
        lines = _of_an_unknown_band(lines, chosen)
    if reading.quantity in FALL_SHORT and all(line.low is None for line in lines):
        lines = [only_under(line) for line in lines]
    return tuple(sorted(lines, key=lambda line: WORST_FIRST.index(line.verdict)))


def verdict_by(reading: Measured, row: Row) -> Verdict | None:
    """What a row says of a reading, whatever it was read on; None where that needs to be known."""
    try:
        return judge_against(reading, *resolve(row, Situation(), reading.at_hz))[0]
    except Refusal:
        return None


def _of_an_unknown_band(lines: list[VerdictLine], chosen: dict[str, Profile]) -> list[VerdictLine]:
    """Rows of several bands, where nobody said which it was read in: they judge only where they all say the same."""
    banded = {(name, row.id) for name, profile in chosen.items() for row in profile.rows if row.applies.band_hz}
    mine = [line for line in lines if (line.profile, line.row) in banded]
    if len({line.verdict in OUTSIDE for line in mine}) < 2:
        return lines
    untold = {"verdict": Verdict.NO_VERDICT, "reason": NO_BAND}
    return [line.model_copy(update=untold) if line in mine else line for line in lines]


def _judged(reading: Measured, name: str, profile: Profile, row: Row, situation: Situation) -> VerdictLine | None:
    """What one row says; None for a mask that says nothing at this offset."""
    low, high, reason = -math.inf, math.inf, None
    try:
        low, high = resolve(row, situation, reading.at_hz)
        verdict, reason = judge_against(reading, low, high)
    except Refusal as refusal:
        verdict, reason = Verdict.NO_VERDICT, str(refusal)
    if math.isinf(low) and math.isinf(high) and reason is None:
        return None
    shown = (low if math.isfinite(low) else None, high if math.isfinite(high) else None)
    return VerdictLine(
        kind=profile.kind,
        row=row.id,
        words=f"{row.words + ': ' if row.words else ''}{limit_words(*shown, reading.unit)}",
        low=shown[0],
        high=shown[1],
        unit=reading.unit,
        verdict=verdict,
        reason=reason,
        source=f"{row.source} {row.clause}".strip(),
        confidence=row.confidence,
        profile=name,
        version=profile.version,
    )


def only_under(line: VerdictLine) -> VerdictLine:
    if line.verdict is not Verdict.PASS or line.high is None:
        return line
    reason = f"under the limit of {format_value(line.high, line.unit)}; nothing says what is due"
    return line.model_copy(update={"verdict": Verdict.NO_VERDICT, "reason": reason, "only_under": True})


def verdict_words(line: VerdictLine | None) -> str:
    """The word that stands at a figure: the verdict, or what it is under where that is all that is known."""
    if line is None:
        return ""
    if line.only_under and line.high is not None:
        return f"Under the limit of {format_value(line.high, line.unit)}"
    return VERDICT_WORDS[line.verdict]


def worst(lines: tuple[VerdictLine, ...]) -> VerdictLine | None:
    """The line the screen shows first."""
    return lines[0] if lines else None


OUTSIDE = {Verdict.FAIL, Verdict.FAIL_CLOSE}


def _range_words(line: VerdictLine) -> str:
    return limit_words(line.low, line.high, line.unit)


def _side(reading: Measured, line: VerdictLine) -> str:
    """'Low' or 'High': on which side of the line the worse end of a figure lies."""
    ends = reading.ends or (reading.value or 0.0, reading.value or 0.0)
    return "Low" if line.low is not None and ends[0] < line.low else "High"


def verdict_sentence(reading: Measured, lines: tuple[VerdictLine, ...]) -> str | None:
    """What the verdicts come to, in one sentence of the trade, each kind of line kept apart; None when all is well.

    Lines come worst first, as `judge_reading` gives them."""
    first = {
        kind: next((line for line in lines if line.kind == kind), None)
        for kind in ("regulation", "specification", "house")
    }
    rule, maker, house = first["regulation"], first["specification"], first["house"]
    if rule is not None and rule.verdict in OUTSIDE:
        return f"{_side(reading, rule)}: the rule says {_range_words(rule)}. Check it locally."
    if maker is not None and maker.verdict in OUTSIDE:
        return _outside_the_sheet(reading, maker, rule)
    close = next((line for line in (rule, maker) if line is not None and line.verdict is Verdict.PASS_CLOSE), None)
    if close is not None:
        return f"Within, {_range_words(close)}; the spread reaches over."
    if house is not None and house.verdict in OUTSIDE:
        return f"Allowed; this shop sets it {_range_words(house)}."
    return _refusal_sentence(lines)


def _outside_the_sheet(reading: Measured, sheet: VerdictLine, rule: VerdictLine | None) -> str:
    if sheet.profile == TYPICAL:
        return f"{_side(reading, sheet)}. Such a set gives {_range_words(sheet)}: typical of the kind."
    if sheet.profile == TOLD:
        return f"{_side(reading, sheet)}. {sheet.words}."
    judged = rule is not None and rule.verdict is not Verdict.NO_VERDICT
    allowed = "Nothing forbids it, but the" if judged else "The"
    return f"{_side(reading, sheet)}. {allowed} maker says {_range_words(sheet)}."


def _refusal_sentence(lines: tuple[VerdictLine, ...]) -> str | None:
    refused = next((line for line in lines if line.verdict is Verdict.NO_VERDICT), None)
    if refused is None or not refused.reason:
        return None
    if refused.only_under:
        return f"{refused.reason[:1].upper()}{refused.reason[1:]}."
    return f"No verdict: {refused.reason}."
