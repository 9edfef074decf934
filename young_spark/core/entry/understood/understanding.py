"""The one field: text in, meanings with sums and verdicts out, or one short question."""

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from itertools import chain

from young_spark.core.entry.believed.at_odds import at_odds_in
from young_spark.core.entry.believed.low_tension import of_low_tension
from young_spark.core.entry.believed.nothing_lost import (
    REMARK,
    left_in_the_remark,
    lost,
    one_after_the_other,
    read_too_often,
)
from young_spark.core.entry.believed.plainly_meant import is_plainly_meant, says_one_thing_twice
from young_spark.core.entry.believed.surety import (
    FARTHEST_OVER,
    MEASURED_IN,
    is_believable,
    is_no_reading,
    is_possible,
    is_told,
    turning,
)
from young_spark.core.entry.believed.usual import OUT_OF_RANGE as UNUSUAL
from young_spark.core.entry.believed.usual import how_far
from young_spark.core.entry.facts.circumstances import circumstances_marked
from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Guard, Meaning, StoryLine, Understanding
from young_spark.core.entry.facts.said import Breath, Said
from young_spark.core.entry.facts.strangers import is_about_a_stranger
from young_spark.core.entry.facts.verdicts import verdicts_of
from young_spark.core.entry.facts.what_is_due import due_said
from young_spark.core.entry.frames.changes_said import made_by_the_hand, over_a_time
from young_spark.core.entry.frames.stray_figures import left_beside
from young_spark.core.entry.lines.adjustments import (
    GUARDS,
    SET_AT,
    adjustment_in,
    figure_at_the_end,
    named_by_its_adjuster,
)
from young_spark.core.entry.lines.as_before import (
    as_before_in,
    both_again_in,
    counted_again_in,
    may_be_as_before,
    off_again_in,
    set_to_in,
)
from young_spark.core.entry.lines.led_to import Led, done_then_read, what_it_led_to
from young_spark.core.entry.lines.moved import moved
from young_spark.core.entry.lines.story_guess import guessed_kind, is_only_told, note_of
from young_spark.core.entry.lines.story_words import area_turned, read_story, repair_of, says_only_how_long, told_apart
from young_spark.core.entry.lines.struck import struck_off
from young_spark.core.entry.lines.turned_series import turned_series_in
from young_spark.core.entry.lines.waiting import waits_for_its_figure
from young_spark.core.entry.lines.where_it_was_left import (
    OF_THE_HAND,
    power_of_a_level,
    where_it_was_counted,
    where_it_was_said,
    where_it_was_turned,
    with_its_whole_clause,
)
from young_spark.core.entry.rows.alike_at_several import at_each_of
from young_spark.core.entry.rows.harmonics_by_frequency import by_their_number
from young_spark.core.entry.rows.kilohertz_said import kilohertz_said
from young_spark.core.entry.rows.megahertz_in_front import channels_in_front, megahertz_in_front
from young_spark.core.entry.rows.one_of_several import of_one_of_several, standing_apart
from young_spark.core.entry.rows.same_in_another_mode import goes_by_mode, in_each_mode
from young_spark.core.entry.rows.spread import spread
from young_spark.core.entry.sums.bench import Bench
from young_spark.core.entry.sums.expression import read_expression
from young_spark.core.entry.sums.figures import of_quantity
from young_spark.core.entry.sums.guard import guard
from young_spark.core.entry.understood.answers import WHOLE, answers_to, label_of, said_unlike
from young_spark.core.entry.understood.clause_by_clause import clause_by_clause
from young_spark.core.entry.understood.kept_as_words import saying_what_is_in_words
from young_spark.core.entry.understood.likeliest import likeliest_first
from young_spark.core.entry.understood.loosely import loose_breaths
from young_spark.core.entry.understood.moved_and_read import moved_and_read
from young_spark.core.entry.understood.one_figure import NO_FIGURE, answered, as_repeated, figure_words, one_figure
from young_spark.core.entry.understood.part_by_part import Part, as_they_stand, part_by_part
from young_spark.core.entry.understood.read_then_told import read_in_front
from young_spark.core.entry.understood.said_in_full import (
    said_in_full,
    with_the_mode_of_its_row,
    with_the_unit_of_alike,
)
from young_spark.core.entry.understood.sentences import by_sentences
from young_spark.core.entry.understood.several import Placed, breath_of, ground_of, placed_readings
from young_spark.core.entry.understood.then_read import at_its_part, then_read, words_before
from young_spark.core.entry.understood.unnamed_senses import unnamed_senses
from young_spark.core.entry.understood.words_between import Apart, words_between
from young_spark.core.entry.wording.evened import evened
from young_spark.core.entry.wording.idle_words import Spared
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.own_words import in_known_words
from young_spark.core.entry.wording.places import PART
from young_spark.core.entry.wording.rows_of_bands import bands_in_rows
from young_spark.core.entry.wording.sayings import over_its_clauses
from young_spark.core.entry.wording.spelling import as_spelt
from young_spark.core.entry.wording.tokens import NotOneFigure, Token, Unclear, cut, folded
from young_spark.core.figure import quantity, tries_in, what_it_rules_out
from young_spark.core.ground import OutOfDomain

__all__ = ["EntryContext", "Meaning", "Understanding", "figure_words", "understand"]

STEADY_AT = re.compile(r"\b(?:steady|stays|stayed|held|holds|solid|all|every time|each)(?: at)? (?P<read>[\d.]+ ?\w+)$")
PRICE = re.compile(rf"(?P<part>{PART}),? \d*[.,]\d\d")
_PAID = (
    rf"(?:{PART}|fuses?|relay|valves?|caps?|screws|lamp|plug|socket|lead|battery|bridge|rectifier|diodes?|transistors?|"
    r"ics?|resistors?)"
)
PRICE_OF_SEVERAL = re.compile(rf"{_PAID}(?:,? (?:and|plus|\+|&) {_PAID})+:? \d*[.,]\d\d")
LABEL = re.compile(r"(?P<label>[a-z][a-z ]{2,30}):\s+(?P<read>.*\d.*)$")
SAID_BEHIND = re.compile(
    r"(?P<read>[^,;]*\d[^,;]*), (?P<said>(?:was|were|used to be|had been|he|she|owner|customer|cust)\b.*"
    r"\b(?:says|said|reckons|was told|claims|told)\b.*|was told\b.*|(?:he|owner|customer|cust) (?:says|reckons)\b.*)$"
)
HAS_A_READING = re.compile(r"\d ?(?:m?w|watts?|m?v|m?a|%|k?hz|mhz|db[mc]?|uv)\b")
# how often it showed: '1 in 4 sticks', 'fails 2 of 10'
SELDOM = re.compile(
    r"\b[1-9]\d? (?:in|of|out of|times in) [1-9]\d{0,2} (?:it )?(?:sticks?|stuck|fails?|failed|missed|misses|"
    r"drops?|dropped|cuts?|tries|times|keyings|presses|goes|dead)\b"
    r"|\b(?:sticks?|fails?|failed|misses|drops out|cuts out) [1-9]\d? (?:in|of|out of|times in) [1-9]\d{0,2}\b"
)
# a scale, a multiplier, pads, heights on a screen, a swing, a dial and its tone: grammars of their own
_HEIGHT = r"[+-]?[\d.]+(?:k?w|m?v|k|%|dbm|dbc|div)?"
OF_ITS_OWN = re.compile(
    r"(?<![a-z])(?:el|cal|beat|dial|scope|div|own|two-tone|2tone|step)(?![a-z])"
    rf"|\d(?:w|v|a|dbm)? ?[x×*] ?\d+(?:[.,]\d+)?(?![\d.]| ?m?[awv](?![a-z]))"
    rf"|k?(?:hz)?/v\b|(?<![\w.]){_HEIGHT} ?/ ?[+-]?[\d.]"
    r"|\bof (?:the )?[\d.]+ ?w|half of \d|^x ?[\d.]+$|\d ?(?:m?w|m|u|dbm|dbw)? ?[+-]\d+(?:[.,]\d+)? ?db\b"
    r"|swing \d|db pad|(?:(?<=[\dwv])|(?<=\ddbm)) loss \d"
)
MEGAWATTS = re.compile(r"\d ?MW\b")
FAR_OFF = {"a_zero", "ten_decibels", "far_in_level", "more_than_it_can"}
MOST_ANSWERS = 4
MOST_FIGURES = 150  # in one line: forty channels with three figures each, and some
SHORTEST_NOUN = 3  # letters


