"""What a text that was understood leaves over: a figure only in its words, a clause that reads by itself."""

import re
from collections.abc import Sequence

from young_spark.core.entry.believed.nothing_lost import (
    lost,
    one_after_the_other,
)
from young_spark.core.entry.believed.surety import MEASURED_IN
from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Meaning, Understanding
from young_spark.core.entry.frames.stray_figures import left_beside
from young_spark.core.entry.lines.story_guess import is_only_told, note_of
from young_spark.core.entry.understood.answers import label_of
from young_spark.core.entry.understood.one_breath import PARTS, asked_about, in_one_breath
from young_spark.core.entry.understood.part_by_part import MOST_PARTS
from young_spark.core.entry.understood.read_or_told import FIGURE_IN
from young_spark.core.entry.wording.places import ELECTRODES
from young_spark.core.entry.wording.tokens import folded


def _asked_for_a_note(
    text: str, plain: str, meant: Understanding, taken: Meaning, context: EntryContext
) -> Understanding:
    """'input swr flat, 118 falls to 85 in 90s': a clause of figures that would be a reading by itself."""
    for part in parts_of(plain):
        alone = _read_alone(part, context) if lost(part, taken, None) else None
        if alone is not None and alone.story is None and _has_none_of(taken, alone.meanings[alone.chosen or 0]):
            return asked_for_the_rest(text, plain, taken, [part])
    return meant


def parts_of(plain: str) -> list[str]:
    return [part for part in PARTS.split(plain) if part]


def _with_what_its_parts_say(plain: str, meant: Understanding, taken: Meaning, context: EntryContext) -> Understanding:
    """'bias pot 35 to 60ma, drive 8w': what was read at an adjuster as it was left, where the rest of the line is of
    another quantity, is read beside it."""
    parts = parts_of(plain)
    if len(parts) < 2 or meant.story is None or meant.story.kind != "adjusted":
        return meant
    left = [alone for part in parts if (alone := in_one_breath(part, part, context)) is not None and _is_left(alone)]
    missing = [alone for alone in left if _has_none_of(taken, alone.meanings[alone.chosen or 0])]
    missing += [alone for part in parts if (alone := _counted_alone(part, taken, context)) is not None]
    if not missing:
        return meant
    return meant.model_copy(update={"meanings": (one_after_the_other([*missing, meant]),), "chosen": 0})


def _counted_alone(part: str, taken: Meaning, context: EntryContext) -> Understanding | None:
    """'osc usb 10.69250 mhz' beside what was counted in the other mode: a count of its own."""
    if COUNT_SAID.search(part) is None or (alone := _read_alone(part, context)) is None or alone.story is not None:
        return None
    known = {r.value for r in taken.readings}
    return alone if known.isdisjoint(r.value for r in alone.meanings[alone.chosen or 0].readings) else None


COUNT_SAID = re.compile(r"(?<![\w.])\d{1,3}\.\d{4,6} ?mhz\b")


def _has_none_of(taken: Meaning, alone: Meaning) -> bool:
    """Whether neither a quantity nor a figure of a clause is among the readings."""
    names, values = {r.quantity for r in taken.readings}, {r.value for r in taken.readings}
    return names.isdisjoint(r.quantity for r in alone.readings) and values.isdisjoint(r.value for r in alone.readings)


def _is_left(meant: Understanding) -> bool:
    read = meant.chosen is not None and bool(meant.meanings[meant.chosen].readings)
    return read and meant.story is not None and meant.story.kind == "adjusted"


def asked_for_the_rest(text: str, plain: str, taken: Meaning, unread: Sequence[str]) -> Understanding:
    return Understanding(
        text=text, meanings=(taken,), question=f"{' and '.join(unread)}: what was read there?",
        as_note=note_of(text, plain),
        choices=(Choice(label=f"{label_of(taken)}, the rest as words", sense=0),),
    )  # fmt: skip


def with_what_its_words_hold(text: str, plain: str, meant: Understanding, context: EntryContext) -> Understanding:
    """'14.2 31w foldback, swr shown 2.9': a line that is read and told may hold a figure of the bench in its words
    only, which no sum would see: that is asked."""
    if meant.story is None or meant.chosen is None:
        return meant
    taken = meant.meanings[meant.chosen]
    bare = lost(plain, taken.model_copy(update={"remark": ""}), None)
    found = {meant.story.value_found, meant.story.value_left}
    unread = [figure for figure in left_beside(plain, MEASURED_IN) if figure in bare and figure not in found]
    if not unread and meant.story.kind == "note":
        return _asked_for_a_note(text, plain, meant, taken, context)
    if not unread:
        return _with_what_its_parts_say(plain, meant, taken, context)
    read = [alone for part in parts_of(plain) if (alone := _read_alone(part, context)) is not None]
    known = {r.value for one in read for r in one.meanings[one.chosen or 0].readings}
    if not all(r.value in known for r in taken.readings):
        read = [*read, meant]
    more = one_after_the_other(read)
    senses = (more, taken) if len(more.readings) > len(taken.readings) else (taken,)
    return meant.model_copy(
        update={
            "meanings": senses,
            "chosen": None,
            "question": f"{' and '.join(unread)}: was that read too?",
            "as_note": note_of(text, plain),
            "choices": tuple(
                Choice(label=f"{label_of(sense)}{', the rest as words' * (sense is taken)}", sense=n)
                for n, sense in enumerate(senses)
            ),
        }
    )


