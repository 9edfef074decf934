"""Tables that fill themselves: figures of one kind at several places stand side by side, with what follows from them
and what stands out. Every cell is a reading of the slip; nothing is typed into a table that is not a line."""

import math
import re
import statistics
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from young_spark.core.figure import WORST_FIRST, Conditions, Verdict, format_value, quantity
from young_spark.core.gear import PlanRow
from young_spark.core.ground import Frozen
from young_spark.core.job.driven import OUTPUTS, driven_lines
from young_spark.core.job.in_words import where_words
from young_spark.core.job.plans import ReadingFact, as_left, as_received

AxisName = Literal["parts", "electrodes", "drive", "bands", "channels", "time", "settings", "modes", "states"]
Where = tuple[float, str]  # for the order, and in words

SHOWN_IN_ORDER: tuple[AxisName, ...] = (
    "drive", "bands", "channels", "time", "settings", "modes", "states", "parts", "electrodes",
)  # fmt: skip
NOTHING_STALE: Mapping[str, str] = {}
LEAST_ROWS = 2
LEAST_TO_STAND_OUT = 3
STANDS_OUT_DB = 1.0  # of a power; and three times what the others differ by
TIMES_THE_OTHERS = 3.0
LITTLE_OF_DUE = 0.7  # below that share of what is due, all alike
LITTLE_OF_MARKED = 0.8
ON_PARTS = {
    "capacitance", "esr", "resistance", "inductance", "leakage_current", "insulation_resistance", "transistor_gain",
    "junction_voltage", "valve_emission",
}  # fmt: skip
OF_DRIVE = {*OUTPUTS, "drive_power", "gain", "efficiency", "plate_current", "grid_current", "plate_voltage",
            "supply_current", "supply_voltage", "input_swr", "screen_current"}  # fmt: skip
STATES = ("off", "standby", "receive", "transmit")
POWER_SETTINGS = ("low", "mid", "high")
PART = re.compile(r"[A-Z]{1,3}\d{1,4}[A-Z]?")
# of the address: what a column is told apart by, where it is not the axis
BESIDES = ("item", "mode", "channel", "frequency_hz", "power_setting", "setting", "state", "heat", "after_s", "place")


class Cell(Frozen):
    """A figure as it came in, and as it is now where nothing made it stale; `stands_out` says how it differs from its
    neighbours."""

    before: str = ""
    now: str = ""
    verdict: Verdict | None = None
    verdict_words: str = ""
    line: str = ""  # of the newest reading; empty for what was worked out
    value: float | None = None
    stands_out: str = ""


class Column(Frozen):
    """One quantity of a table; `worked_out` says from what, where no hand typed it. `begins` is what stands between the
    words of a row and the figure of a cell; None where cells are not typed one by one."""

    name: str
    unit: str
    worked_out: str = ""
    begins: str | None = None


class Row(Frozen):
    """One place. `at` is its number, where places are numbers; `begins` is what a text for this row begins with."""

    where: str
    at: float | None
    begins: str
    cells: tuple[Cell | None, ...]


class Table(Frozen):
    """Figures over places, the verdict of its worst cell, and in words what the whole of it says."""

    id: str
    title: str
    axis: AxisName
    columns: tuple[Column, ...]
    rows: tuple[Row, ...]
    verdict: Verdict | None
    says: tuple[str, ...]


@dataclass(frozen=True)
class _Axis:
    name: AxisName
    title: str
    where: Callable[[ReadingFact], Where | None]
    over: str  # what stands out there means
    begins: Callable[[str], str] = lambda where: f"{where} "
    is_number: bool = False


def tables(
    facts: Sequence[ReadingFact], rows: Sequence[PlanRow] = (), stale: Mapping[str, str] = NOTHING_STALE
) -> tuple[Table, ...]:
    """Every table that the readings of one item make, in the order of their axes. A figure stands in one table."""
    left = [f for f in facts if f.figure]
    made: list[Table] = []
    for axis in _axes(left):
        there = [f for f in left if axis.where(f) is not None]
        columns = _columns(axis, there)
        used = {f.id for mine in columns.values() for f in mine}
        if used:
            made.append(_table(axis, columns, rows, stale))
            left = [f for f in left if f.id not in used]
    return tuple(sorted(made, key=lambda table: SHOWN_IN_ORDER.index(table.axis)))


def as_printed(table: Table) -> Table:
    """A table without the rows that nobody filled: a report says elsewhere what was not measured."""
    return table.model_copy(update={"rows": tuple(row for row in table.rows if any(row.cells))})


