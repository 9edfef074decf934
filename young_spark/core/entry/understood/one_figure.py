"""The grammar of one figure: its first word, its unit, or what the current line wants, and the senses it may have."""

import difflib
import re
from dataclasses import replace

from young_spark.core.entry.believed.surety import FARTHEST_OVER
from young_spark.core.entry.facts.meaning import EntryContext, Meaning, Understanding
from young_spark.core.entry.facts.verdicts import verdicts_of
from young_spark.core.entry.lines.story_words import FIRST_WORDS
from young_spark.core.entry.sums.bench import Bench, Draft
from young_spark.core.entry.sums.expression import Expression, read_expression
from young_spark.core.entry.sums.figures import of_quantity
from young_spark.core.entry.sums.guard import guard
from young_spark.core.entry.understood.impossible import is_impossible
from young_spark.core.entry.understood.keywords import BY_UNIT, WORDS
from young_spark.core.entry.wording.tokens import Figure, NotOneFigure, Token, Unclear, cut
from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.figure import Measured, format_figure, format_value, quantity
from young_spark.core.ground import OutOfDomain

NO_FIGURE = "no figure"
RESULT_WORDS = {"over_range": "over the range", "no_rise": "no rise", "short": "shorted", "weak": "weak"}
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


def one_figure(text: str, plain: str, context: EntryContext) -> Understanding:
    """What a folded text says by this grammar. Raises Unclear, and NotOneFigure for more than one figure holds."""
    keyword, rest = _split_keyword(plain)
    tokens = cut(rest)
    expression = read_expression(tokens)
    bench = Bench(context, context.conditions)
    if keyword in USES_WORDS and not any(map(str.isdigit, rest)):
        raise NotOneFigure(_unknown_word(keyword))  # 'dial lamp replaced'
    if keyword is not None:
        _must_use_it_all(keyword, expression)
        return answered(text, [WORDS[keyword](expression, bench)], context, tokens)
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
    near = difflib.get_close_matches(word, [*WORDS, *FIRST_WORDS], n=1, cutoff=0.8)
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
        return answered(text, [of_quantity(wanted.quantity, expression, bench)], bench.context, tokens)
    if not figures:
        raise Unclear("What figure?")
    if wanted is not None and _looks_like_a_channel(wanted.quantity, figures, bench.context):
        return _bare(text, expression, bench, figures[0], tokens)
    if wanted is not None and (draft := _as_wanted(wanted.quantity, expression, bench, figures)) is not None:
        others = _others(expression, bench, figures, besides=wanted.quantity)
        return answered(text, [draft, *others], bench.context, tokens)
    if len(expression.figures) > 1:
        return _pair(text, expression, bench, tokens)
    if expression.arrow is not None:
        return answered(text, [WORDS["swing"](expression, bench)], bench.context, tokens)
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
    return answered(text, [of_quantity(q, expression, bench) for q in choices], bench.context, tokens)


def _frequency_like(
    text: str, expression: Expression, bench: Bench, figure: Figure, tokens: list[Token]
) -> Understanding:
    hertz = figure.value * {"k": 1e3, "m": 1e6}.get(figure.unit or "", 1.0)
    if figure.unit == "m" and not (0.1 <= figure.value <= 2000 and figure.step < 0.02):
        raise Unclear(f"{figure.text}: MHz, mA, mV or mW?")
    if abs(hertz) >= 100e3:
        return answered(text, [of_quantity("carrier_frequency", expression, bench)], bench.context, tokens)
    error = of_quantity("frequency_error", expression, bench)
    if figure.signed:
        return answered(text, [error], bench.context, tokens)
    deviation = of_quantity("fm_deviation", expression, bench)
    if bench.conditions.mode == "fm" and bench.conditions.modulation == "on":
        return answered(text, [deviation, error], bench.context, tokens)
    return answered(
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
    return answered(text, drafts, bench.context, tokens, question=question)


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
    return answered(text, drafts, bench.context, tokens, question=ASK_UNIT.format(text=figure.text))


def answered(
    text: str, drafts: list[Draft], context: EntryContext, tokens: list[Token], question: str | None = None
) -> Understanding:
    """The senses of a text with their verdicts; the first is taken unless a question is asked. Raises NotOneFigure for
    a figure that cannot be."""
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
    readings = as_repeated(draft.readings, context)
    verdicts = tuple(verdicts_of(r, draft.conditions, context) for r in readings)
    principal = readings[0]
    state = f", {draft.conditions.state}" if principal.quantity.startswith("supply_") and draft.conditions.state else ""
    return Meaning(
        title=quantity(principal.quantity).name + state,
        figure=figure_words(principal),
        readings=readings,
        verdicts=verdicts,
        conditions=draft.conditions,
    )


def as_repeated(readings: tuple[Measured, ...], context: EntryContext) -> tuple[Measured, ...]:
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
        return {"infinite": "infinite", "not_measured": "weak"}.get(reading.reason or "", NO_FIGURE)
    if reading.ends is not None:
        return f"{format_value(reading.ends[0], reading.unit)} … {format_value(reading.ends[1], reading.unit)}"
    if reading.read_as == "nothing" and reading.bound == "upper":
        return f"none (under {format_value(reading.value, reading.unit, figures=3)})"
    if reading.value == 0 and reading.unit == "A" and reading.uncertainty and reading.bound is None:
        return f"none (under {format_value(reading.uncertainty, 'A', figures=2)})"  # a meter that shows nothing
    return format_figure(reading.quantity, reading.value, reading.uncertainty, reading.bound)
