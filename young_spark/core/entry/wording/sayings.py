"""Ways in which the trade says a thing, and the plain way to say the same: data, tried in its order."""

import math
import re
from collections.abc import Callable, Sequence
from functools import cache
from typing import Literal

from young_spark.core.entry.wording.pieces import with_pieces
from young_spark.core.ground import SHIPPED, Frozen, load, needed_letters

Written = str | Callable[[re.Match[str]], str]
SAME_SETTING = 0.7  # times the other: two settings lie further apart
USUAL_LOAD_OHM = 50.0
MOST_IN_A_RANGE = 8  # parts


class Saying(Frozen):
    """One way to say something: a pattern, what is written instead or the sum that writes it, and a text with it."""

    says: str
    means: str = ""
    by: str = ""
    as_in: str


class SayingsFile(Frozen):
    """The data file: pieces of patterns by their names, and the lists of sayings in their order: those said
    over several clauses, before these are told apart, shorthand, and all others."""

    pieces: dict[str, str]
    first: tuple[Saying, ...]
    shorthand: tuple[Saying, ...]
    saying: tuple[Saying, ...]


def _high_and_low(found: re.Match[str]) -> str:
    """'4.1w low 1.2' is of both settings; '1w low .9' what the low one is called by, and what it gives."""
    high, low, unit = float(found[1]), float(found[2]) * (1e-3 if "m" in (found[3] or "") else 1.0), found[3] or ""
    if low > SAME_SETTING * high:
        return f"lo {found[2]}{unit or 'w'} should be {found[1]}w"
    return f"hi {found[1]}w lo {found[2]}{unit}"


def _matched(found: re.Match[str]) -> str:
    """'tunes 25 ohm to 1.2, 100 ohm to 1.1': the SWR that a tuner makes of each load."""
    return "swr " + re.sub(r"(\d+) ?ohms? to ([\d.]+)", r"\2 into \1 ohm", found[1])


def _without_stops(found: re.Match[str]) -> str:
    return found[0].replace(".", "")


def _all_of_the_range(found: re.Match[str]) -> str:
    """'x1-x4 ok': each of them; as it was typed where they are many."""
    first, last = int(found[2]), int(found[3])
    if not 0 < last - first < MOST_IN_A_RANGE:
        return found[0]
    return " ".join(f"{found[1]}{n}" for n in range(first, last + 1)) + " "


def _each_after_its_time(found: re.Match[str]) -> str:
    """'38w 37 36.5 at 0 5 15 min': each figure with its time; as it was typed where there are not as many."""
    watts, minutes = re.findall(r"[\d.]+", found[1]), found[2].split()
    if len(watts) != len(minutes):
        return found[0]
    return ", ".join(f"{w}w after {m} min" for w, m in zip(watts, minutes, strict=True))


def _valves_in_turn(found: re.Match[str]) -> str:
    """'v1 v2 v3 95 88 58%': each valve with its own emission; as it was typed where there are not as many."""
    valves, shares = re.findall(r"v\d+", found[1]), re.findall(r"\d+", found[2])
    if len(valves) != len(shares):
        return found[0]
    return ", ".join(f"{valve} emission {share}%" for valve, share in zip(valves, shares, strict=True))


def _deviation_of_both_sides(found: re.Match[str]) -> str:
    """'1k8 pos 1k6 neg': how far it swings to either side; '1k8' is 1.8 kHz, a bare figure is in kilohertz."""
    sides = (re.sub(r"^(\d)k(\d)$", r"\1.\2k", side) for side in found.groups())
    up, down = (side if re.search("[a-z]", side) else f"{side}k" for side in sides)
    return f"dev +{up} -{down}"


def _junctions(found: re.Match[str]) -> str:
    """'be 0.64 bc open': each junction by its two electrodes."""
    return f"{found[1][0]}-{found[1][1]} {found[2]} {found[3][0]}-{found[3][1]} {found[4]}"


def _across_the_load(found: re.Match[str]) -> str:
    """'39vpp across 50r': the load that a sender works into, which is told only where it is another."""
    return f"{found[1] or ''} " + ("across the load" if float(found[2]) == USUAL_LOAD_OHM else f"into {found[2]} ohm")


def _input_swr(found: re.Match[str]) -> str:
    """'drive 60w fwd 2w ref': what goes into an amplifier, and the SWR that its exciter sees by what comes back."""
    forward, back = (float(group) for group in found.groups())
    if not 0 <= back < forward:
        return found[0]
    share = math.sqrt(back / forward)
    return f"drive {forward:g}w, input swr {(1 + share) / (1 - share):.3g} ⟪{back:g} w back⟫"


def _clarifier_centred(found: re.Match[str]) -> str:
    """How it stood while the rest was read, and no range of it."""
    return " ⟪clarifier centred⟫ "


_NOT_CLOSED = re.compile(r"\b(?:open|off|to|between|leak\w*|insul\w*)\b")


def _milliohms(found: re.Match[str]) -> str:
    """'k1 contact 40 mohm': what is closed has thousandths of an ohm, and no millions; what is open may have those."""
    if _NOT_CLOSED.search(found.string):
        return found[0]
    return f"{found[1]}{float(found[2]) / 1000:g} ohm"


SUMS: dict[str, Callable[[re.Match[str]], str]] = {
    "high_and_low": _high_and_low,
    "matched": _matched,
    "without_stops": _without_stops,
    "all_of_the_range": _all_of_the_range,
    "each_after_its_time": _each_after_its_time,
    "valves_in_turn": _valves_in_turn,
    "clarifier_centred": _clarifier_centred,
    "deviation_of_both_sides": _deviation_of_both_sides,
    "input_swr": _input_swr,
    "across_the_load": _across_the_load,
    "junctions": _junctions,
    "milliohms": _milliohms,
}


@cache
def sayings_file() -> SayingsFile:
    """The shipped sayings."""
    return load(SHIPPED / "entry" / "sayings.toml", SayingsFile)


def pattern_of(saying: Saying) -> re.Pattern[str]:
    """What a saying looks for in a folded text."""
    return re.compile(with_pieces(saying.says, sayings_file().pieces))


def written_by(saying: Saying) -> Written:
    """What stands in its place: a template, or the sum that it names."""
    return SUMS[saying.by] if saying.by else saying.means


def over_its_clauses(plain: str) -> str:
    """A folded text with what is said over a comma said in one clause."""
    return _said_plainly(plain, "first")


def compiled(sayings: Sequence[Saying]) -> tuple[tuple[str, re.Pattern[str], Written], ...]:
    """What a text must hold for each of these, its pattern, and what is written instead."""
    every = ((pattern_of(saying), written_by(saying)) for saying in sayings)
    return tuple((needed_letters(pattern.pattern), pattern, written) for pattern, written in every)


@cache
def _compiled(of: Literal["first", "shorthand", "saying"]) -> tuple[tuple[str, re.Pattern[str], Written], ...]:
    return compiled(getattr(sayings_file(), of))


def without_shorthand(plain: str) -> str:
    """A folded text with letters of formulas, bullets and shares in words."""
    return _said_plainly(plain, "shorthand")


def in_plain_words(plain: str) -> str:
    """A folded text, its numbers in figures, with whole phrases of the trade said plainly."""
    return _said_plainly(plain, "saying")


def _said_plainly(plain: str, of: Literal["first", "shorthand", "saying"]) -> str:
    for needed, pattern, written in _compiled(of):
        if needed in plain and pattern.search(plain) is not None:
            plain = pattern.sub(written, plain)
    return plain
