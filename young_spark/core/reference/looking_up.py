"""From a search to the tables, and the rows of them, that answer it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from itertools import pairwise

from young_spark.core.gear import Model
from young_spark.core.judging import ChannelPlan
from young_spark.core.reference import worked
from young_spark.core.reference.asked import Asked, compared
from young_spark.core.reference.codes import marking
from young_spark.core.reference.table import Row, Table, shipped_tables

ROWS_OF_A_SEARCH = 8  # of one table; the whole of it is one touch away


@dataclass(frozen=True, slots=True)
class Shelf:
    """What the shop brings to its tables: its channel plans and which one the unit has, its models, the elements of
    its wattmeters, the frequency in Hz that the slip stands at."""

    plans: Mapping[str, ChannelPlan] = field(default_factory=dict)
    plan: str | None = None
    models: Mapping[str, Model] = field(default_factory=dict)
    elements: tuple[tuple[str, float], ...] = ()
    hz: float | None = None


@dataclass(frozen=True, slots=True)
class TableName:
    """A table by id and title, as a list of them names it."""

    id: str
    title: str


@dataclass(frozen=True, slots=True)
class _Lookup:
    """One table there is: the words that find it, the figures that it takes, and how it comes to be."""

    title: str
    words: str
    takes: frozenset[str]
    make: Callable[[Asked, Shelf], Table]

    @property
    def named(self) -> set[str]:
        return {compared(w) for w in f"{self.title} {self.words}".split()} - {""}


def table_names(shelf: Shelf) -> tuple[TableName, ...]:
    """Every table there is just now."""
    return tuple(TableName(name, lookup.title) for name, lookup in _lookups(shelf).items())


def whole_table(table: str, wanted: Asked, shelf: Shelf) -> Table | None:
    """One table with all its rows, for the figures of a search; None where there is none of that id."""
    lookup = _lookups(shelf).get(table)
    return lookup.make(wanted, shelf) if lookup else None


def look_up(wanted: Asked, shelf: Shelf) -> tuple[tuple[str, Table, bool], ...]:
    """The tables that answer a search, the best first: id, the table with the rows that fit, whether there are more.
    A marking comes before all others."""
    found = []
    for name, lookup in _lookups(shelf).items():
        if (scored := _fitting(lookup, wanted, shelf)) is not None:
            found.append((*scored, name))
    found.sort(key=lambda of: -of[0])
    tables = [
        (
            name,
            table.model_copy(update={"rows": rows[:ROWS_OF_A_SEARCH]}),
            len(rows) < len(table.rows) or len(rows) > ROWS_OF_A_SEARCH,
        )
        for _, table, rows, name in found
    ]
    read = marking(wanted)
    return (*((("marking", read, False),) if read else ()), *tables)


def _fitting(lookup: _Lookup, wanted: Asked, shelf: Shelf) -> tuple[float, Table, tuple[Row, ...]] | None:
    """How well a table answers, the table and the rows that do; None where a word or a figure says nothing to it. A
    word that some rows hold leaves only those, be it one of the table's own or not."""
    if (not wanted.words and not wanted.figures) or not set(wanted.figures) <= lookup.takes:
        return None
    score = float(len(wanted.figures))
    table = lookup.make(wanted, shelf)
    rows = table.rows
    for word in wanted.words:
        named = any(_begins(n, word) for n in lookup.named)
        said = tuple(r for r in rows if _says(r, word))
        if not named and not said:
            return None
        score += 2.0 * named + len(said or rows) ** -0.5
        rows = said or rows
    return (score, table, rows) if rows else None


def _begins(word: str, typed: str) -> bool:
    """Whether what was typed is the word or, from three signs on, how it begins."""
    return word == typed or (len(typed) > 2 and word.startswith(typed)) or (len(word) > 3 and typed == f"{word}s")


def _says(row: Row, word: str) -> bool:
    said = [compared(w) for cell in row.cells for w in cell.split()]
    said += [a + b for a, b in pairwise(said)]  # 'AWG 14' as awg14
    return any(_begins(s, word) for s in said)


