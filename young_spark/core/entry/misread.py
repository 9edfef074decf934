"""Whether a figure of a breath is surely none of what it was read as: nobody should choose it either; and what speaks
against a breath in the words beside it."""

import re
from collections.abc import Sequence
from functools import cache
from itertools import pairwise

from pydantic import RootModel

from young_spark.core.entry.fact import Fact
from young_spark.core.entry.facts import cut
from young_spark.core.entry.said import UNIT_OF, Breath, Said
from young_spark.core.entry.vocabulary import vocabulary
from young_spark.core.ground import SHIPPED, load


def is_misread(breath: Breath, plain: str) -> bool:
    """Whether a figure of a breath is surely none of what it was read as: nobody should choose it either."""
    said = breath.said
    if _is_a_tone_at_a_part(breath) or _is_no_gain(breath) or _is_another_than_its_sibling(breath):
        return True
    if _is_of_what_stands_before(breath, plain) or _is_of_a_leak(breath):
        return True
    if CHANGED.search(plain) is not None and any(map(_is_no_one_figure, said)):
        return True
    fed = OF_THE_MAINS.search(plain) is not None and any(one.unit == "W" for one in said)
    return fed or (
        _is_a_label(breath, plain)
        or _is_a_power_at_a_part(breath)
        or any(wrong(one) for one in said for wrong in OF_ONE)
    )


def _is_off_by_so_much(said: Said) -> bool:
    """'xtal synth, ch19 +300': whole hertz of channels, and no volts of a part that was named before."""
    bare = said.unit == "V" and not said.in_its_unit and not said.named and "channel" in said.address
    return bare and said.value is not None and abs(said.value) >= LEAST_OFF and bool(said.address.get("place"))


LEAST_OFF = 100.0
OF_THE_MAINS = re.compile(r"\d ?w(?:atts?)? (?:from|off|at|on) (?:the )?mains\b|\bmains (?:draw|input|power|watts)\b")


def _is_sent_at_rest(said: Said) -> bool:
    """'standby 18 watts from the mains': no carrier comes out of what receives or rests."""
    at_rest = said.address.get("state") in {"standby", "receive"}
    return at_rest and said.unit == "W" and said.quantity != "audio_power" and bool(said.value)


def _is_at_a_side(said: Said) -> bool:
    """'collector current 7.1 left 4.9': a bare figure at a point inside is no level, share or hertz of the unit."""
    bare = not (said.named or said.in_its_unit or said.derived or said.lent)
    return bare and bool(said.address.get("place")) and said.unit in OF_THE_UNIT


OF_THE_UNIT = {"dBm", "dBc", "%"}


def _is_a_label(breath: Breath, plain: str) -> bool:
    """'drive to the module 70: 180 mw': a bare number before a colon says where or what, and was not read."""
    labels = {float(n) for n in LABELLED.findall(plain)}
    return any(said.value in labels and not said.in_its_unit and not said.derived for said in breath.said)


def _is_a_power_at_a_part(breath: Breath) -> bool:
    """'driver collector 13 base 0.7 pk', 'bias zener 27v gives 26.4': beside figures of parts, a power that carries no
    unit may be volts of one of them."""
    inside = any(said.address.get("place") and UNIT_OF.get(said.quantity or "") in INSIDE for said in breath.said)
    watts = [said for said in breath.said if said.unit == "W" and not said.in_its_unit and not said.derived]
    return inside and bool(watts)


def _is_a_tone_at_a_part(breath: Breath) -> bool:
    """'vr4 mod 88% 1k, 96 peaks voice': beside a depth, figures at the part that was turned are none of its ohms."""
    shares = any(said.unit == "%" and said.named for said in breath.said)
    ohms = (said for said in breath.said if said.quantity == "resistance" and not (said.named or said.derived))
    return shares and any(said.result is None for said in ohms)


LABELLED = re.compile(r"(?<![\d.:])(\d+(?:\.\d+)?): ?(?=[\d.+-])")
INSIDE = {"V", "A", "Ω"}


def leaves_a_result(breath: Breath) -> bool:
    """'on 40 infinite, on 20 1.3': whether what was seen at one point is left in the remark, beside a figure at
    another."""
    words = set(breath.remark.split()) - {"no"}  # 'no filter': a word of every sentence
    seen = {word for word in words if vocabulary().facts.get(word, ("", "", ""))[2] in SEEN_ALONE}
    return bool(seen) and len(breath.said) > 0 and not any(said.result for said in breath.said)


def leaves_a_name(breath: Breath, facts: Sequence[Fact]) -> bool:
    """'2nd -68 3rd below noise': whether a name is left in the remark whose quantity is of the same kind as what was
    read, and which was read too."""
    read = {said.quantity for said in breath.said}
    units = {UNIT_OF.get(quantity or "") for quantity in read} - OF_NOUNS
    remark = f" {breath.remark} "
    left = (f.of for f in facts if f.kind == "quantity" and f"{f.text} " in remark and f.of not in read)
    return any(UNIT_OF.get(of) in units for of in left)


OF_NOUNS = {"1", "W", "V"}  # units whose names are also what a part is called by: 'supply pin', 'peak', 'bias'
READ_THERE = re.compile(r"\b(?:reads|reading|measures|measured|measuring|now|shows) (?P<figure>\d[\d.]*\w*)")


def leaves_a_reading(breath: Breath, plain: str) -> bool:
    """'r1 47k open, r2 47k reads 46.8k': whether a figure of which the text says that it was read stays in the
    remark, beside what was made of the rest."""
    left = set(breath.remark.split())
    return any(found["figure"] in left for found in READ_THERE.finditer(plain))


