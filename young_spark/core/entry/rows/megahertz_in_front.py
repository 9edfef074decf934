"""A bare frequency or channel of the unit that says where the rest of a line was read: '156.8 hi 23.5w lo 0.8w', '29.6
fm 95w dev 2.4k', 'swr 1.2 (477.1)', '16: 24.2w'. It is written as what it is, so that it is no figure of the row."""

import re

from young_spark.core.entry.facts.said import Ground
from young_spark.core.entry.rows.row_of_megahertz import AMATEUR_MHZ
from young_spark.core.entry.wording.typed_figures import UNIT

_NUMBER = r"(?P<mhz>\d{1,4}\.\d{1,3})"
IN_FRONT = re.compile(
    rf"^(?:tx )?(?P<on>(?:on|at|now|@) )?{_NUMBER}(?P<unit> ?mhz\b)?(?P<parted>[:,]|:? -| (?:now|gives|is|reads))?"
    r" (?P<read>\S.*)$"
)
BEHIND = re.compile(rf"^(?P<read>.*\d.*?),? (?:(?:on|at|@) {_NUMBER}|\( ?{_NUMBER.replace('mhz', 'within')} ?\))$")
EACH_OF_ITS_OWN = re.compile(r"\d ?\w* ?(?:on|at|@|\() ?\d{1,4}(?:\.\d{1,3})?(?![\w.]| ?(?:v|w|a|ma|k)\b)")
BARE_MHZ = re.compile(r"(?<![\w.+-])\d{1,3}\.\d{1,3}(?=,|$| \()")
TELLING = re.compile(
    rf"(?<![\w.])[+-]?\d*\.?\d+ ?{UNIT}(?![\w.])"
    r"|\b(?:v?swr|sinad|dev\w*|imd\d|h\d|2nd|3rd|sens\w*|pep|err\w*)\b"
)
AMPS = re.compile(r"\d ?m?a(?:mps?)?(?!\w)")  # beside which a figure in front is no current
_OF_A_UNIT = rf"[+-]?\d*\.?\d+ ?{UNIT}(?![\w.])"
WATTS = re.compile(r"\d ?k?w(?!\w)")
BY_NUMBER = re.compile(rf"^(?:on )?(?P<channel>\d{{1,3}}): (?={_OF_A_UNIT})")
LEADING_WATTS = re.compile(
    r"^(?:tx |on )?(?P<channel>\d{1,3}) (?!\d{3} ?w)(?=\d+(?:\.\d+)? ?w\b)"
)  # 'tx 14 3.2w mod 75'
ANOTHER = re.compile(rf", (\d{{1,3}}):? (?={_OF_A_UNIT})")
LEAST_VHF_MHZ = 100.0
MOST_AMPS = 22.0  # that a set draws; a lower figure may be what it drew, or its volts
NEAR_HZ = 2.6e3
LONG_ROW = 4  # figures that each carry their unit: '14.2 40w 260w 200ma 20ma'


def megahertz_in_front(plain: str, ground: Ground) -> str:
    """A folded text with such a frequency in MHz, in front; as it was typed where the figure may be another thing."""
    plain = _led_by_where_it_is_driven(plain, ground)
    if (found := IN_FRONT.match(plain)) is not None:
        said = bool(found["on"]) or (found["parted"] or ",") != "," or AMPS.search(found["read"]) is not None
        if _is_told_by_the_plan(found, ground) or ANOTHER_SERVICE.search(found["read"]):
            return plain
        if (found["unit"] or _is_where(found["mhz"], ground, said=said)) and _tells(found["read"]):
            return f"{found['mhz']}mhz {found['read']}"
    if (found := BEHIND.match(plain)) is not None:
        mhz = found["mhz"] or found["within"]
        if _is_of_the_last_only(found["read"], ground):
            return plain
        if _is_where(mhz, ground, said=True) and _tells(found["read"]):
            return f"{mhz}mhz {found['read']}"
    return _band_in_front(plain, ground)


# '433 now .19uv', '145 4.7w', '4.1w on 433': a band of the amateur service by its whole megahertz
WHOLE = re.compile(
    r"^(?:on |at )?(?P<mhz>[1-9]\d\d)(?::| now| gives| reads|,)? (?P<read>[+-]?\.?\d\S*(?: ?[a-z%]+)?(?: .*)?)$"
    r"|^(?P<first>[+-]?\.?\d\S*(?: ?[a-z%]+)?) (?:on|at) (?P<last>[1-9]\d\d)$"
)


