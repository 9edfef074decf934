"""Taking a line: the only place where lines of text and readings are made."""

import uuid
from dataclasses import replace
from typing import Any

from django.db import transaction
from django.utils import timezone

from young_spark.core.entry import (
    EntryContext,
    Meaning,
    Repeated,
    StoryKind,
    StoryLine,
    Unclear,
    Understanding,
    figure_words,
    part_in,
    verdicts_of,
)
from young_spark.core.entry import set_right as words_set_right
from young_spark.core.figure import Conditions, Measured
from young_spark.core.gear import SETTING_UP, JobPart, PlanRow
from young_spark.core.job import (
    Placed,
    area_from_before,
    area_read_in,
    area_turned_at,
    dependencies,
    phases,
    placing,
    plans,
)
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs import kept_files, pictures
from young_spark.server.jobs import services as jobs
from young_spark.server.jobs.models import Item, Job, Line, Picture
from young_spark.server.jobs.services import add_story, next_number, refresh_search
from young_spark.server.library.services import shop_instruments
from young_spark.server.moments import after_all
from young_spark.server.problems import Conflict, NotUnderstood, Refused, must_be_the_same
from young_spark.server.readings.models import Reading
from young_spark.server.readings.state import State, state_of
from young_spark.server.writing import writing

TOUCHING = ("did", "adjusted")
MOST_LOOKED_AT = 400


def same_or_conflict(line_id: uuid.UUID, raw: dict[str, Any]) -> Line | None:
    """The stored line of an id that came before; None for a new one. Other inputs under the same id are a Conflict."""
    stored = Line.objects.filter(pk=line_id).first()
    if stored is not None and stored.raw != raw:
        raise Conflict("A line with this id is on a slip already, with other inputs.")
    return stored


def must_be_on_the_bench(job: Job) -> None:
    """Read its part and its end as they are now, inside of this transaction; raises Conflict for a job that was handed
    back."""
    job.refresh_from_db()
    if job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")


def placed(
    state: State,
    text: str,
    conditions: Conditions,
    row: str | None,
    repeated: Repeated | None = None,
    *,
    is_live: bool = False,
) -> Placed:
    """What the text would be on this slip. What an instrument gave was read where its line says."""
    instruments = shop_instruments()  # read once for every line that is tried

    def context_of(at: Conditions, line: PlanRow | None) -> EntryContext:
        context = state.context(at, line.id if line else None, instruments)
        return context.model_copy(update={"repeated": repeated})

    hand = state.spoken(row)
    if is_live and hand is not None:
        hand = replace(hand, not_since=frozenset())
    return placing.placed(text, conditions, state.row(row), state.open_lines, context_of, hand)


def _id(row: Job | Item | Line | None) -> str | None:
    return str(row.pk) if row else None


@transaction.atomic
def take_line(
    *,
    actor: Person,
    line_id: uuid.UUID,
    text: str,
    job: Job | None = None,
    item: Item | None = None,
    conditions: Conditions | None = None,
    row: str | None = None,
    model: str | None = None,
    sense: int | None = None,
    supersedes: Line | None = None,
    reason: str = "",
    captured: dict[str, Any] | None = None,
    repeated: Repeated | None = None,
    as_note: bool = False,
    turned: StoryLine | None = None,
) -> Line:
    """Store what was typed, with every figure, spread and verdict the core works out of it.

    `as_note` keeps a text that is a question as the line of words that it may be. `captured` is what instruments
    sent, kept as it was; `repeated` the scatter of a mean that they gave; `turned` the adjustment that the figure of
    the text was left at.

    The same id again returns the stored line; with other inputs it raises Conflict. Text with no single sense, and no
    `sense` chosen among the ones offered, raises NotUnderstood with the question."""
    require_technician(actor)
    conditions = conditions or Conditions()
    raw = {
        "text": text,
        "job": _id(job),
        "item": _id(item),
        "conditions": conditions.model_dump(exclude_defaults=True),
        "row": row,
        "model": model,
        "sense": sense,
        "supersedes": _id(supersedes),
        **{name: told for name, told in (("as_note", as_note), ("captured", captured)) if told},
        **({"turned": turned.model_dump(exclude_defaults=True)} if turned is not None else {}),
    }
    if (stored := same_or_conflict(line_id, raw)) is not None:
        return stored
    if job is not None:
        must_be_on_the_bench(job)
    state = state_of(job, item, model)
    is_live = any(given is not None for given in (captured, turned))
    place = placed(state, text, conditions, row, repeated, is_live=is_live)
    taken: list[Reading] = []
    story, meaning = _kept(place.meant, sense, as_note=as_note)
    if turned is not None:
        story, text = turned, turned.words
    line = Line(
        id=line_id, job=job, item=state.item, number=next_number(job), kind="reading",
        part=_part(state, story, meaning, place.row), phase=state.phase, text=text, raw=raw, by=actor,
    )  # fmt: skip
    _worded(line, story, state, meaning)
    if story is None and meaning is not None:
        line.phase = state.phase_of(meaning.readings[0].quantity)
    line.save()
    _follow(job, line)
    if meaning is not None:  # an adjustment that ended on a figure is words and a reading
        taken = _store_readings(line, meaning, state, place.row.id if place.row else row)
    if supersedes is not None:
        _supersede(supersedes, line, actor, reason)
    if job is None:
        after_commit("loose", {})
    else:
        known = supersedes is None and state.is_first_item  # what was read a moment ago is not read again
        refresh(job, state.with_line(line, taken) if known else None)
    return line


