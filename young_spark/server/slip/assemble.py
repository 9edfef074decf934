"""Putting the slip together: lines, what is open, what is expected there, what is known of the unit."""

from collections.abc import Iterable
from typing import Literal
from uuid import UUID

from django.db.models import F, Window
from django.db.models.functions import RowNumber

from young_spark.core.entry import StoryLine, verdicts_of
from young_spark.core.figure import Conditions, Measured, format_value, quantity
from young_spark.core.gear import Difference, Model, ModelNote, PlanRow, Revision, differences
from young_spark.core.job import (
    Ghost,
    OpenLine,
    adjustment_warning,
    as_received,
    dependencies,
    ghost,
    minutes_by_part,
    open_lines,
    phases,
    row_label,
    spent,
    tables,
    why_not_left,
)
from young_spark.core.judging import OUTSIDE, VerdictLine, read_selector
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.jobs.services import earlier_visit
from young_spark.server.library.own_models import OWN_MODELS
from young_spark.server.readings.models import Reading
from young_spark.server.readings.schemas import line_out
from young_spark.server.readings.state import State, state_of
from young_spark.server.slip.schemas import (
    EarlierVisitOut,
    ItemOut,
    ModelChangeOut,
    NoteOut,
    OpenLineOut,
    PositionOut,
    SequenceOut,
    SlipOut,
    StageOut,
)
from young_spark.server.tracing.models import Trace

GHOST_READINGS = 90


def slip(job: Job, item: Item | None = None) -> SlipOut:
    """The whole slip of one item of a job."""
    state = state_of(job, item)
    model, newest = state.model, _newest(state)
    plan = state.channel_plan
    by_line: dict[UUID, list[Reading]] = {}
    for reading in state.readings:
        by_line.setdefault(reading.line_id, []).append(reading)
    return SlipOut(
        id=job.pk,
        number=job.number,
        title=job.title,
        owner=job.owner,
        came_with=job.came_with,
        part=job.part,
        phase=state.phase,
        value=job.value,
        ceiling=job.ceiling,
        spent=spent([story for _, story in state.stories]),
        created_at=job.created_at,
        handed_back_at=job.handed_back_at,
        waiting_for=job.waiting_for,
        locked_because=job.locked_because,
        next_step=job.next_step,
        items=[ItemOut(**{name: getattr(i, name) for name in ItemOut.model_fields}) for i in job.items.all()],
        item=state.item.pk if state.item else None,
        model=state.item.model or None if state.item else None,
        model_title=_title(model, state.revision),
        model_changes=_changes_since(newest, state),
        is_kind=bool(model and model.kind_id),
        due_from=_due_from(model),
        should_give_w=model.rated_w if model else None,
        modes=list(model.modes) if model else [],
        channels=[c.number for c in plan.channels] if plan else [],
        selector=_selector(state),
        high_voltage=bool(model and model.high_voltage),
        notes=_known(newest or model, state.revision),
        cautions=list(model.cautions) if model else [],
        stages=_stages(state),
        tracing=Trace.objects.filter(job=job, closed_at=None).exists(),
        areas={name: area.title for name, area in dependencies().areas.items()},
        lines=[line_out(line, by_line.get(line.pk, []), state.stale if _proves(line) else {}) for line in state.lines],
        open_lines=_open_out(state, state.open_lines),
        next_row=state.next_row,
        retest=[f"{quantity(o.row.quantity).name}, {row_label(o.row)}" for o in state.retest],
        open_by_part=_open_by_part(state),
        minutes=dict(minutes_by_part([(line.part, line.at) for line in state.lines])),
        warning=adjustment_warning(
            [line.kind for line in state.standing], [s.state for _, s in state.stories if s.state]
        ),
        earlier=_earlier_visit(job, state),
        tables=list(tables(state.facts, state.plan_rows, state.stale)),
        sequences=_sequences(model),
        set_up=state.set_up,
    )


def _newest(state: State) -> Model | None:
    """The newest version of the model of a unit that keeps to an earlier one; None of any other."""
    item = state.item
    row = None if item is None or item.model_version is None else OWN_MODELS.newest(item.model)
    behind = row is not None and item is not None and row.number != item.model_version
    return OWN_MODELS.value(row) if row is not None and behind and not OWN_MODELS.why_not(row) else None


