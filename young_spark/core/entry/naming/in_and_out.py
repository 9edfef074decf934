"""Names that go with two figures: in and out, forward and back, from and to, the coarse and the counted."""

from dataclasses import replace

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import BETWEEN_TWO, Sentence

SAID_DECIMALS = 3  # of a MHz that a hand says where it is


COUNTED_AS = {"reads", "meas", "measures", "measured"}  # between what was set and what was counted
MORE_DECIMALS = 2  # of a counter than of who says where it was
SAME_CARRIER = 0.004
SAME_TO_A_HERTZ = 1e-8


def two_of_one_name(s: Sentence) -> None:
    """'idle 92 and 88ma': the name and the unit are both said once, for both."""
    for one, other in zip(s.items, s.items[1:], strict=False):
        units = {one.fact.unit, other.fact.unit}
        _of_each_device(one, other)
        if other.at != one.at + 2 or not s.has_text(one.at + 1, "and", "&") or len(units - {None}) > 1:
            continue
        if one.quantity is not None and other.quantity is None:
            unit = other.fact if other.fact.unit is not None else one.fact
            for item in (one, other):
                if item.fact.unit is None and unit.unit is not None:
                    item.fact = replace(item.fact, unit=unit.unit, value=item.fact.value * unit.factor)
            other.quantity = one.quantity
        elif one.quantity is None and _is_named_behind(s, other):
            one.quantity = other.quantity  # '62ma and 60ma idle'


def _of_each_device(one: Item, other: Item) -> None:
    """'fil 5.05v 5.02v' of a pair: the name is said once, for both."""
    side_by_side = other.at == one.at + 1 and one.fact.unit == other.fact.unit is not None
    if side_by_side and one.quantity in OF_EACH_DEVICE and other.quantity is None:
        other.quantity = one.quantity


OF_EACH_DEVICE = {"filament_voltage", "idle_current", "plate_current"}


def _is_named_behind(s: Sentence, item: Item) -> bool:
    behind = s.fact(item.at + 1)
    return behind is not None and behind.kind == "quantity" and behind.of == item.quantity


def find_fitted_in(s: Sentence) -> None:
    """'spkr 8r in, 3.50': 'in' is a drive where one is wanted, or where what comes out is said too. '13.8 in' is what
    comes in at the lead."""
    drives = s.ground.wanted_at_all("drive_power") or any(s.facts[n].of == "carrier_power" for n in s.free("quantity"))
    for n in s.free("quantity"):
        if s.facts[n].text == "in" and not drives:
            s.facts[n] = replace(s.facts[n], kind="word")
            lead = s.item_at(n - 1)
            volts = lead is not None and lead.fact.decimals and lead.fact.may_feed
            if lead is not None and volts and lead.fact.unit in {None, "V"}:
                lead.quantity = "supply_voltage"
                s.take(n)


def drive_in_output(s: Sentence) -> None:
    """'50 in 350 ip 360': what goes in stands in front of the word, what comes out behind it, whatever else follows."""
    for n in s.free("quantity"):
        drive, output = s.item_at(n - 1), s.item_at(n + 1)
        if s.facts[n].text != "in" or drive is None or output is None or not s.ground.wanted_at_all("drive_power"):
            continue
        bare = all(i.fact.unit in {None, "W"} and i.quantity is None for i in (drive, output))
        if bare and drive.fact.value < output.fact.value:
            drive.quantity, output.quantity = "drive_power", "carrier_power"
            s.take(n, *([n + 2] if s.has_text(n + 2, "out", "output") else []))


def watts_in_and_out(s: Sentence) -> None:
    """'64w in 810w out, ip 620 ig 190', '40w drive: 520 out, ip 430': two words that stand behind their watts, however
    the others stand."""
    words = [n for n in s.free("quantity") if s.facts[n].text in BEHIND_WATTS]
    behind = [n for n in words if _is_behind_watts(s, n)]
    if words and s.item_at(words[0] - 1) is None and s.item_at(words[0] + 1) is not None:
        return  # 'drive 16w out 161w, drive 43w out 398w': they lead
    if {s.facts[n].of for n in behind} != {"drive_power", "carrier_power"}:
        return
    for n in behind:
        if (watts := s.item_at(n - 1)) is not None:
            watts.quantity = as_planned(s, n)
            s.take(n)


def _is_behind_watts(s: Sentence, n: int) -> bool:
    """Whether a word ends on the watts in front of it: those carry their unit, or a comma follows."""
    watts, after = s.item_at(n - 1), s.fact(n + 1)
    ends = after is None or after.fresh or (after.kind == "figure" and after.unit in {"A", "V"})
    return watts is not None and (watts.fact.unit == "W" or (watts.fact.unit is None and ends))