@transaction.atomic
def take_found(
    *,
    actor: Person,
    line_id: uuid.UUID,
    text: str,
    measured: Measured,
    raw: dict[str, Any],
    job: Job,
    item: Item | None,
    conditions: Conditions,
    row: str | None,
) -> Line:
    """Store a figure that was worked out from a record, judged as a typed one is. The same id again returns the
    stored line; with other inputs it raises Conflict."""
    require_technician(actor)
    if (stored := same_or_conflict(line_id, raw)) is not None:
        return stored
    must_be_on_the_bench(job)
    state = state_of(job, item)
    context = state.context(conditions, row)
    verdicts = verdicts_of(measured, conditions, context)
    line = Line.objects.create(
        id=line_id,
        job=job,
        item=state.item,
        number=next_number(job),
        kind="reading",
        part=phases.part_of_reading(state.part, state.row(row), conditions, state.changes),
        phase=state.phase_of(measured.quantity),
        text=text,
        raw=raw,
        by=actor,
    )
    meaning = Meaning(
        title=text, figure=figure_words(measured), readings=(measured,), verdicts=(verdicts,), conditions=conditions
    )
    _follow(job, line)
    _store_readings(line, meaning, state, row)
    refresh(job)
    return line


def figure_of(line: Line) -> tuple[str, str | None]:
    """The principal figure of a line in words, and its worst verdict; empty words for a line of words."""
    first = Reading.objects.filter(line=line).order_by("position").first()
    if first is None:
        return "", None
    return figure_words(first.as_measured), first.worst_verdict.verdict if first.worst_verdict else None


def _kept(meant: Understanding, sense: int | None, *, as_note: bool) -> tuple[StoryLine | None, Meaning | None]:
    """The words and the figures of a line: one of them, or both; raises NotUnderstood while a question is open."""
    story = _words_of(meant, as_note=as_note)
    asked = meant.question is not None and not as_note
    only_words = story is not None and meant.chosen is None and not (asked or sense is not None)
    return story, None if only_words else _chosen(meant, sense)


def _words_of(meant: Understanding, *, as_note: bool) -> StoryLine | None:
    """The line of words that a text is, or is kept as; where the hand is now is no line of a slip but by itself."""
    kept = as_note or bool(meant.sets)
    return meant.as_note if kept and meant.story is None else meant.story


def _chosen(meant: Understanding, sense: int | None) -> Meaning:
    """The meaning that was taken; raises NotUnderstood with the question while none is."""
    number = meant.chosen if sense is None else sense
    if number is None or not 0 <= number < len(meant.meanings):
        answers = ", or ".join(choice.label for choice in meant.choices)
        raise NotUnderstood(" ".join(filter(None, (meant.question or "What was read?", answers))))
    return meant.meanings[number]


def _worded(line: Line, story: StoryLine | None, state: State, meaning: Meaning | None) -> None:
    """Give a line its words, and what the part in them can change: as somebody said before, as the step of the
    sequence that is followed, or as what was read when an adjuster was left."""
    if story is None:
        return
    if story.kind in TOUCHING and story.area is None:
        known = (
            _area_said_before(story, state.item)
            or area_turned_at(state.set_up, story.adjuster)
            or area_from_before(story.words, part_in(story), [before.text for before in state.standing])
            or _area_of_what_was_read(story, meaning)
        )
        story = story.model_copy(update={"area": known})
    line.kind, line.story = story.kind, story.model_dump(exclude_none=True)


