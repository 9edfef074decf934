"""Which figures a unit needs, which are still open, and what a change makes stale."""

import fnmatch
from collections.abc import Iterable, Sequence
from functools import cache
from typing import Literal

from young_spark.core.figure import Conditions, Phase, Verdict, quantity
from young_spark.core.gear import JobPart, Model, PlanRow
from young_spark.core.ground import SHIPPED, Frozen, load
from young_spark.core.judging import ChannelPlan


class Depends(Frozen):
    """What hangs on an area or a condition: quantity ids, '*' and families with a star."""

    title: str
    quantities: tuple[str, ...]

    def concerns(self, quantity_id: str) -> bool:
        """Whether a quantity hangs on it."""
        return any(fnmatch.fnmatchcase(quantity_id, pattern) for pattern in self.quantities)


class Dependencies(Frozen):
    """The data file dependencies.toml."""

    areas: dict[str, Depends]
    conditions: dict[str, Depends]


@cache
def dependencies() -> Dependencies:
    """The shipped dependencies, read once."""
    return load(SHIPPED / "dependencies.toml", Dependencies)


class ReadingFact(Frozen):
    """A reading as the plan sees it; `order` is its place on the slip."""

    id: str
    line: str
    order: int
    quantity: str
    phase: Phase
    plan_row: str | None
    conditions: Conditions
    nothing: bool = False
    seen_only: bool = False  # a result in words: it tells, and measures nothing
    value: float | None = None
    verdict: Verdict | None = None
    figure: str = ""


class Change(Frozen):
    """Something done that may make readings stale."""

    order: int
    kind: Literal["repair", "adjustment", "condition"]
    words: str
    area: str | None = None
    condition: Literal["supply_v", "covers", "configuration"] | None = None
    value: str | None = None


class OpenLine(Frozen):
    """A figure the plan still wants; `why` says so when one was there but counts no more."""

    row: PlanRow
    phase: Phase
    why: str | None = None


DEAD_UNIT_ROWS = (
    PlanRow(
        id="dead-fuse-supply-side",
        quantity="supply_voltage",
        ask="Fuse, supply side",
        first_power=True,
        phases=("as_received",),
    ),
    PlanRow(
        id="dead-fuse-unit-side",
        quantity="supply_voltage",
        ask="Fuse, unit side",
        first_power=True,
        phases=("as_received",),
    ),
    PlanRow(
        id="dead-short",
        quantity="resistance",
        ask="Ohms across the supply input, unplugged, BEFORE a new fuse goes in",
        first_power=True,
        phases=("as_received",),
        caution="Cold ohms do not exclude a short behind a switch.",
    ),
)


def phase_of(part: JobPart, changes: Sequence[Change]) -> Phase:
    """The phase a reading taken now belongs to: as received until hands have changed something."""
    if part in ("prove", "out"):
        return "as_left"
    touched = any(c.kind != "condition" for c in changes)
    return "in_work" if touched or part == "fix" else "as_received"


def not_as_it_leaves(conditions: Conditions) -> str | None:
    """Why a figure does not count as left, or None: proof is taken as the unit leaves the shop."""
    if conditions.covers == "off":
        return "taken with the covers off"
    if conditions.configuration:
        return f"taken with {conditions.configuration}"
    return None


def stale_readings(
    facts: Iterable[ReadingFact], changes: Sequence[Change], model: Model | None, depends: Dependencies
) -> dict[str, str]:
    """Reading id → why it no longer proves anything. A change counts against readings before it; a condition put
    back counts no more."""
    stale: dict[str, str] = {}
    for fact in facts:
        later = [c for c in changes if c.order > fact.order]
        why = _changed_by_hand(fact, later, depends) or _changed_conditions(fact, later, model, depends)
        if why:
            stale[fact.id] = why
    return stale


def _changed_by_hand(fact: ReadingFact, later: Sequence[Change], depends: Dependencies) -> str | None:
    for change in later:
        if change.kind == "condition":
            continue
        area = depends.areas.get(change.area or "")
        if area is None or area.concerns(fact.quantity):
            return f"{change.kind} after it: {change.words}"
    return None


def _changed_conditions(
    fact: ReadingFact, later: Sequence[Change], model: Model | None, depends: Dependencies
) -> str | None:
    latest = {c.condition: c for c in later if c.kind == "condition"}
    row = model.row(fact.plan_row) if model else None
    for name, change in latest.items():
        if name is None or not depends.conditions[name].concerns(fact.quantity):
            continue
        if name == "supply_v" and row is not None and row.supply_v is not None:
            continue  # the plan asks for that supply, whatever is set now
        taken = getattr(fact.conditions, name)
        if change.value is not None and _as_text(taken) != change.value:
            return f"{depends.conditions[name].title.lower()} changed after it: {change.value}"
    return None


