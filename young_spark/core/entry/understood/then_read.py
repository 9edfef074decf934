"""What was read once a repair or an adjustment was done: the end of a line of words that is a reading by itself."""

import re

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.said import Ground, Said
from young_spark.core.entry.frames.together import read
from young_spark.core.entry.lines.repairs import SOLD_W
from young_spark.core.entry.lines.story_guess import is_only_told
from young_spark.core.entry.wording.places import HAS_ELECTRODES, PART

_PUT_IN = r"(?:(?:re)?(?:fitted|placed|changed|cleaned|swapped|newed|stored)|(?<=\d )new)"
_NAMES = r"(?:dev|mod|power|carrier|swr|ripple|hum|freq|sens|gain|idle|alc|pep|ht|dist)\w*"
# words that lead to it, where a figure with its unit is in it
THEN_READ = re.compile(
    r"(?:\s*[:;]\s+|,? (?:and )?(?:now|then|gives|gave|after that)[,:]? "
    r"|,? and (?:(?:the |it )?(?:set|rig|radio|unit|amp) )?(?=draws|gives|reads|takes|pulls|makes))"
    r"(?P<read>.*\d ?(?:m?w|watts?|m?v|m?a|milliamps|amps|%|k?hz|mhz|db[mc]?|uv|k?ohms?)\b.*)$"
    r"|(?:fitted|added|replaced|changed|cleaned|swapped),? (?P<levels>h[2-9] -.*)$"
    rf"|{_PUT_IN},? (?:so |and )?(?P<named>{_NAMES} [+-]?[\d.].*)$"
    rf"|{_PUT_IN},? (?:so |and )?(?P<there>(?:ch ?\d{{1,2}}|\d{{1,3}}m|\d{{1,3}}\.\d{{4,6}}(?= |$)).*)$"
    r"|(?:resoldered|re-soldered|cleaned|tightened|remade|reseated|re-seated),? (?P<mended>[\d.]+ ?(?:m?w|%)(?: .*)?)$"
    r"|(?:cleaned|resoldered|tightened|burnished|scraped|remade),? (?:now )?(?P<joint>[\d.]+ ?m?ohms?)$"
    r"|(?:[:;]\s+(?=ch ?\d{1,2} \d|\d{1,3}m \d)"
    r"|, (?=(?:sens|power|carrier|mod|dev|freq|gate|base|collector|idle|bias|out)\w* [+-]?\d))(?P<row>.*)$"
)
# how what is read is said
MANNER = {
    "now", "again", "back", "still", "then", "only", "to", "at", "is", "was", "fine", "good", "gives", "gave", "makes",
    "reads", "up", "down",
}  # fmt: skip
BEHIND_A_BREAK = re.compile(
    r"(?:[,;:] |\. (?=[a-z\d])|,? [-=]> |,? - (?![\d.]+ ?(?:d[bB]|k?hz))|,? and (?=[a-z]{2,} |[\d.]+ ?w\b)"
    r"|,? (?=(?:now|then|still|back|gives|gave|makes|reads|up to|down to) ))(?:and |now |then )*"
)
_DONE = (
    r"(?:re)?(?:fitted|placed|changed|swapped|soldered|seated|flowed|newed)|cleaned|tightened|glued|bridged|new|final|"
    r"removed|lifted|bypassed|disconnected|jumpered|rewound|isolated"
)
# 'r7 changed 3.8w', 'mic socket cleaned mod 85%': no break between what was done and what was read
RUN_ON = re.compile(
    rf"(?<=[a-z\d]) (?=(?:{_NAMES}|vswr|[rt]x|supply|current) )"
    r"|(?<=[a-z\d]) (?=[\d.]+ ?(?:(?:m?w|%)(?: |$)|m?a (?:on )?(?:[rt]x|standby|idle)))"
)
READ_AFTER = re.compile(rf"(?P<read>.*\d.*?),? (?:after|with|since|once) (?P<done>.*\b(?:{_DONE})\b.*)$")
SOLD_BY_ITS_WATTS = re.compile(
    r"\b\d+(?:\.\d+)? ?(?:r|k|ohms?)$"
    r"|\b(?:lamps?|bulbs?|loads?|dummy|zeners?|heaters?|speakers?|irons?|elements?|\d+ ?v)\b"
)
LABOUR = re.compile(r", \d+ ?(?:min|mins|minutes|h|hours)$")  # at the very end, behind a comma of its own
SETTING = re.compile(r"\b(?:hi|high|lo|low|mid)\b")  # of the power: no part is sold at one
OF_NO_PART = {"%", "dBm"}
RESISTOR = re.compile(r"\bresistors?\b|\br\d")  # which have their watts printed on them
IT_WAS = re.compile(r",? (?:it )?(?:was|used to be|had been) [+-]?[\d.]+ ?\w*$")  # 'hum 4mv, was 90'
MOST_BREAKS = 6  # the last of them: what was read stands at the end
MENDED = re.compile(r"\b(?:cleaned|re-?soldered|tightened|re-?crimped|re-?seated|burnished|scraped)\b")
OF_A_PART = {"F", "H", "Ω", "A"}  # units of what is printed on parts and fuses


