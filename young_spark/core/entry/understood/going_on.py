"""'osc grid 0.8ma, buffer 2.1, final 14', '40 hz high on 1, 30 on 20': clauses of a bare figure and of where or how it
was read go on from the clause before them. Each is read as if it had said its unit and its name again."""

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from young_spark.core.entry.believed.nothing_lost import WORKED_OUT, one_after_the_other
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import EntryContext, Understanding
from young_spark.core.entry.understood.around_the_line import with_how_it_stood
from young_spark.core.entry.understood.part_by_part import moved_on
from young_spark.core.entry.wording.mistyped import words_of_the_bench
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.vocabulary import manner
from young_spark.core.figure import Conditions, Measured

Reader = Callable[[str, EntryContext], Understanding]

_PARTS = re.compile(r"\s*[,;]\s+")
_MOST_PARTS = 6
_MOST_WORDS = 4  # of a label
_UNIT = re.compile(r"(?<=\d) ?(?P<unit>[a-zµμΩ%°]+)$", re.IGNORECASE)
_ON_A_CHANNEL = re.compile(r"\bon (?=\d{1,2}(?:$|[,;]))")
_FIGURE = re.compile(r"(?<![\w.])[-+]?\d*\.?\d+(?![\w.])")
_SETTINGS = {"how", "side", "setting"}  # kinds of what makes a figure ten times another: low power, at rest
_APART = 8.0  # times
_APART_IN_SETTINGS = 60.0
_APART_AT_PLACES = 30.0
_APART_IN_DB = 40.0
_DECIBELS = {"dB", "dBc", "dBm"}
_NO_LABEL = re.compile(
    r"\b(?:was|were|should|before|after(?! the)|then|now|than|nominal|spec|due|expected|limit|max|min|from|to|up|down|"
    r"about|fitted|replaced|changed|swapped|missing|spare|new|old|type|swr|pounds|hours?|quid|each|both|more|less|x|by)\b"
)
_SHORT_WORDS = frozenset({"on", "at", "in", "with", "the", "of", "not", "no", "off", "out", "own", "full"})
_LEADING = re.compile(r"^(?:at|on|in|with|the|and) | (?:at|on|in|is)$")
# a state of the unit, in which the supply's amps are read as likely as watts
_IN_A_STATE = re.compile(
    r"\b(?:rx|receive|receiving|standby|stby|squelched|resting|idle|keyed|tx|transmit|transmitting)\b"
)
_S_POINT = re.compile(r"s\d(?:\+\d\d)?")  # how strong a signal was meanwhile
_COUNTED = re.compile(r"\d{1,2} (?!on |with |at |in |not\b)")  # '2 fuses fitted', '3 pin plug'


@dataclass(frozen=True)
class _Before:
    """The last clause that said what it reads: its reading, how its figure was typed, and what it was called."""

    reading: Measured
    figures: tuple[float, ...]
    unit: str
    name: str  # of its quantity
    front: str  # all that stood in front of its figure
    there: Conditions


def read_going_on(text: str, context: EntryContext, read: Reader) -> Understanding | None:
    """A line of such clauses, where every one of them is sure; None where none goes on from another."""
    plain = text.strip() if context.channel_plan is None else _ON_A_CHANNEL.sub("on ch ", text.strip())
    clauses = [clause for clause in _PARTS.split(plain) if clause]
    if not 1 < len(clauses) <= _MOST_PARTS:
        return None
    before: _Before | None = None
    parts: list[Understanding] = []
    went_on = False
    for clause in clauses:
        meant = None if before is None else _as_before(clause, before, context, read)
        went_on = went_on or meant is not None
        meant = meant or read(clause, context)
        if meant.chosen is None or meant.story is not None or meant.sets:
            return None
        before = _last_of(clause, meant, before if went_on else None)
        parts.append(meant)
        context = moved_on(context, meant.meanings[meant.chosen], cut(as_signs(clause)))
    if not went_on:
        return None
    return Understanding(text=text, meanings=(one_after_the_other(parts),), chosen=0)


def read_going_on_without_commas(text: str, context: EntryContext, read: Reader) -> Understanding | None:
    """'current rx 320ma squelched 180', 'swr 1.3 through tuner 2.8 bypassed': the same without a comma, where a label
    leads each of the figures, or stands behind each."""
    parted = _parted(text)
    return None if parted is None else read_going_on(parted, context, read)