def _area_of_what_was_read(story: StoryLine, meaning: Meaning | None) -> str | None:
    turned = story.kind == "adjusted" and meaning is not None
    return area_read_in([r.quantity for r in meaning.readings]) if turned and meaning is not None else None


def _part(state: State, story: StoryLine | None, meaning: Meaning | None, row: PlanRow | None) -> JobPart:
    """The part of the job that a line stands under: the parts follow the work."""
    if meaning is None or (story is not None and story.kind in phases.MOVED_BY):
        return phases.part_of_words(state.part, story.kind if story else "note")
    return phases.part_of_reading(state.part, row, meaning.conditions_of(0), state.changes)


def _follow(job: Job | None, line: Line) -> None:
    """The job stands where its newest line does."""
    if job is not None and job.part != line.part:
        job.part = line.part
        job.save(update_fields=["part"])


def _store_readings(line: Line, meaning: Meaning, state: State, row: str | None) -> list[Reading]:
    quantities = [r.quantity for r in meaning.readings]
    counts = meaning.readings[0].not_judged is None  # an indication, or a figure taken wrongly, answers no open line
    there = plans.on_its_channel(meaning.conditions, state.channel_plan)
    answered = plans.answered_row(state.open_lines, quantities, there, row) if counts else None
    wanted = state.row(answered)
    made = []
    for position, (found, verdicts) in enumerate(zip(meaning.readings, meaning.verdicts, strict=True)):
        conditions = meaning.conditions_of(position)
        if meaning.each:  # each figure of a breath answers the open line of its own point
            answered = _answered(state, found, conditions, row)
            wanted = state.row(answered)
        reading = Reading.objects.create(
            id=uuid.uuid5(line.id, str(position)),
            line=line,
            position=position,
            quantity=found.quantity,
            value=found.value,
            unit=found.unit,
            uncertainty=found.uncertainty,
            bound=found.bound,
            measured=found.model_dump(mode="json"),
            conditions=conditions.model_dump(),
            verdicts=[v.model_dump(mode="json") for v in verdicts],
            phase=state.phase_of(found.quantity),
            plan_row=_of_the_plan(answered, wanted, found),
            model=state.item.model if state.item else "",
        )
        made.append(reading)
    return made


def _of_the_plan(answered: str | None, wanted: PlanRow | None, found: Measured) -> str | None:
    """The line of the plan that a figure answers: none of a sequence, and none of another quantity."""
    fits = answered is not None and wanted is not None and wanted.quantity == found.quantity
    return answered if fits and not str(answered).startswith(SETTING_UP) else None


def _answered(state: State, found: Measured, conditions: Conditions, row: str | None) -> str | None:
    """The line of the plan that one figure of a breath answers, open or once more; an indication, a figure that was
    taken wrongly and a result in words answer none."""
    if found.not_judged is not None or found.reason == "not_measured":
        return None
    there = plans.on_its_channel(conditions, state.channel_plan)
    answered = plans.answered_row(state.open_lines, [found.quantity], there, row)
    return answered or plans.read_again(state.rows, found.quantity, there)


def _supersede(old: Line, new: Line, actor: Person, reason: str) -> None:
    if old.superseded_by_id is not None or old.job_id != new.job_id:
        raise Conflict("That line was replaced already.")
    old.superseded_by, old.withdrawn_at, old.withdrawn_by = new, timezone.now(), actor
    old.withdrawn_reason = reason.strip()[:200] or "replaced"
    old.save()


def refresh(job: Job, state: State | None = None) -> None:
    """Work the shelf's columns out again from the lines; `state` is that of the job's first item where it is known."""
    if state is None:
        job.refresh_from_db()
        state = state_of(job, None)
    standing = state.standing_job
    job.waiting_for, job.locked_because = standing.waiting_for[:300], standing.locked[:300]
    job.next_step = plans.next_step(standing)[:300]
    job.touched_at = after_all(Job.objects.all(), "touched_at")
    job.save(update_fields=["waiting_for", "locked_because", "next_step", "touched_at"])
    refresh_search(job)


