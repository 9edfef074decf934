"""A text in one breath: its facts in any order, or an adjustment, a repair or words that end on a figure; or asked."""

import re
from collections.abc import Iterable, Iterator
from itertools import chain

from young_spark.core.entry.believed.nothing_lost import one_after_the_other
from young_spark.core.entry.believed.plainly_meant import is_plainly_meant
from young_spark.core.entry.believed.surety import (
    MEASURED_IN,
    is_no_reading,
    is_possible,
    is_told,
    turning,
)
from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Meaning, StoryLine, Understanding
from young_spark.core.entry.facts.said import Breath
from young_spark.core.entry.facts.strangers import is_about_a_stranger
from young_spark.core.entry.lines.adjustments import (
    GUARDS,
    SET_AT,
    adjustment_in,
    figure_at_the_end,
    name_set_to,
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
from young_spark.core.entry.lines.moved import moved
from young_spark.core.entry.lines.story_guess import guessed_kind, is_only_told, note_of
from young_spark.core.entry.lines.story_words import repair_of
from young_spark.core.entry.lines.waiting import waits_for_its_figure
from young_spark.core.entry.lines.where_it_was_left import (
    power_of_a_level,
    where_it_was_counted,
    where_it_was_said,
    where_it_was_turned,
    with_its_whole_clause,
)
from young_spark.core.entry.rows.one_of_several import of_one_of_several, standing_apart
from young_spark.core.entry.sums.bench import Bench
from young_spark.core.entry.sums.expression import read_expression
from young_spark.core.entry.sums.figures import of_quantity
from young_spark.core.entry.understood.answers import WHOLE, answers_to, label_of
from young_spark.core.entry.understood.clause_by_clause import clause_by_clause
from young_spark.core.entry.understood.likeliest import likeliest_first
from young_spark.core.entry.understood.loosely import loose_breaths
from young_spark.core.entry.understood.one_figure import answered, one_figure
from young_spark.core.entry.understood.part_by_part import MOST_PARTS, moved_on
from young_spark.core.entry.understood.read_then_told import read_in_front
from young_spark.core.entry.understood.said_in_full import said_in_full
from young_spark.core.entry.understood.several import breath_of, ground_of, placed_readings
from young_spark.core.entry.understood.taken import placed_for_sure, taken_for_sure, taken_together
from young_spark.core.entry.understood.then_read import at_its_part, then_read, words_before
from young_spark.core.entry.understood.unnamed_senses import unnamed_senses
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.tokens import Unclear, cut, folded
from young_spark.core.figure import quantity
from young_spark.core.ground import OutOfDomain

LABEL = re.compile(r"(?P<label>[a-z][a-z ]{2,30}):\s+(?P<read>.*\d.*)$")


SAID_BEHIND = re.compile(
    r"(?P<read>[^,;]*\d[^,;]*), (?P<said>(?:was|were|used to be|had been|he|she|owner|customer|cust)\b.*"
    r"\b(?:says|said|reckons|was told|claims|told)\b.*|was told\b.*|(?:he|owner|customer|cust) (?:says|reckons)\b.*)$"
)
HAS_A_READING = re.compile(r"\d ?(?:m?w|watts?|m?v|m?a|%|k?hz|mhz|db[mc]?|uv)\b")
SHORTEST_NOUN = 3  # letters
PARTS = re.compile(r"\s*[,;]\s+")


def is_of_the_unit(meant: Understanding) -> bool:
    """Whether what was read is on a channel of the plan: 'trimmer up, 27.98126' is of a set of another one."""
    return all(told.code != "no_channel" for told in meant.guards)


def read_for_sure(forms: Iterable[str], context: EntryContext) -> Iterator[Understanding]:
    """The readings of those forms of a text that are sure, and nothing but readings."""
    for form in forms:
        unit, read = of_one_of_several(form) or ("", form)
        meant = in_one_breath(read, read, context)
        if meant is not None and meant.chosen is not None and meant.story is None:
            yield standing_apart(meant, unit, context) if unit else meant


def asked_about(text: str, plain: str, context: EntryContext) -> Understanding:
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
    answers = answers_to(text, plain, context, as_typed, known, _loosely(text, plain, context))
    if answers is None and not meant.meanings and _is_of_words(plain):
        return Understanding(text=text, story=note_of(text, plain))  # words, of which nobody can say more
    if answers is None or (meant.question is not None and not meant.meanings and not answers.choices):
        return _with_the_clauses_that_read(text, plain, meant, context)
    if _is_the_one_sense(text, plain, answers):
        return answers.model_copy(update={"chosen": 0, "question": None, "choices": ()})
    asked = answers.question or meant.question or f"{text.strip()}: is that meant?"
    return likeliest_first(answers.model_copy(update={"guards": meant.guards, "question": asked}), context)


def _is_the_one_sense(text: str, plain: str, answers: Understanding) -> bool:
    """Whether only one answer has a sense, and the text says it plainly: no hand doubts it."""
    alone = len(answers.meanings) == 1 == len(answers.choices) and "?" not in text
    return alone and is_plainly_meant(plain, answers.meanings[0])


def _with_the_clauses_that_read(text: str, plain: str, asked: Understanding, context: EntryContext) -> Understanding:
    """'synth step 100hz, error -12 hz at 12 mhz': a question that has no answer gets the clauses that can be read by
    themselves as one."""
    parts = [part for part in PARTS.split(plain) if part]
    if asked.choices or asked.meanings or not 1 < len(parts) <= MOST_PARTS:
        return asked
    each = []
    for part in parts:
        alone = None if is_only_told(part) else in_one_breath(part, part, context)
        each.append(alone)
        if alone is not None and alone.chosen is not None:
            context = moved_on(context, alone.meanings[alone.chosen], cut_facts(part))
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
    for meant in read_for_sure(said_in_full(plain), context):
        yield meant.meanings[meant.chosen or 0]


def _loosely(text: str, plain: str, context: EntryContext) -> Iterator[Meaning]:
    """Senses that nothing makes sure, to be chosen from."""
    for breath in chain(unnamed_senses(cut_facts(plain), plain, context), loose_breaths(plain, context)):
        try:
            placed = placed_readings(breath, context)
        except (Unclear, OutOfDomain, OverflowError):
            continue
        if placed and all(is_possible(said, context) for said in breath.said):
            yield from taken_together(text, placed, breath.remark, context).meanings


def _is_of_words(plain: str) -> bool:
    """'sidetone ok': no figure, and no quantity that waits for one; a word says what it is about."""
    facts = cut_facts(plain)
    speaks = any(f.kind == "word" and f.text.isalpha() and len(f.text) > SHORTEST_NOUN for f in facts)
    return speaks and not any(f.kind in {"figure", "quantity"} for f in facts)


def as_typed(form: str, context: EntryContext) -> Understanding | None:
    """What a form would be if it were typed; a bare figure 'as read' is what the current line wants."""
    plain = as_signs(folded(form))
    if (bare := WHOLE.fullmatch(plain)) is not None:
        return as_the_line_wants(bare["n"], context)
    if sets := moved(cut_facts(plain), ground_of(context)):
        return Understanding(text=form, sets=sets)
    return in_one_breath(form, plain, context)


def as_the_line_wants(figure: str, context: EntryContext) -> Understanding | None:
    wanted = context.expected
    if wanted is None:
        return None
    name = quantity(wanted.quantity).name.lower()
    if (named := in_one_breath(figure, f"{name} {figure}", context)) is not None and named.chosen is not None:
        return named
    try:
        expression = read_expression(cut(figure))
        return answered(
            figure, [of_quantity(wanted.quantity, expression, Bench(context, context.conditions))], context, []
        )
    except (Unclear, OutOfDomain):
        return None


def in_one_breath(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """What a text says as facts in any order; or as words, where there is no reading in it."""
    if (read := _read_and_said(text, plain, context)) is not None:
        return read
    if is_only_told(plain):
        both = adjusted_and_left(text, plain, context) or done_and_read(text, plain, context)
        return both or _read_and_told(text, plain, context) or Understanding(text=text, story=note_of(text, plain))
    breath = clause_by_clause(plain, context) or breath_of(plain, context)
    if (placed := placed_for_sure(breath, plain, context)) is not None:
        return taken_for_sure(text, plain, breath, placed, context)
    if (labelled := _under_a_label(text, plain, context)) is not None:
        return labelled
    words_only = _is_a_line_of_words(breath, text, plain, context)
    if words_only and (both := _read_and_told(text, plain, context)) is not None:
        return both
    return Understanding(text=text, story=note_of(text, plain)) if words_only else None


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
    meant = in_one_breath(text, read, context)
    if meant is None or meant.chosen is None or meant.story is not None:
        return None
    before, behind = around
    kept = [m.model_copy(update={"remark": f"{before} {m.remark} {behind}".strip()}) for m in meant.meanings]
    return meant.model_copy(update={"meanings": tuple(kept)})


def _is_of_a_label(fact: Fact) -> bool:
    plain = fact.kind in {"word", "link", "item"} or fact.text in {"in", "out", "off", "on"}
    return plain and fact.text not in turning()


def adjusted_and_left(text: str, plain: str, context: EntryContext) -> Understanding | None:
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
    meant = read_when_left(text, plain, ended_on, context)
    if meant is None or meant.chosen is None:
        asked = where_it_was_counted(where_it_was_said(plain, ended_on), context)
        return _asked_beside(text, asked, note_of(text, plain), context)
    if _is_at_a_bare_point(meant.meanings[meant.chosen], ended_on) or not is_of_the_unit(meant):
        return None
    if SET_AT.search(plain) is not None:  # that it was set there is a word of the reading too
        meant = meant.model_copy(update={"meanings": tuple(_remarked(m, "set") for m in meant.meanings)})
    return meant.model_copy(update={"story": note_of(text, plain)})


LONGEST_END = 160  # signs of what an adjuster ended on: each adjuster in a longer one would be read twice, and so on


def read_when_left(text: str, plain: str, ended_on: str, context: EntryContext) -> Understanding | None:
    """What an adjuster was left at as a reading, where the hand looked at it last."""
    ended_on = where_it_was_counted(where_it_was_said(plain, ended_on), context)
    meant = in_one_breath(text, ended_on, context)
    if meant is not None and meant.chosen is not None and not any(f.kind == "where" for f in cut_facts(ended_on)):
        told = adjustment_in(plain)
        found = None if told is None or told.found is None else told.found
        there = where_it_was_turned(meant.meanings[meant.chosen].readings[0].quantity, context, found)
        meant = in_one_breath(text, ended_on, there) or meant
    return meant


def _remarked(meaning: Meaning, word: str) -> Meaning:
    return meaning.model_copy(update={"remark": f"{meaning.remark} {word}".strip()})


def _ended_on(plain: str, context: EntryContext) -> str | None:
    """What was read when an adjuster was left: with its name, where the words say one."""
    if (again := set_to_in(plain, context) or counted_again_in(plain, context)) is not None:
        return again
    if (named := name_set_to(plain)) is not None and _is_named_in_full(named, context):
        return named
    if (told := adjustment_in(plain)) is not None:
        return told.ended_on
    if (off := off_again_in(plain, context)) is not None:
        return off
    figure, named = figure_at_the_end(plain), then_read(plain, ground_of(context))
    return named if figure is None or named.endswith(f" {figure}") else figure


def _is_named_in_full(words: str, context: EntryContext) -> bool:
    """'pa idle current 400 ma': one figure with its name and its unit, and nothing else."""
    breath = breath_of(as_signs(words), context)
    return breath.sure and len(breath.said) == 1 and not breath.remark and breath.said[0].named


def _is_at_a_bare_point(meaning: Meaning, ended_on: str) -> bool:
    """'front end retuned l1 l2 1.9 to 0.28': a figure without a unit at what was turned may be of anything."""
    bare = re.search(r"\d ?(?:m?v|k?ohms?|r|k)\b", ended_on) is None
    return bare and any(r.quantity in {"dc_voltage", "resistance"} for r in meaning.readings)


def done_and_read(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'k9 swapped with k2: 10m 71w': what was read once it was done is a reading too."""
    read = AS_IT_IS_NOW.sub("", then_read(plain, ground_of(context)))
    kind = guessed_kind(plain)
    if kind not in {"did", "found"} or not read or is_only_told(read):
        return _asked_once_more(text, plain, context) if kind == "did" and not read else None
    meant = in_one_breath(text, at_its_part(read, words_before(plain, ground_of(context))), context)
    words = without_what_was_read(note_of(text, plain), plain, context)
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
    asked = asked_about(text, read, context)
    whole = [m for m in asked.meanings if re.search(r"(?<![a-z])\d", m.remark) is None]
    if not asked.choices or len(whole) < len(asked.meanings):
        sure = in_one_breath(text, read, context)
        if sure is None or sure.chosen is None:
            return None
        asked = Understanding(
            text=text, meanings=sure.meanings, choices=(Choice(label=label_of(sure.meanings[0]), sense=0),)
        )
    return asked.model_copy(update={"question": f"{read}: was that read then?", "story": words})


def without_what_was_read(story: StoryLine, plain: str, context: EntryContext) -> StoryLine:
    """'c12 swapped, drift 80 hz in 10 min': how long was read is not how long it took, nor does it cost anything."""
    before = repair_of(words_before(plain, ground_of(context)))
    return story.model_copy(update={"minutes": before["minutes"], "cost": before["cost"]})
