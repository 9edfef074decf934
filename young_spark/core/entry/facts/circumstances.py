"""How it was while each of two figures was read: 'dev 1.2k with her mic, 2.1k with mine', 'tapped 4w, untouched 2w'.
Each is marked in the text as one setting; what is said of one figure alone stays with it as words."""

import re
from functools import cache

from young_spark.core.entry.wording.pieces import with_pieces
from young_spark.core.entry.wording.typed_figures import FIGURE, unit_of
from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.ground import SHIPPED, Frozen, load

LONGEST = 60  # signs, as a setting may be
MARKED = re.compile(rf"⟨(?P<words>[^⟨⟩]{{1,{LONGEST}}})⟩")  # no hand types these marks: they are folded away
BESIDE = re.compile(r"⟪(?P<words>[^⟪⟫]+)⟫")
HEATS = {"cold", "hot", "warm"}  # which are an address of their own
ON_THE_WAY = re.compile(
    r"^(?:supply|psu|battery|mains)\b|\d ?m?w(?:atts?)?\b|\bv?swr\b.* at the (?:mount|feed ?point)\b"
    r"|\d(?: ?v)? at (?:the )?(?:psu|plug|battery|socket) .*\dv\b"
)
LEAST = 2  # figures that tell two circumstances apart
A_FIGURE = re.compile(rf"(?<![\w.+-]){FIGURE}")


class Circumstance(Frozen):
    """One way to say it: a pattern, and a text with it."""

    says: str
    as_in: str


class CircumstancesFile(Frozen):
    """The data file: pieces of patterns by their names; what says it by itself, what only beside another, and
    where it was read on the way of the watts and of the supply."""

    pieces: dict[str, str]
    state: tuple[Circumstance, ...]
    beside: tuple[Circumstance, ...]
    along: tuple[Circumstance, ...]


@cache
def circumstances_file() -> CircumstancesFile:
    """The shipped circumstances."""
    return load(SHIPPED / "entry" / "circumstances.toml", CircumstancesFile)


@cache
def _said(*, along: bool) -> re.Pattern[str]:
    """Any of them, in brackets or not, with the colon behind it."""
    file = circumstances_file()
    said = _any((*(file.along if along else ()), *file.state, *file.beside))
    return re.compile(rf"(?<![\w⟨])\(? ?(?P<words>{said}) ?\)?:?(?=$|[ ,;])")


@cache
def _at_an_end() -> re.Pattern[str]:
    """One that says it by itself, at the begin or the end of a text."""
    state = _any(circumstances_file().state)
    begins = rf"^(?P<first>{state})[:,]? (?!at |above |over |below |under )(?=.*\d)"
    return re.compile(rf"{begins}|(?<=[\w%])(?:,? |,? \()(?P<last>{state})\)?$")


@cache
def _alone() -> re.Pattern[str]:
    return re.compile(_any(circumstances_file().state))


def is_how_it_stood(words: str) -> bool:
    """Whether a clause says nothing but how it was meanwhile: 'fan off', 'in the car'."""
    return _alone().fullmatch(words) is not None


def says_how_it_stood(plain: str) -> bool:
    """Whether a folded text says anywhere how it was while something was read."""
    return _alone().search(plain) is not None


def _any(said: tuple[Circumstance, ...]) -> str:
    whole = with_pieces("|".join(one.says for one in said), circumstances_file().pieces)
    return f"(?:{whole})"


# 'mains 228 at idle, 221 at full': at rest, and no current
OF_A_SUPPLY = re.compile(r"(?:mains|plate|anode|grid|screen|ht|hv|b\+|supply|psu|rail|line|volts)\b")
AT_IDLE = re.compile(r"(\d ?(?:k?v(?:ac|dc)?|m?a)?),? (?:at|on|when|while|in) (?:idle|idling|rest)\b")
AT_FULL = re.compile(r"(\d ?(?:k?v(?:ac|dc)?|m?a)?),? (?:at|on) full(?: (?:out|output|load|power|tilt))?\b")


AT_THE_END_OF = re.compile(r"\b(?:at )?(?:the )?end of (?=\d+ ?(?:s|secs?|seconds?|mins?|minutes?|hours?|h)\b)")


def circumstances_marked(plain: str) -> str:
    """A folded text of two figures in one unit, each with how it was while that was read, with those marked as
    settings; of one figure, with the words at its begin or end marked as beside it; any other text as it was typed."""
    plain = AT_THE_END_OF.sub("after ", plain)
    if OF_A_SUPPLY.match(plain) or (AT_IDLE.search(plain) and AT_FULL.search(plain)):
        plain = AT_FULL.sub(r"\1 transmit", AT_IDLE.sub(r"\1 standby", plain))
    pattern = _said(along=ON_THE_WAY.search(plain) is not None)
    figures, said = list(A_FIGURE.finditer(plain)), list(pattern.finditer(plain))
    if len(figures) == 1 and len(said) == 1:
        return _at_an_end().sub(_beside, plain)
    words = {found["words"] for found in said}
    if len(figures) != len(said) or len(words) < len(said) or len(words) < LEAST or max(map(len, words)) > LONGEST:
        return plain
    if not (_by_turns(figures, said) or _by_turns(said, figures)) or len(_units(figures)) > 1:
        return plain
    return pattern.sub(_marked, plain)


def _marked(found: re.Match[str]) -> str:
    """The words as a setting; cold and hot by themselves, without what leads them."""
    heat = found["words"].removeprefix("when ")
    if heat in HEATS:
        return f"{heat} " if found[0].endswith(" ") else heat
    kind, of, is_ = vocabulary().facts.get(found["words"], ("", "", ""))
    return f"⟨{is_ if (kind, of) == ('how', 'setting') else found['words']}⟩"  # one name for one way


def _beside(found: re.Match[str]) -> str:
    """The words apart, at the end that they stood at."""
    return f"⟪{found['first']}⟫ " if found["first"] else f" ⟪{found['last']}⟫"


def _by_turns(first: list[re.Match[str]], second: list[re.Match[str]]) -> bool:
    at = [found.start() for pair in zip(first, second, strict=True) for found in pair]
    return at == sorted(at)


def _units(figures: list[re.Match[str]]) -> set[str]:
    """The units that are said, each once."""
    return {unit for found in figures if (unit := unit_of(found[0]))}