def understand(text: str, context: EntryContext) -> Understanding:
    """What the text means in this context. Never raises for any text: it answers or it asks. A word of the shop is
    read as the one that it stands for; a line of words keeps it as it was typed."""
    known = in_known_words(folded(text), context.own_words)
    if known != folded(text):
        meant = _evened(known, context)
        if meant.question is None and (meant.meanings or meant.sets):
            return meant.model_copy(update={"text": text})
    return _evened(text, context)


def _evened(text: str, context: EntryContext) -> Understanding:
    plain = evened(text)
    meant = said_unlike(_understood(plain.text, context))
    if meant.question is not None and MARKS.search(meant.question):
        meant = meant.model_copy(update={"question": MARKS.sub("", meant.question)})
    return meant if plain.text == text else _as_it_was_typed(meant, text, plain)


MARKS = re.compile(r"[⟪⟫]")  # about words that stay as they were typed


def _as_it_was_typed(meant: Understanding, text: str, plain: Spared) -> Understanding:
    """What was understood of an evened text, with the words as the hand typed them."""

    def kept(line: StoryLine | None) -> StoryLine | None:
        whole = line is not None and line.words == plain.text.strip()[:2000]
        return line.model_copy(update={"words": text.strip()[:2000]}) if line is not None and whole else line

    def remarked(meaning: Meaning) -> Meaning:
        said = " ".join(filter(None, (plain.before, meaning.remark, plain.behind)))
        return meaning if said == meaning.remark else meaning.model_copy(update={"remark": said})

    return meant.model_copy(
        update={
            "text": text,
            "story": kept(meant.story),
            "as_note": kept(meant.as_note),
            "meanings": tuple(map(remarked, meant.meanings)),
        }
    )


def _understood(text: str, context: EntryContext) -> Understanding:
    plain = with_the_mode_of_its_row(with_the_unit_of_alike(over_its_clauses(as_spelt(folded(text)))))
    plain = of_low_tension(plain, context)
    if not plain:
        return Understanding(text=text)
    if (several := of_one_of_several(plain)) is not None:
        unit, read = several
        meant = _understood(read, context).model_copy(update={"text": text})
        if meant.as_note is not None:
            meant = meant.model_copy(update={"as_note": note_of(text, plain)})
        if meant.story is not None:
            meant = meant.model_copy(update={"story": meant.story.model_copy(update={"words": text.strip()[:2000]})})
        return standing_apart(meant, unit, context)
    led = what_it_led_to(plain) if moved_and_read(plain, ground_of(context)) is None else None
    if led is not None and (both := _done_then_read(text, led, context)) is not None:
        return both
    if (modes := in_each_mode(plain, context)) is not None and (both := _in_both(text, modes, context)) is not None:
        return both
    meant = _whole_or_apart(text, plain, context)
    if meant.chosen is not None:
        return _with_nothing_lost(text, plain, meant, context)
    if (each := by_sentences(text, plain, lambda part: _understood(part, context))) is not None:
        return each
    return _asked_for_its_figures(text, plain, meant, context) or meant


def _whole_or_apart(text: str, plain: str, context: EntryContext) -> Understanding:
    """A line read in one breath, or its clauses one after the other; nothing is asked before both were tried."""
    told = _told_apart(plain, context)
    texts = [part for part in PARTS.split(plain) if part]
    if len(texts) < 2:
        return _as_said(text, told, context)
    sure = _as_said(text, told, context, asking=False)
    parts = _parts_beside(sure, texts, context)
    stand = as_they_stand(parts, texts, _chosen(sure)) if parts else "whole"
    if stand == "apart":
        return _one_by_one(text, parts)
    nothing = sure.chosen is None and sure.story is None and sure.question is None and not sure.sets
    whole = _as_said(text, told, context) if nothing else sure
    if stand == "whole" or (nothing and as_they_stand(parts, texts, _chosen(whole)) == "whole"):
        return whole
    return _asked_part_by_part(text, plain, whole, one_after_the_other([part.meant for part in parts])) or whole


def _asked_for_a_note(
    text: str, plain: str, meant: Understanding, taken: Meaning, context: EntryContext
) -> Understanding:
    """'input swr flat, 118 falls to 85 in 90s': a clause of figures that would be a reading by itself."""
    for part in _parts_of(plain):
        alone = _read_alone(part, context) if lost(part, taken, None) else None
        if alone is not None and alone.story is None and _has_none_of(taken, alone.meanings[alone.chosen or 0]):
            return _asked_for_the_rest(text, plain, taken, [part])
    return meant


def _parts_of(plain: str) -> list[str]:
    return [part for part in PARTS.split(plain) if part]


def _with_what_its_parts_say(plain: str, meant: Understanding, taken: Meaning, context: EntryContext) -> Understanding:
    """'bias pot 35 to 60ma, drive 8w': what was read at an adjuster as it was left, where the rest of the line is of
    another quantity, is read beside it."""
    parts = _parts_of(plain)
    if len(parts) < 2 or meant.story is None or meant.story.kind != "adjusted":
        return meant
    left = [alone for part in parts if (alone := _in_one_breath(part, part, context)) is not None and _is_left(alone)]
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


def _chosen(meant: Understanding) -> Meaning | None:
    return None if meant.chosen is None else meant.meanings[meant.chosen]


def _parts_beside(whole: Understanding, texts: Sequence[str], context: EntryContext) -> list[Part]:
    """The clauses of a line as each is read by itself; none where it is a line of words beside, or where two clauses
    would be one thing twice."""
    told = None if whole.chosen is None or whole.story is None else whole.story.kind
    if told not in {None, "adjusted"}:
        return []
    parts = part_by_part(
        texts, context, lambda part, there: _as_said(part, _told_apart(part, there), there, asking=False)
    )
    turned = sum(part.meant.story is not None for part in parts)
    if not parts or turned > 1 or (told is not None and not turned):
        return []
    return [] if says_one_thing_twice(one_after_the_other([part.meant for part in parts])) else parts


