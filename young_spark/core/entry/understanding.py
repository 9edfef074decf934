"""The one field: text in, meanings with sums and verdicts out, or one short question."""

import difflib
import re
from collections.abc import Iterator
from dataclasses import replace
from itertools import chain

from young_spark.core.entry.adjustments import adjustment_in, figure_at_the_end
from young_spark.core.entry.answers import WHOLE, answers_to, label_of
from young_spark.core.entry.bench import Bench, Draft
from young_spark.core.entry.expression import Expression, read_expression
from young_spark.core.entry.fact import Fact
from young_spark.core.entry.facts import cut as cut_facts
from young_spark.core.entry.figures import of_quantity
from young_spark.core.entry.guard import guard
from young_spark.core.entry.impossible import is_impossible
from young_spark.core.entry.keywords import BY_UNIT, WORDS
from young_spark.core.entry.loosely import loose_breaths
from young_spark.core.entry.meaning import Choice, EntryContext, Guard, Meaning, StoryLine, Understanding
from young_spark.core.entry.moved import moved
from young_spark.core.entry.normal import as_signs
from young_spark.core.entry.own_words import in_known_words
from young_spark.core.entry.said import Breath
from young_spark.core.entry.several import Placed, breath_of, ground_of, placed_readings
from young_spark.core.entry.story_guess import guessed_kind, is_only_told, note_of
from young_spark.core.entry.story_words import FIRST_WORDS, read_story
from young_spark.core.entry.struck import struck_off
from young_spark.core.entry.surety import FARTHEST_OVER, is_believable, is_no_reading, turning
from young_spark.core.entry.tokens import Figure, NotOneFigure, Token, Unclear, cut, folded
from young_spark.core.entry.turned_series import turned_series_in
from young_spark.core.entry.vocabulary import vocabulary
from young_spark.core.figure import Measured, format_figure, format_value, quantity, tries_in, what_it_rules_out
from young_spark.core.ground import OutOfDomain
from young_spark.core.judging import judge_reading

__all__ = ["EntryContext", "Meaning", "Understanding", "understand"]

# what comes after a repair, where a figure with its unit is in it
THEN_READ = re.compile(
    r"(?:\s*[:;]\s+|,? (?:and )?(?:now|then|gives|gave|after that)[,:]? "
    r"|,? and (?:(?:the |it )?(?:set|rig|radio|unit|amp) )?(?=draws|gives|reads|takes|pulls|makes))"
    r"(?P<read>.*\d ?(?:m?w|watts?|m?v|m?a|milliamps|amps|%|k?hz|mhz|db[mc]?|uv|k?ohms?)\b.*)$"
    r"|(?:fitted|added|replaced|changed|cleaned|swapped),? (?P<levels>h[2-9] -.*)$"
)
LABEL = re.compile(r"(?P<label>[a-z][a-z ]{2,30}):\s+(?P<read>.*\d.*)$")
HAS_A_READING = re.compile(r"\d ?(?:m?w|watts?|m?v|m?a|%|k?hz|mhz|db[mc]?|uv)\b")
REMARK = "remark: "  # before the words of a text that are no part of a figure
# a scale, a multiplier, pads, heights on a screen, a swing, a dial and its tone: grammars of their own
_HEIGHT = r"[+-]?[\d.]+(?:k?w|m?v|k|%|dbm|dbc|div)?"
OF_ITS_OWN = re.compile(
    r"(?<![a-z])(?:el|cal|loss \d|beat|dial|scope|div|own|two-tone|2tone|step)(?![a-z])"
    rf"|\d(?:w|v|a|dbm)? ?[x×*] ?\d+(?:[.,]\d+)?(?![\d.]| ?m?[awv](?![a-z]))"
    rf"|k?(?:hz)?/v\b|(?<![\w.]){_HEIGHT} ?/ ?[+-]?[\d.]"
    r"|\bof (?:the )?[\d.]+ ?w|half of \d|^x ?[\d.]+$|(?:w|m|u|dbm|dbw|\d) ?[+-]\d+(?:[.,]\d+)? ?db\b|swing \d|db pad"
)
MEGAWATTS = re.compile(r"\d ?MW\b")
RESULT_WORDS = {"over_range": "over the range", "no_rise": "no rise", "short": "shorted", "weak": "weak"}
OF_THE_HAND = ("channel", "frequency_hz", "mode", "power_setting")
FAR_OFF = {"a_zero", "ten_decibels", "far_in_level", "more_than_it_can"}
MOST_ANSWERS = 4
SHORTEST_NOUN = 3  # letters
USES_WORDS = {"beat", "dial"}  # the sideband
USES_AT = {"spur", "spurious_worst"}  # where it stands
ASK_UNIT = "{text}: watts, volts, amps, MHz?"
BARE_CHOICES = (
    ("carrier_power", "W", 1.0),
    ("supply_voltage", "V", 1.0),
    ("supply_current", "A", 1.0),
    ("carrier_frequency", "Hz", 1e6),
    ("swr", "1", 1.0),
)