def _as_text(value: object) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value if value is not None else "as it leaves")


def rows_wanted(model: Model | None, facts: Sequence[ReadingFact]) -> tuple[PlanRow, ...]:
    """The plan's rows, with what a dead unit adds: both sides of the fuse, and the short before a new one."""
    rows = model.plan if model else ()
    return (*DEAD_UNIT_ROWS, *rows) if is_dead(facts) else rows


def on_allowed_channels(rows: Sequence[PlanRow], plan: ChannelPlan | None) -> tuple[PlanRow, ...]:
    """The rows without those on a channel, or a position of a mapped selector, that may not be transmitted on."""
    barred = {c.number for c in plan.channels if not c.allowed} if plan is not None else set()
    return tuple(row for row in rows if row.channel not in barred)


def is_dead(facts: Sequence[ReadingFact]) -> bool:
    """Whether the unit drew nothing when first powered."""
    currents = [
        f
        for f in facts
        if f.quantity == "supply_current" and f.conditions.state in {"standby", "receive"} and f.phase == "as_received"
    ]
    return bool(currents) and all(f.nothing or (f.value is not None and f.value < 0.005) for f in currents)


def _settled_by(row: PlanRow, phase: Phase, facts: Sequence[ReadingFact]) -> ReadingFact | None:
    answers = [
        f
        for f in facts
        if f.plan_row == row.id
        and not f.seen_only
        and (f.phase == phase or (phase == "as_received" and f.phase == "in_work"))
    ]
    return answers[-1] if answers else None


def open_lines(
    rows: Sequence[PlanRow], phase: Phase, facts: Sequence[ReadingFact], stale: dict[str, str]
) -> tuple[OpenLine, ...]:
    """What the plan still wants in a phase. As left, a figure that is stale or not as the unit leaves is wanted
    again."""
    wanted_phase: Phase = "as_received" if phase == "in_work" else phase
    found = []
    for row in rows:
        if wanted_phase not in row.phases:
            continue
        answer = _settled_by(row, wanted_phase, facts)
        if answer is None:
            found.append(OpenLine(row=row, phase=wanted_phase))
        elif wanted_phase == "as_left" and (why := stale.get(answer.id) or not_as_it_leaves(answer.conditions)):
            found.append(OpenLine(row=row, phase=wanted_phase, why=why))
    return tuple(found)


def asked_in(part: str, lines: Sequence[OpenLine]) -> tuple[OpenLine, ...]:
    """Of the open lines those that a part of the job asks for: first power belongs to check-in. What it draws when
    keyed belongs to every carrier's set while the fault is looked for, and tells a trace much; it stands last
    there, since it needs no turn of its own."""
    first = tuple(line for line in lines if line.row.first_power)
    if part == "in":
        return first
    if part == "find":
        keyed = tuple(line for line in first if line.row.state == "transmit")
        return (*(line for line in lines if not line.row.first_power), *keyed)
    return tuple(lines)


OF_AN_AERIAL = {"swr", "swr_minimum", "return_loss", "forward_power", "reflected_power"}
SAME_BAND = 0.05  # of the frequency that a row names: a reading so near to it is at that point
COLD_QUANTITIES = {"resistance", "esr", "capacitance", "transistor_gain"}


def while_not_safe(lines: Sequence[OpenLine]) -> tuple[OpenLine, ...]:
    """The open lines that need no power: all that is asked of a unit that is not safe to power."""
    return tuple(line for line in lines if line.row.quantity in COLD_QUANTITIES)


def retest(rows: Sequence[PlanRow], facts: Sequence[ReadingFact], stale: dict[str, str]) -> tuple[OpenLine, ...]:
    """The shortest list that would prove the unit again: as-left rows whose newest figure counts no more."""
    return tuple(line for line in open_lines(rows, "as_left", facts, stale) if line.why is not None)


def due_of(rows: Sequence[PlanRow], fact: ReadingFact) -> float | None:
    """What a healthy unit gives where a reading was taken, in the quantity's unit: by the row that it answered, or
    by one that asks for the same there, open or not."""
    at = [r for r in rows if r.quantity == fact.quantity and (r.id == fact.plan_row or _fits(r, fact.conditions))]
    meant = min(at, key=lambda r: r.id != fact.plan_row, default=None)
    return meant.expected if meant is not None else None