# volts that only the repair in front says where: '.32vpp', 'coil 12.1v', 'base .65'
VOLTS_ALONE = re.compile(r"(?:now )?[+-]?[\d.]+ ?(?:m?v ?(?:pp|p-p|rms|rf|ac)|m?vpp|m?vrms|m?ohms?)$")
OF_THE_PART = re.compile(
    r"(?:now )?(?:coil|contacts?|wiper|(?P<end>base|coll(?:ector)?|emitter|gate|source))s? (?:now )?[\d.]+\S*$"
)
A_PART = re.compile(rf"\b{PART}\b")


def at_its_part(read: str, done: str) -> str:
    """What was read behind a repair, at the one part that the repair names, where it says no other place: 'x4 455
    swapped, .32vpp', 'k4 replaced, coil 12.1v'."""
    parts = set(A_PART.findall(done))
    alone, electrode = VOLTS_ALONE.match(read), OF_THE_PART.match(read)
    if len(parts) != 1 or not (alone or electrode):
        return read
    part = parts.pop()
    of_another = electrode is not None and electrode["end"] is not None and HAS_ELECTRODES.match(part.lower()) is None
    return read if of_another else f"{part} {read}"  # 'fitted r17, collector 2.9v': a resistor has none


# 'earth strap 0.3 ohm, cleaned .02': what a joint had, and what is left of it
LEFT_OF_IT = re.compile(
    r"(?P<what>[a-z][a-z\d /-]*?) [\d.]+ ?(?P<unit>m?ohms?|m?v|r),? (?:so |then )?"
    r"(?:cleaned|re-?soldered|tightened|re-?made|re-?crimped|burnished|scraped)(?: up)?,? (?:now |to )?"
    r"(?P<left>\d*\.\d+(?: ?(?:m?ohms?|m?v|r))?|\d+(?= ?(?:m?ohms?|m?v|r)$)(?: ?\w+))$"  # minutes are whole
)


def then_read(plain: str, ground: Ground) -> str:
    """What stands behind the words of a repair or an adjustment as a reading; empty where nothing does."""
    if (joint := LEFT_OF_IT.match(plain)) is not None:
        left = re.match(r"[\d.]+", joint["left"])
        return f"{joint['what']} {left[0] if left else ''} {joint['unit']}"
    named = _behind_a_break(plain, ground) or _run_on(plain, ground) or _read_after(plain, ground)
    told = THEN_READ.search(plain)
    if told is None:
        return named
    read = (
        told["read"]
        or told["levels"]
        or told["there"]
        or told["named"]
        or told["mended"]
        or told["joint"]
        or told["row"]
    )
    if _is_of_a_stage(plain, read) or _is_of_an_idle_stage(plain, read):
        return ""
    return named if named.endswith(f" {read}") else read  # 'glued back, bias now 0.52a': with its name


