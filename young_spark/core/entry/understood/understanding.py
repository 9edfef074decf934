"""The one field: text in, meanings with sums and verdicts out, or one short question."""

import re
from collections.abc import Sequence
from functools import cache

from young_spark.core.entry.believed.at_odds import at_odds_in
from young_spark.core.entry.believed.low_tension import of_low_tension
from young_spark.core.entry.believed.nothing_lost import (
    left_in_the_remark,
    lost,
    one_after_the_other,
    read_too_often,
)
from young_spark.core.entry.believed.plainly_meant import says_one_thing_twice
from young_spark.core.entry.believed.surety import may_be_products
from young_spark.core.entry.facts.circumstances import circumstances_marked
from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Meaning, Understanding
from young_spark.core.entry.facts.what_is_due import due_said
from young_spark.core.entry.frames.changes_said import made_by_the_hand, over_a_time
from young_spark.core.entry.lines.led_to import Led, done_then_read, what_it_led_to
from young_spark.core.entry.lines.story_guess import note_of
from young_spark.core.entry.lines.story_words import read_story
from young_spark.core.entry.lines.struck import struck_off
from young_spark.core.entry.rows.alike_at_several import at_each_of
from young_spark.core.entry.rows.figures_at_places import figures_at_places
from young_spark.core.entry.rows.form_of_all import form_of_all
from young_spark.core.entry.rows.harmonics_by_frequency import by_their_number
from young_spark.core.entry.rows.kilohertz_said import kilohertz_said
from young_spark.core.entry.rows.megahertz_in_front import channels_in_front, megahertz_in_front
from young_spark.core.entry.rows.one_of_several import of_one_of_several, standing_apart
from young_spark.core.entry.rows.powers_of_a_switch import powers_of_a_switch
from young_spark.core.entry.rows.products_by_order import products_by_order
from young_spark.core.entry.rows.same_in_another_mode import goes_by_mode, in_each_mode
from young_spark.core.entry.rows.whole_megahertz import whole_megahertz
from young_spark.core.entry.understood.answers import label_of, said_unlike
from young_spark.core.entry.understood.around_the_line import (
    as_it_was_typed,
    read_as_clauses,
    read_as_found,
    read_without,
)
from young_spark.core.entry.understood.at_its_own_name import asked_at_its_own_name
from young_spark.core.entry.understood.before_and_after import read_before_and_after
from young_spark.core.entry.understood.changed_or_bounced import asked_where_it_changed
from young_spark.core.entry.understood.for_the_rest import (
    asked_for_its_figures,
    asked_for_the_rest,
    parts_of,
    with_what_its_words_hold,
)
from young_spark.core.entry.understood.going_on import read_going_on, read_going_on_without_commas
from young_spark.core.entry.understood.kept_as_words import saying_what_is_in_words
from young_spark.core.entry.understood.moved_and_read import moved_and_read
from young_spark.core.entry.understood.now_again import read_now_where_it_was
from young_spark.core.entry.understood.one_breath import PARTS, read_for_sure
from young_spark.core.entry.understood.one_figure import figure_words
from young_spark.core.entry.understood.part_by_part import MOST_PARTS, Part, as_they_stand, part_by_part
from young_spark.core.entry.understood.read_or_told import (
    FIGURE_IN,
    read_text,
    spread_out,
    told_and_read,
    turned_then_read,
)
from young_spark.core.entry.understood.said_done_first import (
    read_after_what_was_done,
    read_behind_what_was_done,
)
from young_spark.core.entry.understood.said_in_full import (
    with_the_mode_of_its_row,
    with_the_unit_of_alike,
)
from young_spark.core.entry.understood.said_where_first import read_where_it_says
from young_spark.core.entry.understood.sentences import by_sentences
from young_spark.core.entry.understood.several import ground_of, on_the_carrier_counted
from young_spark.core.entry.understood.signal_or_dc import asked_whether_signal
from young_spark.core.entry.understood.where_it_was_mended import read_where_it_was_mended
from young_spark.core.entry.wording.evened import evened
from young_spark.core.entry.wording.idle_words import Spared
from young_spark.core.entry.wording.mistyped import as_meant
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.own_words import in_known_words
from young_spark.core.entry.wording.plain_signs import in_plain_signs
from young_spark.core.entry.wording.rows_of_bands import bands_in_rows
from young_spark.core.entry.wording.sayings import over_its_clauses
from young_spark.core.entry.wording.tokens import Unclear, folded
from young_spark.core.ground import OutOfDomain