# axes ----------------------------------------------------------------------------------------------------------------


def _axes(facts: Sequence[ReadingFact]) -> tuple[_Axis, ...]:
    driven = driven_lines(facts)
    return (
        _Axis("parts", "Parts", _of_a_part, "", lambda where: f"{where} "),
        _Axis("electrodes", "Electrodes", _of_an_electrode, "", lambda where: f"{where} "),
        _Axis("drive", "Drive and output", lambda f: _at_a_drive(f, driven), "compression, or drive that runs out",
              lambda where: f"{where} in ", is_number=True),
        _Axis("bands", "Over bands", _of_a_band, "its filter, coil or switch", is_number=True),
        _Axis("channels", "Over channels", _of_a_channel, "tuning that leans to one end, or that channel's own data",
              lambda where: f"ch{where.removeprefix('channel ')} ", is_number=True),
        _Axis("time", "While it is keyed", _of_a_time, "", lambda where: f"{where} ", is_number=True),
        _Axis("settings", "At each setting", _of_a_setting, "",
              lambda where: f"{where} power " if where in POWER_SETTINGS else f"{where} "),
        _Axis("modes", "In each mode", _of_a_mode, "that mode's own path"),
        _Axis("states", "Supply in each state", _of_a_state, ""),
    )  # fmt: skip


def _of_a_part(fact: ReadingFact) -> Where | None:
    place = fact.conditions.place or ""
    found = PART.fullmatch(place)
    return (_number_in(place), place) if found and fact.quantity in ON_PARTS else None


def _of_an_electrode(fact: ReadingFact) -> Where | None:
    part, _, electrode = (fact.conditions.place or "").partition(" ")
    whole = PART.fullmatch(part) and electrode and fact.quantity in {"dc_voltage", "ac_voltage"}
    return (_number_in(part), part) if whole else None


def _number_in(part: str) -> float:
    return float(re.sub(r"\D", "", part) or 0)


def _at_a_drive(fact: ReadingFact, driven: dict[str, float]) -> Where | None:
    if fact.line not in driven or fact.quantity not in OF_DRIVE - {"drive_power"}:
        return None
    return driven[fact.line], format_value(driven[fact.line], "W")


def _of_a_band(fact: ReadingFact) -> Where | None:
    hz = fact.conditions.frequency_hz
    return None if not hz or fact.conditions.place else (hz / 1e6, f"{hz / 1e6:.9g} MHz")


def _of_a_channel(fact: ReadingFact) -> Where | None:
    channel = fact.conditions.channel
    return None if channel is None else (float(channel), f"channel {channel}")


def _of_a_time(fact: ReadingFact) -> Where | None:
    after = fact.conditions.after_s
    if after is None or fact.conditions.place:
        return None
    return after, "at once" if after == 0 else f"after {format_value(after, 's')}"


def _of_a_setting(fact: ReadingFact) -> Where | None:
    told = fact.conditions.power_setting or fact.conditions.setting
    if not told:
        return None
    order = float(POWER_SETTINGS.index(told)) if told in POWER_SETTINGS else _number_in(told)
    return order, told


def _of_a_mode(fact: ReadingFact) -> Where | None:
    mode = fact.conditions.mode
    return (0.0, mode.upper()) if mode and fact.quantity in OUTPUTS else None


def _of_a_state(fact: ReadingFact) -> Where | None:
    state = fact.conditions.state
    of_supply = fact.quantity in {"supply_current", "supply_voltage"}
    return (float(STATES.index(state)), state) if state and of_supply else None


# columns and rows ----------------------------------------------------------------------------------------------------


def _columns(axis: _Axis, facts: Sequence[ReadingFact]) -> dict[tuple[str, str], list[ReadingFact]]:
    """Readings by what a column shows: figures of one quantity at two places or more."""
    found: dict[tuple[str, str], list[ReadingFact]] = {}
    for fact in facts:
        found.setdefault((fact.quantity, _besides(axis, fact)), []).append(fact)
    return {key: mine for key, mine in found.items() if len({axis.where(f) for f in mine}) >= LEAST_ROWS}


