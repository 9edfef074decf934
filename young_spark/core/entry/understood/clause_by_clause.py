"""Several readings in one line, each of which a clause says in full: '3.8w on ch19, mod 85% and h2 -62dbc'.

A clause that is a reading by itself means beside others what it means alone. Where it says no place, the one before
holds on, as the hand stays there; a place at the end of a sentence is of those in front too, unless it leads its
clause."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from young_spark.core.entry.believed.agreeing import at_one_place
from young_spark.core.entry.facts.address import FREQUENCY_KEYS, NOT_AT_A_CHANNEL, OF_A_PART, OF_A_SUPPLY
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.entry.facts.said import Breath, Ground, Said
from young_spark.core.entry.facts.sentence import LONELY_WORDS
from young_spark.core.entry.frames.together import read
from young_spark.core.entry.lines.moved import moved
from young_spark.core.entry.sums.follows import follows_from
from young_spark.core.entry.understood.several import ground_of
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.vocabulary import manner

MOST_CLAUSES = 8
STOP = re.compile(r"\s*;\s+|\.\s+(?=[a-z\d.+-])")  # nothing behind it says where what is before it was read
JOINER = re.compile(r"\s*,\s+(?:then |and )?|,(?:then |and )|,(?=[a-z])|\s+(?:and then|and|then|&|\+|/|plus)\s+")
IN_A_CLAUSE = {"figure", "quantity", "word", "where", "how", "link", "side"}
OF_A_PLACE = {"channel", "band", "frequency_hz", "at_hz", "mode", "state", "setting_word"}
# what was, what came of it, and links of more than one figure: the whole line says those
OF_THE_WHOLE = {
    "was", "were", "now", "before", "after", "then", "again", "from", "not", "no", "of", "between", "same", "each",
    "both", "all", "fwd", "forward", "ref", "refl", "rfl", "reflected", "total", "with", "without",
}  # fmt: skip
LINKS = {"upper", "lower", "about", "at", "reads", "either side"}
SHORT = {"in", "out"}  # names that '12w in' of a transmitter may leave unread: the whole line says what went in
DASH = "-"  # between a place and what was read there


@dataclass(frozen=True)
class _Clause:
    """A reading that a clause says by itself, or only a place (`said` is None)."""

    said: Said | None
    place: dict[str, object]  # that it says
    leads: bool  # whether the place stands in front of its figure
    remark: str = ""  # words that say how it was read


def clause_by_clause(plain: str, context: EntryContext) -> Breath | None:
    """The readings of a folded text of several clauses, where each says one in full; None of any other text."""
    parts = [as_signs(part) for sentence in STOP.split(plain) for part in _clauses_in(sentence)]
    if not 1 < len(parts) <= MOST_CLAUSES or not all(_is_plain(part) for part in parts) or _are_of_a_switch(parts):
        return None
    alone = [_clause(part, context) for part in parts]
    clauses = [clause for clause in alone if clause is not None]
    if len(clauses) < len(parts) or sum(clause.said is not None for clause in clauses) < LEAST:
        return None
    if _is_heard(clauses) or _lean_on_each_other(clauses):
        return None
    return _joined(parts, clauses, _behind_them_all(clauses[: len(_clauses_in(STOP.split(plain)[0]))]), context)


def _are_of_a_switch(parts: Sequence[str]) -> bool:
    """'high: 45w, mid: 21w, low: 5.5w': together they are the settings of a switch, and a side by themselves."""
    watts = [facts for facts in map(cut, parts) if any(f.kind == "figure" and f.unit in {"W", "A"} for f in facts)]
    return sum(any(f.kind == "side" or f.of == "setting_word" for f in facts) for facts in watts) >= LEAST


LEAST = 2  # readings
_CHANNEL = r"(?:on )?ch(?:an(?:nel)?)?\.? ?\d{1,3}\b"
LED_BY_A_CHANNEL = re.compile(rf"(?<! on)(?<!^on)\s+(?={_CHANNEL}(?!$))")


def _clauses_in(sentence: str) -> list[str]:
    return [part for clause in JOINER.split(sentence) for part in _each_led_by_its_channel(clause) if part.strip()]


def _each_led_by_its_channel(clause: str) -> list[str]:
    """'ch16 9w ch16 408hz high ch6 9w': where a channel begins the clause, each of them begins its own."""
    return LED_BY_A_CHANNEL.split(clause) if re.match(_CHANNEL, clause) else [clause]


def _is_plain(part: str) -> bool:
    """Whether nothing in a clause can reach beyond it."""
    return all(
        fact.kind in IN_A_CLAUSE
        and fact.text not in OF_THE_WHOLE
        and (fact.kind not in {"where", "how"} or fact.of in OF_A_PLACE)
        and (fact.kind != "link" or fact.of in LINKS)
        for fact in cut(part)
    )


def _clause(part: str, context: EntryContext) -> _Clause | None:
    facts = tuple(fact for fact in cut(part) if fact.text != DASH)
    ground = ground_of(context)
    if sets := moved(facts, ground) or _band_of_the_plan(facts, ground):
        return _Clause(None, sets, leads=True)
    breath = read(facts, ground)
    figures = [said for said in breath.said if not said.derived]
    if not breath.sure or len(figures) != 1 or not manner().issuperset(breath.remark.split()):
        return None
    said = figures[0]
    stated, unread = _has(facts, "state"), any(f.text in SHORT and f.of != said.quantity for f in facts)
    if unread or not _is_said_in_full(said, stated=stated):
        return None
    return _Clause(said, _place_said(said, facts), leads=_leads(facts, ground), remark=breath.remark)


def _has(facts: Sequence[Fact], of: str) -> bool:
    return any(fact.of == of for fact in facts)


def _place_said(said: Said, facts: Sequence[Fact]) -> dict[str, object]:
    """The part of its address that a clause says."""
    told = (*(() if said.where_added else ("channel", "frequency_hz")), *(("mode",) if _has(facts, "mode") else ()))
    return {key: said.address[key] for key in told if key in said.address}


def _leads(facts: Sequence[Fact], ground: Ground) -> bool:
    """Whether a clause begins with where it was read."""
    first = next((fact for fact in facts if fact.text not in LONELY_WORDS), facts[0])
    carrier = first.kind == "figure" and (ground.is_planned_megahertz(first) or ground.as_carrier(first) is not None)
    return carrier or first.kind in {"where", "link"}


def _band_of_the_plan(facts: Sequence[Fact], ground: Ground) -> dict[str, object]:
    """'14.2' before what was read there: exactly where an open line is wanted."""
    alone = len(facts) == 1 and facts[0].kind == "figure" and ground.is_planned_megahertz(facts[0])
    return {"frequency_hz": facts[0].value * 1e6} if alone else {}


def _is_heard(clauses: Sequence[_Clause]) -> bool:
    """'sens 0.5uv, mod 30%': the depth of the generator, and none of the unit."""
    read = {clause.said.quantity: clause.said.value for clause in clauses if clause.said is not None}
    return read.get("am_depth") == OF_A_GENERATOR and any(str(name).startswith("sensitivity_") for name in read)


OF_A_GENERATOR = 30.0  # %, for a sensitivity


def _lean_on_each_other(clauses: Sequence[_Clause]) -> bool:
    """'carrier 4w, pep 14w' is the peak of that carrier, and 'supply 13.2v, 3.8w' what fed it when it sent."""
    read = {clause.said.quantity: "mode" in clause.place for clause in clauses if clause.said is not None}
    of_its_carrier = "carrier_power" in read and not read.get("peak_envelope_power", True)
    return of_its_carrier or "supply_voltage" in read


def _is_said_in_full(said: Said, *, stated: bool) -> bool:
    if said.leans or said.lent or said.quantity is None or said.value is None:
        return False
    if said.quantity == "supply_current":
        return stated
    return said.named or (said.in_its_unit and (said.unit in {"W", "%"} or said.quantity == "frequency_error"))


def _joined(
    parts: Sequence[str], clauses: Sequence[_Clause], here: dict[str, object], context: EntryContext
) -> Breath | None:
    said: list[Said] = []
    for part, clause in zip(parts, clauses, strict=True):
        if clause.said is None:
            here = _moved_to(clause.place, here)
            continue
        left = {key: value for key, value in here.items() if key not in clause.place}
        again = clause if _says_where(clause) or not left else _clause_there(part, left, context)
        if again is None or again.said is None:
            return None
        said.append(_drawn_there(again.said, here | clause.place))
        here = _moved_to(clause.place, here)
    said = list(at_one_place(tuple(said)))
    derived = follows_from(said, (), ground_of(context).hand)
    return Breath((*said, *derived), " ".join(clause.remark for clause in clauses if clause.remark))


def _moved_to(place: dict[str, object], here: dict[str, object]) -> dict[str, object]:
    """Where the hand is behind a clause: a mode alone leaves it on its channel."""
    return {**here, **place} if FREQUENCY_KEYS.isdisjoint(place) else dict(place)


def _says_where(clause: _Clause) -> bool:
    """Whether a clause says its place by itself, or is of none: what the unit draws, what heats a valve."""
    of_none = clause.said is not None and clause.said.quantity in OF_NO_CHANNEL
    return of_none or not FREQUENCY_KEYS.isdisjoint(clause.place)


OF_NO_CHANNEL = {*OF_A_SUPPLY, *NOT_AT_A_CHANNEL, *OF_A_PART}


def _clause_there(part: str, here: dict[str, object], context: EntryContext) -> _Clause | None:
    """A clause with where the hand is by then; 'usb carrier 48 down, mod 85%': a depth is of no sideband."""
    where = [words for key, words in PLACES.items() if key in here]
    said = " ".join(words(here) for words in where)
    told = " ".join(PLACES[key](here) for key in FREQUENCY_KEYS if key in here and key in PLACES)
    return _clause(f"{said} {part}", context) or _clause(f"{told} {part}", context) or _clause(part, context)


PLACES: dict[str, Callable[[dict[str, object]], str]] = {
    "channel": lambda at: f"ch{int(float(str(at['channel'])))}",
    "frequency_hz": lambda at: f"{float(str(at['frequency_hz'])) / 1e6:.9g} mhz",
    "mode": lambda at: str(at["mode"]),
}


def _drawn_there(said: Said, here: dict[str, object]) -> Said:
    """'am ch19 3.7w, tx 1.35a': what the unit draws while it sends there."""
    sends = said.quantity == "supply_current" and said.address.get("state") == "transmit"
    return replace(said, address={**here, **said.address}) if sends else said


def _behind_them_all(clauses: Sequence[_Clause]) -> dict[str, object]:
    """The first place of a sentence, where it stands behind its figure or at the end: of what is in front of it."""
    first = next((n for n, clause in enumerate(clauses) if clause.place), None)
    if first is None or (clauses[first].leads and clauses[first].said is not None):
        return {}
    if clauses[first].said is None and first < len(clauses) - 1:
        return {}
    return dict(clauses[first].place)
