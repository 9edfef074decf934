"""What a text says: words between its readings, a grammar of its own, rows piece by piece, or one breath."""

import re

from young_spark.core.entry.believed.nothing_lost import one_after_the_other
from young_spark.core.entry.believed.plainly_meant import says_one_thing_twice
from young_spark.core.entry.believed.surety import FARTHEST_OVER
from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Guard, StoryLine, Understanding
from young_spark.core.entry.lines.moved import moved
from young_spark.core.entry.lines.story_guess import is_only_told, note_of
from young_spark.core.entry.lines.story_words import area_turned, says_only_how_long, told_apart
from young_spark.core.entry.lines.turned_series import turned_series_in
from young_spark.core.entry.rows.spread import spread
from young_spark.core.entry.understood.answers import answers_to, label_of
from young_spark.core.entry.understood.clause_by_clause import clause_by_clause
from young_spark.core.entry.understood.kept_as_words import saying_what_is_in_words
from young_spark.core.entry.understood.moved_and_read import moved_and_read
from young_spark.core.entry.understood.one_breath import (
    HAS_A_READING,
    PARTS,
    adjusted_and_left,
    as_the_line_wants,
    as_typed,
    asked_about,
    done_and_read,
    in_one_breath,
    is_of_the_unit,
    read_for_sure,
    read_when_left,
    without_what_was_read,
)
from young_spark.core.entry.understood.one_figure import one_figure
from young_spark.core.entry.understood.part_by_part import MOST_PARTS
from young_spark.core.entry.understood.several import ground_of
from young_spark.core.entry.understood.taken import placed_for_sure, taken_for_sure
from young_spark.core.entry.understood.words_between import Apart, words_between
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.places import PART
from young_spark.core.entry.wording.tokens import NotOneFigure, Unclear
from young_spark.core.figure import tries_in, what_it_rules_out
from young_spark.core.ground import OutOfDomain

STEADY_AT = re.compile(r"\b(?:steady|stays|stayed|held|holds|solid|all|every time|each)(?: at)? (?P<read>[\d.]+ ?\w+)$")


PRICE = re.compile(rf"(?P<part>{PART}),? \d*[.,]\d\d")
_PAID = (
    rf"(?:{PART}|fuses?|relay|valves?|caps?|screws|lamp|plug|socket|lead|battery|bridge|rectifier|diodes?|transistors?|"
    r"ics?|resistors?)"
)
PRICE_OF_SEVERAL = re.compile(rf"{_PAID}(?:,? (?:and|plus|\+|&) {_PAID})+:? \d*[.,]\d\d")
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
MOST_FIGURES = 150  # in one line: forty channels with three figures each, and some
FIGURE_IN = re.compile(r"(?<![\w.])[+-]?\d*\.?\d+")
TOLD_BY_ANYBODY = re.compile(r"^was told [+-]?[\d.]+\w*$|, was told [+-]?[\d.]+\w*$")


