"""CSV as benches export it, brought into one form: columns by what they hold, cells with commas between them and points
in their numbers. What a file says in one of the program's own headers is left as it is.

Known are semicolons and tabs, decimal commas, a preamble, quoted headers, units in the header or in a line of their
own, several channels."""

import io
import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from young_spark.core.captures.capture import CannotRead, Real
from young_spark.core.captures.clock_times import with_clock_times
from young_spark.core.captures.one_column import UNIT as UNIT_SAID
from young_spark.core.captures.one_column import axis_in

OWN = {"time_s", "volts", "frequency_hz", "level_dbm", "power_w", "level_db"}
LONGEST_PREAMBLE = 200  # lines
DELIMITERS = (";", "\t", ",")
UNIT = re.compile(r"[(\[{]\s*([^)\]}]+?)\s*[)\]}]\s*$")
# 'Frequency_Hz', 'CH1 mV', 'f/MHz'
SUFFIX = re.compile(
    r"(?<=\w)\s*[_/ ]\s*([kmg]?hz|dbm|dbu?v|dbµv|dbmv|db|[mµu]?v|[mµun]?s|sec|[mk]?w)\s*$", re.IGNORECASE
)
FACTORS = {
    "time": {
        "s": 1.0, "sec": 1.0, "second": 1.0, "seconds": 1.0, "ms": 1e-3, "us": 1e-6, "µs": 1e-6, "μs": 1e-6, "ns": 1e-9,
        "hh:mm:ss": 1.0, "h:m:s": 1.0,
    },
    "volts": {"v": 1.0, "volt": 1.0, "volts": 1.0, "mv": 1e-3, "uv": 1e-6, "µv": 1e-6, "μv": 1e-6},
    "frequency": {"hz": 1.0, "khz": 1e3, "mhz": 1e6, "ghz": 1e9},
    "power": {"w": 1.0, "mw": 1e-3, "kw": 1e3, "watt": 1.0, "watts": 1.0},
}  # fmt: skip
ALL_UNITS = {unit for units in FACTORS.values() for unit in units}
# decibels above something, in dBm across 50 Ω: 1 µV is −106.99 dBm
LEVELS = {"dbm": 0.0, "dbuv": -106.9897, "dbµv": -106.9897, "dbμv": -106.9897, "dbmv": -46.9897, "dbv": 13.0103}
ALL_UNITS |= LEVELS.keys()
COLUMN_UNITS = ALL_UNITS | {"db"}  # what a column may be told to be in: its unit says what it holds
NAMES = {
    "time": re.compile(r"time|zeit|temps|tempo|tiempo|t$|x(?:-axis)?|second", re.IGNORECASE),
    "frequency": re.compile(r"fr[eé]q|frec|frequen[cz]|f$", re.IGNORECASE),
    "power": re.compile(r"power|pwr|watt", re.IGNORECASE),
    "volts": re.compile(
        r"volt|spannung|tensi|ch(?:annel)? ?\w+|kanal|[a-d]$|y(?:-axis)?|ampl|signal|input", re.IGNORECASE
    ),
    "level": re.compile(r"level|ampl|magnitude|trace|power|y(?:-axis)?", re.IGNORECASE),
}
NUMBER = re.compile(r"\s*[+-]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d+)?\s*")
# what stands for a figure beyond the range
OVER = {
    "ol", "o.l", "o/l", "inf", "+inf", "-inf", "overload", "ovld", "ovl", "ovr", "over", "overrange", "over range",
    "ovrng", "clip", "clipped", "****", "*****", "####", ">>>>",
}  # fmt: skip
NO_NUMBER = {"", "---", "nan", *OVER}


@dataclass(frozen=True)
class Column:
    """A column of figures: what it is, its factor to plain units or its offset in dB."""

    at: int
    name: str  # one of the program's own
    factor: float = 1.0
    offset: float = 0.0
    in_dbm: bool = False  # a power that is written as a level

    def plain(self, values: Real) -> Real:
        """The figures of the file in plain units."""
        levels = values * self.factor + self.offset
        return np.asarray(10 ** (levels / 10 - 3)) if self.in_dbm else levels


