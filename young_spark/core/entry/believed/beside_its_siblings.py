"""What speaks against a figure beside the others of its line: it goes on from one of them as something else, breaks a
row, or is only what a part beside it is called by."""

import math
import re
from collections.abc import Sequence
from itertools import pairwise

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Breath, Said
from young_spark.core.gear import BANDS_M


def is_at_odds(breath: Breath, plain: str) -> bool:
    """Whether a figure of a breath cannot stand beside the others as what it was read as."""
    return any(check(breath, plain) for check in CHECKS)


def _is_another_than_its_sibling(breath: Breath, plain: str) -> bool:
    """'vfo supply 8.0 8.0': of two bare figures side by side the first is named, and nothing says that the second is of
    something else."""
    read = {said.at: said for said in breath.said if said.at >= 0 and not said.in_its_unit}
    return any(
        (before := read.get(at - 1)) is not None and before.named and not said.named and before.unit != said.unit
        for at, said in read.items()
    )


def _is_of_what_stands_before(breath: Breath, plain: str) -> bool:
    """'idle pa 180ma, driver 60', 'tx 1.05a rx 90ma sq 45', 'mains 236 idle 228': a bare figure that goes on from the
    one before it, at another place or in another state, was read as something else."""
    facts = cut(plain)
    read = [said for said in sorted(breath.said, key=lambda s: s.at) if said.value and not said.derived]
    return any(
        _is_bare(said) and _is_of_another_kind(said, before) and _goes_on(said, before, facts)
        for before, said in pairwise(read)
    )


def _is_of_another_kind(said: Said, before: Said) -> bool:
    """Of another unit; or volts that stand where others alternate: 'tp3 .42vpp usb .40 lsb'."""
    alternates = before.quantity == "ac_voltage" and said.quantity == "dc_voltage"
    return said.unit != before.unit or (alternates and said.address.get("place") == before.address.get("place"))


def _is_of_a_leak(breath: Breath, plain: str) -> bool:
    """'leak k to heater none at 500v': what leaks from one to another is no volts of either."""
    leaks = not {"leak", "leaks"}.isdisjoint(breath.remark.split())
    return leaks and all(UNIT_OF.get(said.quantity or "") == "V" for said in breath.said)


def _is_no_row(breath: Breath, plain: str) -> bool:
    """'ch1 188 ch40 190, 4w drive': bare figures of one size behind labels of one kind are of one quantity."""
    facts = cut(plain)
    led = [
        (facts[said.at - 1].of, said)
        for said in breath.said
        if _is_behind(said, facts, "where") and facts[said.at].unit is None and not said.led_by
    ]
    return any(
        kind == other
        and one.quantity != after.quantity
        and not (one.named and after.named)
        and _are_of_one_size(one, after)
        for (kind, one), (other, after) in pairwise(led)
    )


def _is_no_row_of_states(breath: Breath, plain: str) -> bool:
    """'rx 0.4 tx 5.1': bare figures behind states are of one quantity."""
    facts = cut(plain)
    led = [
        said
        for said in breath.said
        if _is_behind(said, facts, "how") and facts[said.at - 1].of == "state" and facts[said.at].unit is None
    ]
    return len({said.quantity for said in led if not said.derived}) > 1


def _is_behind(said: Said, facts: Sequence[Fact], kind: str) -> bool:
    """Whether a fact of that kind stands directly in front of a figure."""
    return 0 < said.at < len(facts) and facts[said.at].kind == "figure" and facts[said.at - 1].kind == kind


def _is_behind_a_result(breath: Breath, plain: str) -> bool:
    """'drive peaks ok 20, flat on 10': what stands behind a result says where that was seen."""
    facts = cut(plain)
    seen = (said for said in breath.said if _is_behind(said, facts, "result") and facts[said.at].unit is None)
    return any(said.value in BANDS_M for said in seen)


def _is_printed_on_a_part(breath: Breath, plain: str) -> bool:
    """'c44 10p freeze spray power drops to 9w': beside what was read, the farads of a part are what it is called by."""
    facts = cut(plain)
    printed = [s for s in breath.said if s.unit in {"F", "H"} and not s.named and _is_behind(s, facts, "place")]
    others = [s for s in breath.said if s.unit in OF_WHAT_IS_SENT and "place" not in s.address and s.result is None]
    return bool(printed and others)


OF_WHAT_IS_SENT = {"W", "%", "Hz"}


def _are_of_one_size(one: Said, other: Said) -> bool:
    ends = sorted((abs(one.value or 0.0), abs(other.value or 0.0)))
    return ends[0] > 0 and ends[1] / ends[0] < GOES_ON_IF_NAMED


def _is_bare(said: Said) -> bool:
    """Whether neither a unit nor a name that is nothing else says what a figure is."""
    return not said.in_its_unit and (not said.named or said.quantity in NAMED_AS_A_STATE)


