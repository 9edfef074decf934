"""Whether every figure of a text stands somewhere in what was understood: as a reading, in its working, where or how it
was taken, in its remark or in a line of words. What stands nowhere would be lost without anybody knowing."""

import math
import re
from collections import Counter
from collections.abc import Iterator, Sequence

from pydantic import BaseModel

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Meaning, StoryLine, Understanding

_NUMBER = re.compile(r"\d+(?:\.\d+)?")
_PREFIXES = (1.0, 1e3, 1e6, 1e9, 1e-3, 1e-6, 1e-9, 1e-12, 60.0, 100.0, 0.01)
DBM_OF_A_MICROVOLT = -106.99  # in 50 Ω
OF_A_BAND = 0.12  # a band's own width, and more
WORKED_OUT = "worked out"
REMARK = "remark: "  # before the words of a text that are no part of a figure
SAME = 2e-3  # of a figure: a working rounds


# what stands beside a reading and is none: how it is measured, what is printed on a part, how many of them there are
_BESIDE = re.compile(
    r"\b(?:for|within|into) \d(?:\.\d)? ?: ?1\b|\b(?:should be|supposed to be|want|due) [\d.]+|[\d.]+v? nominal\b"
    r"|\bch\d+ [\d.]+ (?=[+-]\d)"
)


_TOLD = re.compile(
    r"(?:\b(?:was|were|should be|before|for|from|to|sorry|nominal|expected|due|spec|rated|first|of|at|not|no)|@) "
    r"[+-]?[\d.]+[^ ]*(?: ?k| ?hz)?"
    # what was taken back, what it came up from, how deep or how strong the signal was
    r"|[+-]?[\d.]+[^ ]* ?(?=→|->|(?:then|sorry|oops|up to|down to|up by|before|mod|am|up$|down$|was|no|not|if|limit)\b)"
    r"|[+-]?[\d.]+[^,]*(?=, now\b)|\b(?:open|short|blown) [\d.]+[a-z]*"
    r"|\bfall [\d.]+ ?(?:ms)?|\bz [\d.]+ [+-]j"
)
# beside them stands what is printed on a fuse, a capacitor, a resistor
_WITH_A_RATING = {"condition", "capacitance", "resistance", "esr", "leakage_current"}


def lost(plain: str, meaning: Meaning, story: StoryLine | None) -> list[str]:
    """The figures of a folded text that stand nowhere in it, as they were typed."""
    there = {abs(value) for value in _numbers((meaning, story))}
    beside = _BESIDE.sub(" ", plain)
    return [fact.text for fact in cut(beside) if fact.kind == "figure" and not _stands(fact, there)]


def left_in_the_remark(plain: str, meaning: Meaning) -> list[str]:
    """The figures of a folded text that stand in the remark of its readings only, where no sum sees them; not what it
    was before, or what is due."""
    if not meaning.remark:
        return []
    if {reading.quantity for reading in meaning.readings} <= _WITH_A_RATING:
        return []
    remark = set(meaning.remark.split())
    left = lost(_TOLD.sub(" ", plain), _without_its_remark(meaning), None)
    return [text for text in left if text in remark]


def _without_its_remark(meaning: Meaning) -> Meaning:
    readings = tuple(
        reading.model_copy(update={"remarks": tuple(r for r in reading.remarks if not r.startswith(REMARK))})
        for reading in meaning.readings
    )
    return meaning.model_copy(update={"remark": "", "readings": readings})


_AT_PLACES = {"dc_voltage", "transistor_gain", "resistance", "condition"}  # 'q3 hfe 12 q1 q2 55'
_OF_EACH = re.compile(r"\b(?:each|all|both|same|every|drive|through(?:out)?|on|and|or|also|alike)\b|[/&]")


def read_too_often(plain: str, meaning: Meaning) -> bool:
    """'20m pep 104 40m pep 106, usb carrier -54': whether a figure that was typed once is read at several points of a
    row of other figures, and nothing says that it is of each."""
    read = [(r.quantity, r.value) for r in meaning.readings if r.method != WORKED_OUT and r.value is not None]
    often = {key: n for key, n in Counter(read).items() if n > 1}
    rows = {of for of, _ in often if len({value for like, value in read if like == of}) > 1} - _AT_PLACES
    if not often or (len({of for of, _ in read}) < 2 and not rows) or _OF_EACH.search(plain):
        return False
    typed = [fact for fact in cut(plain) if fact.kind == "figure"]
    return any(n > sum(_is_as_typed(abs(value), figure) for figure in typed) for (_, value), n in often.items())


def _is_as_typed(value: float, figure: Fact) -> bool:
    levels = any(math.isclose(value, level, abs_tol=0.01) for level in _as_decibels(figure))
    return levels or any(
        math.isclose(value, abs(figure.value) * prefix, rel_tol=SAME, abs_tol=1e-12) for prefix in _PREFIXES
    )


def stands_where(fact: Fact, meaning: Meaning) -> bool:
    """Whether a figure says where or how something was read, and is no reading."""
    conditions = [meaning.conditions_of(n) for n in range(len(meaning.readings))]
    return _stands(fact, {abs(value) for value in _numbers(conditions)})


def _stands(fact: Fact, there: set[float]) -> bool:
    typed = _NUMBER.search(fact.text)
    values = [abs(fact.value), *([float(typed[0])] if typed else [])]
    if not any(values):
        return True
    return any(
        math.isclose(value * prefix, known, rel_tol=SAME)
        for value in (*values, *_as_decibels(fact))
        for prefix in _PREFIXES
        for known in there
    ) or any(_is_band(value, known) for value in values for known in there)


def _as_decibels(fact: Fact) -> tuple[float, ...]:
    """A figure as it stands in a reading in decibels: microvolts of a receiver (PD or EMF), a share of hum."""
    if fact.value <= 0 or fact.unit not in {"uV", "V", "%", None}:
        return ()
    level = 20 * math.log10(fact.value)
    if fact.unit == "%":
        return (abs(level - 40),)
    return (abs(level + DBM_OF_A_MICROVOLT), abs(level + DBM_OF_A_MICROVOLT - 6.02))


def _is_band(value: float, hertz: float) -> bool:
    """Whether a figure is a band in metres or centimetres, or a rounded frequency in MHz, of a frequency in Hz."""
    if hertz < 1e5 or value <= 0:
        return False
    return any(abs(hertz / mhz / 1e6 - 1) < OF_A_BAND for mhz in (value, 299.8 / value, 29980 / value))


def _numbers(thing: object) -> Iterator[float]:
    """All that is a number, or is written in words, in a value."""
    if isinstance(thing, BaseModel):
        yield from _numbers([getattr(thing, name) for name in type(thing).model_fields if name != "verdicts"])
    elif isinstance(thing, str):
        yield from (float(n) for n in _NUMBER.findall(thing.replace(",", ".")))
    elif isinstance(thing, bool):
        return
    elif isinstance(thing, int | float):
        yield float(thing)
    elif isinstance(thing, tuple | list):
        for one in thing:
            yield from _numbers(one)


def one_after_the_other(parts: Sequence[Understanding]) -> Meaning:
    """The meanings of the parts of one line as one, each figure where its part says it."""
    meanings = [part.meanings[part.chosen] for part in parts if part.chosen is not None]
    first = meanings[0]
    return first.model_copy(
        update={
            "readings": tuple(r for m in meanings for r in m.readings),
            "verdicts": tuple(v for m in meanings for v in m.verdicts),
            "each": tuple(m.conditions_of(n) for m in meanings for n in range(len(m.readings))),
            "remark": " ".join(m.remark for m in meanings if m.remark),
        }
    )