def _parted(text: str) -> str | None:
    """A line of several figures of which only the first may have its unit, with a comma between them."""
    facts = cut(as_signs(text))
    at = [n for n, fact in enumerate(facts) if fact.kind == "figure"]
    if not 1 < len(at) <= _MOST_PARTS or any(fact.fresh for fact in facts):
        return None
    if any(facts[n].unit is not None for n in at[1:]) or any(after - n < _BESIDE for n, after in pairwise(at)):
        return None
    leads = at[-1] == len(facts) - 1
    ends = [0, *(n + 1 for n in at)] if leads else [n + 1 for n in at]
    begins = at if leads else [*at[1:], len(facts)]
    labels = [facts[first:last] for first, last in zip(ends, begins, strict=False)]
    if not set.intersection(*(_says_how(label, first=leads and n == 0) for n, label in enumerate(labels))):
        return None
    texts = [re.compile(rf"(?<![\w.]){re.escape(facts[n].text)}(?![\w.])") for n in at]
    begin, told = 0, ""
    for pattern in texts:
        found = pattern.search(text, begin)
        if found is None:
            return None
        between = text[begin : found.start()]
        told += _between(between, leads=leads) if begin else between
        told += found[0]
        begin = found.end()
    return told + text[begin:]


def _says_how(label: Sequence[Fact], *, first: bool) -> set[str]:
    """What the words beside a figure say of where or how it was read; nothing of words that may be something else. The
    first of them leads with the name of all."""
    if not first and any(fact.kind in _NOT_OF_A_LABEL for fact in label):
        return set()
    of = (fact.of if fact.kind in {"how", "where"} else fact.kind for fact in label if fact.kind in _OF_A_LABEL)
    return {"how it stood" if key in _HOW_IT_STOOD else key for key in of}


_HOW_IT_STOOD = {"state", "setting", "heat", "audio", "configuration"}
_OF_A_LABEL = {"how", "where", "place", "item", "side", "setting"}
_NOT_OF_A_LABEL = {"quantity", "result", "link"}
_BESIDE = 2  # facts from a figure to the next, or to the begin: a name and a label


def _between(words: str, *, leads: bool) -> str:
    return f", {words.strip()} " if leads else f"{words.rstrip()}, "


def _last_of(clause: str, meant: Understanding, before: _Before | None) -> _Before | None:
    """What the next clause may go on from: one figure in its unit, or what this one went on from itself."""
    facts = cut(as_signs(clause))
    figures = [fact for fact in facts if fact.kind == "figure"]
    meaning = meant.meanings[meant.chosen or 0]
    read = [r for r in meaning.readings if r.method != WORKED_OUT]
    if not read or len(figures) != len(read) or len({r.quantity for r in read}) > 1 or read[-1].value is None:
        return None
    typed = next(filter(None, (_UNIT.search(figure.text) for figure in figures)), None)
    name = next((fact.text for fact in facts if fact.kind == "quantity"), "")
    if typed is None and not name:
        return before
    unit = typed["unit"] if typed else ""
    if read[0].quantity == "frequency_error":  # '40 hz high on 1, 30 on 20': high too
        unit = " ".join([unit, *(fact.text for fact in facts if fact.kind == "side")])
    typed_as = tuple(figure.value / figure.factor for figure in figures)
    front = clause[: clause.find(figures[0].text)].strip() if len(figures) == 1 else ""
    there = meaning.conditions_of(len(meaning.readings) - 1)
    return _Before(read[-1], typed_as, unit, name, front, there)


def _as_before(clause: str, before: _Before, context: EntryContext, read: Reader) -> Understanding | None:
    facts = cut(as_signs(clause))
    figure = _bare_figure(facts)
    typed = (
        None if figure is None else re.search(rf"(?<![\w.])(?<!ch )(?<!chan ){re.escape(figure.text)}(?![\w.])", clause)
    )
    if figure is None or typed is None or _NO_LABEL.search(clause) or not _is_near(figure, facts, before):
        return None
    if before.reading.unit == "W" and _IN_A_STATE.search(clause):
        return None
    if len(_FIGURE.findall(clause)) > 1 + any(fact.kind == "where" for fact in facts):
        return None
    for form in _forms(clause, typed, before):
        meant = read(form, context)
        if _is_alike(meant, before) and not meant.meanings[meant.chosen or 0].remark and _is_elsewhere(meant, before):
            return meant
    return _with_its_label(clause, typed, before, context, read)


