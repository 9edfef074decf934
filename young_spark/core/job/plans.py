"""Which figures a unit needs, which are still open, and what a change makes stale."""

from collections.abc import Iterable, Sequence

from young_spark.core.entry import OF_AN_AERIAL
from young_spark.core.figure import Conditions, Phase, Verdict, quantity
from young_spark.core.gear import AT_FULL_POWER, JobPart, Model, PlanRow
from young_spark.core.ground import Frozen
from young_spark.core.job.change import Change, Dependencies
from young_spark.core.judging import ChannelPlan


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
    uncertainty: float | None = None  # the half-width of its 95 %
    is_bound: bool = False  # it is at most, or at least, so much
    verdict: Verdict | None = None
    verdict_words: str = ""
    figure: str = ""


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
        if depends.moves(change, fact.quantity, fact.conditions):
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
    """The plan's rows, each on the frequency where hands measure its band, with what a dead unit adds: both sides of
    the fuse, and the short before a new one."""
    rows = tuple(_where_it_is_measured(row, facts) for row in (model.plan if model else ()))
    return (*DEAD_UNIT_ROWS, *rows) if is_dead(facts) else rows


def _where_it_is_measured(row: PlanRow, facts: Sequence[ReadingFact]) -> PlanRow:
    """'tx 4.1w @ 446.1' where 433.5 MHz is planned: the next figure of that band is of 446.1 MHz, too."""
    planned = row.frequency_hz
    if planned is None:
        return row
    said = [f.conditions for f in facts if f.conditions.place is None and f.conditions.mode in {None, row.mode}]
    there = [c.frequency_hz for c in said if c.frequency_hz and abs(c.frequency_hz - planned) <= row.within * planned]
    return row if not there or planned in there else row.model_copy(update={"frequency_hz": there[0]})


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


def open_lines(
    rows: Sequence[PlanRow], phase: Phase, facts: Sequence[ReadingFact], stale: dict[str, str]
) -> tuple[OpenLine, ...]:
    """What the plan still wants in a phase. As left, a figure that is stale or not as the unit leaves is wanted
    again; one that nothing has touched leaves as it came."""
    found = []
    for row in rows:
        answers = [f for f in facts if f.plan_row == row.id and not f.seen_only]
        if phase not in row.phases or (answers and phase == "as_received"):
            continue
        if not answers:
            found.append(OpenLine(row=row, phase=phase))
        elif as_left(answers, stale) is None:
            found.append(OpenLine(row=row, phase=phase, why=why_not_left(answers[-1], stale)))
    return tuple(found)


def as_left(facts: Sequence[ReadingFact], stale: dict[str, str]) -> ReadingFact | None:
    """The newest of the figures of one point that nothing has made stale, in the configuration that leaves."""
    return next((f for f in reversed(facts) if why_not_left(f, stale) is None), None)


def as_received(facts: Sequence[ReadingFact]) -> ReadingFact | None:
    """The first of the figures of one point, where nothing that it depends on had been changed."""
    return next((f for f in facts if f.phase == "as_received"), None)


def why_not_left(fact: ReadingFact, stale: dict[str, str]) -> str | None:
    """Why a figure is not how the unit leaves, or None."""
    return stale.get(fact.id) or not_as_it_leaves(fact.conditions)


def asked_in(part: str, lines: Sequence[OpenLine]) -> tuple[OpenLine, ...]:
    """Of the open lines those that a part of the job asks for: first power belongs to check-in, and what comes after
    it to the search. What it draws when keyed belongs to every carrier's set while the fault is looked for, and tells
    a trace much; it stands last there, since it needs no turn of its own."""
    first = tuple(line for line in lines if line.row.first_power)
    if part == "in" and first:
        return first
    keyed = tuple(line for line in first if line.row.state == "transmit")
    return (*(line for line in lines if not line.row.first_power), *keyed)


NO_LINE_AT = {"bypassed", "tight", "narrow"}  # settings that no line of a plan asks for
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
    at = [r for r in rows if r.quantity == fact.quantity and (r.id == fact.plan_row or fits(r, fact.conditions))]
    meant = min(at, key=lambda r: r.id != fact.plan_row, default=None)
    return meant.expected if meant is not None else None


def answered_row(
    open_now: Sequence[OpenLine], quantities: Sequence[str], conditions: Conditions, current: str | None
) -> str | None:
    """The open line a reading answers: the current one where it fits, else the first of its quantity at that point."""
    fitting = [line.row for line in open_now if line.row.quantity in quantities and fits(line.row, conditions)]
    nearest = max(map(_said_by, fitting), default=0)
    fitting = [row for row in fitting if _said_by(row) == nearest]
    if any(row.id == current for row in fitting):
        return current
    return fitting[0].id if fitting else None


def _said_by(row: PlanRow) -> int:
    """How much a line says of where: of two that fit, the one that says more is meant."""
    return sum(told is not None for told in (row.mode, row.channel, row.frequency_hz, row.state, row.power_setting))


def read_again(rows: Sequence[PlanRow], quantity_id: str, conditions: Conditions) -> str | None:
    """The line that a reading answers once more: the newest figure of a point counts, whether its line is open or
    not."""
    fitting = [row for row in rows if row.quantity == quantity_id and fits(row, conditions)]
    return max(fitting, key=_said_by).id if fitting else None