@dataclass(frozen=True)
class Sheet:
    """A table as it may be read: names as they stand, the columns known, and its body with commas."""

    names: tuple[str, ...]
    x: Column
    ys: tuple[Column, ...]
    body: str
    header_line: int
    remarks: tuple[str, ...] = ()


def sheet_of(text: str, file: str, told_of: Mapping[str, str]) -> Sheet | None:
    """The table in a text that is in no own header of the program's; None where it is none that is known. `told_of`:
    the unit of columns by their names, as whoever knows the instrument said."""
    lines = with_clock_times(text.split("\n"))
    delimiter = _delimiter(lines)
    if delimiter == " ":
        lines, delimiter = (
            [re.sub(r"(?<=\S)[ ]+(?=\S)", "\t", line.strip()) if _is_spaced(line) else line for line in lines],
            "\t",
        )
    first = _first_row(lines, delimiter)
    if first is None:
        return _one_column(lines)
    header, units = _header(lines, first, delimiter)
    if header is None:
        return None
    names = _cells(lines[header].lstrip("# "), delimiter)
    told = _cells(lines[units], delimiter) if units is not None else [""] * len(names)
    units_of = {name.casefold(): unit for name, unit in told_of.items()}
    columns = [
        _column(n, "", units_of[name.casefold()])
        if name.casefold() in units_of
        else _column(n, name, told[n] if n < len(told) else "")
        for n, name in enumerate(names)
    ]
    found = _pair([c for c in columns if c is not None])
    if found is None:
        return None
    end = _last_row(lines, first, delimiter) + 1
    remarks = ("lines behind the figures were left out",) if any(line.strip() for line in lines[end:]) else ()
    body = "\n".join(lines[first:end]) + "\n"
    if delimiter != ",":
        body = body.replace(",", ".").replace(delimiter, ",")
    return Sheet(tuple(names), found[0], found[1], body, first, remarks)


def _one_column(lines: list[str]) -> Sheet | None:
    """Rows of one figure, where the lines before them say what they stand at."""
    rows = [n for n, line in enumerate(lines) if NUMBER.fullmatch(line.strip()) and line.strip()]
    if len(rows) < LEAST_ROWS or rows[-1] - rows[0] + 1 != len(rows):
        return None
    preamble = "\n".join(lines[: rows[0]])
    axis, unit = axis_in(preamble, len(rows)), UNIT_SAID.search(preamble)
    if axis is None:
        return None
    told = unit[1].lower() if unit else ("v" if axis.name == "time_s" else "dbm")
    y = _column(1, "", told)
    if y is None or (axis.name == "time_s") != (y.name == "volts"):
        return None
    values = [lines[n].strip().replace(",", ".") for n in rows]
    body = "\n".join(f"{axis.first + axis.step * n:.12g},{value}" for n, value in enumerate(values)) + "\n"
    words = f"one column: {axis.name} from its preamble, a step of {axis.step:g}"
    return Sheet((axis.name, y.name), Column(0, axis.name), (y,), body, rows[0], (words,))


LEAST_ROWS = 8


def _is_spaced(line: str) -> bool:
    return all(NUMBER.fullmatch(cell) or cell.lower() in NO_NUMBER for cell in line.split()) or "(" in line


def _last_row(lines: list[str], first: int, delimiter: str) -> int:
    """The last line that begins with a figure."""
    for n in range(len(lines) - 1, first, -1):
        if lines[n].strip() and NUMBER.fullmatch(_cells(lines[n], delimiter)[0]):
            return n
    return first


def _delimiter(lines: list[str]) -> str:
    """What stands between the cells of most rows of figures."""
    rows = [line for line in lines[-50:] if line.strip() and any(c.isdigit() for c in line)]
    for delimiter in DELIMITERS:
        if rows and sum(delimiter in row for row in rows) > 0.8 * len(rows):
            return delimiter
    if rows and sum(len(row.split()) > 1 for row in rows) > 0.8 * len(rows):
        return " "
    return ","


def _cells(line: str, delimiter: str) -> list[str]:
    return [cell.strip().strip('"').strip() for cell in line.split(delimiter)]


