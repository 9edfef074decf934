"""The sheet of a model or a kind: everything that is known of it in one place, each value with its source."""

from datetime import datetime
from uuid import UUID

from ninja import Schema

from young_spark.core.figure import Conditions, format_value, quantity
from young_spark.core.gear import AdjustmentSequence, Model, PlanRow, Revision, Step, kinds
from young_spark.core.job import Ghost, aim_words, row_label
from young_spark.core.judging import TYPICAL, Healthy, contradictions
from young_spark.core.trace import Probe, chain_names, shipped_chain
from young_spark.server.jobs.models import Item
from young_spark.server.library.own_models import OWN_MODELS, gear, model_text
from young_spark.server.library.services import known_plans
from young_spark.server.readings.state import State, state_of
from young_spark.server.slip.assemble import healthy_ones, limits_at
from young_spark.server.tracing.gear_boards import BoardPin, Side, boards_of_model

MOST_JOBS = 40


class SheetRow(Schema):
    """A line of the plan: what is asked where, what is due and by whose word."""

    id: str
    name: str
    where: str
    ask: str
    unit: str
    due: str  # the figure that a healthy one gives, in words; empty where nobody said
    due_value: float | None
    limits: list[str]  # each with its source
    healthy: str  # this shop's own, with the number of units
    contradictions: list[str]  # what its sources say against each other
    caution: str


class SheetNote(Schema):
    text: str
    proven: bool
    revision: str  # the one that it is of, empty where it is of all


class SheetStep(Schema):
    """A step of a sequence in words: what is turned and where it stands, what is read, and where to."""

    adjuster: str
    where: str
    read: str
    aim: str
    upsets: list[str]


class SheetSequence(Schema):
    title: str
    source: str
    steps: list[SheetStep]


class SheetPin(BoardPin):
    """A pin with what is known of its place: what is due there, what it sets, and what is read again when it was
    touched."""

    about: str


class SheetBoard(Schema):
    """A board; `on_sheet` where it is the model's own and its pins are set here."""

    id: UUID
    sha256: str
    words: str
    side: Side
    pins: list[SheetPin]
    on_sheet: bool


class SheetJob(Schema):
    id: UUID
    number: int
    title: str
    handed_back_at: datetime | None


class SheetVersion(Schema):
    number: int
    at: datetime
    by: str
    text: str


class GearSheet(Schema):
    """A model or a kind on one sheet."""

    id: str
    title: str
    source: str  # a kind; shipped; this shop
    ours: bool  # it can be edited in place
    facts: list[tuple[str, str]]
    goes_by: list[str]
    revisions: list[Revision]
    cautions: list[str]
    rows: list[SheetRow]
    stages: list[str]
    sequences: list[SheetSequence]
    boards: list[SheetBoard]
    probes: dict[str, str]  # the looks of its chain, which a pin may be the place of
    notes: list[SheetNote]
    jobs: list[SheetJob]
    text: str
    versions: list[SheetVersion]


def gear_sheet(name: str) -> GearSheet | None:
    """The sheet of a model or a kind by its id; None of what nobody knows."""
    model = gear(name)
    if model is None:
        return None
    versions = list(OWN_MODELS.versions(name))
    ours = any(v.withdrawn_at is None for v in versions)
    state = state_of(None, None, loose_model=name)
    healthy = healthy_ones(name, None, list(model.plan))
    return GearSheet(
        id=name,
        title=model.title,
        source="this shop" if ours else "a kind, as shipped" if name in kinds() else "of the demo",
        ours=ours,
        facts=_facts(model),
        goes_by=list(model.goes_by),
        revisions=list(model.revisions),
        cautions=list(model.cautions),
        rows=[_row(state, row, healthy.get(row.id)) for row in model.plan],
        stages=[stage.name for stage in model.stages],
        sequences=[_sequence(told) for told in model.sequences],
        boards=_boards(name, model),
        probes={probe.id: probe.what for probe in _probes(model)},
        notes=[SheetNote(text=note.text, proven=note.proven, revision=note.revision) for note in model.notes],
        jobs=_jobs(name),
        text=model_text(model) if name not in kinds() else "",
        versions=[
            SheetVersion(number=v.number, at=v.at, by=v.by.display_name, text=v.text)
            for v in versions
            if v.withdrawn_at is None
        ],
    )


