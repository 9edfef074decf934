"""Figures typed while something is turned: 'l14 3.1 3.4 3.6 3.5w'. What was found, what is left, and whether the best
was passed."""

import re
from dataclasses import dataclass
from typing import Literal

from young_spark.core.entry.wording.places import TRIMMER
from young_spark.core.entry.wording.tokens import folded
from young_spark.core.figure import format_value

Way = Literal["most", "least"]
LEAST_FIGURES = 3
SAME = 0.01  # of the best: what a meter breathes
_FIGURE = r"[+-]?\d*\.?\d+"
_WHERE = r"(?:usb|lsb|am|fm|cw|ch ?\d{1,2}|\d{1,3}m)"
SERIES = re.compile(
    r"(?:turned |peaked |dipped )?"
    rf"(?P<adjuster>(?:{TRIMMER}|l|t)\d{{1,3}}|c\d{{1,3}}(?=.*\d ?[a-z%]+(?: {_WHERE})?$)"
    r"|(?:\w+ )?(?:pot|trimmer|core|slug|preset))"
    rf"[:,]? (?P<word>(?:swr|err|error|freq|dip|null|pwr|power|mod|dev|ip|depth) )?"
    rf"(?P<figures>{_FIGURE}(?:[ ,]+(?:then )?{_FIGURE}){{2,}}) ?(?P<unit>mw|w|mv|v|%|khz|hz|db|ma|a)?"
    rf"(?: (?P<where>{_WHERE}))?$"
)
TO_THE_LEAST = {"swr", "err", "error", "freq", "dip", "null"}  # and whatever is in hertz
UNITS = {"mw": "W", "w": "W", "mv": "V", "v": "V", "%": "%", "khz": "Hz", "hz": "Hz", "db": "dB", "ma": "A", "a": "A"}
FACTORS = {"mw": 1e-3, "mv": 1e-3, "ma": 1e-3, "khz": 1e3}


@dataclass(frozen=True, slots=True)
class TurnedSeries:
    """An adjuster, the figures as they were typed, what they are of, and which way is better."""

    adjuster: str
    word: str
    figures: tuple[str, ...]
    unit: str
    way: Way
    where: str = ""

    @property
    def found(self) -> str:
        """The first figure, with its unit."""
        return f"{self.figures[0]}{self.unit}"

    @property
    def left(self) -> str:
        """The last figure, with its unit."""
        return f"{self.figures[-1]}{self.unit}"

    @property
    def ended_on(self) -> str:
        """A text that says what was read last."""
        return f"{self.word}{self.left} {self.where}".strip()

    def says(self) -> str:
        """Whether to go on, to go back, or to leave it; in words."""
        values = [float(figure) for figure in self.figures]
        worth = [abs(v) if self.way == "least" else -v for v in values]
        best = min(range(len(values)), key=worth.__getitem__)
        much = SAME * max(abs(values[best]), 1e-12)
        shown = _shown(values[best], self.unit)
        if max(worth) - min(worth) <= much:
            return "It changes nothing: put it back where it was."
        if worth[-1] - worth[best] > much:
            back = "a little" if best == len(values) - 2 else "to there"
            return f"You passed it: best {shown}, back {back}."
        first = next(n for n, w in enumerate(worth) if w - worth[best] <= much)
        came_back = any(w - worth[best] > much for w in worth[first:])
        if worth[-1] < worth[-2] - much and not came_back:
            return f"Still getting better: go on. Best so far {shown}."
        return f"Best {shown}: leave it there."


def turned_series_in(plain: str) -> TurnedSeries | None:
    """The figures that a folded text gives of one adjuster, or None."""
    told = SERIES.fullmatch(plain)
    if told is None:
        return None
    figures = tuple(re.findall(_FIGURE, told["figures"]))
    word, unit = told["word"] or "", told["unit"] or ""
    least = word.strip() in TO_THE_LEAST or unit in {"hz", "khz"}
    adjuster = " ".join(w.upper() if re.search(r"\d", w) else w for w in told["adjuster"].split(" "))
    return TurnedSeries(adjuster, word, figures, unit, "least" if least else "most", told["where"] or "")


def way_turned(words: str) -> Way | None:
    """Which way a series of figures in a text is better; None where it gives no series."""
    told = turned_series_in(folded(words))
    return told.way if told else None


def figures_on_the_way(words: str) -> tuple[float, ...]:
    """The figures that were read while something was turned, but for the last, in their own unit without a prefix;
    nothing where a text gives no series."""
    told = turned_series_in(folded(words))
    factor = FACTORS.get(told.unit, 1.0) if told else 1.0
    return tuple(float(figure) * factor for figure in told.figures[:-1]) if told else ()


def _shown(value: float, unit: str) -> str:
    if unit not in UNITS:
        return f"{value:g}"
    return format_value(value * FACTORS.get(unit, 1.0), UNITS[unit])