def _changes_since(newest: Model | None, state: State) -> list[ModelChangeOut]:
    """What is other in the newest version of a model; what is only known of it is shown anyway."""
    item = state.item
    if newest is None or item is None or item.model_version is None:
        return []
    row = OWN_MODELS.numbered(item.model, item.model_version)
    if row is None or OWN_MODELS.why_not(row):
        return []
    kept = OWN_MODELS.value(row).model_copy(update={"notes": newest.notes})
    return [_change(told, newest) for told in differences(kept, newest)[:MOST_CHANGES]]


def _change(told: Difference, newest: Model) -> ModelChangeOut:
    """A difference in the words of a slip where it is what is due at a line of the plan, else as the file has it."""
    room, _, rest = told.what.partition(", ")
    row_id, _, value = rest.rpartition(", ")
    row = newest.row(row_id) if room == "plan" and value == "expected" else None
    if row is None:
        return ModelChangeOut(**told.model_dump())
    of = quantity(row.quantity)
    here, there = (f"{figure} {of.unit}" if figure else "" for figure in (told.here, told.there))
    return ModelChangeOut(what=f"{of.name}, {row_label(row)}, due", here=here, there=there)


MOST_CHANGES = 40


def _title(model: Model | None, revision: Revision | None) -> str | None:
    """What a unit is, with its revision where its serial number tells it."""
    if model is None:
        return None
    return model.title if revision is None else f"{model.title}, {revision.name}"


def _known(model: Model | None, revision: Revision | None) -> list[NoteOut]:
    """What is known of a unit like this one: what is other in its revision first; of a revision that is known, nothing
    that is of another."""
    differs = (
        [NoteOut(text=f"{revision.name}: {revision.differs}", proven=False)] if revision and revision.differs else []
    )
    known = model.notes if model else ()
    mine = (n for n in known if revision is None or n.revision in {"", revision.name})
    return [*differs, *(NoteOut(text=_of_its_revision(n, revision), proven=n.proven) for n in mine)]


def _of_its_revision(note: ModelNote, revision: Revision | None) -> str:
    return f"{note.text} ({note.revision})" if note.revision and revision is None else note.text


def _due_from(model: Model | None) -> Literal["maker", "shop", "kind"]:
    """By whose word a plan says what a healthy one gives."""
    if model is None or model.typical is None:
        return "kind" if model and model.kind_id else "maker"
    return "kind" if model.kind_id else "shop"


def _sequences(model: Model | None) -> list[SequenceOut]:
    return [
        SequenceOut(id=s.id, title=s.title, source=s.source, steps=len(s.steps))
        for s in (model.sequences if model else ())
    ]


def _proves(line: Line) -> bool:
    """Whether a line was meant to say how the unit leaves; what was read on arrival is no longer doubted."""
    return line.phase != "as_received" or line.part in {"prove", "out"}


def _selector(state: State) -> list[PositionOut]:
    positions = {position for position, _ in read_selector(state.item.selector)} if state.item else set()
    return [
        PositionOut(
            position=c.number,
            words=f"{format_value(c.hz, 'Hz', figures=7)}, {c.remark}".rstrip(", "),
            allowed=c.allowed,
        )
        for c in (state.channel_plan.channels if state.channel_plan else ())
        if c.number in positions
    ]


def _stages(state: State) -> list[StageOut]:
    said = {story.stage.lower(): story for _, story in state.stories if story.stage}
    stages = []
    for stage in state.model.stages if state.model else ():
        story = said.pop(stage.name.lower(), None) or said.pop(stage.id, None)
        stages.append(
            StageOut(
                id=stage.id,
                name=stage.name,
                due=stage.due,
                state=story.state if story else None,
                seen=_seen(story),
            )
        )
    stages += [
        StageOut(id=f"said-{n}", name=s.stage or "", due="", state=s.state, seen=_seen(s))
        for n, s in enumerate(said.values())
    ]
    return stages


def _seen(story: StoryLine | None) -> str | None:
    """What was seen at a stage, without its name and state said again."""
    if story is None or story.stage is None or story.state is None:
        return None
    rest = story.words[len(story.stage) :].strip()
    return rest[len(story.state) :].strip() or None


def _open_by_part(state: State) -> dict[str, int]:
    if not state.plan_rows:
        return {}  # nothing is claimed where nothing was planned
    left = open_lines(state.wanted, "as_left", state.facts, state.stale)
    if phases.touched(state.changes):
        return {"prove": len(left)}  # what was not read before is received no more
    received = open_lines(state.wanted, "as_received", state.facts, state.stale)
    first = sum(1 for o in received if o.row.first_power)
    return {"in": first, "find": len(received) - first, "prove": len(left)}