def _lookups(shelf: Shelf) -> dict[str, _Lookup]:
    level, length = frozenset({"watts", "dbm"}), frozenset({"hz", "metres"})
    made = {
        **{name: _plan(plan) for name, plan in _plans_first(shelf)},
        "harmonics": _Lookup(
            "Harmonics of a channel", "harmonic spectrum multiples", frozenset({"hz", "channel"}), _harmonics
        ),
        "cables": _Lookup(
            "Cable loss", "coax coaxial cable feeder loss attenuation", length, lambda a, _: worked.cable_loss(a)
        ),
        "levels": _Lookup(
            "Level in every unit", "dbm watts volts microvolts emf dbuv convert", level, lambda a, _: worked.levels(a)
        ),
        "reflection": _Lookup(
            "SWR and return loss",
            "vswr rl reflected reflection mismatch",
            frozenset({"watts"}),
            lambda a, _: worked.reflection(a),
        ),
        "elements": _Lookup(
            "Wattmeter elements", "element slug", frozenset({"watts"}), lambda a, s: worked.elements(a, s.elements)
        ),
        "pad-to-use": _Lookup(
            "Pad before an input",
            "attenuator protect input scope analyser",
            frozenset({"watts"}),
            lambda a, _: worked.pad_to_use(a),
        ),
        "pads": _Lookup(
            "Pads, 50 Ω",
            "attenuator attenuators resistors pi tee",
            frozenset({"watts", "db"}),
            lambda a, _: worked.pads(a),
        ),
        "wires": _Lookup(
            "Wires and their fuses",
            "wire gauge awg mm2 copper fuse drop lead",
            frozenset({"metres"}),
            lambda a, _: worked.wires(a),
        ),
        "s-meter": _Lookup("S-meter", "smeter signal strength s9 s-units", frozenset(), lambda a, _: worked.s_meter(a)),
    }
    if any(model.plugs for model in shelf.models.values()):
        made["plugs"] = _Lookup(
            "Plugs of this shop's models", "pin pins wiring microphone mic plug connector socket", frozenset(), _plugs
        )
    made |= {name: _data(table) for name, table in shipped_tables().items()}
    return made


def _data(table: Table) -> _Lookup:
    return _Lookup(table.title, table.words, frozenset(), lambda _a, _s: table)


def _plans_first(shelf: Shelf) -> list[tuple[str, ChannelPlan]]:
    """The plan of the unit on the bench first, then those that more of the shop's models keep to."""
    kept_to = [model.channel_plan for model in shelf.models.values()]
    return sorted(shelf.plans.items(), key=lambda of: (of[0] != shelf.plan, -kept_to.count(of[0])))


def _plan(plan: ChannelPlan) -> _Lookup:
    def make(wanted: Asked, _shelf: Shelf) -> Table:
        channels = plan.channels
        if "channel" in wanted.figures:
            channels = tuple(c for c in channels if c.number == wanted.figures["channel"])
        elif "hz" in wanted.figures:
            near, error = plan.nearest(wanted.figures["hz"])
            channels = (near,) if abs(error) <= plan.reach_hz else ()
        rows = tuple(
            Row(
                cells=(
                    str(c.number),
                    f"{c.hz / 1e6:.5f} MHz",
                    "; ".join(w for w in ("" if c.allowed else "not to be transmitted on", c.remark) if w),
                ),
                field=f"ch {c.number}",
            )
            for c in channels
        )
        return Table(title=plan.title, source=plan.source, columns=("Channel", "Carrier", "Mind"), rows=rows)

    return _Lookup(plan.title, "channel channels plan frequency frequencies", frozenset({"hz", "channel"}), make)


def _harmonics(wanted: Asked, shelf: Shelf) -> Table:
    hz, number = wanted.figures.get("hz"), wanted.figures.get("channel")
    if hz is None and number is not None:
        for name, plan in _plans_first(shelf):
            channel = next((c for c in plan.channels if c.number == number), None)
            if channel is not None:
                return worked.harmonics(channel.hz, f"channel {channel.number}, {shelf.plans[name].title}")
    hz = hz or shelf.hz or worked.USUAL_HZ
    return worked.harmonics(hz, f"{hz / 1e6:.9g} MHz")


def _plugs(_wanted: Asked, shelf: Shelf) -> Table:
    rows = tuple(
        Row(cells=(model.title, plug.name, pin.pin, pin.carries, pin.mind), field=f"{plug.name} pin {pin.pin} ")
        for model in shelf.models.values()
        for plug in model.plugs
        for pin in plug.pins
    )
    return Table(
        title="Plugs of this shop's models",
        source="the models' own sheets",
        columns=("Model", "Plug", "Pin", "Carries", "Mind"),
        rows=rows,
    )