def _band_in_front(plain: str, ground: Ground) -> str:
    """Of a set that has FM only, and no channels, where no watts are as many."""
    found = WHOLE.match(plain)
    if found is None or ground.modes != ("fm",) or ground.channel_hz:
        return plain
    mhz, read = found["mhz"] or found["last"], found["read"] or found["first"]
    is_band = any(low <= float(mhz) <= high for low, high in AMATEUR_MHZ) and float(mhz) > (
        ground.greatest_power_w or 0
    )
    alone = len(re.findall(_OF_A_UNIT, read)) == len(re.findall(r"(?<![\w.])[+-]?\d*\.?\d+", read))
    return f"{mhz}mhz {read}" if is_band and alone and _tells(read) else plain


def _is_of_the_last_only(read: str, ground: Ground) -> bool:
    """'18w on 3.6, 17.5w on 7.02', 'tune 3.4v 51.5, 5.9 at 29.6': that is where the last of them was read."""
    others = BARE_MHZ.findall(read)
    return EACH_OF_ITS_OWN.search(read) is not None or any(_is_where(other, ground, said=True) for other in others)


# '5w in 14.2 60w out 9a', '3.8w in 27.205: 61w, 8.2a': where an amplifier is driven, between what goes in and comes out
DRIVEN_AT = re.compile(
    r"^(?P<drive>[\d.]+ ?m?w)(?: in| drive)?,? (?:on |at )?(?P<mhz>\d{1,2}\.\d{1,3})(?: ?mhz)?[:,]? "
    r"(?P<sent>[\d.]+ ?k?w\b.*)$"
)
CITIZENS_MHZ = (26.9, 28.0)


def _led_by_where_it_is_driven(plain: str, ground: Ground) -> str:
    driven = DRIVEN_AT.match(plain)
    if driven is None or not _is_of_an_amplifier(float(driven["mhz"]), ground):
        return plain
    return f"{driven['mhz']}mhz {driven['drive']} in {driven['sent']}"


def _is_of_an_amplifier(mhz: float, ground: Ground) -> bool:
    return ground.wanted_at_all("drive_power") and any(low <= mhz <= high for low, high in (CITIZENS_MHZ, *AMATEUR_MHZ))


def channels_in_front(plain: str, ground: Ground) -> str:
    """A folded text with a channel of the plan that leads by its bare number and a colon as such: '16: 24.2w hi',
    '20: -200hz, 40 -180hz'."""
    found = BY_NUMBER.match(plain) or (LEADING_WATTS.match(plain) if len(WATTS.findall(plain)) == 1 else None)
    if found is None or int(found["channel"]) not in ground.channel_hz:
        return plain
    row = ANOTHER.findall(plain)
    rest = plain[found.end() :]
    if row and all(int(number) in ground.channel_hz for number in row):
        rest = ANOTHER.sub(r", ch\1 ", rest)
    return f"ch{found['channel']} {rest}"


def _is_told_by_the_plan(found: re.Match[str], ground: Ground) -> bool:
    """'14.2 4w 292w 10.8a': where a line is wanted, or an amplifier is driven, straight before its figures; the frames
    know it."""
    straight = not (found["unit"] or found["parted"] or found["on"])
    in_full = len(re.findall(_OF_A_UNIT, found["read"])) == len(re.findall(r"\d*\.?\d+", found["read"])) >= LONG_ROW
    driven = ground.wanted_at_all("drive_power") and len(WATTS.findall(found["read"])) != 1 and not in_full
    return straight and not in_full and (driven or _is_planned(float(found["mhz"]) * 1e6, ground))


def _is_planned(at: float, ground: Ground) -> bool:
    return any(abs(at - hz) < 1 for hz in ground.frequencies)


def _tells(read: str) -> bool:
    """Whether the rest says by itself what was read: a unit, or a name."""
    return re.match(r"[+-]?[\d.]+$", read) is None and TELLING.search(read) is not None


def _is_where(mhz: str, ground: Ground, *, said: bool) -> bool:
    """Whether the unit works there, and the figure can be nothing else: no volts, and nothing that it draws."""
    value = float(mhz)
    if ground.channel_hz:
        known = any(abs(value * 1e6 - hz) < NEAR_HZ for hz in ground.channel_hz.values())
    else:
        known = any(low <= value <= high for low, high in AMATEUR_MHZ) or _is_of_a_service(value, ground)
    finely = len(mhz.split(".")[1]) > 1 and value < LEAST_VHF_MHZ
    return known and (value > MOST_AMPS or said or finely)


def _is_of_a_service(value: float, ground: Ground) -> bool:
    """'121.5 1.4w' of a handheld: more than the unit sends in watts, and where such services are."""
    most = ground.greatest_power_w
    return most is not None and value > most and any(low <= value <= high for low, high in SERVICES_MHZ)


ANOTHER_SERVICE = re.compile(r"(?<![\w.+-])[1-5]\d\d(?:\.\d{1,3})?(?= [\d.]+ ?m?w\b)")  # a row: the frames know it
SERVICES_MHZ = ((108.0, 174.0), (380.0, 512.0))  # aircraft, ships and land mobile