def _open_out(state: State, wanted: Iterable[OpenLine]) -> list[OpenLineOut]:
    wanted = list(wanted)
    model = state.item.model if state.item else ""
    ghosts = healthy_ones(model, state.job, [o.row for o in wanted])
    return [_one_open(state, line, ghosts.get(line.row.id)) for line in wanted]


def _one_open(state: State, line: OpenLine, known: Ghost | None) -> OpenLineOut:
    row = line.row
    conditions = row.conditions(Conditions())
    unit = quantity(row.quantity).unit
    received = as_received([f for f in state.facts if f.plan_row == row.id])
    return OpenLineOut(
        row=row.id,
        quantity=row.quantity,
        name=quantity(row.quantity).name,
        unit=unit,
        where=row_label(row),
        ask=row.ask,
        phase=line.phase,
        why=line.why,
        caution=row.caution,
        conditions=conditions,
        expected=format_value(row.expected, unit, figures=3) if row.expected is not None else None,
        expected_value=row.expected,
        ghost=known,
        limits=limits_at(state, row, conditions),
        before=received.figure if received and line.phase == "as_left" else None,
        first_power=row.first_power,
    )


def limits_at(state: State, row: PlanRow, conditions: Conditions) -> list[VerdictLine]:
    """The limit lines a figure at this point will be held against, each kind apart; shown before anything is read."""
    context = state.context(conditions, row.id, instruments={})
    unread = Measured(
        quantity=row.quantity,
        value=None,
        unit=quantity(row.quantity).unit,
        reason="not_measured",
        method="",
        working="",
        at_hz=_place(row, context.assigned_hz()),
    )
    return [v for v in verdicts_of(unread, conditions, context) if v.low is not None or v.high is not None]


def _place(row: PlanRow, assigned: float | None) -> float | None:
    if assigned is None or not row.quantity.startswith("harmonic_"):
        return None
    return int(row.quantity.split("_")[1]) * assigned


def healthy_ones(model: str, besides: Job | None, rows: list[PlanRow]) -> dict[str, Ghost]:
    """This shop's own figures, as left, for a model at these points: the newest of each unit, of other jobs than
    one."""
    if not model or not rows:
        return {}
    newest = _newest_of_each_unit(model, besides, {row.id for row in rows})
    known = {row.id: ghost(newest.get(row.id, []), quantity(row.quantity).unit) for row in rows}
    return {row: found for row, found in known.items() if found is not None}


def _newest_of_each_unit(model: str, job: Job | None, rows: set[str]) -> dict[str, list[float]]:
    """For each line of the plan the newest figure of each other unit that no limit line calls outside: what left, or
    came in healthy."""
    there = Reading.objects.filter(
        model=model, plan_row__in=rows, bound=None, value__isnull=False, line__withdrawn_at=None
    ).exclude(line__job=job)
    nth = Window(RowNumber(), partition_by=F("plan_row"), order_by=F("at").desc())
    newest = there.annotate(nth=nth).filter(nth__lte=GHOST_READINGS).order_by("nth")
    values: dict[str, dict[object, float]] = {}
    for row, unit_item, value, verdicts in newest.values_list("plan_row", "line__item", "value", "verdicts"):
        if row and value is not None and verdicts and all(v["verdict"] not in OUTSIDE for v in verdicts):
            values.setdefault(row, {}).setdefault(unit_item, value)
    return {row: list(of_units.values()) for row, of_units in values.items()}


def _earlier_visit(job: Job, state: State) -> EarlierVisitOut | None:
    """The last visit of the same serial: its watch notes, and what differs since it left."""
    before = earlier_visit(job)
    if before is None or before.handed_back_at is None:
        return None
    then = state_of(before, None)
    left = {f.plan_row: f for f in then.facts if f.plan_row and why_not_left(f, then.stale) is None}
    now = {f.plan_row: f for f in state.facts if f.phase == "as_received" and f.plan_row}
    since = []
    for row_id, fact in now.items():
        row = state.row(row_id)
        if row is not None and row_id in left:
            since.append(
                f"{quantity(fact.quantity).name}, {row_label(row)}: left at {left[row_id].figure}, now {fact.figure}"
            )
    watch = [story.words for line, story in then.stories if line.kind == "watch"]
    return EarlierVisitOut(
        id=before.pk, number=before.number, handed_back_at=before.handed_back_at, watch=watch, since=since
    )
