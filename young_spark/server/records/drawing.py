"""A record's plot as files that others open: SVG to look at, CSV to work on."""

import csv
import io
import math
from collections.abc import Iterator, Sequence
from xml.sax.saxutils import escape

from young_spark.core.analysis import Plot
from young_spark.core.analysis.marks import LimitMark

WIDTH, HEIGHT, LEFT, BOTTOM, TOP, RIGHT = 900, 480, 80, 60, 40, 24
TICKS = 6
MOST_POINTS = 4000  # of one line in a drawing: more than its width can show


def as_csv(plot: Plot) -> str:
    """Every point of every line: which line, x, y, under the names of the axes."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["line", plot.x, plot.y])
    for line in plot.lines:
        rows.writerows([line.name, repr(x), repr(y)] for x, y in zip(line.xs, line.ys, strict=True))
    return out.getvalue()


def as_svg(plot: Plot, limits: Sequence[LimitMark], title: str) -> str:
    """The plot with its marked points and limits, in one file that draws without anything else."""
    page = _Page(plot, limits)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" '
        'font-family="sans-serif" font-size="13">',
        f"<title>{escape(title)}</title>",
        f'<rect width="{WIDTH}" height="{HEIGHT}" fill="#fdfaf2"/>',
        f'<text x="{LEFT}" y="24" font-weight="bold">{escape(title)}</text>',
        *page.axes(),
        *(page.line(n) for n in range(len(plot.lines))),
        *(page.limit(mark, named) for mark, named in _named_once(limits)),
        *(page.mark(n) for n in range(len(plot.marks))),
        "</svg>",
    ]
    return "\n".join(parts)


class _Page:
    def __init__(self, plot: Plot, limits: Sequence[LimitMark]) -> None:
        self.plot = plot
        xs = [x for line in plot.lines for x in line.xs] or [0.0]
        ys = [y for line in plot.lines for y in line.ys] + [m.y for m in limits] + [m.y for m in plot.marks] or [0.0]
        self.x0, self.x1 = _spread(min(xs), max(xs), 0.0)
        self.y0, self.y1 = _spread(min(ys), max(ys), 0.06)

    def x(self, value: float) -> float:
        return round(LEFT + (value - self.x0) / (self.x1 - self.x0) * (WIDTH - LEFT - RIGHT), 2)

    def y(self, value: float) -> float:
        return round(HEIGHT - BOTTOM - (value - self.y0) / (self.y1 - self.y0) * (HEIGHT - TOP - BOTTOM), 2)

    def axes(self) -> Iterator[str]:
        for value in _ticks(self.x0, self.x1):
            at = self.x(value)
            yield (
                f'<path d="M{at} {TOP}V{HEIGHT - BOTTOM}" stroke="#d8d0be"/><text x="{at}" '
                f'y="{HEIGHT - BOTTOM + 20}" text-anchor="middle">{value:.7g}</text>'
            )
        for value in _ticks(self.y0, self.y1):
            at = self.y(value)
            yield (
                f'<path d="M{LEFT} {at}H{WIDTH - RIGHT}" stroke="#d8d0be"/><text x="{LEFT - 8}" '
                f'y="{at + 4}" text-anchor="end">{value:.5g}</text>'
            )
        yield (
            f'<text x="{(LEFT + WIDTH - RIGHT) / 2}" y="{HEIGHT - 14}" '
            f'text-anchor="middle">{escape(self.plot.x)}</text>'
        )
        yield (
            f'<text transform="translate(18 {HEIGHT / 2}) rotate(-90)" '
            f'text-anchor="middle">{escape(self.plot.y)}</text>'
        )

    def line(self, number: int) -> str:
        line = self.plot.lines[number]
        step = max(1, math.ceil(len(line.xs) / MOST_POINTS))
        points = " ".join(f"{self.x(x)},{self.y(y)}" for x, y in zip(line.xs[::step], line.ys[::step], strict=True))
        return (
            f'<polyline points="{points}" fill="none" '
            f'stroke="{"#0b5d66" if number == 0 else "#8f4c00"}" stroke-width="1.5"/>'
        )

    def limit(self, mark: LimitMark, named: bool) -> str:
        at = self.y(mark.y)
        name = mark.name if named else ""
        return (
            f'<path d="M{self.x(max(mark.x_from, self.x0))} {at}H{self.x(min(mark.x_to, self.x1))}" '
            'stroke="#a3271f" stroke-width="2"/>'
            f'<text x="{self.x(min(mark.x_to, self.x1))}" y="{at - 5}" text-anchor="end" '
            f'fill="#a3271f">{escape(name)}</text>'
        )

    def mark(self, number: int) -> str:
        mark = self.plot.marks[number]
        at = (self.x(mark.x), self.y(mark.y))
        return (
            f'<circle cx="{at[0]}" cy="{at[1]}" r="4" fill="none" stroke="#22211d"/><text '
            f'x="{at[0] + 7}" y="{at[1] - 6}">{escape(mark.name.replace("_", " "))}</text>'
        )


def _named_once(limits: Sequence[LimitMark]) -> Iterator[tuple[LimitMark, bool]]:
    """Limits with whether they are named: each name once, or names would lie over each other."""
    named: set[str] = set()
    for mark in limits:
        yield mark, mark.name not in named
        named.add(mark.name)


def _spread(low: float, high: float, room: float) -> tuple[float, float]:
    width = (high - low) or abs(high) or 1.0
    return low - room * width, high + room * width


def _ticks(low: float, high: float) -> list[float]:
    step = 10 ** math.floor(math.log10((high - low) / TICKS))
    step *= next(m for m in (1, 2, 5, 10) if (high - low) / (m * step) <= TICKS)
    first = math.ceil(low / step)
    return [n * step for n in range(first, math.floor(high / step) + 1)]