def _first_row(lines: list[str], delimiter: str) -> int | None:
    """The first of two rows of figures in a row."""
    seen: int | None = None
    for n, line in enumerate(lines[:LONGEST_PREAMBLE]):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        cells = _cells(line, delimiter)
        figures = [bool(NUMBER.fullmatch(cell)) for cell in cells]
        is_row = (
            len(cells) > 1
            and figures[0]
            and all(f or c.lower() in NO_NUMBER for f, c in zip(figures, cells, strict=True))
        )
        if is_row and seen is not None:
            return seen
        seen = n if is_row else None
    return seen


def _header(lines: list[str], first: int, delimiter: str) -> tuple[int | None, int | None]:
    """The lines of the names and of the units before the first row."""
    above = [n for n in range(first) if lines[n].strip() and not lines[n].lstrip().startswith("#")]
    if not above:  # the names stand in a comment
        count = len(_cells(lines[first], delimiter))
        told = [n for n in range(first) if len(_cells(lines[n], delimiter)) == count]
        return (told[-1], None) if told else (None, None)
    last = above[-1]
    cells = [cell.strip("()[]{} ").lower() for cell in _cells(lines[last], delimiter)]
    if len(above) > 1 and len(cells) > 1 and all(cell in ALL_UNITS or cell == "" for cell in cells) and any(cells):
        return above[-2], last
    return last, None


def _column(at: int, title: str, unit: str) -> Column | None:
    """What a column holds, by its unit and its name."""
    plain = title.lower()
    if plain in OWN:
        return Column(at, plain)
    in_title = UNIT.search(title) or SUFFIX.search(title)
    unit = (in_title[1] if in_title else unit).strip("()[]{} ").lower()
    if not unit and plain in ALL_UNITS:
        unit = plain  # 's,V': nothing but units
    name = SUFFIX.sub("", UNIT.sub("", title)).strip()
    for level, offset in LEVELS.items():
        if unit == level:
            return Column(at, "level_dbm", offset=offset)
    if unit == "db":
        return Column(at, "level_db")
    for kind, own in (("time", "time_s"), ("frequency", "frequency_hz"), ("volts", "volts"), ("power", "power_w")):
        if unit in FACTORS[kind]:
            return Column(at, own, FACTORS[kind][unit])
    if unit:
        return None
    for kind, own in (("time", "time_s"), ("frequency", "frequency_hz"), ("volts", "volts")):
        if NAMES[kind].match(name):
            return Column(at, own)
    return None


def _pair(columns: list[Column]) -> tuple[Column, tuple[Column, ...]] | None:
    """What stands on the left of a plot, and every column that may stand above it."""
    pairs = (("time_s", "volts"), ("frequency_hz", "level_dbm"), ("time_s", "power_w"), ("frequency_hz", "level_db"))
    for x_name, y_name in pairs:
        x = next((c for c in columns if c.name == x_name), None)
        ys = tuple(c for c in columns if c.name == y_name and c is not x)
        if x is not None and ys:
            return x, ys
    time = next((c for c in columns if c.name == "time_s"), None)
    levels = tuple(replace(c, name="power_w", in_dbm=True) for c in columns if c.name == "level_dbm")
    return (time, levels) if time is not None and levels else None


def own_header(text: str) -> bool:
    """Whether the first line that counts has names of the program's own, with commas between them."""
    for line in io.StringIO(text):
        if line.strip() and not line.lstrip().startswith("#"):
            return len(OWN & {cell.strip().strip('"').strip().lower() for cell in line.split(",")}) > 1
    return False


def chosen(sheet: Sheet, columns: list[list[float]], channel: int | None, file: str) -> int:
    """Which of the sheet's columns is read: the one that was told, counted from 1, else the one that moves most. Raises
    CannotRead."""
    if channel is not None and len(sheet.ys) > 1:
        if not 1 <= channel <= len(sheet.ys):
            raise CannotRead(file, f"there is no channel {channel}: it has {len(sheet.ys)}")
        return channel - 1
    spans = [max(column) - min(column) if column else 0.0 for column in columns]
    return spans.index(max(spans))