__all__ = ["EntryContext", "Meaning", "Understanding", "figure_words", "understand"]

MOST_ANSWERS = 4


def understand(text: str, context: EntryContext) -> Understanding:
    """What the text means in this context. Never raises for any text: it answers or it asks. A word of the shop is
    read as the one that it stands for; a line of words keeps it as it was typed."""
    known = in_known_words(folded(text), context.own_words)
    if known != folded(text):
        meant = _evened(known, context)
        if meant.question is None and (meant.meanings or meant.sets):
            return meant.model_copy(update={"text": text})
    without_slips = as_meant(text, context.names())
    meant = _evened(without_slips, context)
    return meant if without_slips == text else as_it_was_typed(meant, text, Spared(without_slips))


def _evened(text: str, context: EntryContext) -> Understanding:
    """A text as it was meant; what stands so now is of the point where it was read last."""
    meant = _without_what_is_around(text, context)
    meant = read_where_it_was_mended(over_its_clauses(in_plain_signs(folded(text))), meant, context, _understood)
    return read_now_where_it_was(text, meant, context, _without_what_is_around)


def _without_what_is_around(text: str, context: EntryContext) -> Understanding:
    """A text as it is without what the hand says around it, where that is sure; else with it. Several layers ask
    for the same words."""

    @cache
    def read(words: str) -> Understanding:
        if (done := read_after_what_was_done(words, whole)) is not None:
            return done
        meant = _in_even_words(words, context)
        changed = read_before_and_after(words, meant, read)
        return changed or read_where_it_says(words, context, meant, _evened) or meant

    @cache
    def whole(words: str) -> Understanding:
        if (done := read_after_what_was_done(words, whole)) is not None:
            return done
        meant = read_without(words, read) or read_as_clauses(words, read(words), read)
        meant = read_behind_what_was_done(words, meant, read)
        return read_where_it_says(words, context, meant, _evened) or meant

    meant = read_as_found(text, whole(text), whole)
    return asked_whether_signal(text, asked_where_it_changed(text, meant, read), read)


def _in_even_words(text: str, context: EntryContext) -> Understanding:
    plain = evened(text)
    meant = said_unlike(_understood(plain.text, context))
    half_told = meant.chosen is not None and meant.story is not None and meant.story.kind == "note"
    if meant.question is not None or half_told:
        in_full = whole_megahertz(over_its_clauses(in_plain_signs(folded(plain.text))), ground_of(context))
        went_on = read_going_on(in_full, context, _in_even_words)
        if went_on is None and meant.question is not None:
            went_on = read_going_on_without_commas(in_full, context, _in_even_words)
        meant = went_on or meant
    if meant.question is not None and MARKS.search(meant.question):
        meant = meant.model_copy(update={"question": MARKS.sub("", meant.question)})
    return meant if plain.text == text else as_it_was_typed(meant, text, plain)


MARKS = re.compile(r"[⟪⟫]")  # about words that stay as they were typed


# 'was 62w on 20m': nobody reads now what it was
ONLY_BEFORE = re.compile(r"(?:it )?(?:was|were|had been|used to be) (?!told|set)[^,;]*\d[^,;]*")
NOW_TOO = re.compile(r"\b(?:now|today|is|to)\b|->|→")


