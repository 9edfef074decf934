"""Where and how a figure was read, as texts say it with numbers: channels, bands, seconds, volts, a load, a setting."""

import re
from collections.abc import Callable, Sequence

from young_spark.core.entry.facts.circumstances import MARKED
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF
from young_spark.core.entry.facts.settings_said import setting_at
from young_spark.core.gear import BANDS_M

Found = tuple[Fact, int] | None
Recogniser = Callable[[str, Sequence[Fact]], Found]
_NUMBER = r"(?P<number>\d+(?:[.,]\d+)?)"
_UNIT_OF_TIME = r"(?P<unit>s|secs?|seconds|mins?|minutes|h|hrs?|hours?)(?!\w)"
SECONDS = {"s": 1.0, "m": 60.0, "h": 3600.0}
CHANNELS = re.compile(
    r"(?:on )?(?:channels?|chan|ch)\.? ?(\d{1,3})(?:-| - | ?to ?| ?\.\. ?)(?:ch)?(\d{1,3})"
    r"(?![\w.]| ?(?:k?hz|[mk]?w|watts?|m?a|amps?|m?v|volts?|db\w*|%|uv)(?!\w))"
)
CHANNEL = re.compile(r"(?:on )?(?:channel|chan|ch)\.? ?(\d{1,3})(?![\w.])")
BAND = re.compile(r"(?:on )?(\d{1,3}) ?m(?:trs?|et(?:er|re)s?)?(?![\w.])(?! ?hz)")
AFTER = re.compile(rf"(?:after|for|in|within|over|keyed|soak(?:ed)?) (?:for )?{_NUMBER} ?{_UNIT_OF_TIME}")
MINUTES = re.compile(rf"{_NUMBER} ?(?P<unit>mins?|minutes|hrs?|hours?)(?!\w)(?= ?[+-]?\d)")
KEYED_FOR = re.compile(
    rf"{_NUMBER} ?{_UNIT_OF_TIME} (?:(?:of|on|at) )?"
    r"(?:key(?:ed)?[- ]?down|keyed|keying|soak(?:ing)?|later|flat out|continuous(?:ly)?)(?!\w)"
)
AT_HZ = re.compile(rf"(?:at|@) ?{_NUMBER} ?(?P<unit>k?hz|m(?:hz)?)(?!\w)")
AT_VOLTS = re.compile(rf"(?:at|@) ?{_NUMBER} ?(?P<kilo>k)?v(?:olts?)?(?!\w)")
AT_A_BATTERY = re.compile(r"(?:at|@) ?(?P<number>1[1-3]\.[0-9])(?![\w.])(?! ?[a-z%])")  # what mobile gear is fed with
INTO_OHMS = re.compile(
    r"(?:into |in |on )?(\d+) ?(?:ohms?|ω)(?!\w)(?: load)?|"
    r"(?:into (?=\d+r)|(?=(?:4|8|16)r))(\d+)r(?!\w)|into (?:a )?(50|75|8|4)(?![\w.])"
)
ZENER = re.compile(r"(?:the |at )?(\d(?:v\d)|\d+(?:\.\d)?v) zener\b")
SQUELCH = re.compile(r"(?:at )?(threshold|max|min|\d+)(?= (?:opens|closes|[-\d]))")
CENTIMETRES = {"70": 433.5e6, "23": 1296e6}
HERTZ = {"k": 1e3, "h": 1.0, "m": 1e6}


def where_at(rest: str, before: Sequence[Fact]) -> Found:
    """The place or condition that begins a folded text; `before` are the facts in front of it."""
    for recognise in RECOGNISERS:
        if (found := recognise(rest, before)) is not None:
            return found
    return None


def _number(found: re.Match[str]) -> float:
    return float(found["number"].replace(",", "."))


def _channel(rest: str, before: Sequence[Fact]) -> Found:
    if found := CHANNELS.match(rest):
        return Fact("where", found[0], of="channels", is_=f"{found[1]}-{found[2]}"), found.end()
    if found := CHANNEL.match(rest):
        return Fact("where", found[0], of="channel", is_=float(found[1])), found.end()
    return None