def _is_nearer_to_another(breath: Breath, plain: str) -> bool:
    """'13.8v 20.5a at 14.2, 19 at 3.7': a bare figure that was given the unit of one, and has the size of another."""
    facts = cut(plain)
    typed = [(said, facts[said.at]) for said in breath.said if 0 <= said.at < len(facts) and said.value]
    carried = [(said, fact) for said, fact in typed if fact.unit is not None and fact.unit == said.unit]
    return any(
        all(_ratio(fact, own) > NOT_AS_MUCH for one, own in carried if one.quantity == said.quantity)
        and any(one.quantity == said.quantity for one, _ in carried)
        and any(_ratio(fact, own) < AS_MUCH for one, own in carried if one.quantity != said.quantity)
        for said, fact in typed
        if fact.kind == "figure" and fact.unit is None and not said.led_by
    )


AS_MUCH, NOT_AS_MUCH = 1.15, 1.3  # times


def _ratio(one: Fact, other: Fact) -> float:
    ends = sorted((abs(one.value), abs(other.value / other.factor)))
    return ends[1] / ends[0] if ends[0] > 0 else math.inf


NAMED_AS_A_STATE = {"idle_current", "squelch_open", "squelch_close"}  # by words that are also how the unit stands
GOES_ON_WITHIN, GOES_ON_IF_NAMED = 5.0, 2.5  # times the figure before it


def _goes_on(said: Said, before: Said, facts: Sequence[Fact]) -> bool:
    """Whether a figure, in the unit of the one before it, lies near that one."""
    there = [facts[one.at] for one in (before, said) if 0 <= one.at < len(facts)]
    if len(there) < 2 or any(fact.kind != "figure" for fact in there) or said.quantity in OF_ITS_PLACE:
        return False
    first, second = there
    if first.unit is None and before.named:
        return False
    ratio = abs(second.value * first.factor / first.value) if first.value else 0.0
    most = GOES_ON_IF_NAMED if said.named else GOES_ON_WITHIN
    return second.unit is None and 1 / most <= ratio <= most


OF_ITS_PLACE = {"temperature", "stage_frequency"}  # that a place of theirs, or their decimals, tell by themselves


def _is_no_gain(breath: Breath, plain: str) -> bool:
    """'drive 28w, 10m 32w': watts that nobody names, and hardly more than the drive that is named in front, may be the
    drive on another band."""
    drives = [said for said in breath.said if said.quantity == "drive_power" and said.named and said.value]
    sent = [said for said in breath.said if said.quantity == "carrier_power" and not said.named and said.value]
    if len(drives) != 1 or len(sent) != 1 or "frequency_hz" not in sent[0].address or sent[0].where_added:
        return False
    return drives[0].where_added and (sent[0].value or 0.0) < LEAST_GAIN * (drives[0].value or 0.0)


LEAST_GAIN = 2.0


def _is_a_tone_at_a_part(breath: Breath, plain: str) -> bool:
    """'vr4 mod 88% 1k, 96 peaks voice': beside a depth, figures at the part that was turned are none of its ohms."""
    shares = any(said.unit == "%" and said.named for said in breath.said)
    ohms = (said for said in breath.said if said.quantity == "resistance" and not (said.named or said.derived))
    return shares and any(said.result is None for said in ohms)


def _is_a_power_at_a_part(breath: Breath, plain: str) -> bool:
    """'driver collector 13 base 0.7 pk', 'bias zener 27v gives 26.4': beside figures of parts, a power that carries no
    unit may be volts of one of them."""
    inside = any(said.address.get("place") and UNIT_OF.get(said.quantity or "") in INSIDE for said in breath.said)
    watts = [said for said in breath.said if said.unit == "W" and not said.in_its_unit and not said.derived]
    return inside and bool(watts)


INSIDE = {"V", "A", "Ω"}


def _is_a_label(breath: Breath, plain: str) -> bool:
    """'drive to the module 70: 180 mw': a bare number before a colon says where or what, and was not read."""
    labels = {float(n) for n in LABELLED.findall(plain)}
    return any(said.value in labels and not said.in_its_unit and not said.derived for said in breath.said)


LABELLED = re.compile(r"(?<![\d.:])(\d+(?:\.\d+)?): ?(?=[\d.+-])")


CHECKS = (
    _is_a_tone_at_a_part,
    _is_no_gain,
    _is_another_than_its_sibling,
    _is_of_what_stands_before,
    _is_of_a_leak,
    _is_no_row,
    _is_no_row_of_states,
    _is_nearer_to_another,
    _is_behind_a_result,
    _is_printed_on_a_part,
    _is_a_label,
    _is_a_power_at_a_part,
)