def _understood(text: str, context: EntryContext) -> Understanding:
    plain = with_the_mode_of_its_row(with_the_unit_of_alike(over_its_clauses(in_plain_signs(folded(text)))))
    plain = form_of_all(figures_at_places(products_by_order(plain)))
    plain = whole_megahertz(powers_of_a_switch(plain, ground_of(context)), ground_of(context))
    plain = of_low_tension(plain, context)
    if not plain:
        return Understanding(text=text)
    if ONLY_BEFORE.fullmatch(plain) and NOW_TOO.search(plain) is None:
        return Understanding(text=text, story=note_of(text, plain))
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
    asked = asked_for_its_figures(text, plain, meant, context) or meant
    return asked_at_its_own_name(text, plain, asked, context)


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
        apart = _one_by_one(text, parts)
        read = {r.quantity: r.value or 0.0 for r in apart.meanings[0].readings}
        return _as_said(text, told, context) if may_be_products(read, plain, context) else apart
    nothing = sure.chosen is None and sure.story is None and sure.question is None and not sure.sets
    whole = _as_said(text, told, context) if nothing else sure
    if stand == "whole" or (nothing and as_they_stand(parts, texts, _chosen(whole)) == "whole"):
        return whole
    return _asked_part_by_part(text, plain, whole, one_after_the_other([part.meant for part in parts])) or whole


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
    joined = on_the_carrier_counted(one_after_the_other([part.meant for part in parts]), text)
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
        and all(map(_says_of_what, parts_of(plain)))
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
    each = [meant for form in modes for meant in read_for_sure((form,), context)]
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
    if (odd := _odd_in(plain, taken, meant)) is not None:
        return asked_for_the_rest(text, plain, taken, [odd])
    if read_too_often(plain, taken):
        each_of = _each_once(text, plain, meant, parts, context)
        return each_of or asked_for_the_rest(text, plain, taken, ["One figure at several points"])
    left = left_in_the_remark(plain, taken)
    if not (unread := left if len(parts) == 1 else [*lost(plain, taken, meant.story), *left]):
        return with_what_its_words_hold(text, plain, meant, context)
    if len(parts) == 1:
        return asked_for_the_rest(text, plain, taken, unread)
    each = [_understood(part, context) for part in parts]
    if all(part.chosen is not None and part.story is None for part in each):
        joined = on_the_carrier_counted(one_after_the_other(each), text)
        return meant.model_copy(update={"meanings": (joined,), "chosen": 0})
    row = spread_out(text, plain, context)
    if row is not None and not read_too_often(plain, row.meanings[0]):
        return row
    return asked_for_the_rest(text, plain, taken, unread)


def _odd_in(plain: str, taken: Meaning, meant: Understanding) -> str | None:
    """What of a text cannot be as it was read: one of both that it speaks of, figures that contradict each other."""
    both = BOTH_LEFT.search(plain) and len(taken.readings) == 1 and meant.story is None
    return "both" if both else at_odds_in(plain, taken)


def _each_once(
    text: str, plain: str, meant: Understanding, parts: Sequence[str], context: EntryContext
) -> Understanding | None:
    """'ch16 24.1w hi .9 lo, ch 6 24.4w': clauses that are sure one after the other, where together one figure stood at
    points of several."""
    each = _parts_beside(meant, parts, context)
    if not each or len(each) < len(parts):
        return None
    apart = _one_by_one(text, each)
    return None if read_too_often(plain, apart.meanings[0]) else apart


# 'dev 4.5 both bands', where only one was read
BOTH_LEFT = re.compile(r"\d\S*(?: on)? both (?:bands|sidebands|modes|channels|settings)\b")
LONE_COUNT = re.compile(r"\d{4,6}\.\d{1,3}")  # a counter's, in kilohertz


def _told_apart(plain: str, context: EntryContext) -> str:
    """A folded text with what stands beside its figures said plainly: what is due, what it was, where and how."""
    sent = context.last("carrier_power")
    plain = made_by_the_hand(over_a_time(due_said(plain), None if sent is None else sent.value))
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
            meant = told_and_read(text, plain, story, context)
        else:
            meant = saying_what_is_in_words(read_text(text, plain, context, asking=asking), plain)
    except (Unclear, OutOfDomain) as question:
        meant = Understanding(text=text, question=str(question))
    except OverflowError:
        meant = Understanding(text=text, question="That figure is beyond any bench. A zero too many?")
    if _is_short_of_its_words(meant) and (led := done_then_read(plain)) is not None:
        meant = _done_then_read(text, led, context) or meant
    if not _is_both(meant) and (both := turned_then_read(text, plain, context)) is not None:
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