def _behind_a_break(plain: str, ground: Ground) -> str:
    """The longest end behind a comma, a colon or a semicolon that says a reading by itself."""
    told_of = LABOUR.sub("", plain)
    breaks = list(BEHIND_A_BREAK.finditer(told_of))[-MOST_BREAKS:]
    parts = ((told_of[: found.start()], told_of[found.end() :]) for found in breaks)
    return next((tail for head, tail in parts if _says_a_reading(head, tail, ground)), "")


def _run_on(plain: str, ground: Ground) -> str:
    """The longest end that says a reading with no break before it, where what stands before it was done."""
    for found in RUN_ON.finditer(plain):
        head, tail = plain[: found.start()], plain[found.end() :]
        bare = tail[0].isdigit() or tail[0] == "."
        done = re.search(rf"\b(?:{_DONE})\b", head) is not None
        if done and not (bare and SOLD_BY_ITS_WATTS.search(head)) and _says_a_reading(head, tail, ground):
            return tail
    return ""


def _read_after(plain: str, ground: Ground) -> str:
    """'3.8w after r7 was replaced': the beginning that says a reading."""
    found = READ_AFTER.match(plain)
    return found["read"] if found is not None and _says_a_reading(found["done"], found["read"], ground) else ""


def _is_of_a_stage(plain: str, tail: str) -> bool:
    """'5v ldo in 7.2 out 4.4, swapped, out 5.01': volts of it, and no power."""
    return tail.startswith("out ") and re.search(r"\bin [\d.]", plain.removesuffix(tail)) is not None


def _is_of_an_idle_stage(plain: str, tail: str) -> bool:
    """'bias r11 was 47r fitted 68r now 0.2a': amps that the bias makes, and not what the unit draws when keyed."""
    amps = re.fullmatch(r"[\d.]+ ?m?a(?:mps)?", tail.strip()) is not None
    return amps and re.search(r"\b(?:bias|idle)\b", plain.removesuffix(tail)) is not None


def words_before(plain: str, ground: Ground) -> str:
    """The words of a repair without what was read behind them."""
    head, _, behind = plain.partition(told) if (told := then_read(plain, ground)) else (plain, "", "")
    return head + behind


def _says_a_reading(head: str, tail: str, ground: Ground) -> bool:
    """Whether a text says a reading with nothing left to the slip: each figure is named, or stands at a place, and none
    of them may be what is printed on a part."""
    if not re.search(r"\d", tail) or is_only_told(tail) or tail.startswith("was ") or _is_of_a_stage(head + tail, tail):
        return False
    breath = read(cut(IT_WAS.sub("", tail)), ground)
    figures = [said for said in breath.said if not said.derived]
    explained = MANNER.issuperset(breath.remark.split())
    in_full = _is_a_row(figures) or all(_is_said_in_full(said, head, tail) for said in figures)
    return breath.sure and explained and bool(figures) and in_full


def _is_a_row(figures: list[Said]) -> bool:
    """'20m 97 15m 95 10m 90': the same at one band or channel after the other."""
    at = [said.address.get("channel") or said.address.get("frequency_hz") for said in figures]
    there = None not in at and len(set(at)) == len(figures) > 1 and not any(said.lent for said in figures)
    return there and len({said.quantity for said in figures}) == 1 and all(said.value is not None for said in figures)


def _is_said_in_full(said: Said, head: str, tail: str) -> bool:
    if said.value is None and said.low is None:
        return False
    at_a_place = bool(said.address.get("place")) and not said.lent
    at_a_setting = said.unit == "W" and bool(said.address.get("power_setting")) and SETTING.search(tail) is not None
    return said.named or at_a_setting or _is_of_no_part(said, head) or (at_a_place and said.unit not in OF_A_PART)


def _is_of_no_part(said: Said, head: str) -> bool:
    """Whether a figure in its unit cannot be what is printed on something that came in."""
    if not said.in_its_unit:
        return False
    if said.unit == "A":
        return bool(said.address.get("state"))  # 'cleaned switch, 22ma rx': no fuse has a state
    if said.unit == "Ω":
        return MENDED.search(head) is not None  # 'cleaned wafer 4, 0.1 ohm'
    of_a_resistor = RESISTOR.search(head) is not None and said.value in SOLD_W
    return said.unit in OF_NO_PART or (said.unit == "W" and not of_a_resistor)