def _one_by_one(text: str, parts: Sequence[Part]) -> Understanding:
    joined = one_after_the_other([part.meant for part in parts])
    guards = tuple(guard for part in parts for guard in part.meant.guards)
    turned = next((part.meant.story for part in parts if part.meant.story is not None), None)
    story = turned.model_copy(update={"words": text.strip()[:2000]}) if turned is not None else None
    return Understanding(text=text, meanings=(joined,), chosen=0, guards=guards, story=story)


def _says_of_what(part: str) -> bool:
    """Whether a clause has a word or a unit of its own: 'am 85', 'rx 0.22' and '19a', and not '19 at 3.7'."""
    facts = cut_facts(as_signs(part))
    named = any(fact.kind == "quantity" or fact.of in {"mode", "state"} for fact in facts)
    return named or any(fact.unit is not None for fact in facts if fact.kind == "figure")


def _says_the_same(one: Meaning, other: Meaning) -> bool:
    """Whether two meanings have the same readings, each where the other has it; only a whole line knows the volts that
    it says beside them."""

    def read(meaning: Meaning) -> list[tuple[object, ...]]:
        at = [meaning.conditions_of(n).model_copy(update={"supply_v": None}) for n in range(len(meaning.readings))]
        return [(r.quantity, r.value, r.result, where) for r, where in zip(meaning.readings, at, strict=True)]

    return read(one) == read(other) and one.remark == other.remark


def _asked_part_by_part(text: str, plain: str, whole: Understanding, joined: Meaning) -> Understanding | None:
    """Whether the clauses stand one after the other, or as they were read together."""
    if whole.chosen is None and whole.question is None:
        return None
    said_by_all = whole.story is None and whole.as_note is not None and not joined.remark
    complete = [sense for sense in whole.meanings if not FIGURE_IN.search(sense.remark)]
    if (
        said_by_all
        and complete
        and all(map(_says_of_what, _parts_of(plain)))
        and all(_says_the_same(sense, joined) for sense in complete)
    ):
        return Understanding(text=text, meanings=(complete[0],), chosen=0)
    if whole.chosen is not None:
        senses: tuple[Meaning, ...] = (joined, whole.meanings[whole.chosen])
        choices = tuple(Choice(label=label_of(sense), sense=n) for n, sense in enumerate(senses))
    else:
        senses = (joined, *whole.meanings)
        behind = (c.model_copy(update={"sense": c.sense + 1}) for c in whole.choices if c.sense is not None)
        choices = (Choice(label=label_of(joined), sense=0), *behind)[:MOST_ANSWERS]
    return Understanding(
        text=text, meanings=senses, choices=choices, as_note=note_of(text, plain),
        question=whole.question or f"{text.strip()}: which of these?",
    )  # fmt: skip


def _in_both(text: str, modes: tuple[str, str], context: EntryContext) -> Understanding | None:
    """What was read alike in two modes, where it is sure in each, and goes by the mode."""
    each = [meant for form in modes for meant in _read_for_sure((form,), context)]
    stands = {m.mode for one in each for m in one.meanings[one.chosen or 0].each or (one.meanings[0].conditions,)}
    read = [r.quantity for one in each for r in one.meanings[one.chosen or 0].readings]
    if len(each) < len(modes) or len(stands) < len(modes) or not all(map(goes_by_mode, read)):
        return None
    return each[0].model_copy(update={"text": text, "meanings": (one_after_the_other(each),), "chosen": 0})


def _with_nothing_lost(text: str, plain: str, meant: Understanding, context: EntryContext) -> Understanding:
    """What was understood of a text of several parts, where all its figures stand in it; else part by part, and where
    that does not help asked."""
    parts = [part for part in PARTS.split(plain) if part]
    if meant.chosen is None or len(parts) > MOST_PARTS:
        return meant
    taken = meant.meanings[meant.chosen]
    if BOTH_LEFT.search(plain) and len(taken.readings) == 1 and meant.story is None:
        return _asked_for_the_rest(text, plain, taken, ["both"])
    if (odd := at_odds_in(plain, taken)) is not None:
        return _asked_for_the_rest(text, plain, taken, [odd])
    if read_too_often(plain, taken):
        return _asked_for_the_rest(text, plain, taken, ["One figure at several points"])
    left = left_in_the_remark(plain, taken)
    if not (unread := left if len(parts) == 1 else [*lost(plain, taken, meant.story), *left]):
        return _with_what_its_words_hold(text, plain, meant, context)
    if len(parts) == 1:
        return _asked_for_the_rest(text, plain, taken, unread)
    each = [_understood(part, context) for part in parts]
    if all(part.chosen is not None and part.story is None for part in each):
        return meant.model_copy(update={"meanings": (one_after_the_other(each),), "chosen": 0})
    if (row := _spread(text, plain, context)) is not None:
        return row
    return _asked_for_the_rest(text, plain, taken, unread)


def _asked_for_the_rest(text: str, plain: str, taken: Meaning, unread: Sequence[str]) -> Understanding:
    return Understanding(
        text=text, meanings=(taken,), question=f"{' and '.join(unread)}: what was read there?",
        as_note=note_of(text, plain),
        choices=(Choice(label=f"{label_of(taken)}, the rest as words", sense=0),),
    )  # fmt: skip


def _with_what_its_words_hold(text: str, plain: str, meant: Understanding, context: EntryContext) -> Understanding:
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
    read = [alone for part in _parts_of(plain) if (alone := _read_alone(part, context)) is not None]
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


def _asked_for_its_figures(text: str, plain: str, meant: Understanding, context: EntryContext) -> Understanding | None:
    """'new pair matched, bias -27 each, 35ma each': a line of words of several clauses, some of which would be readings
    if they stood alone, asks whether they were read then."""
    if meant.question is not None or meant.story is None or meant.story.kind not in ASKED_OF:
        return None
    parts = [part for part in PARTS.split(plain) if part]
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


def _asked_for_one_of(
    text: str, parts: Sequence[str], meant: Understanding, context: EntryContext
) -> Understanding | None:
    """'d21 new, 2m 4.8w hi 1.0w lo 1.45a': a clause behind what was done that holds a figure of the bench, of which
    nobody is sure: as words only it would be lost without anybody knowing."""
    unread = next((part for part in parts if READ_SURELY.search(part) and not is_only_told(part)), None)
    if unread is None or meant.story is None or meant.story.kind not in WORK:
        return None
    asked = _asked(text, unread, context)
    told = {"question": f"{unread}: was that read then?", "story": meant.story, "as_note": meant.story}
    return asked.model_copy(update=told)


WORK = {"did", "adjusted"}
READ_SURELY = re.compile(
    r"(?<![\w.])(?<!up )(?<!down )[+-]?\d+(?:\.\d+)? ?"
    r"(?:w(?! (?:type|resistor|wire|metal|carbon|bulb|lamp|iron))|dbc?|dbm|uv|k?hz)(?![\w/])"
)


def _read_alone(part: str, context: EntryContext) -> Understanding | None:
    """A clause as a reading by itself: named or in its unit, and no value that is printed on a part."""
    bare = re.search(r"[a-z]", part) is None  # what it cost, or how long it took
    if bare or not FIGURE_IN.search(part) or is_only_told(part) or {f.unit for f in cut_facts(part)} & PRINTED:
        return None
    meant = _in_one_breath(part, part, context)
    whole = meant is not None and meant.chosen is not None and (meant.story is None or meant.story.kind == "adjusted")
    return meant if whole and meant is not None and not meant.meanings[meant.chosen or 0].remark else None