def understand(text: str, context: EntryContext) -> Understanding:
    """What the text means in this context. Never raises for any text: it answers or it asks. A word of the shop is
    read as the one that it stands for; a line of words keeps it as it was typed."""
    known = in_known_words(folded(text), context.own_words)
    if known != folded(text):
        meant = _understood(known, context)
        if meant.question is None and (meant.meanings or meant.sets):
            return meant.model_copy(update={"text": text})
    return _understood(text, context)


def _understood(text: str, context: EntryContext) -> Understanding:
    plain = folded(text)
    if not plain:
        return Understanding(text=text)
    try:
        story = read_story(text) or struck_off(plain, context)
        meant = _told(text, plain, story, context) if story is not None else _read(text, plain, context)
    except (Unclear, OutOfDomain) as question:
        meant = Understanding(text=text, question=str(question))
    except OverflowError:
        meant = Understanding(text=text, question="That figure is beyond any bench. A zero too many?")
    if meant.question is None and not meant.sets:
        return meant
    return meant.model_copy(update={"as_note": note_of(text, plain)})


def _told(text: str, plain: str, story: StoryLine, context: EntryContext) -> Understanding:
    """A line of words; a repair that ends on what was read then is both."""
    then_read = {"did": _done_and_read, "adjusted": _adjusted}.get(story.kind)
    both = then_read(text, plain, context) if then_read is not None else None
    if both is None:
        return Understanding(text=text, story=story)
    whole = story if story.kind == "did" else story.model_copy(update={"words": text.strip()[:2000]})
    return both.model_copy(update={"story": whole})


def _read(text: str, plain: str, context: EntryContext) -> Understanding:
    """The facts of a text in any order; what has a grammar of its own (a scale, a pad, heights on a screen) by that."""
    plain = as_signs(plain)
    if (told := _turned(text, plain, context) or _tested(text, plain)) is not None:
        return told
    if OF_ITS_OWN.search(plain):
        return _of_its_own(text, plain, context)
    if MEGAWATTS.search(text) and _may_be_watts(plain, context):
        return _asked_both(text, plain, context)
    if sets := moved(cut_facts(plain), ground_of(context)):
        return Understanding(text=text, sets=sets)
    together = _in_one_breath(text, plain, context)
    if together is not None:
        return together
    return _asked(text, plain, context)


def _of_its_own(text: str, plain: str, context: EntryContext) -> Understanding:
    """A text with a grammar of its own; its question stands with an answer for each sense."""
    try:
        meant = _figures(text, plain, context)
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
        value_left=series.left,
    )  # fmt: skip
    named = series.word or series.unit
    meant = _in_one_breath(text, series.ended_on, context) if named else _as_the_line_wants(series.left, context)
    read = meant if meant is not None and meant.chosen is not None else Understanding(text=text)
    return read.model_copy(update={"story": words, "guards": (Guard(code="turned", text=series.says()), *read.guards)})


def _tested(text: str, plain: str) -> Understanding | None:
    """'20 taps ok': a test in which nothing failed, and what that rules out."""
    tries = tries_in(plain)
    if tries is None or HAS_A_READING.search(plain):
        return None
    rules_out = Guard(code="exit_test", text=f"{what_it_rules_out(tries)}.")
    return Understanding(text=text, story=StoryLine(kind="found", words=text.strip()[:2000]), guards=(rules_out,))


