"""'mic input 120mv', 'fan 180ma', 'hv bleeder 50k': one figure in a unit of the bench behind words of which no list
makes sense. It may have been read at the point that they name: that is asked, and neither refused nor kept as words."""

from collections.abc import Sequence
from dataclasses import replace

from young_spark.core.entry.believed.surety import is_possible
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Meaning, Understanding
from young_spark.core.entry.frames.together import read
from young_spark.core.entry.lines.story_guess import note_of
from young_spark.core.entry.naming.names_of_points import READ_AT_A_POINT, READ_ELSEWHERE_TOO, SIDES, may_be_of_a_name
from young_spark.core.entry.understood.answers import label_with_its_point
from young_spark.core.entry.understood.several import ground_of, placed_readings
from young_spark.core.entry.understood.taken import taken_together
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.tokens import Unclear
from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.ground import OutOfDomain

_MOST_WORDS = 4
_MOST_ANSWERS = 4
_LISTED = {"place", "quantity", "item"}
_THOUSANDS = "k"
_AS_IT_IS_SET = {"limit", "limited", "set", "trip", "trips"}


def asked_at_its_own_name(text: str, plain: str, meant: Understanding, context: EntryContext) -> Understanding:
    """A text that is a question, or a plain note, with that answer in front of the others where it has a sense."""
    only_noted = meant.story is not None and meant.story.kind == "note" and meant.question is None
    if meant.chosen is not None or meant.sets or not (meant.question is not None or only_noted):
        return meant
    sense = _at_the_point(text, plain, context)
    if sense is None or any(sense.readings[0].quantity == other.readings[0].quantity for other in meant.meanings):
        return meant
    answer = Choice(label=label_with_its_point(sense), sense=len(meant.meanings))
    return Understanding(
        text=text,
        meanings=(*meant.meanings, sense),
        question=meant.question if meant.choices else f"{text.strip()}: is that meant?",
        choices=(answer, *meant.choices)[:_MOST_ANSWERS],
        guards=meant.guards,
        as_note=meant.as_note or note_of(text, plain),
    )


def _at_the_point(text: str, plain: str, context: EntryContext) -> Meaning | None:
    """The sense of a figure at the point that the words in front of it name; None where they name none."""
    facts = cut(as_signs(plain))
    name, figure = facts[:-1], facts[-1] if facts else None
    if figure is None or figure.kind != "figure" or figure.fresh or not _is_a_name(name):
        return None
    if figure.unit not in {*READ_AT_A_POINT, *READ_ELSEWHERE_TOO, _THOUSANDS}:
        return None
    called = " ".join(str(fact.is_) if fact.kind == "place" else fact.text for fact in name)
    there = Fact("place", called, of=called, is_=called)
    breath = read((there, _in_ohms(figure)), ground_of(context))
    if not breath.sure or len(breath.said) != 1 or not is_possible(breath.said[0], context):
        return None
    try:
        placed = placed_readings(breath, context)
    except (Unclear, OutOfDomain, OverflowError):
        return None
    return taken_together(text, placed, "", context).meanings[0] if placed else None


def _in_ohms(figure: Fact) -> Fact:
    """'hv bleeder 50k': at a point, a letter of thousands is of ohms."""
    return replace(figure, unit="Ω") if figure.unit == _THOUSANDS else figure


def _is_a_name(name: Sequence[Fact]) -> bool:
    names_a_quantity = all(fact.kind == "quantity" for fact in name)  # 'h2 -48dbm': what it is, and not where
    whole = 0 < len(name) <= _MOST_WORDS and not any(fact.fresh for fact in name[1:])
    return whole and not names_a_quantity and all(map(_may_be_of_it, name))


def _may_be_of_it(fact: Fact) -> bool:
    told = fact.text in _AS_IT_IS_SET or fact.text in vocabulary().file.words["doubting"]
    unknown = fact.kind == "word" and fact.text.isalpha() and may_be_of_a_name(fact.text)
    return (unknown and not told) or fact.kind in _LISTED or fact.text in SIDES