def _besides(axis: _Axis, fact: ReadingFact) -> str:
    """What tells two columns of a quantity apart: all of the address that is not the axis."""
    if axis.name == "electrodes":
        return (fact.conditions.place or "").partition(" ")[2]
    leave = {
        "parts": {"place"},
        "drive": set(),
        "bands": {"frequency_hz"},
        "channels": {"channel", "frequency_hz"},
        "time": {"after_s", "heat"},
        "settings": {"power_setting", "setting"},
        "modes": {"mode"},
        "states": {"state"},
    }[axis.name]
    kept = Conditions(**{name: getattr(fact.conditions, name) for name in BESIDES if name not in leave})
    return where_words(kept)


def _table(
    axis: _Axis,
    columns: dict[tuple[str, str], list[ReadingFact]],
    rows: Sequence[PlanRow],
    stale: Mapping[str, str],
) -> Table:
    read_at = {w for mine in columns.values() for f in mine if (w := axis.where(f)) is not None}
    places = sorted(read_at | _planned(axis, columns, rows))
    keys = sorted(columns, key=lambda key: (_first_order(columns[key]), key))
    names = _names(keys)
    grid = {key: {w: _cell(axis, columns[key], w, stale) for w in places} for key in keys}
    shown = [Column(name=names[key], unit=quantity(key[0]).unit, begins=_begins(axis, key)) for key in keys]
    cells = [[grid[key][w] for key in keys] for w in places]
    says = []
    for n, key in enumerate(keys):
        said = _told_of_a_column(axis, names[key], key[0], [row[n] for row in cells], [w[1] for w in places])
        says += said.words
        for place, words in said.standing_out.items():
            if (cell := cells[place][n]) is not None:
                cells[place][n] = cell.model_copy(update={"stands_out": words})
    says += _all_alike(columns, rows)
    for column, made in _worked_out(axis, columns, places):
        shown.append(column)
        for row, cell in zip(cells, made, strict=True):
            row.append(cell)
        says += _says_of_shares(column, made)
    verdicts = [cell.verdict for row in cells for cell in row if cell is not None and cell.now and cell.verdict]
    return Table(
        id=axis.name,
        title=_title(axis, keys),
        axis=axis.name,
        columns=tuple(shown),
        rows=tuple(
            Row(where=w[1], at=w[0] if axis.is_number else None, begins=axis.begins(w[1]), cells=tuple(row))
            for w, row in zip(places, cells, strict=True)
        ),
        verdict=_of_all(verdicts, cells, len(keys)),
        says=tuple(says),
    )


def _of_all(verdicts: Sequence[Verdict], cells: Sequence[Sequence[Cell | None]], read: int) -> Verdict | None:
    """The verdict of the worst cell; none that is well while a cell of a judged column, of which there are `read` at
    most, was not read as it is now."""
    worst = min(verdicts, key=WORST_FIRST.index, default=None)
    judged = [n for n in range(read) if any((cell := row[n]) is not None and cell.verdict for row in cells)]
    open_ = any((cell := row[n]) is None or not cell.now for row in cells for n in judged)
    return None if open_ and worst in {Verdict.PASS, Verdict.PASS_CLOSE} else worst


def _begins(axis: _Axis, key: tuple[str, str]) -> str | None:
    """What a hand types between a row's words and a figure: an electrode, or the quantity and what tells it apart."""
    quantity_id, besides = key
    if axis.name not in CELL_BY_CELL:
        return None
    if axis.name == "electrodes":
        return f"{besides} "
    return " ".join((*besides.lower().split(" · "), quantity(quantity_id).name.lower())).strip() + " "


CELL_BY_CELL = {"bands", "channels", "parts", "electrodes", "settings", "modes", "states"}


def _planned(
    axis: _Axis, columns: Mapping[tuple[str, str], Sequence[ReadingFact]], rows: Sequence[PlanRow]
) -> set[Where]:
    """Where the plan wants a column's figure and nobody read one yet: a row to be filled."""
    wanted = {(key[0], f.conditions.mode) for key, mine in columns.items() for f in mine}
    if axis.name not in {"bands", "channels"}:
        return set()
    at = (_as_read(row) for row in rows if (row.quantity, row.mode) in wanted)
    return {where for fact in at if (where := axis.where(fact)) is not None}


def _as_read(row: PlanRow) -> ReadingFact:
    """A line of the plan as a reading would stand there."""
    there = Conditions(channel=row.channel, frequency_hz=row.frequency_hz, mode=row.mode)
    return ReadingFact(
        id="", line="", order=0, quantity=row.quantity, phase="as_left", plan_row=row.id, conditions=there
    )