def _asked(text: str, plain: str, context: EntryContext) -> Understanding:
    """A text that no frame is sure of is a question; what the grammar of one figure makes of it are its answers."""
    try:
        meant = _figures(text, plain, context)
    except (Unclear, OutOfDomain) as question:
        meant = Understanding(text=text, question=str(question))
    known = chain(meant.meanings, _loosely(text, plain, context))
    answers = answers_to(text, plain, context, _as_typed, known)
    if answers is None and not meant.meanings and _is_of_words(plain):
        return Understanding(text=text, story=note_of(text, plain))  # words, of which nobody can say more
    if answers is None or (meant.question is not None and not meant.meanings and not answers.choices):
        return meant
    asked = answers.question or meant.question or f"{text.strip()}: is that meant?"
    return answers.model_copy(update={"guards": meant.guards, "question": asked})


def _loosely(text: str, plain: str, context: EntryContext) -> Iterator[Meaning]:
    """Senses that nothing makes sure, to be chosen from."""
    for breath in loose_breaths(plain, context):
        try:
            placed = placed_readings(breath, context)
        except (Unclear, OutOfDomain, OverflowError):
            continue
        if placed:
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
        return _answer(
            figure, [of_quantity(wanted.quantity, expression, Bench(context, context.conditions))], context, []
        )
    except (Unclear, OutOfDomain):
        return None


