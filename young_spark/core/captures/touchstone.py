"""Touchstone version 1: one- and two-ports, all number formats and frequency units."""

import math
import re
from pathlib import Path
from typing import NamedTuple

import numpy as np

from young_spark.core.captures.capture import CannotRead, Complex, Network, Real

UNITS = {"HZ": 1.0, "KHZ": 1e3, "MHZ": 1e6, "GHZ": 1e9}
FORMATS = {"RI", "MA", "DB"}
NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eEdD][+-]?\d{1,4})?", re.ASCII)
MOST_BYTES = 64 * 2**20
FEWEST = 3
PLAIN_OHM = 50.0
MOST_SIZE = 1e4


class OptionLine(NamedTuple):
    """The option line; what it leaves out takes the standard's default."""

    unit: float = 1e9
    format: str = "MA"
    reference_ohm: float = 50.0


def read_touchstone(path: Path) -> Network:
    """S11 of an .s1p, S21 of an .s2p. Raises CannotRead, naming the line."""
    if path.stat().st_size > MOST_BYTES:
        raise CannotRead(path.name, f"larger than {MOST_BYTES >> 20} MB")
    try:
        text = path.read_bytes().decode("latin-1")
    except OSError as problem:
        raise CannotRead(path.name, problem.strerror or "cannot be read") from problem
    two = path.name.lower().endswith(".s2p")
    options, rows = _rows(text, 9 if two else 3, path.name, two)
    if len(rows) < FEWEST:
        raise CannotRead(path.name, f"{len(rows)} points are too few, at least {FEWEST} are needed")
    table = np.array([row for _, row in rows])
    where = 3 if two else 1  # of a two-port S11, S21, S12, S22 stand in this order
    s = _complex(table[:, where], table[:, where + 1], options.format)
    far = ~(np.abs(s) < MOST_SIZE)  # written this way round, NaN is far too
    if far.any():
        raise CannotRead(path.name, "a value beyond what can be", rows[int(np.argmax(far))][0])
    frequency = table[:, 0] * options.unit
    remarks: tuple[str, ...] = ()
    if frequency[0] > frequency[-1]:
        frequency, s, remarks = frequency[::-1].copy(), s[::-1].copy(), ("the sweep ran downwards: it was turned",)
    if options.reference_ohm != PLAIN_OHM and not two:
        s = _against(s, options.reference_ohm)
        remarks = (*remarks, f"it was taken against {options.reference_ohm:g} Ω: turned to {PLAIN_OHM:g} Ω")
        options = options._replace(reference_ohm=PLAIN_OHM)
    return Network("transmission" if two else "reflection", frequency, s, options.reference_ohm, remarks)


def _against(gamma: Complex, reference_ohm: float) -> Complex:
    """Reflection against 50 Ω of one against another reference: Γ' = (Γ + k)/(1 + k·Γ), k = (R − 50)/(R + 50)."""
    k = (reference_ohm - PLAIN_OHM) / (reference_ohm + PLAIN_OHM)
    return np.asarray((gamma + k) / (1 + k * gamma))


def _complex(a: Real, b: Real, form: str) -> Complex:
    if form == "RI":
        return np.asarray(a + 1j * b)
    with np.errstate(over="ignore"):
        size = 10 ** (a / 20) if form == "DB" else a
    return np.asarray(size * np.exp(1j * np.radians(b)))


def _rows(text: str, width: int, file: str, two: bool) -> tuple[OptionLine, list[tuple[int, list[float]]]]:
    """The option line and the points, each with the line on which it begins."""
    options: OptionLine | None = None
    figures: list[tuple[int, list[float]]] = []
    for number, line in enumerate(text.replace("\r\n", "\n").replace("\r", "\n").split("\n"), start=1):
        line = line.split("!", 1)[0].strip()
        if line.startswith("["):
            raise CannotRead(file, "a keyword of version 2; version 1 is read", number)
        if line.startswith("#"):
            if options is None:  # later ones are ignored, as the standard says
                options = _options(line[1:].split(), file, number)
        elif line and options is None:
            raise CannotRead(file, "figures stand before the option line ('# Hz S RI R 50')", number)
        elif line:
            figures.append((number, [_number(word, file, number) for word in line.split()]))
    return options or OptionLine(), _points(figures, width, file, two)


def _points(figures: list[tuple[int, list[float]]], width: int, file: str, two: bool) -> list[tuple[int, list[float]]]:
    """Lines of figures put together to points; a two-port's noise parameters after them are left out."""
    rows: list[tuple[int, list[float]]] = []
    open_row: list[float] = []
    begun = 0
    for number, found in figures:
        if two and not open_row and len(found) == 5 and rows and found[0] <= rows[-1][1][0]:
            break
        begun = begun if open_row else number
        open_row = open_row + found
        if len(open_row) > width:
            raise CannotRead(file, f"{len(open_row)} figures where a point has {width}", number)
        if len(open_row) == width:
            _check_order(open_row[0], [row[0] for _, row in rows[:2]], rows[-1][1][0] if rows else None, file, number)
            rows.append((begun, open_row))
            open_row = []
    if open_row:
        raise CannotRead(file, f"the last point has {len(open_row)} figures of {width}", begun)
    return rows


def _check_order(frequency: float, first: list[float], before: float | None, file: str, line: int) -> None:
    """Frequencies rise, or all of them fall: the first two say which."""
    if frequency < 0:
        raise CannotRead(file, f"frequency {frequency:g} is below zero", line)
    falls = len(first) > 1 and first[1] < first[0]
    if before is None or (len(first) == 1 and frequency != before):
        return
    if frequency >= before if falls else frequency <= before:
        raise CannotRead(
            file, f"frequency {frequency:g} is {'repeated' if frequency == before else 'out of order'}", line
        )


def _options(words: list[str], file: str, line: int) -> OptionLine:
    unit, form, reference = OptionLine()
    words = [word.upper() for word in words]
    while words:
        word = words.pop(0)
        if word in UNITS:
            unit = UNITS[word]
        elif word in FORMATS:
            form = word
        elif word == "R":
            if not words:
                raise CannotRead(file, "R without its resistance", line)
            reference = _number(words.pop(0), file, line)
        elif word != "S":
            cause = "only S parameters are read" if word in {"Y", "Z", "G", "H"} else "is no option of version 1"
            raise CannotRead(file, f"{word[:16]!r}: {cause}", line)
    if not 0 < reference < 1e6:
        raise CannotRead(file, f"a reference of {reference:g} Ω cannot be", line)
    return OptionLine(unit, form, reference)


def _number(word: str, file: str, line: int) -> float:
    if not NUMBER.fullmatch(word):
        raise CannotRead(file, f"{word[:24]!r} is not a number", line)
    value = float(word.lower().replace("d", "e"))
    if not math.isfinite(value) or abs(value) > 1e30:
        raise CannotRead(file, f"{word[:24]!r} is beyond what can be", line)
    return value
