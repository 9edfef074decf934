"""Several readings in one line, each of which a clause says in full: '3.8w on ch19, mod 85% and h2 -62dbc'.

A clause that is a reading by itself means beside others what it means alone. Where it says no place, the one before
holds on, as the hand stays there; a place at the very end is of those in front too, unless it leads its clause."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from young_spark.core.entry.address import FREQUENCY_KEYS
from young_spark.core.entry.fact import Fact
from young_spark.core.entry.facts import cut
from young_spark.core.entry.follows import follows_from
from young_spark.core.entry.frames import read
from young_spark.core.entry.meaning import EntryContext
from young_spark.core.entry.moved import moved
from young_spark.core.entry.said import Breath, Ground, Said
from young_spark.core.entry.several import ground_of
from young_spark.core.entry.vocabulary import manner

MOST_CLAUSES = 8
JOINER = re.compile(r"\s*[,;]\s+|\s+(?:and|&|\+|/|plus)\s+")
HELD = ("channel", "frequency_hz", "mode")  # of a place, by the clauses behind it
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


def clause_by_clause(plain: str, context: EntryContext) -> Breath | None:
    """The readings of a folded text of several clauses, where each says one in full; None of any other text."""
    parts = [part for part in JOINER.split(plain) if part.strip()]
    if not 1 < len(parts) <= MOST_CLAUSES or not all(_is_plain(part) for part in parts):
        return None
    alone = [_clause(part, context) for part in parts]
    clauses = [clause for clause in alone if clause is not None]
    if len(clauses) < len(parts) or sum(clause.said is not None for clause in clauses) < LEAST or _is_heard(clauses):
        return None
    return _joined(parts, clauses, context)


LEAST = 2  # readings


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
    said, stated = figures[0], any(fact.of == "state" for fact in facts)
    if not _is_said_in_full(said, stated=stated) or any(f.text in SHORT and f.of != said.quantity for f in facts):
        return None
    place = {} if said.where_added else {key: said.address[key] for key in HELD if key in said.address}
    if not any(fact.of == "mode" for fact in facts):
        place.pop("mode", None)
    return _Clause(said, place, leads=facts[0].kind in {"where", "link"} or _is_a_frequency(facts[0].text))


def _band_of_the_plan(facts: Sequence[Fact], ground: Ground) -> dict[str, object]:
    """'14.2' before what was read there: exactly where an open line is wanted."""
    bare = len(facts) == 1 and facts[0].kind == "figure" and facts[0].unit is None and facts[0].decimals > 0
    hz = facts[0].value * 1e6 if bare else 0.0
    return {"frequency_hz": hz} if any(abs(hz - known) < 1 for known in ground.frequencies) else {}


def _is_a_frequency(text: str) -> bool:
    return re.fullmatch(r"\d+(?:\.\d+)? ?mhz|\d+\.\d+", text) is not None


def _is_heard(clauses: Sequence[_Clause]) -> bool:
    """'sens 0.5uv, mod 30%': the depth of the generator, and none of the unit."""
    read = {clause.said.quantity: clause.said.value for clause in clauses if clause.said is not None}
    return read.get("am_depth") == OF_A_GENERATOR and any(str(name).startswith("sensitivity_") for name in read)


OF_A_GENERATOR = 30.0  # %, for a sensitivity


def _is_said_in_full(said: Said, *, stated: bool) -> bool:
    if said.leans or said.lent or said.quantity is None or said.value is None:
        return False
    if said.quantity == "supply_current":
        return stated
    return said.named or (said.in_its_unit and (said.unit in {"W", "%"} or said.quantity == "frequency_error"))


def _joined(parts: Sequence[str], clauses: Sequence[_Clause], context: EntryContext) -> Breath | None:
    here: dict[str, object] = _behind_them_all(clauses)
    said: list[Said] = []
    for part, clause in zip(parts, clauses, strict=True):
        if clause.said is None:
            here = dict(clause.place)
            continue
        again = _clause_there(part, here, context)
        if again is None or again.said is None:
            return None
        said.append(_drawn_there(again.said, here | clause.place))
        if clause.place:
            here = dict(clause.place)
    derived = follows_from(said, (), ground_of(context).hand)
    return Breath((*said, *derived))


def _clause_there(part: str, here: dict[str, object], context: EntryContext) -> _Clause | None:
    """A clause where the hand is by then; 'usb carrier 48 down, mod 85%': a depth is of no sideband that was said."""
    without_mode = {key: value for key, value in here.items() if key != "mode"}
    return _clause(part, _standing(context, here)) or _clause(part, _standing(context, without_mode))


def _drawn_there(said: Said, here: dict[str, object]) -> Said:
    """'am ch19 3.7w, tx 1.35a': what the unit draws while it sends there."""
    sends = said.quantity == "supply_current" and said.address.get("state") == "transmit"
    return replace(said, address={**here, **said.address}) if sends else said


def _behind_them_all(clauses: Sequence[_Clause]) -> dict[str, object]:
    """The first place that is said, where it stands behind its figure or at the very end: of what is in front of it."""
    first = next((n for n, clause in enumerate(clauses) if clause.place), None)
    if first is None or (clauses[first].leads and clauses[first].said is not None):
        return {}
    if clauses[first].said is None and first < len(clauses) - 1:
        return {}
    return dict(clauses[first].place)


def _standing(context: EntryContext, here: dict[str, object]) -> EntryContext:
    """The context with the hand where the text says that it is."""
    if not here:
        return context
    if FREQUENCY_KEYS & here.keys():
        here = {"channel": None, "frequency_hz": None, **here}
    lent = tuple(key for key in context.lent if key not in here)
    return context.model_copy(update={"conditions": context.conditions.model_copy(update=here), "lent": lent})
