"""What can be done to a job and its lines; every change has an actor and one transaction."""

import uuid

from django.db import transaction
from django.db.models import Max, Q, QuerySet
from django.utils import timezone

from young_spark.core.gear import UNNAMED, kind_named, model_named, rated_in
from young_spark.core.job import check_in as in_words
from young_spark.core.judging import BadSelector, read_selector
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs.models import Item, Job, Line, Part
from young_spark.server.library.own_models import gear, known_models, newest_version
from young_spark.server.moments import after_all
from young_spark.server.problems import Conflict, Refused, must_be_the_same

RETAKEN = "retaken"


def gear_named(words: str, otherwise: str = "") -> str:
    """The model that the words name, else the kind that they say."""
    return model_named(words, known_models()) or kind_named(words) or otherwise


@transaction.atomic
def check_in(*, actor: Person, job_id: uuid.UUID, words: str) -> Job:
    """A new job from one line: 'Tarnbeck M27, marshal 14: no output', or as a hand
    types it. The same id again returns the job; with other words it is a Conflict."""
    require_technician(actor)
    words = words.strip()
    if not words:
        raise Refused("What came in? One line will do: 'Tarnbeck M27, marshal 14: no output'.")
    told = in_words(words)
    unit, owner = told.unit, told.owner
    if not unit:
        raise Refused("Which unit came in? Say it before the colon: 'Tarnbeck M27, marshal 14: no output'.")
    if (there := Job.objects.filter(pk=job_id).first()) is not None:
        said = Line.objects.filter(pk=uuid.uuid5(job_id, "complaint")).first()
        kept = (there.title, there.owner, said.story["words"] if said else "")
        if kept != (unit[:200], owner[:200], told.complaint):
            raise Conflict("That job is on the shelf already, under another line.")
        return there
    number = (Job.objects.aggregate(Max("number"))["number__max"] or 0) + 1
    model = gear_named(unit) or kind_named(words) or UNNAMED
    known = gear(model)
    job = Job.objects.create(
        id=job_id,
        number=number,
        title=unit[:200],
        owner=owner[:200],
        came_with=told.came_with[:300],
        created_by=actor,
        touched_at=after_all(Job.objects.all(), "touched_at"),
        value=known.value if known else None,
    )
    rated_w = rated_in(unit) if known and known.kind_id else None
    Item.objects.create(
        id=uuid.uuid5(job_id, "first item"),
        job=job,
        name=unit[:200],
        model=model,
        model_version=newest_version(model),
        rated_w=rated_w,
        serial=told.serial[:60],
    )
    if told.complaint:
        add_story(
            actor=actor,
            job=job,
            kind="said",
            words=told.complaint,
            text=f"said {told.complaint}",
            line_id=uuid.uuid5(job_id, "complaint"),
        )
    refresh_search(job)
    return job


def add_story(
    *,
    actor: Person,
    job: Job,
    kind: str,
    words: str,
    text: str,
    line_id: uuid.UUID,
    phase: str = "as_received",
    part: str | None = None,
) -> Line:
    """A line of words that no text in the field made: the complaint at check-in, a picture. In the job's part, or
    another."""
    return Line.objects.create(
        id=line_id,
        job=job,
        item=job.items.first(),
        number=next_number(job),
        kind=kind,
        part=part or job.part,
        phase=phase,
        text=text,
        raw={"text": text},
        story={"kind": kind, "words": words},
        by=actor,
    )


def next_number(job: Job | None) -> int:
    """The next line's number on a slip; IMMEDIATE transactions serialise writers."""
    return (Line.objects.filter(job=job).aggregate(Max("number"))["number__max"] or 0) + 1


EDITABLE = {"title", "owner", "came_with", "value", "ceiling", "part"}


@transaction.atomic
def change_job(*, actor: Person, job: Job, changes: dict[str, object]) -> Job:
    """Change what is known of a job. Raises Refused for what cannot be changed so."""
    require_technician(actor)
    unknown = set(changes) - EDITABLE
    if unknown or (changes.get("part", job.part) not in Part.values):
        raise Refused(f"A job has no {', '.join(sorted(unknown)) or 'such part'}.")
    if any(value is None for name, value in changes.items() if name not in {"value", "ceiling"}):
        raise Refused("Empty words are fine, nothing at all is not.")
    if not str(changes.get("title", job.title)).strip():
        raise Refused("A job needs a title: which unit is it?")
    job.refresh_from_db()  # another hand may have changed it since it was read
    for name, value in changes.items():
        setattr(job, name, value)
    job.save()
    refresh_search(job)
    return job