def _centimetres(rest: str, before: Sequence[Fact]) -> Found:
    found = re.match(r"(?:on )?(70|23) ?cm(?!\w)", rest)
    if found is None:
        return None
    return Fact("where", found[0], of="frequency_hz", is_=CENTIMETRES[found[1]]), found.end()


def _band(rest: str, before: Sequence[Fact]) -> Found:
    """A band; '>20m' behind a part is megohms."""
    bounded = bool(before) and before[-1].kind == "link" and before[-1].of in {"lower", "upper"}
    if bounded and any(f.kind == "place" for f in before):
        return None
    found = BAND.match(rest)
    if found is None or int(found[1]) not in BANDS_M or OF_A_CABLE.match(rest, found.end()):
        return None
    return Fact("where", found[0], of="band", is_=f"{found[1]}m"), found.end()


OF_A_CABLE = re.compile(r" (?:of )?(?:rg-?\d|lmr|coax|cable|feeder|twin|ladder)")  # '30m rg58': how long it is


def _seconds(rest: str, before: Sequence[Fact]) -> Found:
    found = AFTER.match(rest) or KEYED_FOR.match(rest) or MINUTES.match(rest)
    if found is None:
        return None
    seconds = _number(found) * SECONDS[found["unit"][0]]
    return Fact("how", found[0], of="after_s", is_=seconds), found.end()


def _at(rest: str, before: Sequence[Fact]) -> Found:
    if _is_read_at(rest, before):
        return None
    if (found := AT_HZ.match(rest)) and (band := _band_of(found, before)):
        return Fact("where", found[0], of="band", is_=band), found.end()
    if found:
        return Fact("how", found[0], of="at_hz", is_=_number(found) * HERTZ[found["unit"][0]]), found.end()
    if found := AT_A_BATTERY.match(rest):
        return Fact("how", found[0], of="supply_v", is_=_number(found)), found.end()
    if found := AT_VOLTS.match(rest):
        return Fact("how", found[0], of="supply_v", is_=_number(found) * (1e3 if found["kilo"] else 1.0)), found.end()
    return None


def _band_of(found: re.Match[str], before: Sequence[Fact]) -> str | None:
    """'90w at 20m': metres of a band; 'spur -52 at 54m' and 'at 26.9m' are megahertz."""
    whole = found["unit"] == "m" and found["number"].isdigit() and int(found["number"]) in BANDS_M
    spectrum = any(f.kind == "quantity" and f.of.startswith(("spurious", "rf_level", "stage_")) for f in before)
    return f"{found['number']}m" if whole and not spectrum else None


def _is_read_at(rest: str, before: Sequence[Fact]) -> bool:
    """'ht at 2450v', 'dev at 1.8k': the only figure of a text, behind a name that goes in its unit, was read."""
    found = READ_AT.match(rest)
    named = before[-1].of if before and before[-1].kind == "quantity" else None
    if (
        found is None
        or named is None
        or any(f.kind == "figure" for f in before)
        or re.search(r"\d", rest[found.end() :].partition("should be")[0])  # 'filament at 4.9v should be 5.0'
    ):
        return False
    return UNIT_OF.get(named) == ("V" if found["volts"] else "Hz")


READ_AT = re.compile(r"(?:at|@) ?[+-]?[\d.,]+ ?(?:(?P<volts>m?k?v(?:olts?)?)|k?hz)(?!\w)")


def _load(rest: str, before: Sequence[Fact]) -> Found:
    """Ohms that watts were read into; any other ohms are a reading."""
    found = INTO_OHMS.match(rest)
    if found is None:
        return None
    spoken = found[0].startswith(("in", "on"))
    watts = any(f.kind == "figure" and f.unit == "W" for f in before)
    return (
        (Fact("how", found[0], of="load_ohm", is_=float(found[1] or found[2] or found[3])), found.end())
        if spoken or watts
        else None
    )