@transaction.atomic
def pin_loose(*, actor: Person, job: Job, lines: list[Line]) -> None:
    """Put loose lines onto a job's slip, in their order; times stay as they were."""
    require_technician(actor)
    number = next_number(job)
    item = job.items.first()
    for line in sorted(lines, key=lambda one: one.at):
        if line.job_id is not None:
            raise Conflict("That line is on a slip already.")
        line.job, line.item, line.number = job, item, number
        state = state_of(job, item)
        line.part, line.phase = job.part, state.phase
        line.save()
        for reading in line.readings.all():
            Reading.objects.filter(pk=reading.pk).update(
                phase=state.phase_of(reading.quantity), model=item.model if item else ""
            )
        number += 1
    refresh(job)


def add_picture(*, actor: Person, job: Job, line_id: uuid.UUID, data: bytes, words: str) -> Line:
    """A picture as a line of its own; it is read before anything waits for the writer, and its file is safely on disk
    before the row commits. The same id again returns the line."""
    require_technician(actor)
    clean, media_type, width, height = pictures.reencoded(data)
    words = words.strip() or "picture"
    with writing():
        if (there := Line.objects.select_related("picture").filter(pk=line_id).first()) is not None:
            kept = there.picture.sha256 if hasattr(there, "picture") else None
            sent = kept_files.name_of(clean)
            must_be_the_same("line", (there.job_id, job.pk), (kept, sent), (there.text, words))
            return there
        return _pictured(actor, job, line_id, words, Picture(media_type=media_type, width=width, height=height), clean)


def _pictured(actor: Person, job: Job, line_id: uuid.UUID, words: str, picture: Picture, clean: bytes) -> Line:
    must_be_on_the_bench(job)
    picture.sha256 = kept_files.store(clean)
    line = add_story(
        actor=actor, job=job, kind="picture", words=words, text=words, line_id=line_id, phase=state_of(job, None).phase
    )
    picture.line = line
    picture.save()
    refresh(job)
    return line


def line_of(line_id: uuid.UUID | None) -> Line | None:
    """A line by id; raises Refused for one that is not there."""
    if line_id is None:
        return None
    line = Line.objects.filter(pk=line_id).first()
    if line is None:
        raise Refused("There is no such line.")
    return line


@transaction.atomic
def take_back(*, actor: Person, line: Line, reason: str) -> Line:
    """Take a line back, with a reason; it stays on the slip, struck through."""
    return _refreshed(jobs.withdraw(actor=actor, line=line, reason=reason))


@transaction.atomic
def put_back(*, actor: Person, line: Line) -> Line:
    """Put a line that was taken back onto the slip again."""
    return _refreshed(jobs.reinstate(actor=actor, line=line))


@transaction.atomic
def tick(*, actor: Person, line: Line, settled: bool) -> Line:
    """Tick a line off, or untick it."""
    return _refreshed(jobs.settle(actor=actor, line=line, settled=settled))


@transaction.atomic
def set_right(*, actor: Person, line: Line, kind: StoryKind | None, area: str | None) -> Line:
    """Take a line of words for another kind, or say what its repair can have changed. What was typed stays as it was,
    and what the line was taken for is kept with it. Raises Refused for a line of figures, or an area nobody knows."""
    require_technician(actor)
    if line.job is not None and line.job.handed_back_at is not None:
        raise Refused("The job is handed back: take it onto the bench again, then set the line right.")
    if line.story is None:
        raise Refused("That line is a figure: take it back, or replace it.")
    if area is not None and area not in dependencies().areas:
        raise Refused(f"There is no area '{area}'.")
    story = StoryLine.model_validate(line.story)
    try:
        story = words_set_right(story, kind) if kind is not None else story
    except Unclear as question:
        raise Refused(str(question)) from question
    if area is not None:
        story = story.model_copy(update={"area": area, "area_by_hand": True})
    line.kind, line.story = story.kind, story.model_dump(exclude_none=True)
    line.save(update_fields=["kind", "story"])
    return _refreshed(line)


def _area_said_before(story: StoryLine, item: Item | None) -> str | None:
    """What somebody said that the same part of the same model can change, the last time."""
    part = part_in(story)
    if part is None or item is None or not item.model or story.area is not None:
        return None
    said = Line.objects.filter(item__model=item.model, kind__in=TOUCHING, story__area_by_hand=True, withdrawn_at=None)
    for told in said.order_by("-at").values_list("story", flat=True)[:MOST_LOOKED_AT]:
        line = StoryLine.model_validate(told)
        if (part_in(line) or "").lower() == part.lower():
            return line.area
    return None


def _refreshed(line: Line) -> Line:
    if line.job is not None:
        refresh(line.job)
    return line