def on_its_channel(conditions: Conditions, plan: ChannelPlan | None) -> Conditions:
    """Where a reading stands, as the lines of a plan say it: a frequency that is said and is a channel's own ('156.8
    -260hz') is that channel."""
    if plan is None or conditions.frequency_hz is None or conditions.channel is not None:
        return conditions
    channel, off = plan.nearest(conditions.frequency_hz)
    return conditions if abs(off) >= 1 else conditions.model_copy(update={"channel": channel.number})


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
ELSEWHERE = ("place", "channels", "function")
RANGE_OF = {"vhf": (130e6, 180e6), "uhf": (300e6, 520e6)}  # in Hz; six metres are called by their name


def _is_on_its_band(row: PlanRow, conditions: Conditions) -> bool:
    """'vhf 50w': on the line of such a set that is of that band; any other band says no frequency."""
    if conditions.band is None:
        return True
    low, high = RANGE_OF.get(conditions.band, (0.0, 0.0))
    return row.frequency_hz is not None and low <= row.frequency_hz <= high


def _gives_otherwise(row: PlanRow, conditions: Conditions) -> bool:
    """What is due on high and at the row's supply is due at no lower setting, and on no other supply."""
    ratio = conditions.supply_v / row.supply_v if conditions.supply_v and row.supply_v else 1.0
    fed = LEAST_FED <= ratio <= MOST_FED or not SAME_SYSTEM[0] < ratio < SAME_SYSTEM[1]
    return not fed or (row.power_setting is None and conditions.power_setting in LESS)


LEAST_FED, MOST_FED = 0.8, 1.12  # of the volts that a line asks for
SAME_SYSTEM = (0.6, 1.5)  # beyond that the unit is made for other volts than its kind
LESS = {"low", "mid"}  # settings of less than a unit's full power


def fits(row: PlanRow, conditions: Conditions) -> bool:
    """Whether a figure that was read under these conditions stands at the point of a line."""
    if any(getattr(conditions, name) is not None for name in ELSEWHERE) or conditions.setting in NO_LINE_AT:
        return False
    if not _is_on_its_band(row, conditions):
        return False
    if conditions.item not in {None, "load"} and row.quantity not in OF_AN_AERIAL:
        return False
    pairs = (
        (row.mode, conditions.mode),
        (row.channel, conditions.channel),
        (row.state, conditions.state),
        (row.power_setting, conditions.power_setting),
    )
    if (row.quantity in AT_FULL_POWER and _gives_otherwise(row, conditions)) or _draws_more(row, conditions):
        return False
    hz, at = row.frequency_hz, conditions.frequency_hz
    near = hz is None or conditions.band is not None or (at is not None and abs(at - hz) <= row.within * hz)
    return near and all(wanted is None or given == wanted for wanted, given in pairs)


def _draws_more(row: PlanRow, conditions: Conditions) -> bool:
    """'1.1a keyed, 1.6a on whistle': what is drawn with audio answers no line for the bare carrier."""
    with_audio = conditions.modulation == "on" or conditions.audio is not None
    return row.quantity == "supply_current" and with_audio and row.modulation != "on"


def row_label(row: PlanRow) -> str:
    """Where the row is to be measured, in words: 'AM · channel 19 · 13.2 V'."""
    parts = [
        row.mode.upper() if row.mode else "",
        f"channel {row.channel}" if row.channel is not None else "",
        f"{row.frequency_hz / 1e6:.9g} MHz" if row.frequency_hz else "",
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


class Standing(Frozen):
    """How a job stands, for the one sentence that says what is next."""

    part: JobPart
    waiting_for: str = ""
    arrived: bool = False
    locked: str = ""
    planned: bool = True
    open_now: tuple[OpenLine, ...] = ()
    retest: tuple[OpenLine, ...] = ()
    unsettled: tuple[str, ...] = ()
    handed_back: bool = False


def next_step(job: Standing) -> str:
    """What to do next on a job, and why, in one sentence for the shelf."""
    if job.handed_back:
        return ""
    if job.locked:
        return f"Not safe to power: {job.locked}"
    if job.waiting_for:
        return f"Waits for: {job.waiting_for}"
    if job.arrived and job.part in {"find", "fix"}:
        return "The part is here: fit it."
    if job.retest:
        return f"Prove it: measure {len(job.retest)} again, {_first(job.retest)} first."
    if job.open_now:
        more = f", then {len(job.open_now) - 1} more." if len(job.open_now) > 1 else "."
        return f"Measure {_first(job.open_now)}{more}"
    return _nothing_open(job)


def _nothing_open(job: Standing) -> str:
    if job.part in {"in", "find"}:
        return "Trace it to a stage." if job.planned else "Nothing is planned for it: what does it do, and what not?"
    if not job.planned:
        return "Nothing is planned: what will you prove?"
    if job.unsettled:
        return f"Every line is read. Still to settle: {job.unsettled[0]}"
    return "Proven: hand it back."


def _first(lines: Sequence[OpenLine]) -> str:
    row = lines[0].row
    return f"{quantity(row.quantity).name} ({row_label(row) or row.ask})"
