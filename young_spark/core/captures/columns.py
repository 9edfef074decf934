"""CSV with a header: scope and envelope records, spectra, fades, responses."""

import io
import re
import warnings
from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal

import numpy as np

from young_spark.core.captures.capture import MOST_BYTES, CannotRead, Curve, Real, Waveform
from young_spark.core.captures.dialect import OVER, Column, Sheet, chosen, own_header, sheet_of
from young_spark.core.captures.plain_text import plain_text
from young_spark.core.captures.told_before import detector_in, rbw_in

NUMBER = re.compile(r"[ \t]*[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,4})?[ \t]*", re.ASCII)
GAPS = {"", "-", "--", "---"}
MOST_GAPS, MOST_OVER = 0.05, 0.9
ROUNDED = 1.2  # of a step: the coarsest grain that still tells a sample from its neighbour
FARTHEST_S = 1e11  # a logger counts from the year 1, or from 1970
OF_THE_RECORD_S = 1e5  # a record that begins later than that is counted from its own begin
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
    Layout("scope", "time_s", "volts", 16, FARTHEST_S, 1e9),
    Layout("spectrum", "frequency_hz", "level_dbm", 8, 1e13, 400),
    Layout("fade", "time_s", "power_w", 8, FARTHEST_S, 1e9),
    Layout("response", "frequency_hz", "level_db", 8, 1e13, 400),
)


def read_columns(
    path: Path, *, envelope: bool, channel: int | None = None, columns: Mapping[str, str] | None = None
) -> Waveform | Curve:
    """The record or trace in a CSV file, as benches export it; of several channels the one that was told, counted from
    1, else the one that moves. `columns`: units of columns by name. Raises CannotRead, naming the line."""
    if path.stat().st_size > MOST_BYTES:
        raise CannotRead(path.name, f"larger than {MOST_BYTES // 2**20} MB")
    text = plain_text(path)
    sheet = None if own_header(text) else sheet_of(text, path.name, columns or {})
    if sheet is None:
        header_line, names, body_at = _header(text, path.name)
        layout = _layout(names, path.name, header_line)
        x, ys = Column(names.index(layout.x), layout.x), (Column(names.index(layout.y), layout.y),)
        sheet = Sheet(tuple(names), x, ys, text[body_at:], header_line)
    else:
        layout = next(t for t in LAYOUTS if (t.x, t.y) == (sheet.x.name, sheet.ys[0].name))
    return _capture(_of_a_channel(sheet, layout, channel, path.name), layout, sheet, text, path.name, envelope=envelope)


def _of_a_channel(sheet: Sheet, layout: Layout, channel: int | None, file: str) -> "_Table":
    tables = [_numbers(sheet, y, layout, file) for y in sheet.ys]
    at = chosen(sheet, [[float(t.y.min()), float(t.y.max())] if len(t.y) else [] for t in tables], channel, file)
    remarks = (*sheet.remarks, *tables[at].remarks)
    if len(tables) > 1:
        remarks = (f"column {sheet.names[sheet.ys[at].at]!r} of {len(tables)} was read", *remarks)
    return replace(tables[at], remarks=remarks)


def _capture(
    table: "_Table", layout: Layout, sheet: Sheet, text: str, file: str, *, envelope: bool
) -> Waveform | Curve:  # fmt: skip
    if len(table.x) < layout.fewest:
        raise CannotRead(file, f"{len(table.x)} rows are too few, at least {layout.fewest} are needed")
    if envelope and layout.kind != "scope":
        raise CannotRead(file, "only volts against time can be an envelope")
    if layout.kind != "scope":
        before = "\n".join(text.split("\n", sheet.header_line)[: sheet.header_line])
        return _told(Curve(layout.kind, table.x, table.y, table.remarks), before)
    rate = _rate(table.x, text, sheet.header_line, file)
    return Waveform("envelope" if envelope else "scope", rate, table.y, table.remarks, table.overload)


def _told(curve: Curve, before: str) -> Curve:
    """A spectrum with what the lines before it say of how it was taken."""
    rbw, detector = rbw_in(before), detector_in(before)
    if curve.kind != "spectrum" or (rbw is None and detector is None):
        return curve
    said = [f"resolution bandwidth {rbw:g} Hz"] if rbw is not None else []
    said += [f"detector: {detector}"] if detector is not None else []
    return replace(
        curve, rbw_hz=rbw, detector=detector, remarks=(*curve.remarks, f"as the file says: {', '.join(said)}")
    )


@dataclass(frozen=True)
class _Table:
    """Two columns as they were read, and what was done for it."""

    x: Real
    y: Real
    remarks: tuple[str, ...] = ()
    overload: float = 0.0


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
        raise CannotRead(
            file,
            f"the header lacks the columns; known pairs are {wanted}; the definition of its instrument may say what "
            "unit each of its own is in",
            line,
        )
    if len(fitting) > 1:
        raise CannotRead(file, "the header fits more than one kind: keep one pair of columns", line)
    for name in (fitting[0].x, fitting[0].y):
        if names.count(name) > 1:
            raise CannotRead(file, f"the column {name} is there twice", line)
    return fitting[0]