def _bare_figure(facts: Sequence[Fact]) -> Fact | None:
    """The one figure of a clause, which has no unit, beside a word or more that say where or how it was read."""
    figures = [fact for fact in facts if fact.kind == "figure"]
    others = [fact for fact in facts if fact.kind != "figure"]
    named = any(fact.kind in {"quantity", "result"} for fact in others)
    if len(figures) != 1 or figures[0].unit is not None or figures[0].bound or not others or named:
        return None
    return figures[0]


def _is_near(figure: Fact, facts: Sequence[Fact], before: _Before) -> bool:
    """Whether a figure is of a size with one of the clause before it."""
    return any(_is_of_its_size(figure, facts, other, before) for other in before.figures)


def _is_of_its_size(figure: Fact, facts: Sequence[Fact], read: float, before: _Before) -> bool:
    one, other = abs(figure.value), abs(read)
    if before.reading.unit in _DECIBELS:
        return abs(one - other) <= _APART_IN_DB
    kinds = {fact.kind for fact in facts if fact.kind != "figure"}
    swings = figure.value < 0 and read < 0  # a grid's volts, driven and not
    apart = _APART_IN_SETTINGS if kinds <= _SETTINGS or swings else _APART_AT_PLACES if "place" in kinds else _APART
    if before.reading.quantity == "frequency_error":
        apart = _APART_IN_SETTINGS
    return one > 0 and other > 0 and 1 / apart <= one / other <= apart


def _forms(clause: str, typed: re.Match[str], before: _Before) -> Iterator[str]:
    """The clause with the unit said again, and with the name too."""
    whole = f"{clause[: typed.end()]}{before.unit}{clause[typed.end() :]}"
    if before.name:
        yield f"{before.name} {whole}"
    yield whole
    if before.there.place is not None and before.front:
        yield f"{before.front} {whole}"


_PLAIN_UNITS = {"V", "A", "Ω", "°C", "F"}  # of what is read at any point


def _is_alike(meant: Understanding, before: _Before) -> bool:
    """Whether a clause was read for sure as one figure of what it goes on from: its quantity, or its unit at a point of
    its own."""
    if meant.chosen is None or meant.story is not None or meant.sets:
        return False
    read = [r for r in meant.meanings[meant.chosen].readings if r.method != WORKED_OUT]
    if len(read) != 1 or read[0].value is None:
        return False
    there = meant.meanings[meant.chosen].conditions_of(0)
    of_a_point = read[0].unit == before.reading.unit in _PLAIN_UNITS and bool(there.place or there.item)
    return read[0].quantity == before.reading.quantity or of_a_point


def _is_elsewhere(meant: Understanding, before: _Before) -> bool:
    """Whether it was read at another point, or stood otherwise: else its words say how, and are no part of it yet."""
    return meant.meanings[meant.chosen or 0].conditions_of(0) != before.there


def _with_its_label(
    clause: str, typed: re.Match[str], before: _Before, context: EntryContext, read: Reader
) -> Understanding | None:
    """The figure alone, with the words beside it as how it stood then."""
    between = clause[: typed.start()].strip() and clause[typed.end() :].strip()
    if between or _COUNTED.match(clause):
        return None  # 'fitted with 20 channel board'
    words = _LEADING.sub("", " ".join(f"{clause[: typed.start()]} {clause[typed.end() :]}".split()))
    known = words_of_the_bench() | manner() | _SHORT_WORDS
    labels = [word for word in words.lower().split() if _S_POINT.fullmatch(word) is None]
    if not 0 < len(words.split()) <= _MOST_WORDS or not known.issuperset(labels):
        return None  # 'deposit 26 taken', '7.5 h on this already'
    for name in dict.fromkeys((before.front, before.name, "")):
        meant = read(f"{name} {typed[0]}{before.unit}".strip(), context)
        if not _is_alike(meant, before) or meant.meanings[meant.chosen or 0].remark:
            continue
        stood = with_how_it_stood(meant.meanings[meant.chosen or 0], {"setting": words.lower()})
        return None if stood is None else meant.model_copy(update={"meanings": (stood,), "chosen": 0})
    return None