# 'dev 4.5 both bands', where only one was read
BOTH_LEFT = re.compile(r"\d\S*(?: on)? both (?:bands|sidebands|modes|channels|settings)\b")
PRINTED = {"F", "H", "Ω"}


ASKED_OF = {"did", "found", "note", "adjusted"}
FIGURE_IN = re.compile(r"(?<![\w.])[+-]?\d*\.?\d+")
TOLD_BY_ANYBODY = re.compile(r"^was told [+-]?[\d.]+\w*$|, was told [+-]?[\d.]+\w*$")
LONE_COUNT = re.compile(r"\d{4,6}\.\d{1,3}")  # a counter's, in kilohertz
PARTS = re.compile(r"\s*[,;]\s+")
MOST_PARTS = 8


def _told_apart(plain: str, context: EntryContext) -> str:
    """A folded text with what stands beside its figures said plainly: what is due, what it was, where and how."""
    plain = made_by_the_hand(over_a_time(due_said(plain)))
    ground = ground_of(context)
    if LONE_COUNT.fullmatch(plain) and ground.in_hertz_if_counted(cut_facts(plain)[0]).unit == "Hz":
        return f"{plain}khz"
    plain = kilohertz_said(by_their_number(plain, ground), ground)
    plain = at_each_of(channels_in_front(megahertz_in_front(plain, ground), ground), ground)
    plain = circumstances_marked(plain)
    return bands_in_rows(plain) if context.channel_plan is None else plain


def _as_said(text: str, plain: str, context: EntryContext, *, asking: bool = True) -> Understanding:
    """A line of words, readings, or both; a question, or a text without one that is short of its words, once more as
    what was done and what was read then. Without `asking` it is nothing where nobody is sure."""
    try:
        story = read_story(text) or struck_off(plain, context)
        if story is not None:
            meant = _told(text, plain, story, context)
        else:
            meant = saying_what_is_in_words(_read(text, plain, context, asking=asking), plain)
    except (Unclear, OutOfDomain) as question:
        meant = Understanding(text=text, question=str(question))
    except OverflowError:
        meant = Understanding(text=text, question="That figure is beyond any bench. A zero too many?")
    if _is_short_of_its_words(meant) and (led := done_then_read(plain)) is not None:
        meant = _done_then_read(text, led, context) or meant
    if not _is_both(meant) and (both := _moved_and_read(text, plain, context)) is not None:
        return both
    if meant.question is None and not meant.sets:
        return meant
    return meant.model_copy(update={"as_note": note_of(text, plain)})


def _done_then_read(text: str, led: Led, context: EntryContext) -> Understanding | None:
    """'cleaned the switch so 4w in 95 out': what was read, and the whole as the line of what was done or found."""
    meant = _understood(led.read, context)
    if meant.chosen is None or meant.story is not None:
        return None
    words = note_of(led.words, led.words).model_copy(update={"words": text.strip()[:2000]})
    return meant.model_copy(update={"text": text, "story": words, "as_note": None})


def _is_short_of_its_words(meant: Understanding) -> bool:
    """Whether something is asked, or was only read, or only told: the text may be both."""
    return meant.question is not None or meant.chosen is None or meant.story is None


def _is_both(meant: Understanding) -> bool:
    """Whether an adjustment was understood with the figure that it ended on; 'vr2 fully up only 1.4k' is how the knob
    stood when that was read."""
    if meant.chosen is None:
        return False
    adjusted = meant.story is not None and meant.story.kind == "adjusted"
    return adjusted or meant.meanings[meant.chosen].conditions.setting is not None