def asked_for_its_figures(text: str, plain: str, meant: Understanding, context: EntryContext) -> Understanding | None:
    """'new pair matched, bias -27 each, 35ma each': a line of words of several clauses, some of which would be readings
    if they stood alone, asks whether they were read then."""
    if meant.question is not None or meant.story is None or meant.story.kind not in ASKED_OF:
        return None
    clauses = _IS_NOW.sub(", ", plain) if meant.story.kind in WORK else plain
    parts = [part for part in PARTS.split(clauses) if part]
    if not 1 < len(parts) <= MOST_PARTS:
        return None
    read = {part: alone for part in parts if (alone := _read_alone(part, context)) is not None}
    if not read:
        return _asked_for_one_of(text, parts[1:], meant, context)
    whole = one_after_the_other(list(read.values()))
    return Understanding(
        text=text, meanings=(whole,), question=f"{', '.join(read)}: was that read then?", story=meant.story,
        choices=(Choice(label=label_of(whole), sense=0),),
    )  # fmt: skip


_IS_NOW_READ = re.compile(r"\bnow (?P<read>[^,;]*\d\.\d[^,;]*)$")
_IS_NOW = re.compile(r",? (?:so |and )?now (?=[^,;]*\d)")  # 'shortened 15mm now 1.2 at 27.2'


def _asked_for_one_of(
    text: str, parts: Sequence[str], meant: Understanding, context: EntryContext
) -> Understanding | None:
    """'d21 new, 2m 4.8w hi 1.0w lo 1.45a': a clause behind what was done that holds a figure of the bench, of which
    nobody is sure: as words only it would be lost without anybody knowing."""
    now = _IS_NOW_READ.search(folded(text))
    unread = next((p for p in parts if (_was_read(p) or (now and p == now["read"])) and not is_only_told(p)), None)
    if unread is None or meant.story is None:
        return None
    if meant.story.kind not in WORK and not _are_of_points(parts) and _SENT_THERE.search(unread) is None:
        return None
    asked = asked_about(text, unread, context)
    told = {"question": f"{unread}: was that read then?", "story": meant.story, "as_note": meant.story}
    return asked.model_copy(update=told)


# watts with their channel or band are nothing that a hand tells in passing
_SENT_THERE = re.compile(r"\d ?w\b.*\b(?:ch ?\d|\d{1,3}m\b)|\b(?:ch ?\d+|\d{1,3}m)\b.*\d ?w\b")


def _are_of_points(parts: Sequence[str]) -> bool:
    """'left fet drain 13.1, right 13.0, gates 3.6 3.55': whether more than one clause has a decimal figure, and one of
    them a point inside: nobody tells that in passing."""
    facts = [cut_facts(part) for part in parts]
    decimal = [any(f.kind == "figure" and f.decimals for f in part) for part in facts]
    return sum(decimal) > 1 and any(f.kind == "place" for part in facts for f in part)


def _was_read(part: str) -> bool:
    """Whether a clause holds a figure in a unit of the bench, or one that is named and carries no unit: 'collector now
    4.6', 'ref 10.24000', and no 'R61 10k'."""
    facts = cut_facts(part)
    figures = [fact for fact in facts if fact.kind == "figure"]
    bare = len(figures) == 1 and figures[0].unit is None and figures[0] is facts[-1]
    named = any(_is_a_name(fact) and PART_ONLY.fullmatch(fact.text) is None for fact in facts)
    return READ_SURELY.search(part) is not None or (bare and named)


def _is_a_name(fact: Fact) -> bool:
    """Whether a fact says of what, or at which electrode, something was read."""
    return fact.kind in {"place", "quantity"} or fact.text.removesuffix("s") in LONG_ELECTRODES


LONG_ELECTRODES = frozenset(name for name in ELECTRODES if len(name) > 3)
PART_ONLY = re.compile(r"[a-z]{1,3}\d+[a-z]?")
WORK = {"did", "adjusted"}
READ_SURELY = re.compile(
    r"(?<![\w.])(?<!up )(?<!down )[+-]?\d+(?:\.\d+)? ?"
    r"(?:w(?! (?:type|resistor|wire|metal|carbon|bulb|lamp|iron))|dbc?|dbm|uv|k?hz|ma)(?![\w/])"
)


def _read_alone(part: str, context: EntryContext) -> Understanding | None:
    """A clause as a reading by itself: named or in its unit, and no value that is printed on a part."""
    bare = re.search(r"[a-z]", part) is None  # what it cost, or how long it took
    if bare or not FIGURE_IN.search(part) or is_only_told(part) or {f.unit for f in cut_facts(part)} & PRINTED:
        return None
    meant = in_one_breath(part, part, context)
    whole = meant is not None and meant.chosen is not None and (meant.story is None or meant.story.kind == "adjusted")
    beside = set(meant.meanings[meant.chosen or 0].remark.split()) if whole and meant is not None else set()
    return meant if whole and beside <= AS_IT_STOOD else None


AS_IT_STOOD = {"set", "now", "ok", "steady", "each", "both", "again"}  # words that leave a figure what it is


PRINTED = {"F", "H", "Ω"}
ASKED_OF = {"did", "found", "note", "adjusted"}