def _facts(model: Model) -> list[tuple[str, str]]:
    """What it is, in pairs of a name and words; what nobody said is left out."""
    plan = known_plans().get(model.channel_plan or "")
    chain = shipped_chain(model.chain).title if model.chain in chain_names() else model.chain or ""
    told = [
        ("kind", model.kind if model.title != model.kind else ""),
        ("modes", ", ".join(mode.upper() for mode in model.modes)),
        ("channels", plan.title if plan else ""),
        ("supply", format_value(model.supply_v, "V", figures=3) if model.supply_v else ""),
        ("gives at most", format_value(model.greatest_power_w, "W", figures=3) if model.greatest_power_w else ""),
        ("keyed at most", f"{model.key_down_s:g} s, then {model.cool_off_s or 0:g} s" if model.key_down_s else ""),
        ("high voltage", "yes" if model.high_voltage else ""),
        ("traced along", chain),
        ("limits", ", ".join(model.profiles)),
    ]
    return [(name, words) for name, words in told if words]


def _row(state: State, row: PlanRow, healthy: Ghost | None) -> SheetRow:
    unit = quantity(row.quantity).unit
    limits = limits_at(state, row, row.conditions(Conditions()))
    left = None if healthy is None else Healthy(**healthy.model_dump(include=set(Healthy.model_fields)))
    return SheetRow(
        id=row.id,
        name=quantity(row.quantity).name,
        where=row_label(row),
        ask=row.ask,
        unit=unit,
        due=format_value(row.expected, unit, figures=3) if row.expected is not None else "",
        due_value=row.expected,
        limits=[f"{limit.words} ({TYPICAL if limit.profile == 'typical' else limit.source})" for limit in limits],
        healthy="" if healthy is None else healthy.words,
        contradictions=list(contradictions(row.expected, unit, limits, left)),
        caution=row.caution or "",
    )


def _sequence(told: AdjustmentSequence) -> SheetSequence:
    names = {step.id: step.adjuster for step in told.steps}
    steps = [
        SheetStep(
            adjuster=step.adjuster,
            where=step.where,
            read=", ".join([quantity(step.read).name, *filter(None, map(row_label, step.rows(told.id)))]),
            aim=aim_words(step),
            upsets=[names[name] for name in step.upsets],
        )
        for step in told.steps
    ]
    return SheetSequence(title=told.title, source=told.source, steps=steps)


def _probes(model: Model) -> tuple[Probe, ...]:
    """The looks of a model's chain that have a place in the unit."""
    if model.chain not in chain_names():
        return ()
    return tuple(p for p in shipped_chain(model.chain).probes if not p.told and p.kind != "function")


def _boards(name: str, model: Model) -> list[SheetBoard]:
    known = {probe.id: probe for probe in _probes(model)}
    return [
        SheetBoard(
            id=board.id,
            sha256=board.sha256,
            words=board.words,
            side=board.side,
            on_sheet=board.on_sheet,
            pins=[SheetPin(**pin.model_dump(), about=_about(pin, model, known.get(pin.probe))) for pin in board.pins],
        )
        for board in boards_of_model(name)
    ]


def _about(pin: BoardPin, model: Model, probe: Probe | None) -> str:
    """What is known of a pin's place, in words."""
    told = [_set_by(step, sequence) for sequence in model.sequences for step in sequence.steps if _is_of(pin, step)]
    if probe is not None:
        point = next((p for p in model.points if p.probe == probe.id), None)
        good = (point.good if point is not None else None) or (probe.figure.good if probe.figure is not None else None)
        unit = probe.figure.unit if probe.figure is not None else ""
        due = f"{good[0]:g} to {good[1]:g} {unit}" if good else (point.level if point is not None else "") or probe.due
        told.append(f"{probe.what}{f': {due.strip()} due' if due else ''}")
    return "; ".join(dict.fromkeys(told))


def _is_of(pin: BoardPin, step: Step) -> bool:
    return step.adjuster.casefold() in {pin.name.casefold(), pin.name.split()[0].casefold()}


def _set_by(step: Step, sequence: AdjustmentSequence) -> str:
    """What an adjuster sets, and what is read again once it was touched."""
    names = {other.id: other.adjuster for other in sequence.steps}
    again = ", ".join(names[name] for name in step.upsets)
    words = f"sets {quantity(step.read).name.lower()} to {aim_words(step)}"
    return f"{words}; touched, then again {again}" if again else words


def _jobs(name: str) -> list[SheetJob]:
    """The jobs of such units, the newest first."""
    items = Item.objects.filter(model=name).select_related("job").order_by("-job__number")[:MOST_JOBS]
    return [
        SheetJob(id=i.job.pk, number=i.job.number, title=i.job.title, handed_back_at=i.job.handed_back_at)
        for i in items
    ]
