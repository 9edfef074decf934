"""CSV with a header: scope and envelope records, spectra, fades, responses."""

import io
import re
import warnings
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np

from young_spark.core.captures.capture import MOST_BYTES, CannotRead, Curve, Real, Waveform

NUMBER = re.compile(r"[ \t]*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,4})?[ \t]*", re.ASCII)
UNEVEN = 0.2  # of a step: more than a scope's rounded times can make


@dataclass(frozen=True)
class Layout:
    """A kind of table: its two columns, how few rows are too few, and how far from zero each column can be."""

    kind: Literal["scope", "spectrum", "fade", "response"]
    x: str
    y: str
    fewest: int
    farthest_x: float
    farthest_y: float


LAYOUTS = (
    Layout("scope", "time_s", "volts", 16, 1e9, 1e9),
    Layout("spectrum", "frequency_hz", "level_dbm", 8, 1e13, 400),
    Layout("fade", "time_s", "power_w", 8, 1e9, 1e9),
    Layout("response", "frequency_hz", "level_db", 8, 1e13, 400),
)


def read_columns(path: Path, *, envelope: bool) -> Waveform | Curve:
    """The record or trace in a CSV file. Raises CannotRead, naming the line."""
    if path.stat().st_size > MOST_BYTES:
        raise CannotRead(path.name, f"larger than {MOST_BYTES // 2**20} MB")
    text = _text(path)
    header_line, names, body_at = _header(text, path.name)
    layout = _layout(names, path.name, header_line)
    where = (names.index(layout.x), names.index(layout.y))
    x, y = _numbers(text, body_at, header_line, len(names), where, layout, path.name)
    if len(x) < layout.fewest:
        raise CannotRead(path.name, f"{len(x)} rows are too few, at least {layout.fewest} are needed")
    if envelope and layout.kind != "scope":
        raise CannotRead(path.name, "only volts against time can be an envelope")
    if layout.kind != "scope":
        return Curve(layout.kind, x, y)
    return Waveform("envelope" if envelope else "scope", _rate(x, text, header_line, path.name), y)


def _text(path: Path) -> str:
    data = path.read_bytes()
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as problem:
        line = data[: problem.start].count(b"\n") + 1
        raise CannotRead(path.name, "not a text in UTF-8", line) from problem
    if "\0" in text:
        raise CannotRead(path.name, "not a text: it holds a zero byte", text[: text.index("\0")].count("\n") + 1)
    return text.replace("\r\n", "\n").replace("\r", "\n")


def _header(text: str, file: str) -> tuple[int, list[str], int]:
    """Line number of the header, its names, and where the rows begin in the text."""
    at = 0
    for number, line in enumerate(io.StringIO(text), start=1):
        end = text.find("\n", at)
        at = len(text) if end < 0 else end + 1
        if line.strip() and not line.lstrip().startswith("#"):
            return number, [name.strip().strip('"').strip().lower() for name in line.split(",")], at
        if number > 10_000:
            break
    raise CannotRead(file, "no header line is in it")


def _layout(names: list[str], file: str, line: int) -> Layout:
    fitting = [layout for layout in LAYOUTS if layout.x in names and layout.y in names]
    if not fitting:
        wanted = "; ".join(f"{layout.x},{layout.y}" for layout in LAYOUTS)
        raise CannotRead(file, f"the header lacks the columns; known pairs are {wanted}", line)
    if len(fitting) > 1:
        raise CannotRead(file, "the header fits more than one kind: keep one pair of columns", line)
    for name in (fitting[0].x, fitting[0].y):
        if names.count(name) > 1:
            raise CannotRead(file, f"the column {name} is there twice", line)
    return fitting[0]


def _numbers(
    text: str, body_at: int, header_line: int, width: int, where: tuple[int, int], layout: Layout, file: str
) -> tuple[Real, Real]:
    """Both columns; the fast way first, and where that fails or finds something odd, line by line to name it."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # a table without rows: said below
            table = np.loadtxt(io.StringIO(text[body_at:]), delimiter=",", usecols=where, ndmin=2, comments="#")
        x, y = table[:, 0], table[:, 1]
        odd = not (
            np.isfinite(table).all()
            and (np.diff(x) > 0).all()
            and (np.abs(table) <= (layout.farthest_x, layout.farthest_y)).all()
        )
    except (ValueError, IndexError):
        odd = True
    if not odd:
        return np.ascontiguousarray(x), np.ascontiguousarray(y)
    rows = _line_by_line(text, body_at, header_line, width, where, layout, file)
    return np.array([r[0] for r in rows]), np.array([r[1] for r in rows])


def _line_by_line(
    text: str, body_at: int, header_line: int, width: int, where: tuple[int, int], layout: Layout, file: str
) -> list[tuple[float, float]]:
    rows: list[tuple[float, float]] = []
    for number, line in enumerate(io.StringIO(text[body_at:]), start=header_line + 1):
        line = line.split("#", 1)[0].rstrip("\n")
        if not line.strip():
            continue
        cells = line.split(",")
        if len(cells) <= max(where):
            raise CannotRead(file, f"{len(cells)} columns where the header has {width}", number)
        pair = (
            _number(cells[where[0]], layout.x, layout.farthest_x, file, number),
            _number(cells[where[1]], layout.y, layout.farthest_y, file, number),
        )
        if rows and pair[0] <= rows[-1][0]:
            cause = "repeated" if pair[0] == rows[-1][0] else "out of order"
            raise CannotRead(file, f"{layout.x} {pair[0]:g} is {cause}", number)
        rows.append(pair)
    return rows


def _number(cell: str, title: str, farthest: float, file: str, line: int) -> float:
    if not NUMBER.fullmatch(cell):
        raise CannotRead(file, f"{title} is {_short(cell)!r}, not a number", line)
    value = float(cell)
    if not abs(value) <= farthest:
        raise CannotRead(file, f"{title} is {_short(cell)!r}, beyond what can be", line)
    return value


def _short(cell: str) -> str:
    cell = cell.strip()
    return cell if len(cell) <= 24 else f"{cell[:24]}…"


def _rate(times: Real, text: str, header_line: int, file: str) -> float:
    """Samples a second of evenly spaced times; refuses a record with a gap."""
    step = (times[-1] - times[0]) / (len(times) - 1)
    off = np.abs(times - (times[0] + step * np.arange(len(times))))
    if off.max() > UNEVEN * step + 1e-9 * abs(times[-1]):
        widths = np.diff(times)
        row = int(np.argmax(np.abs(widths - np.median(widths)))) + 1
        raise CannotRead(
            file,
            f"time_s is not evenly spaced: a step of {widths[row - 1]:g} s at {times[row]:g} s",
            _line_of_row(text, header_line, row),
        )
    return float(1 / step)


def _line_of_row(text: str, header_line: int, row: int) -> int:
    seen = -1
    for number, line in enumerate(io.StringIO(text), start=1):
        if number > header_line and line.split("#", 1)[0].strip():
            seen += 1
            if seen == row:
                return number
    return header_line