def turned_then_read(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'VR6 up a touch, mod 85%': an adjustment, and the figure that it ended on where the hand looked at it last."""
    told = moved_and_read(plain, ground_of(context))
    try:
        meant = None if told is None else read_when_left(text, plain, as_signs(told.read), context)
    except (Unclear, OutOfDomain):
        return None  # the text is asked, or kept as words
    if told is None or meant is None or meant.chosen is None or not is_of_the_unit(meant):
        return None
    words = StoryLine(kind="adjusted", words=text.strip()[:2000], adjuster=told.adjuster, area=area_turned(plain))
    return meant.model_copy(update={"story": words})


def told_and_read(text: str, plain: str, story: StoryLine, context: EntryContext) -> Understanding:
    """A line of words; a repair that ends on what was read then is both."""
    then_read = {"did": done_and_read, "adjusted": adjusted_and_left}.get(story.kind)
    if then_read is not None:
        both = then_read(text, plain, context)
    else:
        apart = words_between(plain, ground_of(context))
        both = _read_between_words(text, apart, context) if apart is not None and apart.sure else None
    if both is None or (story.kind == "found" and _draws_nothing_that_is_named(both, plain)):
        return Understanding(text=text, story=story)
    whole = story.model_copy(update={"words": text.strip()[:2000]})
    if story.kind == "did":
        whole = without_what_was_read(story, plain, context)
    elif TOLD_BY_ANYBODY.search(plain):
        whole = whole.model_copy(update={"kind": "note"})  # what was read here is nothing that the owner told
    return both.model_copy(update={"story": whole})


def _draws_nothing_that_is_named(both: Understanding, plain: str) -> bool:
    """'found diode stuck, 35 ma': amps of what was found, and not what the unit draws, which a word says."""
    read = () if both.chosen is None else both.meanings[both.chosen].readings
    amps = any(reading.quantity == "supply_current" for reading in read)
    return amps and _OF_THE_UNIT.search(plain) is None


_OF_THE_UNIT = re.compile(
    r"\b(?:current|draws?|drew|drawing|takes|amps|rx|tx|idle|standby|receive|transmit|keyed|psu|supply|total)\b"
)


def read_text(text: str, plain: str, context: EntryContext, *, asking: bool = True) -> Understanding:
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
    return asked_about(text, plain, context) if asking else Understanding(text=text)


def _read_in_pieces(text: str, plain: str, context: EntryContext) -> Understanding | None:
    return spread_out(text, plain, context) or _each_by_itself(text, plain, context)


def spread_out(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """A row over several points with words for all of it, each point read by itself; None where one is not sure, or
    they are not of the same quantities."""
    said = spread(plain, ground_of(context))
    each = [next(read_for_sure(forms, context), None) for forms in said]
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
    read = [meant for part in parts for meant in read_for_sure((part,), context)]
    if len(read) < len(parts) or len({r.quantity for one in read for r in one.meanings[one.chosen or 0].readings}) > 1:
        return None
    whole = one_after_the_other(read)
    return None if says_one_thing_twice(whole) else read[0].model_copy(update={"text": text, "meanings": (whole,)})


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
    return in_one_breath(text, plain, context)


def _read_between_words(text: str, apart: Apart, context: EntryContext) -> Understanding | None:
    """'3.8w ch19, customer agreed to 80': the readings, and the whole as a line of words."""
    meant = read_text(apart.read, apart.read, context, asking=False)
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
    placed = None if breath is None else placed_for_sure(breath, as_signs(typed), context)
    return None if breath is None or placed is None else taken_for_sure(text, as_signs(typed), breath, placed, context)


def _of_its_own(text: str, plain: str, context: EntryContext) -> Understanding:
    """A text with a grammar of its own; its question stands with an answer for each sense."""
    try:
        meant = one_figure(text, plain, context)
    except NotOneFigure as question:
        told = in_one_breath(text, plain, context) or answers_to(text, plain, context, as_typed)
        return told or Understanding(text=text, question=str(question))
    except Unclear as question:
        meant = Understanding(text=text, question=str(question))
    if meant.question is None:
        return meant
    answers = answers_to(text, plain, context, as_typed, meant.meanings)
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
    meant = in_one_breath(text, series.ended_on, context) if named else as_the_line_wants(series.left, context)
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
    meant = None if stood is None else in_one_breath(text, stood["read"], context)
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


def _may_be_watts(plain: str, context: EntryContext) -> bool:
    """'4 MW': nobody has megawatts; milliwatts and watts both happen where the figure is near what the unit gives."""
    value = float(re.search(r"[\d.]+", plain)[0])  # type: ignore[index]
    return context.greatest_power_w is not None and value <= FARTHEST_OVER * context.greatest_power_w


def _asked_both(text: str, plain: str, context: EntryContext) -> Understanding:
    both = [in_one_breath(text, plain.replace("mw", unit), context) for unit in ("mw", "w")]
    meanings = tuple(b.meanings[b.chosen] for b in both if b is not None and b.chosen is not None)
    choices = tuple(Choice(label=label_of(m), sense=n) for n, m in enumerate(meanings))
    return Understanding(text=text, meanings=meanings, question=f"{text.strip()}: which of these?", choices=choices)
