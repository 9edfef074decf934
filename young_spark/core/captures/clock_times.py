"""Times of day in a table of a logger, as seconds: `10:15:03.5`, and a date before it in the same cell."""

import re
from datetime import date

CLOCK = r"(?P<h>\d{1,2}):(?P<m>[0-5]\d):(?P<s>[0-5]\d(?:\.\d+)?)"
YEAR_FIRST, DAY_FIRST = r"(?P<y>\d{4})[-/.](?P<mo>\d{1,2})[-/.](?P<d>\d{1,2})", r"\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4}"
DATED = re.compile(rf'"?\b{YEAR_FIRST}[T ]+{CLOCK}(?:Z|[+-]\d\d:?\d\d)?"?')
OF_THE_DAY = re.compile(rf'"?(?<![\d:]){CLOCK}(?![\d:])"?')
DATE = re.compile(rf'"?(?<![\d.])(?:{YEAR_FIRST}|{DAY_FIRST})(?![\d.:])"?')
DECIMAL_COMMA = re.compile(r"(?<=\d:[0-5]\d:[0-5]\d),(?=\d)")
LOOKED_AT = 50  # lines from the end


def with_clock_times(lines: list[str]) -> list[str]:
    """The lines with each time of day as seconds after midnight, or since the year 1 where its date
    stands with it; a date in a cell of its own as its year. Those of a text without such times are as they were."""
    if not any(OF_THE_DAY.search(line) for line in lines[-LOOKED_AT:]):
        return lines
    if any(";" in line or "\t" in line for line in lines[-LOOKED_AT:]):  # a comma sets no cells off here
        lines = [DECIMAL_COMMA.sub(".", line) for line in lines]
    return [DATE.sub(_year, OF_THE_DAY.sub(_of_the_day, DATED.sub(_dated, line))) for line in lines]


def _of_the_day(found: re.Match[str]) -> str:
    return f"{3600 * int(found['h']) + 60 * int(found['m']) + float(found['s']):.6f}"


def _dated(found: re.Match[str]) -> str:
    try:
        days = date(int(found["y"]), int(found["mo"]), int(found["d"])).toordinal()
    except ValueError:  # no such day: the row is named as one without a figure
        return found[0]
    return f"{86400 * days + float(_of_the_day(found)):.6f}"


def _year(found: re.Match[str]) -> str:
    return found["y"] or "0"