def _in_one_breath(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """What a text says as facts in any order; or as words, where there is no reading in it."""
    if is_only_told(plain):
        both = _adjusted(text, plain, context) or _done_and_read(text, plain, context)
        return both or Understanding(text=text, story=note_of(text, plain))
    breath = breath_of(plain, context)
    if breath.sure and is_believable(breath, plain, context):
        try:
            placed = placed_readings(breath, context)
        except (Unclear, OutOfDomain, OverflowError):
            placed = []
        if placed:
            taken = _taken_together(text, placed, breath.remark, context)
            return None if _is_doubtful(breath, taken, plain) else taken
    if (labelled := _under_a_label(text, plain, context)) is not None:
        return labelled
    if is_no_reading(breath, cut_facts(plain)):
        return Understanding(text=text, story=note_of(text, plain))
    return None


def _is_doubtful(breath: Breath, taken: Understanding, plain: str) -> bool:
    """Whether only the slip says which quantity a figure is, other words stand beside it, and it lies far from what is
    due there: 'rx .18' where kilohertz of deviation are wanted."""
    figures = [said for said in breath.said if not said.derived]
    leans = len(figures) == 1 and figures[0].leans and len(cut_facts(plain)) > 1
    return leans and any(guard.code in FAR_OFF for guard in taken.guards)


def _under_a_label(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'after crimp: 15m 99 10m 94': words before a colon that name no quantity and no place stay beside the figures."""
    told = LABEL.match(plain)
    if told is None or any(not _is_of_a_label(f) for f in cut_facts(told["label"])):
        return None
    meant = _in_one_breath(text, told["read"], context)
    if meant is None or meant.chosen is None or meant.story is not None:
        return None
    labelled = [m.model_copy(update={"remark": f"{told['label']} {m.remark}".strip()}) for m in meant.meanings]
    return meant.model_copy(update={"meanings": tuple(labelled)})


def _is_of_a_label(fact: Fact) -> bool:
    plain = fact.kind in {"word", "link", "item"} or fact.text in {"in", "out", "off", "on"}
    return plain and fact.text not in turning()


def _adjusted(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """An adjustment that ended on a figure of a quantity files that figure too."""
    if guessed_kind(plain) != "turned":
        return None
    told = adjustment_in(plain)
    ended_on = told.ended_on if told is not None else figure_at_the_end(plain)
    if ended_on is None:
        return None
    meant = _in_one_breath(text, ended_on, context)
    if meant is not None and meant.chosen is not None and not any(f.kind == "where" for f in cut_facts(ended_on)):
        there = _where_it_was_turned(meant.meanings[meant.chosen].readings[0].quantity, context)
        meant = _in_one_breath(text, ended_on, there) or meant
    if meant is None or meant.chosen is None:
        return None
    return meant.model_copy(update={"story": note_of(text, plain)})


def _where_it_was_turned(quantity_id: str, context: EntryContext) -> EntryContext:
    """Whoever turns something looks at what was read last: the hand stays there, whatever line is next."""
    last = context.last(quantity_id)
    if last is None:
        return context
    at = {name: getattr(last.conditions, name) for name in OF_THE_HAND}
    return context.model_copy(update={"conditions": context.conditions.model_copy(update=at)})


def _done_and_read(text: str, plain: str, context: EntryContext) -> Understanding | None:
    """'k9 swapped with k2: 10m 71w': what was read once it was done is a reading too."""
    told = THEN_READ.search(plain)
    read = "" if told is None else told["read"] or told["levels"]
    if guessed_kind(plain) != "did" or not read or is_only_told(read):
        return None
    meant = _in_one_breath(text, read, context)
    if meant is None or meant.chosen is None:
        return None
    return meant.model_copy(update={"story": note_of(text, plain)})


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
    first, *others = _as_repeated(tuple(p.reading for p in placed), context)
    placed = [replace(p, reading=r) for p, r in zip(placed, (first, *others), strict=True)]
    if remark:
        told = placed[0].reading
        kept = told.model_copy(update={"remarks": (f"{REMARK}{remark}", *told.remarks)})
        placed = [replace(placed[0], reading=kept), *placed[1:]]
    verdicts = tuple(
        judge_reading(
            p.reading,
            context.judged_by(p.conditions, p.reading.quantity),
            context.model_copy(update={"conditions": p.conditions}).situation(p.conditions),
        )
        for p in placed
    )
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


def _tokens(text: str) -> list[Token]:
    """The text as the guard looks at it; empty where a number has two readings."""
    try:
        return cut(folded(text))
    except Unclear:
        return []


def _figures(text: str, plain: str, context: EntryContext) -> Understanding:
    keyword, rest = _split_keyword(plain)
    tokens = cut(rest)
    expression = read_expression(tokens)
    bench = Bench(context, context.conditions)
    if keyword is not None:
        _must_use_it_all(keyword, expression)
        return _answer(text, [WORDS[keyword](expression, bench)], context, tokens)
    if expression.words:
        raise NotOneFigure(_unknown_word(expression.words[0]))
    return _without_keyword(text, expression, bench, tokens)


def _must_use_it_all(keyword: str, expression: Expression) -> None:
    """Nothing behind the first word is dropped in silence: what its grammar has no use for is for the frames."""
    spare = [word for word in expression.words if word[0].isalnum()] if keyword not in USES_WORDS else []
    if spare:
        raise NotOneFigure(_unknown_word(spare[0]))
    if expression.at is not None and keyword not in USES_AT:
        raise NotOneFigure(f"{expression.at.text}: at what?")


def _split_keyword(plain: str) -> tuple[str | None, str]:
    match = re.match(r"(two-tone|2tone|[a-z_]+\d*(?:_[a-z0-9]+)*)\s*[:=]?\s*(?![a-z°])", plain)
    if match and match[1] in WORDS:
        return match[1], plain[match.end() :]
    word = plain.split(" ", 1)
    if word[0].rstrip(":=") in WORDS:
        return word[0].rstrip(":="), word[1] if len(word) > 1 else ""
    return None, plain


def _unknown_word(word: str) -> str:
    if word in vocabulary().facts:
        return f"What of '{word}' was read, and where? For example 'pwr 3.8w ch19'."
    near = difflib.get_close_matches(word, [*WORDS, *FIRST_WORDS], n=1, cutoff=0.7)
    if near and near[0] != word:
        return f"What is '{word}'? Did you mean '{near[0]}'?"
    return f"'{word}' there is not understood. Enter again keeps the whole as a note."


def _without_keyword(text: str, expression: Expression, bench: Bench, tokens: list[Token]) -> Understanding:
    if expression.at is not None:
        raise NotOneFigure(f"{expression.at.text}: at what?")
    wanted = bench.context.expected
    figures = expression.figures or expression.ends or expression.arrow or ()
    if expression.nothing or expression.weak:
        if wanted is None:
            raise Unclear("None of what? For example 'power none'.")
        return _answer(text, [of_quantity(wanted.quantity, expression, bench)], bench.context, tokens)
    if not figures:
        raise Unclear("What figure?")
    if wanted is not None and _looks_like_a_channel(wanted.quantity, figures, bench.context):
        return _bare(text, expression, bench, figures[0], tokens)
    if wanted is not None and (draft := _as_wanted(wanted.quantity, expression, bench, figures)) is not None:
        others = _others(expression, bench, figures, besides=wanted.quantity)
        return _answer(text, [draft, *others], bench.context, tokens)
    if len(expression.figures) > 1:
        return _pair(text, expression, bench, tokens)
    if expression.arrow is not None:
        return _answer(text, [WORDS["swing"](expression, bench)], bench.context, tokens)
    return _by_unit(text, expression, bench, figures[-1], tokens)


def _looks_like_a_channel(wanted: str, figures: tuple[Figure, ...], context: EntryContext) -> bool:
    """A bare 27.185 where watts are due is most likely a counter: asked, not guessed."""
    if len(figures) != 1 or figures[0].unit is not None or figures[0].step > 0.002 or context.channel_plan is None:
        return False
    return quantity(wanted).unit != "Hz" and context.channel_plan.on_channel(figures[0].value * 1e6) is not None


def _as_wanted(wanted: str, expression: Expression, bench: Bench, figures: tuple[Figure, ...]) -> Draft | None:
    """The text read as what the current line wants, where its units allow it; else None."""
    handler = WORDS["pep"] if wanted == "peak_envelope_power" else None
    try:
        draft = handler(expression, bench) if handler else of_quantity(wanted, expression, bench)
    except Unclear:
        if all(f.unit is None for f in figures):
            raise
        return None
    typed = {f.unit for f in figures} - {None}
    return draft if not typed or _fits(wanted, draft, typed) else None


def _fits(wanted: str, draft: Draft, typed: set[str | None]) -> bool:
    return draft.readings[0].quantity == wanted or quantity(wanted).unit in typed


def _others(expression: Expression, bench: Bench, figures: tuple[Figure, ...], besides: str) -> list[Draft]:
    """Other senses for Tab to walk through."""
    unit = figures[-1].unit
    drafts = []
    for other in BY_UNIT.get(unit or "", ()):
        if other == besides or len(expression.figures) > 1:
            continue
        try:
            drafts.append(of_quantity(other, expression, bench))
        except (Unclear, OutOfDomain):
            continue
    return drafts


def _by_unit(text: str, expression: Expression, bench: Bench, figure: Figure, tokens: list[Token]) -> Understanding:
    unit = figure.unit
    if unit in {"Hz", "k", "m"}:
        return _frequency_like(text, expression, bench, figure, tokens)
    if unit is None:
        return _bare(text, expression, bench, figure, tokens)
    choices = BY_UNIT.get(unit, ())
    if not choices:
        hints = {
            "dBc": "Which harmonic? For example 'h2 -62'.",
            "dB": "dB of what? For example 'hum -42db', or a power with its pad: '1.8w +10db'.",
        }
        raise Unclear(hints.get(unit, f"{figure.text}: of what?"))
    return _answer(text, [of_quantity(q, expression, bench) for q in choices], bench.context, tokens)


def _frequency_like(
    text: str, expression: Expression, bench: Bench, figure: Figure, tokens: list[Token]
) -> Understanding:
    hertz = figure.value * {"k": 1e3, "m": 1e6}.get(figure.unit or "", 1.0)
    if figure.unit == "m" and not (0.1 <= figure.value <= 2000 and figure.step < 0.02):
        raise Unclear(f"{figure.text}: MHz, mA, mV or mW?")
    if abs(hertz) >= 100e3:
        return _answer(text, [of_quantity("carrier_frequency", expression, bench)], bench.context, tokens)
    error = of_quantity("frequency_error", expression, bench)
    if figure.signed:
        return _answer(text, [error], bench.context, tokens)
    deviation = of_quantity("fm_deviation", expression, bench)
    if bench.conditions.mode == "fm" and bench.conditions.modulation == "on":
        return _answer(text, [deviation, error], bench.context, tokens)
    return _answer(
        text, [deviation, error], bench.context, tokens, question=f"{figure.text}: deviation, or frequency error?"
    )


def _pair(text: str, expression: Expression, bench: Bench, tokens: list[Token]) -> Understanding:
    drafts = []
    for word in ("swr", "mod"):
        try:
            drafts.append(WORDS[word](expression, bench))
        except (Unclear, OutOfDomain):
            continue
    question = "Forward and reflected ('swr …'), or crest and trough ('mod …')?"
    return _answer(text, drafts, bench.context, tokens, question=question)


def _bare(text: str, expression: Expression, bench: Bench, figure: Figure, tokens: list[Token]) -> Understanding:
    drafts = []
    for name, unit, factor in BARE_CHOICES:
        shaped = replace(
            expression,
            figures=tuple(f.in_unit(unit, factor) if unit != "1" else f for f in expression.figures),
            ends=None
            if expression.ends is None
            else (expression.ends[0].in_unit(unit, factor), expression.ends[1].in_unit(unit, factor)),
        )
        try:
            drafts.append(of_quantity(name, shaped, bench))
        except (Unclear, OutOfDomain):
            continue
    return _answer(text, drafts, bench.context, tokens, question=ASK_UNIT.format(text=figure.text))


def _answer(
    text: str, drafts: list[Draft], context: EntryContext, tokens: list[Token], question: str | None = None
) -> Understanding:
    meanings = tuple(_meaning(draft, context) for draft in drafts)
    if not meanings:
        return Understanding(text=text, question=question or "What was read?")
    principal = meanings[0].readings[0]
    most, bare = context.greatest_power_w, all(t.unit is None for t in tokens if isinstance(t, Figure))
    too_much = bare and principal.unit == "W" and most is not None and (principal.value or 0) > FARTHEST_OVER * most
    padded = any(isinstance(t, Figure) and t.unit == "dB" for t in tokens)
    if question is None and (too_much or (is_impossible(principal, meanings[0].conditions) and not padded)):
        raise NotOneFigure(f"{figure_words(principal)} as {quantity(principal.quantity).name.lower()}: is that meant?")
    guards = guard(principal, meanings[0].conditions, context, tokens)
    return Understanding(text=text, meanings=meanings, chosen=None if question else 0, question=question, guards=guards)


def _meaning(draft: Draft, context: EntryContext) -> Meaning:
    situated = context.model_copy(update={"conditions": draft.conditions})
    situation = situated.situation(draft.conditions)
    readings = _as_repeated(draft.readings, context)
    verdicts = tuple(judge_reading(r, context.profiles, situation) for r in readings)
    principal = readings[0]
    state = f", {draft.conditions.state}" if principal.quantity.startswith("supply_") and draft.conditions.state else ""
    return Meaning(
        title=quantity(principal.quantity).name + state,
        figure=figure_words(principal),
        readings=readings,
        verdicts=verdicts,
        conditions=draft.conditions,
    )


def _as_repeated(readings: tuple[Measured, ...], context: EntryContext) -> tuple[Measured, ...]:
    """Readings that an instrument repeated carry the scatter of their mean, and say how often they were read."""
    if context.repeated is None:
        return readings
    first = readings[0].widened(context.repeated.half_width)
    return (first.model_copy(update={"remarks": (context.repeated.words, *first.remarks)}), *readings[1:])


def figure_words(reading: Measured) -> str:
    """The figure of a reading as the slip shows it."""
    if reading.result is not None and reading.value is None:
        return RESULT_WORDS.get(reading.result, reading.result)
    if reading.value is None:
        return {"infinite": "infinite", "not_measured": "weak"}.get(reading.reason or "", "no figure")
    if reading.ends is not None:
        return f"{format_value(reading.ends[0], reading.unit)} … {format_value(reading.ends[1], reading.unit)}"
    if reading.read_as == "nothing" and reading.bound == "upper":
        return f"none (under {format_value(reading.value, reading.unit, figures=3)})"
    return format_figure(reading.quantity, reading.value, reading.uncertainty, reading.bound)