BEHIND_WATTS = {"in", "out", "drive", "output"}


def find_both_ends(s: Sentence) -> None:
    """'100w forward drops to 25w': what is named once fell."""
    for left, right in zip(s.items, s.items[1:], strict=False):
        between = {s.facts[n].text for n in range(left.at + 1, right.at)}
        if not between & BETWEEN_TWO or right.quantity is not None:
            continue
        if left.fact.unit == right.fact.unit:
            right.quantity = left.quantity
        elif right.fact.unit is None and left.fact.unit is not None:
            factor = left.fact.factor
            right.fact = replace(right.fact, unit=left.fact.unit, value=right.fact.value * factor, factor=factor)
            right.quantity = left.quantity


def coarse_and_counted(s: Sentence) -> None:
    """'14.2 freq 14.200021': the coarse one says where, the one with more decimals what was counted."""
    counted = [i for i in s.items if _as_counted(s, i)]
    for coarse in list(s.items):
        for fine in counted:
            where = _said_where(s, coarse, fine)
            if where is None:
                continue
            known = s.ground.frequency_of(where)
            exact = abs(where / known - 1) < SAME_TO_A_HERTZ  # a count is off from what was said, not from a plan's
            fine.address.setdefault("frequency_hz", known if exact else where)
            if s.ground.as_carrier(fine.fact) is None:
                fine.fact = replace(fine.fact, unit="Hz", value=fine.fact.value * 1e6, factor=1e6)
            s.drop(coarse)
            return


def _as_counted(s: Sentence, item: Item) -> float | None:
    """A figure as what a counter shows, in Hz: of a frequency that the unit is for, or behind 'reads'."""
    behind = s.has_text(item.at - 1, *COUNTED_AS) and item.fact.decimals >= SAID_DECIMALS
    return s.ground.as_carrier(item.fact) or (_as_megahertz(item.fact) if behind else None)


def _said_where(s: Sentence, coarse: Item, fine: Item) -> float | None:
    """Where a count belongs, in Hz, where `coarse` says it of `fine`; None where it does not."""
    reads = fine.at == coarse.at + 2 and s.has_text(coarse.at + 1, *COUNTED_AS)
    backwards = coarse.at == fine.at + 2 and s.has_text(fine.at + 1, *COUNTED_AS)
    counted = _as_counted(s, fine)
    if fine is coarse or not counted or backwards:
        return None
    if reads:
        _with_its_unit(coarse, fine)
    more = reads or fine.fact.decimals >= coarse.fact.decimals + MORE_DECIMALS
    if not more or coarse.fact.unit != fine.fact.unit:
        return None
    where = s.ground.as_carrier(coarse.fact) or (_as_megahertz(coarse.fact) if reads else None)
    return where if where and abs(counted / where - 1) < SAME_CARRIER else None


def _with_its_unit(item: Item, other: Item) -> None:
    """'2182.000 reads 2182.008 khz': the unit that is said behind the second."""
    if item.fact.unit is None and other.fact.unit is not None:
        item.fact = replace(item.fact, unit=other.fact.unit, value=item.fact.value * other.fact.factor)


def _as_megahertz(fact: Fact) -> float | None:
    return fact.value * 1e6 if fact.unit is None and fact.decimals > 0 else None


def as_planned(s: Sentence, name: int) -> str:
    """What a name says; a bare 'sens' is of the kind that the plan wants."""
    told, ground = s.facts[name], s.ground
    bare = told.of == "sensitivity_12db_sinad" and "sinad" not in told.text and "12" not in told.text
    other = bare and not ground.wanted_at_all(told.of) and ground.wanted_at_all("sensitivity_10db_sn")
    return "sensitivity_10db_sn" if other else told.of


def drive_to_output(s: Sentence) -> None:
    """'5w -> 120w' on an amplifier: in and out."""
    if not s.ground.wanted_at_all("drive_power"):
        return
    for n in range(len(s.facts)):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        if not s.is_link(n, "->", "to") or left is None or right is None:
            continue
        units = {left.fact.unit, right.fact.unit}
        if units <= {"W", None} and ("W" in units or not _is_of_other_than_watts(s, n)):
            left.quantity, right.quantity = "drive_power", "carrier_power"
            s.take(n)


def _is_of_other_than_watts(s: Sentence, n: int) -> bool:
    """'ht falls from 3200 to 2800': whether a name in front of two bare figures is of no power."""
    return any(f.kind == "quantity" and UNIT_OF.get(f.of) != "W" for f in s.facts[:n])