def _title(axis: _Axis, keys: Sequence[tuple[str, str]]) -> str:
    """What stands over a table; of which quantity, where its columns do not say it."""
    if len(keys) == 1 or len({key[0] for key in keys}) > 1:
        return axis.title
    name = quantity(keys[0][0]).name
    return f"{axis.title}: {name[:1].lower()}{name[1:]}"


def _first_order(facts: Sequence[ReadingFact]) -> int:
    return min(f.order for f in facts)


def _names(keys: Sequence[tuple[str, str]]) -> dict[tuple[str, str], str]:
    """A column by its quantity, and by what else tells it apart where there are two of it."""
    of = [key[0] for key in keys]
    if len(set(of)) == 1 and len(of) > 1 and all(key[1] for key in keys):
        return {key: key[1] for key in keys}  # the title says of what
    named = {}
    for key in keys:
        name = quantity(key[0]).name
        others = [other for other in keys if other[0] == key[0] and other != key]
        named[key] = f"{name}, {key[1]}" if key[1] and (others or of.count(key[0]) > 1) else name
    return named


def _cell(axis: _Axis, facts: Sequence[ReadingFact], where: Where, stale: Mapping[str, str]) -> Cell | None:
    here = sorted((f for f in facts if axis.where(f) == where), key=lambda f: f.order)
    now, before = as_left(here, dict(stale)), as_received(here)
    shown = now or before or next(iter(here), None)
    if shown is None:
        return None
    return Cell(
        before=before.figure if before is not None and before is not now else "",
        now=now.figure if now is not None else "",
        verdict=shown.verdict,
        verdict_words=shown.verdict_words,
        line=shown.line,
        value=shown.value,
    )


# what a column says --------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Told:
    words: list[str]
    standing_out: dict[int, str]


def _told_of_a_column(
    axis: _Axis, name: str, quantity_id: str, cells: Sequence[Cell | None], places: Sequence[str]
) -> _Told:
    """The spread of a power over places, and which of them stands out from the others."""
    unit = quantity(quantity_id).unit
    values = _of_one_time(cells)
    if unit != "W" or axis.name not in {"bands", "channels", "modes"} or len(values) < LEAST_ROWS:
        return _Told([], {})
    low, high = min(values.values()), max(values.values())
    spread = 10 * math.log10(high / low)
    words = [
        f"{name}{_when(cells, values)}: {format_value(low, unit)} to {format_value(high, unit)}, {spread:.1f} dB apart"
    ]
    out = _standing_out(values) if axis.name != "modes" else {}
    for n, db in out.items():
        words.append(f"{places[n]} stands out by {_decibels(db)}: {axis.over}")
    return _Told(words, {n: f"{_decibels(db)} from the others" for n, db in out.items()})


def _of_one_time(cells: Sequence[Cell | None]) -> dict[int, float]:
    """The values by their row, as they are now; as they came in where fewer than two are: before a repair and after it
    there are no neighbours."""
    there = {n: c for n, c in enumerate(cells) if c is not None and c.value is not None and c.value > 0}
    now = {n: c.value for n, c in there.items() if c.now and c.value is not None}
    before = {n: c.value for n, c in there.items() if not c.now and c.before and c.value is not None}
    some = {n: c.value for n, c in there.items() if c.value is not None}
    if not now or not before:
        return some
    return now if len(now) >= LEAST_ROWS else before


def _when(cells: Sequence[Cell | None], values: dict[int, float]) -> str:
    """Which of the figures a sentence is of, where it is not of all that stand in the column."""
    there = sum(c is not None and c.value is not None for c in cells)
    if len(values) == there:
        return ""
    now = all((cell := cells[n]) is not None and cell.now for n in values)
    return f", the {len(values)} of {there} that were read again" if now else ", as it came in"


def _decibels(db: float) -> str:
    return format_value(round(db, 1), "dB", figures=2, signed=True)


def _standing_out(values: dict[int, float]) -> dict[int, float]:
    """Places whose level differs from the middle of the others by more than a decibel and thrice what those differ."""
    if len(values) < LEAST_TO_STAND_OUT:
        return {}
    db = {n: 10 * math.log10(value) for n, value in values.items()}
    out = {}
    for n, level in db.items():
        others = [other for m, other in db.items() if m != n]
        middle = statistics.median(others)
        apart = max(abs(other - middle) for other in others)
        if abs(level - middle) > max(STANDS_OUT_DB, TIMES_THE_OTHERS * apart):
            out[n] = level - middle
    return out


