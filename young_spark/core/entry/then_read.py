"""What was read once a repair or an adjustment was done: the end of a line of words that is a reading by itself."""

import re

from young_spark.core.entry.facts import cut
from young_spark.core.entry.frames import read
from young_spark.core.entry.said import Ground, Said
from young_spark.core.entry.story_guess import is_only_told

# words that lead to it, where a figure with its unit is in it
THEN_READ = re.compile(
    r"(?:\s*[:;]\s+|,? (?:and )?(?:now|then|gives|gave|after that)[,:]? "
    r"|,? and (?:(?:the |it )?(?:set|rig|radio|unit|amp) )?(?=draws|gives|reads|takes|pulls|makes))"
    r"(?P<read>.*\d ?(?:m?w|watts?|m?v|m?a|milliamps|amps|%|k?hz|mhz|db[mc]?|uv|k?ohms?)\b.*)$"
    r"|(?:fitted|added|replaced|changed|cleaned|swapped),? (?P<levels>h[2-9] -.*)$"
    r"|(?:[:;]\s+(?=ch ?\d{1,2} \d|\d{1,3}m \d)"
    r"|, (?=(?:sens|power|carrier|mod|dev|freq|gate|base|collector|idle|bias|out)\w* \d))(?P<row>.*)$"
)
BEHIND_A_BREAK = re.compile(r"[,;:] (?:and |now |then )*")
LABOUR = re.compile(r", \d+ ?(?:min|mins|minutes|h|hours)$")  # at the very end, behind a comma of its own
OF_A_PART = {"F", "H", "Ω", "A"}  # units of what is printed on parts and fuses


def then_read(plain: str, ground: Ground) -> str:
    """What stands behind the words of a repair or an adjustment as a reading; empty where nothing does."""
    told = THEN_READ.search(plain)
    if told is not None:
        return told["read"] or told["levels"] or told["row"]
    told_of = LABOUR.sub("", plain)
    tails = (told_of[found.end() :] for found in BEHIND_A_BREAK.finditer(told_of))
    return next((tail for tail in tails if _says_a_reading(tail, ground)), "")


def words_before(plain: str, ground: Ground) -> str:
    """The words of a repair without what was read behind them."""
    head, _, behind = plain.partition(told) if (told := then_read(plain, ground)) else (plain, "", "")
    return head + behind


def _says_a_reading(tail: str, ground: Ground) -> bool:
    """Whether a text says a reading with nothing left to the slip: each figure is named, or stands at a place, and none
    of them may be what is printed on a part."""
    if not re.search(r"\d", tail) or is_only_told(tail):
        return False
    breath = read(cut(tail), ground)
    figures = [said for said in breath.said if not said.derived]
    return breath.sure and not breath.remark and bool(figures) and all(map(_is_said_in_full, figures))


def _is_said_in_full(said: Said) -> bool:
    if said.value is None and said.low is None:
        return False
    at_a_place = bool(said.address.get("place")) and not said.lent
    depth = said.in_its_unit and said.unit == "%"
    return said.named or depth or (at_a_place and said.unit not in OF_A_PART)