SEEN_ALONE = {"over_range", "dead", "none"}


def _is_named_otherwise(said: Said) -> bool:
    """'bias -52 gives 60ma': whether the name directly before a figure is one of another kind."""
    if not said.led_by or said.led_by == said.quantity or said.derived:
        return False
    return said.quantity not in _led_by().get(said.led_by, ())


def says_of_which_part(breath: Breath, facts: Sequence[Fact]) -> bool:
    """'mod transistors q7 6.9v q8 13.1': whether a bare figure is of a name that only says of which parts is spoken."""
    nouns = {
        name.of
        for name, noun in pairwise(facts)
        if name.kind == "quantity"
        and noun.kind in {"word", "place"}
        and not noun.fresh
        and noun.text.split(" ")[0] in PARTS_CALLED
    }
    return any(said.quantity in nouns and not said.in_its_unit and not said.derived for said in breath.said)


PARTS_CALLED = {
    f"{part}{ending}"
    for part in ("transistor", "transformer", "valve", "tube", "diode", "resistor", "cap", "capacitor", "choke", "coil",
                 "relay", "transistor", "fet", "mosfet", "chip", "ic", "amp", "stage", "board", "supply", "winding",
                 "trafo", "tap", "zener", "fuse", "switch", "socket", "plug", "pin", "lead", "cable")
    for ending in ("", "s", "es")
}  # fmt: skip


class _LedBy(RootModel[dict[str, tuple[str, ...]]]):
    """The data file: what a figure directly behind a name may be besides."""


@cache
def _led_by() -> dict[str, tuple[str, ...]]:
    return load(SHIPPED / "entry" / "led_by.toml", _LedBy).root


def _is_less_than_nothing(said: Said) -> bool:
    """'no spurs to -60', 'frozen to -10': no watts, ohms or farads, no current that is drawn, and no ratio of waves."""
    never = said.unit in NEVER_NEGATIVE or said.quantity in DRAWN
    return never and not said.derived and said.value is not None and said.value < 0


NEVER_NEGATIVE = {"W", "Ω", "F", "H"}
DRAWN = {"supply_current", "idle_current", "plate_current", "swr", "input_swr", "am_depth", "fm_deviation"}


def _is_no_gain(breath: Breath) -> bool:
    """'drive 28w, 10m 32w': watts that nobody names, and hardly more than the drive that is named in front, may be the
    drive on another band."""
    drives = [said for said in breath.said if said.quantity == "drive_power" and said.named and said.value]
    sent = [said for said in breath.said if said.quantity == "carrier_power" and not said.named and said.value]
    if len(drives) != 1 or len(sent) != 1 or "frequency_hz" not in sent[0].address or sent[0].where_added:
        return False
    return drives[0].where_added and (sent[0].value or 0.0) < LEAST_GAIN * (drives[0].value or 0.0)


LEAST_GAIN = 2.0


def _is_another_than_its_sibling(breath: Breath) -> bool:
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


def _is_of_a_leak(breath: Breath) -> bool:
    """'leak k to heater none at 500v': what leaks from one to another is no volts of either."""
    leaks = not {"leak", "leaks"}.isdisjoint(breath.remark.split())
    return leaks and all(UNIT_OF.get(said.quantity or "") == "V" for said in breath.said)


def _is_bare(said: Said) -> bool:
    """Whether neither a unit nor a name that is nothing else says what a figure is."""
    return not said.in_its_unit and (not said.named or said.quantity in NAMED_AS_A_STATE)


NAMED_AS_A_STATE = {"idle_current", "squelch_open", "squelch_close"}  # by words that are also how the unit stands
GOES_ON_WITHIN = 5.0  # times the figure before it
GOES_ON_IF_NAMED = 2.5  # times


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


def _is_of_another_mode(said: Said) -> bool:
    """'mod 88% fm 1.9': a depth is of a carrier that is not swung, a deviation of one that is."""
    mode = said.address.get("mode")
    return (said.quantity == "am_depth" and mode == "fm") or (said.quantity == "fm_deviation" and mode == "am")


def _is_no_one_figure(said: Said) -> bool:
    """'alc from 0.1 to 4.2v': what changed so far was read twice, and the middle is neither."""
    if said.low is None or said.high is None or said.derived or said.low <= 0:
        return False
    return said.high > WIDEST * said.low


WIDEST = 3.0
CHANGED = re.compile(r"\bfrom [\d.]+ ?[a-z]* to\b")


def _is_signed_as_no_count_is(said: Said) -> bool:
    """'went from +200 to -2.4k': what has a sign is how far a carrier is off, and never where it is."""
    return said.quantity in COUNTED and said.signed and not said.derived


def _is_a_part_of_a_hertz(said: Said) -> bool:
    """'0.2uv for 12db with tx on, .19 off': nobody counts how far a carrier is off so finely."""
    bare = said.quantity == "frequency_error" and not (said.in_its_unit or said.signed or said.derived)
    return bare and said.value is not None and 0 < said.value < 1


COUNTED = {"carrier_frequency", "stage_frequency"}
OF_ONE = (
    _is_of_another_mode,
    _is_signed_as_no_count_is,
    _is_a_part_of_a_hertz,
    _is_sent_at_rest,
    _is_off_by_so_much,
    _is_at_a_side,
    _is_named_otherwise,
    _is_less_than_nothing,
)
