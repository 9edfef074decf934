"""'replaced r12, 220 ohm now', 'cleaned fuse holder, 3mv now': what is read at points, behind what was done to one, was
read at that one. A figure of the bench that would only be words of the repair is a reading there."""

import re
from collections.abc import Callable

from young_spark.core.entry.believed.nothing_lost import WORKED_OUT
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Meaning, Understanding
from young_spark.core.entry.lines.story_guess import note_of
from young_spark.core.entry.naming.names_of_points import OF_ITS_STATE
from young_spark.core.entry.understood.answers import label_with_its_point
from young_spark.core.entry.understood.then_read import A_PART
from young_spark.core.figure import Conditions, quantity

Reader = Callable[[str, EntryContext], Understanding]

_MENDED = (
    r"(?:re-?)?(?:cleaned|soldered|tightened|crimped|seated|flowed|greased|pasted|bonded)|re-?made|burnished|scraped|"
    r"repaired|refixed|nipped up|bridged"
)
_PUT_IN = r"replaced|changed|fitted|swapped|renewed|new|lifted|removed|disconnected|unsoldered|bypassed"
# behind what was put in, only words that say that it was read make it no value of the part
_FIGURE = r"[+-]?\d*\.?\d+ ?(?:m?v|m?a|k?ohms?|m(?:illi)?ohms?|r|c|deg\w*|uf|nf|pf|uh)"
_DONE_AND_READ = re.compile(
    rf"(?:(?P<mended>{_MENDED})|(?:{_PUT_IN})) (?:the |its |his )?"
    r"(?P<what>[a-z][a-z ]*?(?:[a-z]{1,3}\d{1,4})?|[a-z]{1,3}\d{1,4})"
    rf"(?:,? (?P<now>now|reads|is now)|,)? (?P<read>(?:esr )?{_FIGURE})(?: (?P<tail>now|drop|ok|good|across it|there))*"
)
_WHAT = re.compile(
    rf"(?:{_MENDED}|{_PUT_IN}) (?:the |its |his )?"
    r"(?P<what>[a-z][a-z ]*(?: \d{1,2}(?![\d.]))?)(?:,| \d| now\b)"
)
_AT_A_POINT = {"resistance", "esr", "capacitance", "inductance", "temperature", "junction_voltage"}
_FED = re.compile(r"\b(?:supply|psu|batt?\w*|fed|feed|input|rail|dc|power|leads?|fuses?|cable)\b")
_MOST_WORDS = 3
_DEEDS = {"did", "found"}


def read_where_it_was_mended(plain: str, meant: Understanding, context: EntryContext, read: Reader) -> Understanding:
    """A line of what was done, with what was read at a point at the one that the words name."""
    if (printed := _NEW.match(plain)) is not None and meant.story is None:
        return _asked_whether_printed(printed[0], meant)
    if meant.story is None or meant.story.kind not in _DEEDS or meant.question is not None:
        return meant
    if meant.chosen is None:
        return _with_its_figure(plain, meant, context, read)
    return _at_the_point(plain, meant, context, read)


_NEW = re.compile(r"(?:new|replacement|spare) [a-z][a-z ]*?[a-z]\d{0,3} (?P<figure>[\d.]+ ?(?:v|m?a))$")


def _asked_whether_printed(plain: str, meant: Understanding) -> Understanding:
    """'new lamp 12v': what is printed on it, or what was read there."""
    if meant.chosen is None or meant.meanings[meant.chosen].conditions.place is None:
        return meant
    sense = meant.meanings[meant.chosen]
    choice = Choice(label=label_with_its_point(sense), sense=0)
    return meant.model_copy(
        update={
            "meanings": (sense,), "chosen": None, "choices": (choice,), "as_note": note_of(meant.text, plain),
            "question": f"{plain}: read there, or printed on it?",
        }
    )  # fmt: skip


def _with_its_figure(plain: str, meant: Understanding, context: EntryContext, read: Reader) -> Understanding:
    """A repair whose figure nobody read: it was read at what was mended, or is what is printed on what was put in."""
    found = _DONE_AND_READ.fullmatch(plain)
    if found is None or not (found["mended"] or found["now"] or found["tail"]):
        return meant
    there = read(f"{_named(found['what'])} {found['read']}", context)
    if there.chosen is None or there.story is not None or not there.meanings[there.chosen].conditions.place:
        return meant
    return there.model_copy(update={"text": meant.text, "story": meant.story, "as_note": meant.as_note})


def _at_the_point(plain: str, meant: Understanding, context: EntryContext, read: Reader) -> Understanding:
    meaning = meant.meanings[meant.chosen or 0]
    what = _what_was_mended(plain)
    typed = [r for r in meaning.readings if r.method != WORKED_OUT]
    if what is None or len(typed) != 1 or meaning.conditions_of(0).place or meaning.conditions_of(0).item:
        return meant
    (reading,) = typed
    if reading.value is None:
        return meant
    if reading.quantity == "supply_voltage" and _FED.search(plain) is None:
        return _asked_at_the_point(meant, f"{what} {reading.value:g} v", context, read)
    if reading.quantity not in _AT_A_POINT:
        return meant
    place = _point_called(what, context, read)
    return meant if place is None else _moved_to(meant, meaning, place)


def _point_called(what: str, context: EntryContext, read: Reader) -> str | None:
    """The point that words name, as the field keeps it: it is asked for with a figure that stands at any."""
    there = read(f"{what} 1 ohm", context)
    return None if there.chosen is None else there.meanings[there.chosen].conditions.place


def _moved_to(meant: Understanding, meaning: Meaning, place: str) -> Understanding:
    def at(where: Conditions) -> Conditions:
        return where.model_copy(update={"place": place})

    moved = meaning.model_copy(update={"conditions": at(meaning.conditions), "each": tuple(map(at, meaning.each))})
    return meant.model_copy(update={"meanings": (moved,), "chosen": 0})


def _asked_at_the_point(meant: Understanding, form: str, context: EntryContext, read: Reader) -> Understanding:
    """'lifted r9, 8.1v': the volts of the point, or of what feeds the unit."""
    there, fed = read(form, context), meant.meanings[meant.chosen or 0]
    if there.chosen is None:
        return meant
    senses = (there.meanings[there.chosen], fed)
    choices = tuple(Choice(label=label_with_its_point(sense), sense=n) for n, sense in enumerate(senses))
    asked = f"{quantity(fed.readings[0].quantity).name}, or of that point?"
    return meant.model_copy(update={"meanings": senses, "chosen": None, "question": asked, "choices": choices})


def _what_was_mended(plain: str) -> str | None:
    """The one part or point that a line says something was done to."""
    parts = set(A_PART.findall(plain))
    if parts:
        return parts.pop() if len(parts) == 1 else None
    found = _WHAT.search(plain)
    return None if found is None else _named(found["what"]) or None


def _named(what: str) -> str:
    words = [word for word in what.split() if word not in OF_ITS_STATE]
    return " ".join(words) if len(words) <= _MOST_WORDS else ""