def _numbers(sheet: Sheet, y: Column, layout: Layout, file: str) -> _Table:
    """Both columns; the fast way first, and where that fails or finds something odd, line by line to name it."""
    where = (sheet.x.at, y.at)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # a table without rows: said below
            table = np.loadtxt(io.StringIO(sheet.body), delimiter=",", usecols=where, ndmin=2, comments="#")
        odd = not (np.isfinite(table).all() and (np.abs(table) <= (layout.farthest_x, layout.farthest_y)).all())
    except (ValueError, IndexError):
        odd = True
    rows = _line_by_line(sheet, where, layout, file) if odd else None
    found = (
        _Table(np.ascontiguousarray(table[:, 0]), np.ascontiguousarray(table[:, 1]))
        if rows is None
        else _filled(rows, file)
    )
    found = replace(found, x=_from_its_begin(sheet.x.plain(found.x), layout), y=y.plain(found.y))
    return _in_order(found, sheet, where, layout, file)


def _from_its_begin(x: Real, layout: Layout) -> Real:
    """Times since the first of them, where they are those of a clock."""
    of_a_clock = layout.x == "time_s" and len(x) > 0 and float(x[0]) > OF_THE_RECORD_S
    return np.asarray(x - x[0]) if of_a_clock else x


def _in_order(table: _Table, sheet: Sheet, where: tuple[int, int], layout: Layout, file: str) -> _Table:
    """The rows with the abscissa rising: turned where a sweep ran downwards, rebuilt where rounding made times repeat.
    Raises CannotRead for any other."""
    steps = np.diff(table.x)
    if (steps > 0).all():
        return table
    if layout.x == "frequency_hz" and len(steps) and (steps < 0).all():
        turned = replace(table, x=table.x[::-1].copy(), y=table.y[::-1].copy())
        return replace(turned, remarks=(*table.remarks, "the sweep ran downwards: it was turned"))
    if (
        layout.x == "time_s"
        and (steps >= 0).all()
        and table.x[-1] > table.x[0]
        and (rebuilt := _rebuilt(table.x)) is not None
    ):
        words = f"its times repeat by rounding: rebuilt from the interval of {rebuilt[1] - rebuilt[0]:.4g} s"
        return replace(table, x=rebuilt, remarks=(*table.remarks, words))
    _line_by_line(sheet, where, layout, file, in_order=True)
    raise CannotRead(file, f"{layout.x} is not in order")


def _rebuilt(times: Real) -> Real | None:
    """Even times in place of rounded ones; None where they are not even."""
    even = np.linspace(float(times[0]), float(times[-1]), len(times))
    grain = float(np.diff(np.unique(times)).min())
    return even if float(np.abs(times - even).max()) <= grain else None


def _filled(rows: list[tuple[float, float, str]], file: str) -> _Table:
    """Rows with what was no figure filled: a gap from its neighbours, an overload as the highest there is."""
    x, y = np.array([r[0] for r in rows]), np.array([r[1] for r in rows])
    gaps, over = np.array([r[2] == "gap" for r in rows]), np.array([r[2] == "over" for r in rows])
    good = ~(gaps | over)
    if not good.any() or gaps.mean() > MOST_GAPS or over.mean() > MOST_OVER:
        raise CannotRead(file, f"{int(gaps.sum() + over.sum())} of {len(rows)} cells hold no figure")
    remarks = []
    if gaps.any():
        remarks.append(f"a gap of {int(gaps.sum())} empty cells was filled from its neighbours")
    if over.any():
        remarks.append(f"overload: {int(over.sum())} cells say that the range was exceeded")
    filled = np.interp(np.arange(len(y)), np.flatnonzero(good), y[good])
    filled[over] = float(y[good].max())
    return _Table(x, filled, tuple(remarks), float(over.mean()))


def _line_by_line(
    sheet: Sheet, where: tuple[int, int], layout: Layout, file: str, *, in_order: bool = False
) -> list[tuple[float, float, str]]:
    """Every row with what its second cell is: a figure, a gap or an overload. Raises CannotRead, naming the line; where
    they must be `in_order` of one that is not, too."""
    rows: list[tuple[float, float, str]] = []
    for number, line in enumerate(io.StringIO(sheet.body), start=sheet.header_line + 1):
        line = line.split("#", 1)[0].rstrip("\n")
        if not line.strip():
            continue
        cells = line.split(",")
        if len(cells) <= max(where):
            raise CannotRead(file, f"{len(cells)} columns where the header has {len(sheet.names)}", number)
        x = _number(cells[where[0]], layout.x, layout.farthest_x, file, number)
        cell = cells[where[1]].strip().strip('"').lower()
        kind = "gap" if cell in GAPS else "over" if cell in OVER else ""
        y = 0.0 if kind else _number(cells[where[1]], layout.y, layout.farthest_y, file, number)
        if in_order and rows and x <= rows[-1][0]:
            cause = "repeated" if x == rows[-1][0] else "out of order"
            raise CannotRead(file, f"{layout.x} {x:g} is {cause}", number)
        rows.append((x, y, kind))
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
    grain = float(np.diff(np.unique(times)).min()) if len(times) > 1 else 0.0
    rounded = 0.55 * grain if grain < ROUNDED * step else 0.0  # of times with too few digits
    if off.max() > max(UNEVEN * step + 1e-9 * abs(times[-1]), rounded):
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