def answered_row(
    open_now: Sequence[OpenLine], quantities: Sequence[str], conditions: Conditions, current: str | None
) -> str | None:
    """The open line a reading answers: the current one where it fits, else the first of its quantity at that point."""
    fitting = [line.row for line in open_now if line.row.quantity in quantities and _fits(line.row, conditions)]
    if any(row.id == current for row in fitting):
        return current
    return fitting[0].id if fitting else None


def read_again(rows: Sequence[PlanRow], phase: Phase, quantity_id: str, conditions: Conditions) -> str | None:
    """The line that a reading answers once more: the newest figure of a point counts, whether its line is open or
    not."""
    wanted: Phase = "as_received" if phase == "in_work" else phase
    at = (r for r in rows if r.quantity == quantity_id and wanted in r.phases and _fits(r, conditions))
    return next((row.id for row in at), None)


def next_line(rows: Sequence[PlanRow], open_now: Sequence[OpenLine], answered: str | None) -> str | None:
    """The open line that comes next: forwards from the one that was answered last, in the plan's order; at the end the
    first that is still open further up."""
    if not open_now:
        return None
    order = [row.id for row in rows]
    at = order.index(answered) if answered in order else -1
    ahead = {row: n for n, row in enumerate(order) if n > at}
    found = next((line.row.id for line in open_now if line.row.id in ahead), None)
    return found or open_now[0].row.id


# where a figure stands that is another point than a plan's line: inside of the unit, or of something else
ELSEWHERE = ("place", "channels", "band", "function")


def _fits(row: PlanRow, conditions: Conditions) -> bool:
    if any(getattr(conditions, name) is not None for name in ELSEWHERE) or conditions.setting == "bypassed":
        return False
    if conditions.item not in {None, "load"} and row.quantity not in OF_AN_AERIAL:
        return False
    pairs = (
        (row.mode, conditions.mode),
        (row.channel, conditions.channel),
        (row.state, conditions.state),
        (row.power_setting, conditions.power_setting),
    )
    hz, at = row.frequency_hz, conditions.frequency_hz
    near = hz is None or (at is not None and abs(at - hz) <= SAME_BAND * hz)
    return near and all(wanted is None or given == wanted for wanted, given in pairs)


def row_label(row: PlanRow) -> str:
    """Where the row is to be measured, in words: 'AM · channel 19 · 13.2 V'."""
    parts = [
        row.mode.upper() if row.mode else "",
        f"channel {row.channel}" if row.channel is not None else "",
        f"{row.frequency_hz / 1e6:g} MHz" if row.frequency_hz else "",
        f"{row.power_setting} power" if row.power_setting else "",
        row.state or "",
        f"{row.supply_v:g} V" if row.supply_v else "",
    ]
    return " · ".join(p for p in parts if p)


def adjustment_warning(kinds_so_far: Sequence[str], stage_states: Sequence[str]) -> str | None:
    """The warning at an adjustment made before the fault is found, or None."""
    if "did" in kinds_so_far or any(state in {"weak", "dead"} for state in stage_states):
        return None
    return "No fault is found yet. The value found is logged: put it back if turning did not help."


def next_step(
    *,
    part: str,
    waiting_for: str,
    arrived: bool,
    locked: str,
    open_now: Sequence[OpenLine],
    retest: Sequence[OpenLine],
    handed_back: bool,
) -> str:
    """What to do next on a job, and why, in one sentence for the shelf."""
    if handed_back:
        return ""
    if locked:
        return f"Not safe to power: {locked}"
    if waiting_for:
        return f"Waits for: {waiting_for}"
    if arrived and part in {"find", "fix"}:
        return "The part is here: fit it."
    if retest:
        return f"Proof went stale: measure {len(retest)} again, {_first(retest)} first."
    if part == "fix":
        return "Repair, then prove."
    if open_now:
        return f"Measure {_first(open_now)}" + (f", then {len(open_now) - 1} more." if len(open_now) > 1 else ".")
    return {
        "in": "Verify the complaint.",
        "find": "Trace it to a stage.",
        "prove": "Proven: hand it back.",
        "out": "Hand it back.",
    }[part]


def _first(lines: Sequence[OpenLine]) -> str:
    row = lines[0].row
    return f"{quantity(row.quantity).name} ({row_label(row) or row.ask})"