def _moved_and_read(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'VR6 up a touch, mod 85%': an adjustment, and the figure that it ended on where the hand looked at it last."""
    told = moved_and_read(plain, ground_of(context))
    try:
        meant = None if told is None else _read_when_left(text, plain, as_signs(told.read), context)
    except (Unclear, OutOfDomain):
        return None  # the text is asked, or kept as words
    if told is None or meant is None or meant.chosen is None or not _is_of_the_unit(meant):
        return None
    words = StoryLine(kind="adjusted", words=text.strip()[:2000], adjuster=told.adjuster, area=area_turned(plain))
    return meant.model_copy(update={"story": words})


def _is_of_the_unit(meant: Understanding) -> bool:
    """Whether what was read is on a channel of the plan: 'trimmer up, 27.98126' is of a set of another one."""
    return all(told.code != "no_channel" for told in meant.guards)


def _told(text: str, plain: str, story: StoryLine, context: EntryContext) -> Understanding:
    """A line of words; a repair that ends on what was read then is both."""
    then_read = {"did": _done_and_read, "adjusted": _adjusted}.get(story.kind)
    if then_read is not None:
        both = then_read(text, plain, context)
    else:
        apart = words_between(plain, ground_of(context))
        both = _read_between_words(text, apart, context) if apart is not None and apart.sure else None
    if both is None:
        return Understanding(text=text, story=story)
    whole = story.model_copy(update={"words": text.strip()[:2000]})
    if story.kind == "did":
        whole = _without_what_was_read(story, plain, context)
    elif TOLD_BY_ANYBODY.search(plain):
        whole = whole.model_copy(update={"kind": "note"})  # what was read here is nothing that the owner told
    return both.model_copy(update={"story": whole})


def _read(text: str, plain: str, context: EntryContext, *, asking: bool = True) -> Understanding:
    """The facts of a text in any order; what has a grammar of its own (a scale, a pad, heights on a screen) by that."""
    typed, plain = plain, as_signs(plain)
    figures = sum(fact.kind == "figure" for fact in cut_facts(plain))
    if figures > MOST_FIGURES:
        raise Unclear(f"{figures} figures are more than one line holds ({MOST_FIGURES}). Split it in two.")
    told = _turned(text, plain, context) or _tested(text, plain, context) or _paid_for(text, plain, context)
    if told is not None:
        return told
    apart = words_between(typed, ground_of(context))
    both = None if apart is None else _read_between_words(text, apart, context)
    # several readings in a line bind to each other best where the words are taken out
    if apart is not None and both is not None and (apart.sure or figures > 1):
        return _with_the_figure_among_its_words(text, typed, apart, both, context) or both
    read = _read_as_facts(text, typed, plain, context) or both or _read_in_pieces(text, plain, context)
    if read is not None:
        return read
    return _asked(text, plain, context) if asking else Understanding(text=text)


def _read_in_pieces(text: str, plain: str, context: EntryContext) -> Understanding | None:
    return _spread(text, plain, context) or _each_by_itself(text, plain, context)


def _spread(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """A row over several points with words for all of it, each point read by itself; None where one is not sure, or
    they are not of the same quantities."""
    said = spread(plain, ground_of(context))
    each = [next(_read_for_sure(forms, context), None) for forms in said]
    read = [one for one in each if one is not None]
    if not read or len(read) < len(each):
        return None
    meanings = [one.meanings[one.chosen or 0] for one in read]
    if len({tuple(r.quantity for r in meaning.readings) for meaning in meanings}) > 1:
        return None
    whole = one_after_the_other(read).model_copy(update={"remark": meanings[0].remark})
    if says_one_thing_twice(whole):
        return None
    return Understanding(text=text, meanings=(whole,), chosen=0, guards=read[0].guards)


def _each_by_itself(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'cold +180, 10 min +820, 30min +1.3k': clauses of one quantity that are sure alone, where each says where or how,
    and every figure carries its unit or a sign."""
    parts = [part for part in PARTS.split(plain) if part]
    figures = [fact for fact in cut_facts(plain) if fact.kind == "figure"]
    if not 1 < len(parts) <= MOST_PARTS or any(fact.unit is None and not fact.signed for fact in figures):
        return None
    if not all(any(fact.kind in {"how", "where", "place", "item"} for fact in cut_facts(part)) for part in parts):
        return None
    read = [meant for part in parts for meant in _read_for_sure((part,), context)]
    if len(read) < len(parts) or len({r.quantity for one in read for r in one.meanings[one.chosen or 0].readings}) > 1:
        return None
    whole = one_after_the_other(read)
    return None if says_one_thing_twice(whole) else read[0].model_copy(update={"text": text, "meanings": (whole,)})


def _read_for_sure(forms: Iterable[str], context: EntryContext) -> Iterator[Understanding]:
    """The readings of those forms of a text that are sure, and nothing but readings."""
    for form in forms:
        unit, read = of_one_of_several(form) or ("", form)
        meant = _in_one_breath(read, read, context)
        if meant is not None and meant.chosen is not None and meant.story is None:
            yield standing_apart(meant, unit, context) if unit else meant


def _with_the_figure_among_its_words(
    text: str, typed: str, apart: Apart, both: Understanding, context: EntryContext
) -> Understanding | None:
    """'mod 40% on own mic, 42 on headset': a figure among the words is one of the readings, where the facts have it."""
    if not FIGURE_IN.search(apart.words):
        return None
    whole = _read_as_facts(text, typed, as_signs(typed), context)
    return whole if whole is not None and _reads_more(whole, both) else None


def _reads_more(whole: Understanding, part: Understanding) -> bool:
    """Whether a reading of the whole has more figures of the same quantities, and leaves no word."""
    if whole.chosen is None or whole.story is not None or part.chosen is None:
        return False
    more, fewer = whole.meanings[whole.chosen], part.meanings[part.chosen]
    alike = {r.quantity for r in more.readings} == {r.quantity for r in fewer.readings}
    return alike and not more.remark and len(more.readings) > len(fewer.readings)


def _read_as_facts(text: str, typed: str, plain: str, context: EntryContext) -> Understanding | None:
    """Every clause for itself, a grammar of its own, where the hand is now, or one breath; None where none is sure."""
    if (each := _each_clause(text, typed, context)) is not None:
        return each
    if OF_ITS_OWN.search(plain):
        return _of_its_own(text, plain, context)
    if MEGAWATTS.search(text) and _may_be_watts(plain, context):
        return _asked_both(text, plain, context)
    if sets := moved(cut_facts(plain), ground_of(context)):
        return Understanding(text=text, sets=sets)
    return _in_one_breath(text, plain, context)


def _read_between_words(text: str, apart: Apart, context: EntryContext) -> Understanding | None:
    """'3.8w ch19, customer agreed to 80': the readings, and the whole as a line of words."""
    meant = _read(apart.read, apart.read, context, asking=False)
    if meant.chosen is None or meant.story is not None:
        return None
    story = note_of(apart.words, apart.words)
    if TOLD_BY_ANYBODY.search(apart.words):
        story = story.model_copy(update={"kind": "note"})  # what was read here is nothing that the owner told
    kept = saying_what_is_in_words(Understanding(text=apart.words, story=story), apart.words)
    whole = story.model_copy(update={"words": text.strip()[:2000]})
    return meant.model_copy(update={"text": text, "story": whole, "guards": (*meant.guards, *kept.guards)})


def _each_clause(text: str, typed: str, context: EntryContext) -> Understanding | None:
    """Several readings, each said in full by a clause of its own."""
    breath = None if is_only_told(as_signs(typed)) else clause_by_clause(typed, context)
    placed = None if breath is None else _placed_for_sure(breath, as_signs(typed), context)
    return None if breath is None or placed is None else _taken_for_sure(text, as_signs(typed), breath, placed, context)


def _of_its_own(text: str, plain: str, context: EntryContext) -> Understanding:
    """A text with a grammar of its own; its question stands with an answer for each sense."""
    try:
        meant = one_figure(text, plain, context)
    except NotOneFigure as question:
        told = _in_one_breath(text, plain, context) or answers_to(text, plain, context, _as_typed)
        return told or Understanding(text=text, question=str(question))
    except Unclear as question:
        meant = Understanding(text=text, question=str(question))
    if meant.question is None:
        return meant
    answers = answers_to(text, plain, context, _as_typed, meant.meanings)
    return meant if answers is None else answers.model_copy(update={"question": meant.question, "guards": meant.guards})


def _turned(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'l14 3.1 3.4 3.6 3.5w': figures while it was turned, and what the hand should do now."""
    series = turned_series_in(plain)
    if series is None:
        return None
    words = StoryLine(
        kind="adjusted", words=text.strip()[:2000], adjuster=series.adjuster, value_found=series.found,
        value_left=series.left, area=area_turned(text),
    )  # fmt: skip
    named = series.word or series.unit
    meant = _in_one_breath(text, series.ended_on, context) if named else _as_the_line_wants(series.left, context)
    read = meant if meant is not None and meant.chosen is not None else Understanding(text=text)
    return read.model_copy(update={"story": words, "guards": (Guard(code="turned", text=series.says()), *read.guards)})


def _tested(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'20 taps ok': a test in which nothing failed, and what that rules out; 'tapped 30 times, steady 49w' reads what
    stood meanwhile too."""
    if (seldom := SELDOM.search(plain)) is not None and not HAS_A_READING.search(plain.replace(seldom[0], " ")):
        return Understanding(text=text, story=StoryLine(kind="found", words=text.strip()[:2000]))
    tries = tries_in(plain)
    if tries is None:
        return None
    rules_out = Guard(code="exit_test", text=f"{what_it_rules_out(tries)}.")
    words = StoryLine(kind="found", words=text.strip()[:2000])
    if not HAS_A_READING.search(plain):
        return Understanding(text=text, story=words, guards=(rules_out,))
    stood = STEADY_AT.search(plain)
    meant = None if stood is None else _in_one_breath(text, stood["read"], context)
    if meant is None or meant.chosen is None:
        return None
    return meant.model_copy(update={"story": words, "guards": (rules_out, *meant.guards)})


def _paid_for(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'d8 .15' behind 'd8 open': what the new one cost, since nobody reads volts of what was just found bad; 'done, 0.5
    hr, no parts': how long it took."""
    if PRICE_OF_SEVERAL.fullmatch(plain) or says_only_how_long(plain):
        return Understanding(text=text, story=told_apart("did", text.strip()))
    found = PRICE.fullmatch(plain)
    place = (context.last_place or "").split(" ")[0]
    newest = context.earlier[-1].conditions.place if context.earlier else None
    if found is None or found["part"].upper() != place or (newest or "").split(" ")[0] == place:
        return None
    return Understanding(text=text, story=told_apart("did", text.strip()))


def _asked(text: str, plain: str, context: EntryContext) -> Understanding:
    """A text that no frame is sure of is a question; what the grammar of one figure makes of it are its answers."""
    if (waiting := waits_for_its_figure(cut_facts(plain))) is not None:
        return Understanding(text=text, question=f"{quantity(waiting).name}: what was read?")
    if is_about_a_stranger(cut_facts(plain)):
        return Understanding(text=text, story=note_of(text, plain))
    try:
        meant = one_figure(text, plain, context)
    except (Unclear, OutOfDomain) as question:
        meant = Understanding(text=text, question=str(question))
    known = (*_as_said_in_full(plain, context), *meant.meanings)
    answers = answers_to(text, plain, context, _as_typed, known, _loosely(text, plain, context))
    if answers is None and not meant.meanings and _is_of_words(plain):
        return Understanding(text=text, story=note_of(text, plain))  # words, of which nobody can say more
    if answers is None or (meant.question is not None and not meant.meanings and not answers.choices):
        return _with_the_clauses_that_read(text, plain, meant, context)
    if len(answers.meanings) == 1 == len(answers.choices) and is_plainly_meant(plain, answers.meanings[0]):
        return answers.model_copy(update={"chosen": 0, "question": None, "choices": ()})
    asked = answers.question or meant.question or f"{text.strip()}: is that meant?"
    return likeliest_first(answers.model_copy(update={"guards": meant.guards, "question": asked}), context)


def _with_the_clauses_that_read(text: str, plain: str, asked: Understanding, context: EntryContext) -> Understanding:
    """'synth step 100hz, error -12 hz at 12 mhz': a question that has no answer gets the clauses that can be read by
    themselves as one."""
    parts = [part for part in PARTS.split(plain) if part]
    if asked.choices or asked.meanings or not 1 < len(parts) <= MOST_PARTS:
        return asked
    each = [None if is_only_told(part) else _in_one_breath(part, part, context) for part in parts]
    read = [m for m in each if m is not None and m.chosen is not None and m.story is None]
    if not read:
        return asked
    whole = one_after_the_other(read)
    rest = " ".join(part for part, m in zip(parts, each, strict=True) if m not in read)
    whole = whole.model_copy(update={"remark": f"{whole.remark} {rest}".strip()})
    choice = Choice(label=f"{label_of(whole)}, the rest as words", sense=0)
    return asked.model_copy(update={"meanings": (whole,), "choices": (choice,)})


def _as_said_in_full(plain: str, context: EntryContext) -> Iterator[Meaning]:
    """What a text is for sure, if what it leaves out goes on from the figure before."""
    for meant in _read_for_sure(said_in_full(plain), context):
        yield meant.meanings[meant.chosen or 0]


def _loosely(text: str, plain: str, context: EntryContext) -> Iterator[Meaning]:
    """Senses that nothing makes sure, to be chosen from."""
    for breath in chain(unnamed_senses(cut_facts(plain), plain, context), loose_breaths(plain, context)):
        try:
            placed = placed_readings(breath, context)
        except (Unclear, OutOfDomain, OverflowError):
            continue
        if placed and all(is_possible(said, context) for said in breath.said):
            yield from _taken_together(text, placed, breath.remark, context).meanings


def _is_of_words(plain: str) -> bool:
    """'sidetone ok': no figure, and no quantity that waits for one; a word says what it is about."""
    facts = cut_facts(plain)
    speaks = any(f.kind == "word" and f.text.isalpha() and len(f.text) > SHORTEST_NOUN for f in facts)
    return speaks and not any(f.kind in {"figure", "quantity"} for f in facts)


def _as_typed(form: str, context: EntryContext) -> Understanding | None:
    """What a form would be if it were typed; a bare figure 'as read' is what the current line wants."""
    plain = as_signs(folded(form))
    if (bare := WHOLE.fullmatch(plain)) is not None:
        return _as_the_line_wants(bare["n"], context)
    if sets := moved(cut_facts(plain), ground_of(context)):
        return Understanding(text=form, sets=sets)
    return _in_one_breath(form, plain, context)


def _as_the_line_wants(figure: str, context: EntryContext) -> Understanding | None:
    wanted = context.expected
    if wanted is None:
        return None
    name = quantity(wanted.quantity).name.lower()
    if (named := _in_one_breath(figure, f"{name} {figure}", context)) is not None and named.chosen is not None:
        return named
    try:
        expression = read_expression(cut(figure))
        return answered(
            figure, [of_quantity(wanted.quantity, expression, Bench(context, context.conditions))], context, []
        )
    except (Unclear, OutOfDomain):
        return None


def _in_one_breath(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """What a text says as facts in any order; or as words, where there is no reading in it."""
    if (read := _read_and_said(text, plain, context)) is not None:
        return read
    if is_only_told(plain):
        both = _adjusted(text, plain, context) or _done_and_read(text, plain, context)
        return both or _read_and_told(text, plain, context) or Understanding(text=text, story=note_of(text, plain))
    breath = clause_by_clause(plain, context) or breath_of(plain, context)
    if (placed := _placed_for_sure(breath, plain, context)) is not None:
        return _taken_for_sure(text, plain, breath, placed, context)
    if (labelled := _under_a_label(text, plain, context)) is not None:
        return labelled
    words_only = _is_a_line_of_words(breath, text, plain, context)
    if words_only and (both := _read_and_told(text, plain, context)) is not None:
        return both
    return Understanding(text=text, story=note_of(text, plain)) if words_only else None


def _placed_for_sure(breath: Breath, plain: str, context: EntryContext) -> list[Placed] | None:
    """The readings of a breath that may be taken without asking, worked out; None where there are none."""
    if not breath.sure or not is_believable(breath, plain, context):
        return None
    try:
        return placed_readings(breath, context) or None
    except (Unclear, OutOfDomain, OverflowError):
        return None


def _taken_for_sure(
    text: str, plain: str, breath: Breath, placed: list[Placed], context: EntryContext
) -> Understanding | None:
    taken = _taken_together(text, placed, breath.remark, context)
    return None if _is_doubtful(breath, taken, plain, context) else taken


def _is_a_line_of_words(breath: Breath, text: str, plain: str, context: EntryContext) -> bool:
    """Whether a text that gives no sure reading is a note, and no question."""
    facts = cut_facts(plain)
    told = is_told(breath, facts) or (is_no_reading(breath, facts) and not _may_be_read(text, plain, context))
    return told and not may_be_as_before(facts, plain, context) and not _is_a_row(plain, facts)


def _is_a_row(plain: str, facts: tuple[Fact, ...]) -> bool:
    """'others unchanged: 160 1150 80 1180 40 1200', '20m 100w swr 1.1, 17m 98 1.1, 15m trips, 12m 95 1.2': too many
    figures for a line of words, under a label or some of them in units of the bench."""
    told = LABEL.match(plain)
    if told is not None and sum(f.kind == "figure" for f in cut_facts(told["read"])) >= LEAST_ROW:
        return True
    figures = [fact for fact in facts if fact.kind == "figure"]
    measured = sum(fact.unit in MEASURED_IN for fact in figures)
    return len(figures) >= LONG_ROW and measured > 0


LEAST_ROW, LONG_ROW = 4, 6  # figures


def _may_be_read(text: str, plain: str, context: EntryContext) -> bool:
    """Whether a text of many words has a figure in a unit of the bench that some sense explains."""
    measured = any(f.kind == "figure" and f.unit in MEASURED_IN for f in cut_facts(plain))
    return measured and next(_loosely(text, plain, context), None) is not None


def _is_doubtful(breath: Breath, taken: Understanding, plain: str, context: EntryContext) -> bool:
    """Whether only the slip says which quantity a figure is, other words stand beside it, and it lies far from what is
    due there: 'rx .18' where kilohertz of deviation are wanted."""
    if any(figure_words(reading) == NO_FIGURE for meaning in taken.meanings for reading in meaning.readings):
        return True
    figures = [said for said in breath.said if not said.derived]
    leans = len(figures) == 1 and figures[0].leans and len(cut_facts(plain)) > 1
    if leans and any(guard.code in FAR_OFF for guard in taken.guards):
        return True
    wanted = [said for said in figures if said.as_wanted]
    of_a_supply = [said for said in figures if said.leans and said.quantity == "supply_voltage"]
    if _is_of_what_was_read([said for said in figures if not said.named], wanted, plain, context):
        return True
    if any(_is_as_another_was(said, context) for said in figures if not said.named):
        return True
    unusual = any(how_far(said, context) > UNUSUAL for said in (*wanted, *of_a_supply))
    return unusual or _is_likelier_otherwise(wanted, plain, context)


def _is_of_what_was_read(unnamed: list[Said], wanted: list[Said], plain: str, context: EntryContext) -> bool:
    """Whether figures that nobody names stand where something else was read before, and what is wanted never was."""
    if len(unnamed) > 1 and all(_was_read_there(said, context) for said in unnamed):
        return True
    return bool(wanted) and NOW.search(plain) is not None and _was_read_otherwise(wanted[0], context)


def _is_as_another_was(said: Said, context: EntryContext) -> bool:
    """'z3 new, 310v steady' behind 1980 V of the plates and 310 V of the screens: what nobody names is as much as
    another was, and not nearly what this one was."""
    newest = {e.quantity: e.value for e in context.earlier if quantity(e.quantity).unit == said.unit and e.value}
    own = newest.pop(said.quantity or "", None)
    if own is None or not said.value or said.address.get("place"):
        return False
    apart, alike = max(own / said.value, said.value / own), (abs(v / said.value - 1) for v in newest.values())
    return apart > FAR_FROM_ITS_OWN and any(off < AS_MUCH for off in alike)


FAR_FROM_ITS_OWN, AS_MUCH = 2.5, 0.1  # times, and a share
NOW = re.compile(r"\b(?:now|still|unchanged|as before|same)\b")


def _was_read_otherwise(said: Said, context: EntryContext) -> bool:
    """'usb now 24.5' behind watts on that sideband, where a suppression is wanted: what is read once more was read
    before, in the same mode, and this never was."""
    for key in ("mode", "frequency_hz", "channel"):
        at = said.address.get(key)
        there = {e.quantity for e in context.earlier if at is not None and getattr(e.conditions, key) == at}
        if there:
            return said.quantity not in there
    return False


def _was_read_there(said: Said, context: EntryContext) -> bool:
    """'15m 1.1uv, 10m 1.4uv' behind what a receiver needed on these bands, where a squelch is wanted: a row over places
    that were gone through before is of what was read there."""
    there = {
        e.quantity
        for e in context.earlier
        if quantity(e.quantity).unit == said.unit
        and all(said.address.get(key) == getattr(e.conditions, key) for key in ("frequency_hz", "channel"))
    }
    said_where = {"frequency_hz", "channel"} & said.address.keys()
    return bool(said_where and there) and said.quantity not in there


def _is_likelier_otherwise(wanted: list[Said], plain: str, context: EntryContext) -> bool:
    """'lsb 22 usb 21' behind a peak power of 22 W, where the current line wants a suppression of one of them: bare
    figures at points where nobody asks for what is wanted, and of which another sense is likelier."""
    if not context.earlier or not wanted or context.earlier[-1].quantity == wanted[0].quantity:
        return False
    points = [p.model_dump(exclude_none=True) for p in context.points if p.quantity == wanted[0].quantity]
    if all(any(_is_there(said, point) for point in points) for said in wanted):
        return False
    likeliest = next(unnamed_senses(cut_facts(plain), plain, context), None)
    return likeliest is not None and likeliest.said[0].quantity != wanted[0].quantity


def _is_there(said: Said, point: dict[str, object]) -> bool:
    return all(said.address.get(k) in {None, v} for k, v in point.items() if k in OF_THE_HAND)


def _read_and_said(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'100w in 420 out on 20, was 800 when new he says': a reading, and what somebody says behind it as its remark."""
    told = SAID_BEHIND.match(plain)
    if told is None or not HAS_A_READING.search(told["read"]) or is_only_told(told["read"]):
        return None
    return _beside_words(text, told["read"], ("", told["said"]), context)


def _read_and_told(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'v7 emission 55%, new one in': a reading, and what was done or found beside it."""
    parts = read_in_front(plain, ground_of(context))
    meant = None if parts is None else _beside_words(text, parts[0], ("", parts[1]), context)
    if meant is None or guessed_kind(plain) not in {"did", "found"}:
        return meant
    return meant.model_copy(update={"story": note_of(text, plain)})


def _under_a_label(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'after crimp: 15m 99 10m 94': words before a colon that name no quantity and no place stay beside the figures."""
    told = LABEL.match(plain)
    if told is None or any(not _is_of_a_label(f) for f in cut_facts(told["label"])):
        return None
    return _beside_words(text, told["read"], (told["label"], ""), context)


def _beside_words(text: str, read: str, around: tuple[str, str], context: EntryContext) -> Understanding | None:
    """A part of a text as a reading, with the words around it in its remark; None where it is none by itself."""
    meant = _in_one_breath(text, read, context)
    if meant is None or meant.chosen is None or meant.story is not None:
        return None
    before, behind = around
    kept = [m.model_copy(update={"remark": f"{before} {m.remark} {behind}".strip()}) for m in meant.meanings]
    return meant.model_copy(update={"meanings": tuple(kept)})


def _is_of_a_label(fact: Fact) -> bool:
    plain = fact.kind in {"word", "link", "item"} or fact.text in {"in", "out", "off", "on"}
    return plain and fact.text not in turning()


def _adjusted(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """An adjustment that ended on a figure of a quantity files that figure too."""
    if guessed_kind(plain) != "turned" or GUARDS.search(plain) is not None:
        return None
    ended_on = _ended_on(plain, context) or named_by_its_adjuster(plain)
    if not ended_on:
        return _asked_once_more(text, plain, context)
    ended_on = power_of_a_level(ended_on, context)
    ended_on = AS_IT_IS_NOW.sub("", with_its_whole_clause(plain, ended_on))
    if len(ended_on) > LONGEST_END:
        return None
    meant = _read_when_left(text, plain, ended_on, context)
    if meant is None or meant.chosen is None:
        asked = where_it_was_counted(where_it_was_said(plain, ended_on), context)
        return _asked_beside(text, asked, note_of(text, plain), context)
    if _is_at_a_bare_point(meant.meanings[meant.chosen], ended_on) or not _is_of_the_unit(meant):
        return None
    if SET_AT.search(plain) is not None:  # that it was set there is a word of the reading too
        meant = meant.model_copy(update={"meanings": tuple(_remarked(m, "set") for m in meant.meanings)})
    return meant.model_copy(update={"story": note_of(text, plain)})


LONGEST_END = 160  # signs of what an adjuster ended on: each adjuster in a longer one would be read twice, and so on


def _read_when_left(text: str, plain: str, ended_on: str, context: EntryContext) -> Understanding | None:
    """What an adjuster was left at as a reading, where the hand looked at it last."""
    ended_on = where_it_was_counted(where_it_was_said(plain, ended_on), context)
    meant = _in_one_breath(text, ended_on, context)
    if meant is not None and meant.chosen is not None and not any(f.kind == "where" for f in cut_facts(ended_on)):
        told = adjustment_in(plain)
        found = None if told is None or told.found is None else told.found
        there = where_it_was_turned(meant.meanings[meant.chosen].readings[0].quantity, context, found)
        meant = _in_one_breath(text, ended_on, there) or meant
    return meant


def _remarked(meaning: Meaning, word: str) -> Meaning:
    return meaning.model_copy(update={"remark": f"{meaning.remark} {word}".strip()})


def _ended_on(plain: str, context: EntryContext) -> str | None:
    """What was read when an adjuster was left: with its name, where the words say one."""
    if (again := set_to_in(plain, context) or counted_again_in(plain, context)) is not None:
        return again
    if (told := adjustment_in(plain)) is not None:
        return told.ended_on
    if (off := off_again_in(plain, context)) is not None:
        return off
    figure, named = figure_at_the_end(plain), then_read(plain, ground_of(context))
    return named if figure is None or named.endswith(f" {figure}") else figure


def _is_at_a_bare_point(meaning: Meaning, ended_on: str) -> bool:
    """'front end retuned l1 l2 1.9 to 0.28': a figure without a unit at what was turned may be of anything."""
    bare = re.search(r"\d ?(?:m?v|k?ohms?|r|k)\b", ended_on) is None
    return bare and any(r.quantity in {"dc_voltage", "resistance"} for r in meaning.readings)


def _done_and_read(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'k9 swapped with k2: 10m 71w': what was read once it was done is a reading too."""
    read = AS_IT_IS_NOW.sub("", then_read(plain, ground_of(context)))
    kind = guessed_kind(plain)
    if kind not in {"did", "found"} or not read or is_only_told(read):
        return _asked_once_more(text, plain, context) if kind == "did" and not read else None
    meant = _in_one_breath(text, at_its_part(read, words_before(plain, ground_of(context))), context)
    words = _without_what_was_read(note_of(text, plain), plain, context)
    if meant is None or meant.chosen is None:
        return _asked_beside(text, read, words, context)
    return meant.model_copy(update={"story": words})


# 'ripple 4.2v to 0.9v' behind a repair: what it was before that is no end of a range
AS_IT_IS_NOW = re.compile(r"(?<=[a-z] )[+-]?\d*\.?\d+ ?[a-zµ%]* ?(?:to|->) ?(?:now )?(?=[+-]?\d*\.?\d+ ?[a-zµ%]*$)")


def _asked_once_more(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'new plug 1.4' behind an SWR of 4.1: whether that was read again, there."""
    said = both_again_in(plain, context) or as_before_in(plain, context)
    if said is None:
        return None
    once_more = folded(said)  # it names the place as it is kept, with its capitals
    last = context.earlier[-1]
    asked = _asked_beside(text, once_more, note_of(text, plain), where_it_was_turned(last.quantity, context))
    again = asked is not None and all(m.readings[0].quantity == last.quantity for m in asked.meanings)
    return asked if again else None


def _asked_beside(text: str, read: str, words: StoryLine, context: EntryContext) -> Understanding | None:
    """'glued back, bias now 0.52a and 0.49a': a line of words that ends on figures of which nobody is sure asks for
    them, since only as words they would be lost to every sum; None where no sense holds all of them."""
    asked = _asked(text, read, context)
    whole = [m for m in asked.meanings if re.search(r"(?<![a-z])\d", m.remark) is None]
    if not asked.choices or len(whole) < len(asked.meanings):
        sure = _in_one_breath(text, read, context)
        if sure is None or sure.chosen is None:
            return None
        asked = Understanding(
            text=text, meanings=sure.meanings, choices=(Choice(label=label_of(sure.meanings[0]), sense=0),)
        )
    return asked.model_copy(update={"question": f"{read}: was that read then?", "story": words})


def _without_what_was_read(story: StoryLine, plain: str, context: EntryContext) -> StoryLine:
    """'c12 swapped, drift 80 hz in 10 min': how long was read is not how long it took, nor does it cost anything."""
    before = repair_of(words_before(plain, ground_of(context)))
    return story.model_copy(update={"minutes": before["minutes"], "cost": before["cost"]})


def _may_be_watts(plain: str, context: EntryContext) -> bool:
    """'4 MW': nobody has megawatts; milliwatts and watts both happen where the figure is near what the unit gives."""
    value = float(re.search(r"[\d.]+", plain)[0])  # type: ignore[index]
    return context.greatest_power_w is not None and value <= FARTHEST_OVER * context.greatest_power_w


def _asked_both(text: str, plain: str, context: EntryContext) -> Understanding:
    both = [_in_one_breath(text, plain.replace("mw", unit), context) for unit in ("mw", "w")]
    meanings = tuple(b.meanings[b.chosen] for b in both if b is not None and b.chosen is not None)
    choices = tuple(Choice(label=label_of(m), sense=n) for n, m in enumerate(meanings))
    return Understanding(text=text, meanings=meanings, question=f"{text.strip()}: which of these?", choices=choices)


def _taken_together(text: str, placed: list[Placed], remark: str, context: EntryContext) -> Understanding:
    """Several readings as one meaning, each judged where it stands; the remark stays with the first of them."""
    first, *others = as_repeated(tuple(p.reading for p in placed), context)
    placed = [replace(p, reading=r) for p, r in zip(placed, (first, *others), strict=True)]
    if remark:
        told = placed[0].reading
        kept = told.model_copy(update={"remarks": (f"{REMARK}{remark}", *told.remarks)})
        placed = [replace(placed[0], reading=kept), *placed[1:]]
    fed_v = _fed_with(placed)
    placed = [_at_its_supply(p, fed_v) for p in placed]
    verdicts = tuple(verdicts_of(p.reading, p.conditions, context, fed_v) for p in placed)
    principal = placed[0]
    meaning = Meaning(
        title=quantity(principal.reading.quantity).name,
        figure=figure_words(principal.reading),
        readings=tuple(p.reading for p in placed),
        verdicts=verdicts,
        conditions=principal.conditions,
        each=tuple(p.conditions for p in placed),
        remark=remark,
    )
    guards = guard(principal.reading, principal.conditions, context, _tokens(text))
    return Understanding(text=text, meanings=(meaning,), chosen=0, guards=guards)


def _fed_with(placed: list[Placed]) -> float | None:
    """The volts that were read at the supply beside the other figures."""
    volts = [p.reading.value for p in placed if p.reading.quantity == "supply_voltage" and p.conditions.place is None]
    return volts[-1] if volts else None


def _at_its_supply(one: Placed, fed_v: float | None) -> Placed:
    """A figure stands at the volts that were read beside it, whatever the plan asks for."""
    if not fed_v or one.reading.quantity == "supply_voltage":
        return one
    return replace(one, conditions=one.conditions.model_copy(update={"supply_v": fed_v}))


def _tokens(text: str) -> list[Token]:
    """The text as the guard looks at it; empty where a number has two readings."""
    try:
        return cut(folded(text))
    except Unclear:
        return []