@transaction.atomic
def change_item(
    *,
    actor: Person,
    item: Item,
    name: str | None,
    model: str | None,
    serial: str | None,
    selector: str | None = None,
    rated_w: float | None = None,
) -> Item:
    """Name an item, say its model, its serial number, or how its selector is mapped. Raises Refused for a map not
    understood."""
    require_technician(actor)
    known = gear(model) if model else None
    if model and known is None:
        raise Refused(f"The library has no model '{model}'.")
    item.refresh_from_db()
    if model is not None and model != item.model:
        item.model, item.model_version = model, newest_version(model)
        if known is not None and item.job.value is None:
            Job.objects.filter(pk=item.job_id).update(value=known.value)
    if rated_w is not None:
        item.rated_w = rated_w or None
    if selector is not None:
        _check_selector(selector)
        item.selector = selector.strip()
    item.name, item.serial = name or item.name, item.serial if serial is None else serial
    item.save()
    refresh_search(item.job)
    return item


@transaction.atomic
def follow_model(*, actor: Person, item: Item) -> Item:
    """Have a unit follow the newest version of its model: its plan, limits and cautions from now on."""
    require_technician(actor)
    item.refresh_from_db()
    item.model_version = newest_version(item.model)
    item.save(update_fields=["model_version"])
    return item


def _check_selector(text: str) -> None:
    try:
        read_selector(text)
    except BadSelector as refusal:
        raise Refused(f"{refusal}.") from refusal


@transaction.atomic
def add_item(*, actor: Person, job: Job, item_id: uuid.UUID, name: str) -> Item:
    """Another box of the same job."""
    require_technician(actor)
    made, is_new = Item.objects.get_or_create(
        pk=item_id, defaults={"job": job, "name": name, "model": gear_named(name), "position": job.items.count()}
    )
    if not is_new:
        must_be_the_same("item", (made.job_id, job.pk), (made.name, name))
    refresh_search(job)
    return made


@transaction.atomic
def withdraw(*, actor: Person, line: Line, reason: str) -> Line:
    """Take a line back, with a reason; it stays on the slip, struck through."""
    require_technician(actor)
    if line.withdrawn_at is None:
        line.withdrawn_at, line.withdrawn_by, line.withdrawn_reason = (
            timezone.now(),
            actor,
            reason.strip()[:200] or RETAKEN,
        )
        line.save()
    return line


@transaction.atomic
def reinstate(*, actor: Person, line: Line) -> Line:
    """Put a withdrawn line back; one that was superseded stays so."""
    require_technician(actor)
    if line.superseded_by_id is not None:
        raise Conflict("That line was replaced by another: take the other one back instead.")
    line.withdrawn_at, line.withdrawn_by, line.withdrawn_reason = None, None, ""
    line.save()
    return line


@transaction.atomic
def settle(*, actor: Person, line: Line, settled: bool) -> Line:
    """Tick a line off (a wish, a thing awaited), or untick it."""
    require_technician(actor)
    line.settled_at, line.settled_by = (timezone.now(), actor) if settled else (None, None)
    line.save()
    return line


@transaction.atomic
def hand_back(*, actor: Person, job: Job, back: bool) -> Job:
    """Close a job, or take it onto the bench again. A unit that is not safe goes back with its lock in the report."""
    require_technician(actor)
    job.refresh_from_db()
    job.handed_back_at = after_all(Job.objects.all(), "handed_back_at") if back else None
    job.part = Part.OUT if back else job.part
    job.save()
    return job


def refresh_search(job: Job) -> None:
    """Put the words a job is searched by into one column, and tell open pages: every change of a job ends here."""
    items = " ".join(f"{i.name} {i.serial} {i.model}" for i in job.items.all())
    words = " ".join(
        Line.objects.filter(job=job, withdrawn_at=None, kind__in=("said", "found", "did", "note")).values_list(
            "text", flat=True
        )
    )
    after_commit("job", {"job": str(job.pk)})
    job.searched = f"{job.number} {job.title} {job.owner} {items} {words}".lower()[:20_000]
    job.save(update_fields=["searched"])


def search(words: str) -> QuerySet[Job]:
    """Jobs in which every word occurs: serial, owner, model, anything on the slip."""
    wanted = Q()
    for word in words.lower().split()[:8]:
        wanted &= Q(searched__contains=word)
    return Job.objects.filter(wanted)


def earlier_visit(job: Job) -> Job | None:
    """The last job of the same serial number that was handed back before this one came in."""
    serials = [i.serial for i in job.items.all() if i.serial]
    if not serials:
        return None
    return (
        Job.objects.filter(items__serial__in=serials, handed_back_at__isnull=False, created_at__lt=job.created_at)
        .exclude(pk=job.pk)
        .order_by("-handed_back_at")
        .first()
    )