def _all_alike(columns: dict[tuple[str, str], list[ReadingFact]], rows: Sequence[PlanRow]) -> list[str]:
    """Whether every power is low alike of what is due there."""
    due = {row.id: row.expected for row in rows if row.expected}
    says = []
    for (quantity_id, _), facts in columns.items():
        newest = {f.plan_row: f for f in facts if f.plan_row in due and f.value is not None}
        shares = [float(f.value or 0.0) / float(due[row] or 1.0) for row, f in newest.items() if row is not None]
        if quantity_id in OUTPUTS and len(shares) >= LEAST_TO_STAND_OUT and max(shares) < LITTLE_OF_DUE:
            says.append("All low alike: supply, drive or the meter, before any band or channel")
    return says


# what follows --------------------------------------------------------------------------------------------------------

Values = dict[str, float]
# name, unit, from what, and the sum; nothing where a figure is missing
SUMS: tuple[tuple[str, str, str, str, Callable[[Values], float]], ...] = (
    ("gain", "Gain", "dB", "10 log of output over drive", lambda v: 10 * math.log10(v["output"] / v["drive_power"])),
    ("efficiency", "Efficiency", "%", "output over plate volts times plate current",
     lambda v: 100 * v["output"] / (v["plate_voltage"] * v["plate_current"])),
    ("efficiency", "Efficiency", "%", "output over supply volts times supply current",
     lambda v: 100 * v["output"] / (v["supply_voltage"] * v["supply_current"])),
    ("squelch_hysteresis", "Hysteresis", "dB", "opening less closing",
     lambda v: v["squelch_open"] - v["squelch_close"]),
)  # fmt: skip


def _worked_out(
    axis: _Axis, columns: dict[tuple[str, str], list[ReadingFact]], places: Sequence[Where]
) -> list[tuple[Column, list[Cell | None]]]:
    """Columns that follow from the others in a row, where no reading gives them."""
    there = {key[0] for key in columns}
    made: list[tuple[Column, list[Cell | None]]] = []
    for of, name, unit, said, work in SUMS:
        if of in there:
            continue
        cells = [_sum(unit, work, _newest_values(axis, columns, where)) for where in places]
        if any(cells):
            there.add(of)
            made.append((Column(name=name, unit=unit, worked_out=said), cells))
    if axis.name == "parts" and any(cells := [_share_of_marked(axis, columns, where) for where in places]):
        made.append((Column(name=OF_MARKED, unit="%", worked_out="measured over marked"), cells))
    return made


OF_MARKED = "Of what is marked"


def _newest_values(axis: _Axis, columns: dict[tuple[str, str], list[ReadingFact]], where: Where) -> Values:
    """The newest figure of each quantity at a place."""
    found: dict[str, ReadingFact] = {}
    for facts in columns.values():
        for fact in facts:
            newer = fact.quantity not in found or found[fact.quantity].order < fact.order
            if axis.where(fact) == where and fact.value is not None and newer:
                found[fact.quantity] = fact
    values = {name: float(fact.value or 0.0) for name, fact in found.items()}
    if axis.name == "drive":
        values["drive_power"] = where[0]
    output = next((values[name] for name in OUTPUTS if name in values), None)
    return values if output is None else values | {"output": output}


def _sum(unit: str, work: Callable[[Values], float], values: Values) -> Cell | None:
    try:
        value = work(values)
    except (KeyError, ValueError, ZeroDivisionError):
        return None  # a figure is missing, or is nothing
    return Cell(now=format_value(value, unit, figures=3), value=value)


def _share_of_marked(axis: _Axis, columns: dict[tuple[str, str], list[ReadingFact]], where: Where) -> Cell | None:
    marked = [
        f
        for facts in columns.values()
        for f in facts
        if axis.where(f) == where and f.conditions.marked and f.value is not None
    ]
    if not marked:
        return None
    newest = max(marked, key=lambda f: f.order)
    share = 100 * float(newest.value or 0.0) / float(newest.conditions.marked or 1.0)
    return Cell(now=format_value(share, "%", figures=2), value=share)


def _says_of_shares(column: Column, cells: Iterable[Cell | None]) -> list[str]:
    shares = [c.value for c in cells if c is not None and c.value is not None]
    if column.name != OF_MARKED or not shares:
        return []
    low = sum(share < 100 * LITTLE_OF_MARKED for share in shares)
    return [f"{low} of {len(shares)} below {100 * LITTLE_OF_MARKED:g} % of what is marked on them"]