def _zener(rest: str, before: Sequence[Fact]) -> Found:
    found = ZENER.match(rest)
    if found is None:
        return None
    return Fact("how", found[0], of="marked", is_=float(found[1].rstrip("v").replace("v", "."))), found.end()


def _setting(rest: str, before: Sequence[Fact]) -> Found:
    if found := MARKED.match(rest):
        return Fact("how", found["words"], of="setting", is_=found["words"]), found.end()
    if before and before[-1].of == "squelch_open" and (found := SQUELCH.match(rest)):
        return Fact("how", found[0], of="setting", is_=found[1]), found.end()
    if any(f.is_ == "in circuit" for f in before) and rest == "out":
        return Fact("how", rest, of="configuration", is_="out of circuit"), len(rest)
    if any(f.is_ == "off load" for f in before) and rest == "on":
        return Fact("how", rest, of="setting", is_="on load"), len(rest)
    if found := SPACED.match(rest):
        return Fact("how", found[1], of="setting", is_=found[1]), len(found[1])
    said = setting_at(rest)
    return None if said is None else (Fact("how", said[0], of="setting", is_=said[1]), len(said[0]))


SPACED = re.compile(r"(wide|narrow) \d")  # 'dev wide 4.6 narrow 2.3': how far the channels are apart


TAP = re.compile(
    r"(?:on |at )?(?:the )?(?:mains )?"
    r"(?:(?P<volts>1\d\d|2\d\d) ?v?(?:olts?)? (?:mains )?tap|tap (?P<behind>1\d\d|2\d\d)(?: ?v)?)(?![\w.])"
)


def _mains_tap(rest: str, before: Sequence[Fact]) -> Found:
    """'on the 230 tap': how the mains winding is connected, and no volts that were read."""
    found = TAP.match(rest)
    if found is None:
        return None
    return Fact("how", found[0], of="setting", is_=f"{found['volts'] or found['behind']} V tap"), found.end()


NUMBERED = re.compile(
    r"(?:# ?|(?:unit|radio|rig|set no\.?) #?|(?:nr\.?|handset|portable) ?)(?P<number>[1-9])(?= |:|,|$)"
    r"|(?:unit|radio|rig|set) (?P<letter>[a-d])(?= |:|,|$)|(?P<alone>[ab]):(?= ?[\d.]+ ?(?:m?w|%|k|k?hz)(?!\w))"
)
AS_READ = {"figure", "how", "where", "result"}  # what may stand in front of the next unit's figure


def _numbered_unit(rest: str, before: Sequence[Fact]) -> Found:
    """'#1 1.4w #2 4.8w' of two units on the bench: the first is this one, another is an item of its own."""
    found = NUMBERED.match(rest) if not before or before[-1].kind in AS_READ else None
    if found is None:
        return None
    name = found["number"] or found["letter"] or found["alone"]
    if name in {"1", "a"}:
        return Fact("word", found[0]), found.end()
    return Fact("item", found[0], of="item", is_=f"unit {name.upper()}"), found.end()


TONE = re.compile(rf"(?:with |on )?(?:a )?{_NUMBER} ?(?P<unit>k(?:hz)?|hz) (?:audio )?tone(?!\w| [\d.]+ ?mv| dev)")
COUNTED = re.compile(r"\d\.\d{4}")


def _tone(rest: str, before: Sequence[Fact]) -> Found:
    """'usb 1k tone 24w': the audio that it was read with; beside what was counted it is a sum of its own."""
    found = TONE.match(rest)
    counted = COUNTED.search(rest) or any(COUNTED.search(f.text) for f in before)
    if found is None or counted or (before and before[-1].kind == "quantity"):  # 'dev 2.1k tone 91.5'
        return None
    return Fact("how", found[0], of="tone_hz", is_=_number(found) * HERTZ[found["unit"][0]]), found.end()


RECOGNISERS: tuple[Recogniser, ...] = (
    _numbered_unit,
    _mains_tap,
    _tone,
    _setting,
    _channel,
    _centimetres,
    _band,
    _seconds,
    _at,
    _load,
    _zener,
)
