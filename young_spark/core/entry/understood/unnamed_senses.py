"""What the bare figures of a text may be of, where nothing in it names them: what was read last, what the current line
wants, what else the plan wants, the likeliest first."""

from collections.abc import Iterator, Sequence

from young_spark.core.entry.believed.misread import is_misread
from young_spark.core.entry.believed.surety import is_possible, tells_apart, turns
from young_spark.core.entry.believed.usual import how_far
from young_spark.core.entry.facts.by_unit import SIDEBANDS
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.entry.facts.said import Breath
from young_spark.core.entry.frames.together import read
from young_spark.core.entry.understood.several import ground_of
from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.figure import quantity

LONGEST = 16  # facts; more of them tell of something else
MOST_TRIED = 6
FARTHEST = 1.0  # decades from what is usual; also behind the likeliest
OF_UNIT: dict[str | None, tuple[str, ...]] = {
    None: ("carrier_power", "swr"), "%": ("efficiency", "am_depth"), "A": ("supply_current", "idle_current"),
    "V": ("supply_voltage",), "W": ("carrier_power", "peak_envelope_power"), "uV": ("sensitivity_12db_sinad",),
    "Hz": ("frequency_error",), "k": ("fm_deviation",),
}  # fmt: skip
RATIOS = {"dB", "dBc"}  # between figures, and of none that carries another unit
BESIDE_ANY: set[str | None] = {"s"}  # how long it was keyed
OF_SIDEBANDS = ("peak_envelope_power", "carrier_suppression")  # what is read on each of them
LATELY = 4  # readings
WORKED_OUT = {"power_fade", "power_step", "power_flatness", "gain", "efficiency", "return_loss", "squelch_hysteresis"}
NO_SENSES = {"condition", "carrier_frequency", "readability"}
# how much less likely it is, in decades, that a hand goes on with what it read last, reads what is wanted, goes on
# with what it read before, or none of these
AFTER_THE_LAST, AS_WANTED, AFTER_OTHERS, OTHERWISE = 0.0, 0.1, 0.3, 0.6


def unnamed_senses(facts: Sequence[Fact], plain: str, context: EntryContext) -> Iterator[Breath]:
    """The breaths that a text is under the name of each quantity that its bare figures may be of, the likeliest
    first."""
    figures = [f for f in facts if f.kind == "figure"]
    named = any(f.kind == "quantity" for f in facts)
    if named or not figures or len(facts) > LONGEST:
        return
    tried = [(_weight(breath, name, less, context), breath) for name, less, breath in _tried(plain, context)]
    likely = sorted(((far, n) for n, (far, _) in enumerate(tried)), key=lambda one: one[0])
    yield from (tried[n][1] for far, n in likely if far <= min(FARTHEST, likely[0][0] + FARTHEST))


def _tried(plain: str, context: EntryContext) -> Iterator[tuple[str, float, Breath]]:
    ground = ground_of(context)
    facts = cut(plain)
    units = {f.unit for f in facts if f.kind == "figure"}
    timed = any(f.of == "after_s" for f in facts)
    on_sidebands = bool(facts) and all(f.is_ in SIDEBANDS for f in facts if f.of == "mode")
    modes = on_sidebands and any(f.of == "mode" for f in facts)
    names = (dict.fromkeys(OF_SIDEBANDS, AS_WANTED) if modes else {}) | _names(units, timed, context)
    tenths = any(f.kind == "figure" and f.unit is None and f.decimals for f in facts)
    of_none = OF_WHOLE_HERTZ if tenths else frozenset()
    may_be = {name: less for name, less in names.items() if _may_carry(name, units) and name not in of_none}
    for name, less in list(may_be.items())[:MOST_TRIED]:
        breath = read(cut(f"{quantity(name).name.lower()} {plain}"), ground)
        if breath.sure and _is_of(breath, name, plain, context) and not _lends_a_unit(breath, name, facts):
            yield name, less, breath


OF_WHOLE_HERTZ = frozenset({"frequency_error"})  # of which no hand types tenths


def _may_carry(name: str, units: set[str | None]) -> bool:
    """Whether figures in these units may be of a quantity: some of them bare, or all of them in its units."""
    own = _own_units(name)
    return bool(units & {None, *own}) and not units & RATIOS - own if None in units else units <= own | BESIDE_ANY


def _own_units(name: str) -> set[str | None]:
    said = vocabulary().file.quantity.get(name)
    return set(said.units) if said is not None else set()


def _names(units: set[str | None], timed: bool, context: EntryContext) -> dict[str, float]:
    """The quantities that may be meant, each with how much less likely it is."""
    names: dict[str, float] = {}
    for name in reversed([e.quantity for e in context.earlier[-LATELY:] if e.quantity not in WORKED_OUT]):
        names.setdefault(name, AFTER_THE_LAST if not names else AFTER_OTHERS)
    if context.expected is not None:
        names.setdefault(context.expected.quantity, AS_WANTED)
    for name in reversed(dict.fromkeys(e.quantity for e in context.earlier)):
        if units - {None} and units <= _own_units(name):
            names.setdefault(name, AFTER_OTHERS)  # what was read before in this very unit
    if timed:
        names.setdefault("carrier_power", AFTER_THE_LAST)  # what is held down fades
    of_units = (name for unit in sorted(units, key=str) for name in OF_UNIT.get(unit, ()))
    for name in (*of_units, *(p.quantity for p in context.points)):
        names.setdefault(name, OTHERWISE)
    sidebands = not context.modes or not SIDEBANDS.isdisjoint(context.modes)
    of_none = NO_SENSES if sidebands else NO_SENSES | {"peak_envelope_power"}
    return {name: less for name, less in names.items() if name not in of_none}


def _is_of(breath: Breath, name: str, plain: str, context: EntryContext) -> bool:
    """Whether the bare figures of a breath were read as this quantity, and every figure of it can be."""
    said = [s for s in breath.said if not s.derived]
    bare = [s for s in said if not s.in_its_unit] or said
    can_be = all(s.quantity and is_possible(s, context) for s in breath.said)
    of_it = bool(bare) and all(s.quantity == name for s in bare)
    return can_be and of_it and not (turns(breath) or is_misread(breath, plain)) and tells_apart(breath)


def _lends_a_unit(breath: Breath, name: str, facts: Sequence[Fact]) -> bool:
    """'19.2 after 30 min at 46 degrees': whether a bare figure took the unit of one that stands beside it."""
    others = sum(not s.derived and s.quantity != name for s in breath.said)
    return others > sum(f.kind == "figure" and f.unit is not None for f in facts)


def _weight(breath: Breath, name: str, less: float, context: EntryContext) -> float:
    """How unlikely a sense is: how far the farthest of its figures is from what is usual, in decades."""
    return less + max(how_far(s, context) for s in breath.said if s.quantity == name)
