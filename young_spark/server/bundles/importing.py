"""Reading a bundle: bounded, nothing believed that its own hash or type does not bear out, each job whole or not at all."""

import hashlib
import zipfile
from dataclasses import dataclass
from typing import IO
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.db.models import Max
from pydantic import ValidationError

from young_spark.core.entry import StoryLine
from young_spark.core.figure import Conditions, Measured
from young_spark.core.ground import CoreError
from young_spark.core.judging import VerdictLine
from young_spark.core.live import Drop
from young_spark.core.path import path_of
from young_spark.core.trace import STRATEGIES, chain_from
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.benches.models import JobPath
from young_spark.server.benches.services import in_use
from young_spark.server.bundles import format as bundle
from young_spark.server.handback.models import SentenceEdit
from young_spark.server.jobs import pictures
from young_spark.server.jobs.models import Item, Job, Line, Picture
from young_spark.server.live.models import KeyDown, Watch, WatchDrop, WatchMark, WatchPart
from young_spark.server.problems import Conflict, Refused, TooLarge
from young_spark.server.readings.models import Reading
from young_spark.server.readings.services import refresh
from young_spark.server.records.models import Record
from young_spark.server.records.services import Told
from young_spark.server.tracing.chains import add_chain, chain_of, standing
from young_spark.server.tracing.models import Board, Doubt, Look, Pin, Trace

LARGEST_BUNDLE = 500 << 20
LARGEST_JOB, LARGEST_PICTURE, LARGEST_IN_ALL = 64 << 20, 30 << 20, 4 << 30
MOST_ENTRIES = 200_000


@dataclass(frozen=True)
class Outcome:
    """What became of one job, in words."""

    job: Job
    words: str


def read_bundle(*, actor: Person, file: IO[bytes]) -> list[Outcome]:
    """Read every job of a bundle. Raises Refused, TooLarge or Conflict with what and where; jobs before it are kept."""
    require_technician(actor)
    try:
        with zipfile.ZipFile(file) as archive:
            manifest = _checked(archive)
            return [_read_job(archive, str(job_id)) for job_id in manifest.jobs]
    except (zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, EOFError, OSError, RuntimeError) as problem:
        raise Refused(
            "That is not a whole bundle: the zip is damaged, cut off, or locked with a password."
        ) from problem


def _checked(archive: zipfile.ZipFile) -> bundle.Manifest:
    entries = archive.infolist()
    if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > LARGEST_IN_ALL:
        raise TooLarge("That bundle holds more than a shelf can: it was not unpacked.")
    strange = next((e.filename for e in entries if not bundle.NAMES.fullmatch(e.filename)), None)
    if strange is not None:
        raise Refused(f"The bundle holds '{strange[:60]}', which no bundle holds: nothing was read.")
    try:
        manifest = bundle.Manifest.model_validate_json(_bytes(archive, bundle.MANIFEST, LARGEST_JOB))
    except (KeyError, ValidationError) as problem:
        raise Refused(
            "That is not a bundle of Young Spark: its bundle.json is missing or says something else."
        ) from problem
    if manifest.version != bundle.VERSION:
        raise Refused(f"The bundle is of version {manifest.version}, this one reads {bundle.VERSION}.")
    return manifest


def _bytes(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """An entry's bytes; its own word for its size is not believed."""
    with archive.open(name) as source:
        found = source.read(most + 1)
    if len(found) > most:
        raise TooLarge(f"{name} in the bundle is larger than it may be.")
    return found


def _read_job(archive: zipfile.ZipFile, job_id: str) -> Outcome:
    name = f"jobs/{job_id}.json"
    try:
        told = bundle.JobIn.model_validate_json(_bytes(archive, name, LARGEST_JOB))
        _check_values(told)
    except KeyError as problem:
        raise Refused(f"{name} is missing in the bundle.") from problem
    except ValidationError as problem:
        first = problem.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise Refused(f"{name}, {place}: {first['msg']}.") from problem
    if str(told.id) != job_id:
        raise Refused(f"{name} holds another job than its name says.")
    for line in told.lines:
        if line.picture is not None:
            _keep_picture(archive, line.picture)
    for file in (f for record in told.records for f in record.files):
        pictures.store(_whole(archive, f"records/{file.sha256}", file.sha256, settings.LARGEST_RECORD))
    return _store(told)


def _check_values(told: bundle.JobIn) -> None:
    """What is kept as JSON must be what the core knows, or a page that shows it would fail later."""
    items = {item.id for item in told.items}
    lines = {line.id for line in told.lines}
    for line in told.lines:
        if line.item is not None and line.item not in items:
            raise Refused(f"Line {line.number} of job {told.number} names an item that is not there.")
        if line.superseded_by is not None and line.superseded_by not in lines:
            raise Refused(f"Line {line.number} of job {told.number} was replaced by a line that is not there.")
        if line.story is not None:
            StoryLine.model_validate(line.story)
        for reading in line.readings:
            Measured.model_validate(reading.measured)
            Conditions.model_validate(reading.conditions)
            for verdict in reading.verdicts:
                VerdictLine.model_validate(verdict)
    for record in told.records:
        Told.model_validate(record.told)
    for trace in told.traces:
        _check_trace(told, trace, lines)
    pictured = {line.id for line in told.lines if line.picture is not None}
    if any(board.line not in pictured for board in told.boards):
        raise Refused(f"A board of job {told.number} names a picture that is not there.")
    if told.path is not None:
        try:
            path_of(told.path.path, told.path.name or "path")
        except CoreError as refusal:
            raise Refused(f"The path of job {told.number} in the bundle: {refusal}.") from refusal


def _check_trace(told: bundle.JobIn, trace: bundle.TraceIn, lines: set[UUID]) -> None:
    where = f"A trace of job {told.number} in the bundle"
    text = told.chains.get(trace.chain)
    try:
        chain = chain_of(trace.chain)[0] if text is None else chain_from(text, trace.chain, trace.chain)
    except CoreError as refusal:
        raise Refused(f"{where}: {refusal}.") from refusal
    if trace.strategy not in STRATEGIES or (trace.proven and trace.proven not in chain.by_fault):
        raise Refused(f"{where} has an order or a fault that its chain does not know.")
    if {*(look.line for look in trace.looks), *(doubt.line for doubt in trace.doubts)} - lines:
        raise Refused(f"{where} has a look at a line that is not there, or doubts one.")


def _whole(archive: zipfile.ZipFile, name: str, sha256: str, most: int) -> bytes:
    """The bytes of a file that its name is the hash of."""
    try:
        data = _bytes(archive, name, most)
    except KeyError as problem:
        raise Refused(f"{name} is missing in the bundle.") from problem
    if hashlib.sha256(data).hexdigest() != sha256:
        raise Refused(f"{name} in the bundle is not what its name says: it was changed or damaged.")
    return data


def _keep_picture(archive: zipfile.ZipFile, picture: bundle.PictureIn) -> None:
    name = f"pictures/{picture.sha256}"
    data = _whole(archive, name, picture.sha256, LARGEST_PICTURE)
    try:
        right = pictures.kind_of(data) == (picture.media_type, picture.width, picture.height)
    except Refused as problem:
        raise Refused(f"{name} in the bundle is no whole picture.") from problem
    if not right:
        raise Refused(f"{name} in the bundle is another kind or size of picture than the slip says.")
    pictures.store(data)


@transaction.atomic
def _store(told: bundle.JobIn) -> Outcome:
    people = {name: _person(name, shown) for name, shown in told.people.items()}
    named = {
        told.created_by,
        *(line.by for line in told.lines),
        *(w.by for w in told.watches),
        *(e.edited_by for e in told.edits),
        *(r.by for r in told.records),
        *(t.by for t in told.traces),
        *(d.by for t in told.traces for d in t.doubts),
    }
    named |= {n for line in told.lines for n in (line.settled_by, line.withdrawn_by) if n is not None}
    if missing := named - set(people):
        raise Refused(f"Job {told.number} names '{sorted(missing)[0][:40]}', who is not among its people.")
    there = Job.objects.filter(pk=told.id).first()
    job = there or _new_job(told, people)
    items = {i.pk for i in job.items.all()}
    for item in told.items:
        if item.id not in items:
            if Item.objects.filter(pk=item.id).exists():
                raise Conflict(f"An item of job {told.number} belongs to another job here.")
            Item.objects.create(job=job, **item.model_dump())
    fresh, mended = _merge_lines(job, told, people)
    _merge_rest(job, told, people)
    refresh(job)
    if there is None:
        Job.objects.filter(pk=job.pk).update(touched_at=told.touched_at)
    return Outcome(job, _words(job, told, there is not None, fresh, mended))


def _words(job: Job, told: bundle.JobIn, was_here: bool, fresh: int, mended: int) -> str:
    name = f"Job {job.number}, {job.title}"
    if not was_here:
        moved = f" (it was job {told.number} where it came from)" if job.number != told.number else ""
        return f"{name}: read in with {fresh} lines{moved}."
    if not fresh and not mended:
        return f"{name}: was here already, nothing new."
    return f"{name}: was here already; {fresh} new lines added" + (f", {mended} brought up to date." if mended else ".")


def _person(username: str, shown: str) -> Person:
    """Somebody by the short name; one who is not known here is kept as a name, without a way to sign in."""
    found = Person.objects.filter(username=username[:150]).first()
    if found is None:
        found = Person(username=username[:150], first_name=shown[:150], role=Person.Role.READER, is_active=False)
        found.set_unusable_password()
        found.save()
    return found


def _new_job(told: bundle.JobIn, people: dict[str, Person]) -> Job:
    number = told.number
    if Job.objects.filter(number=number).exists():
        number = (Job.objects.aggregate(Max("number"))["number__max"] or 0) + 1
    same = ("title", "owner", "came_with", "part", "value", "ceiling", "created_at", "handed_back_at", "touched_at")
    return Job.objects.create(
        id=told.id, number=number, created_by=people[told.created_by], **{n: getattr(told, n) for n in same}
    )


def _merge_lines(job: Job, told: bundle.JobIn, people: dict[str, Person]) -> tuple[int, int]:
    """Add lines that are not here, bring marks of those that are up to date; returns how many of each."""
    here = {line.pk: line for line in Line.objects.filter(pk__in=[line.id for line in told.lines])}
    numbers = set(job.lines.values_list("number", flat=True))
    fresh = mended = 0
    for line in sorted(told.lines, key=lambda one: one.number):
        if (old := here.get(line.id)) is None:
            number = line.number if line.number not in numbers else max(numbers) + 1
            numbers.add(number)
            _new_line(job, line, number, people)
            fresh += 1
        elif old.job_id != job.pk or (old.text, old.raw) != (line.text, line.raw):
            raise Conflict(
                f"Line {line.number} of job {told.number} is another line here: nothing of that job was read."
            )
        else:
            mended += _marks(old, line, people)
    for line in told.lines:
        if line.superseded_by is not None:
            Line.objects.filter(pk=line.id, superseded_by=None).update(superseded_by=line.superseded_by)
    return fresh, mended


def _new_line(job: Job, line: bundle.LineIn, number: int, people: dict[str, Person]) -> None:
    same = ("kind", "part", "phase", "text", "raw", "story", "at", "settled_at", "withdrawn_at", "withdrawn_reason")
    made = Line.objects.create(
        id=line.id, job=job, item_id=line.item, number=number, by=people[line.by], **{n: getattr(line, n) for n in same},
        settled_by=people[line.settled_by] if line.settled_by else None, withdrawn_by=people[line.withdrawn_by] if line.withdrawn_by else None,
    )  # fmt: skip
    if line.picture is not None:
        Picture.objects.create(line=made, **line.picture.model_dump())
    for reading in line.readings:
        if Reading.objects.filter(pk=reading.id).exists():
            raise Conflict(f"A reading of line {line.number} is on another line here: nothing of that job was read.")
        Reading.objects.create(line=made, **reading.model_dump())


def _marks(old: Line, line: bundle.LineIn, people: dict[str, Person]) -> int:
    """What was taken back or ticked off there is so here too; the other way round nothing is undone."""
    changed = False
    for mark in ("withdrawn", "settled"):
        at, by = getattr(line, f"{mark}_at"), getattr(line, f"{mark}_by")
        if at is not None and getattr(old, f"{mark}_at") is None:
            setattr(old, f"{mark}_at", at)
            setattr(old, f"{mark}_by", people[by] if by else None)
            changed = True
    if changed:
        old.withdrawn_reason = line.withdrawn_reason or old.withdrawn_reason
        old.save()
    return int(changed)


def _merge_rest(job: Job, told: bundle.JobIn, people: dict[str, Person]) -> None:
    for edit in told.edits:
        SentenceEdit.objects.get_or_create(
            job=job, key=edit.key, defaults={"text": edit.text, "edited_by": people[edit.edited_by]}
        )
    items = {i.pk for i in job.items.all()}
    for record in told.records:
        if record.item is None or record.item in items:
            same = record.model_dump(include={"name", "files", "told", "at"})
            Record.objects.get_or_create(
                pk=record.id, defaults={"job": job, "item_id": record.item, "by": people[record.by]} | same
            )
    here = standing()
    for name, text in told.chains.items():
        if name not in here:  # a chain that this shop has is its own
            add_chain(name, text, people[told.created_by])
    for trace in told.traces:
        if trace.item is None or trace.item in items:
            _merge_trace(job, trace, people)
    for board in told.boards:
        _merge_board(board)
    if told.path is not None and in_use(job) is None:
        JobPath.objects.create(job=job, **told.path.model_dump())
    for down in told.key_downs:
        if down.item in items:
            KeyDown.objects.get_or_create(
                item_id=down.item,
                began_at=down.began_at,
                defaults={"ended_at": down.ended_at or down.began_at, "by_hand": down.by_hand},
            )
    _merge_watches(job, told, people, items)


def _merge_watches(job: Job, told: bundle.JobIn, people: dict[str, Person], items: set[UUID]) -> None:
    for watch in told.watches:
        if watch.item not in items or Watch.objects.filter(pk=watch.id).exists():
            continue
        made = Watch.objects.create(
            id=watch.id,
            job=job,
            item_id=watch.item,
            by=people[watch.by],
            began_at=watch.began_at,
            ended_at=watch.ended_at or watch.began_at,
        )
        WatchPart.objects.bulk_create(WatchPart(watch=made, points=points) for points in watch.parts)
        try:
            for drop in watch.drops:
                WatchDrop.objects.create(watch=made, **Drop.model_validate(drop).model_dump())
            for mark in watch.marks:
                WatchMark.objects.create(watch=made, id=mark["id"], at=float(mark["at"]), what=str(mark["what"])[:60])
        except (KeyError, TypeError, ValueError) as problem:
            raise Refused(f"A watch of job {told.number} in the bundle is not whole.") from problem


def _merge_board(board: bundle.BoardIn) -> None:
    """Add a board and the pins that are not here; a pin that is here stays where it was put."""
    made, _ = Board.objects.get_or_create(line_id=board.line, defaults={"side": board.side, "model": board.model})
    taken = {p.probe for p in made.pins.all() if p.probe}
    for pin in board.pins:
        if pin.probe not in taken and not Pin.objects.filter(pk=pin.id).exists():
            Pin.objects.create(board=made, **pin.model_dump())


def _merge_trace(job: Job, trace: bundle.TraceIn, people: dict[str, Person]) -> None:
    """Add a trace and the looks that are not here; one that was closed there is closed here too."""
    same = trace.model_dump(include={"chain", "symptom", "strategy", "proven", "closed_at", "at"})
    made, fresh = Trace.objects.get_or_create(
        pk=trace.id, defaults={"job": job, "item_id": trace.item, "by": people[trace.by]} | same
    )
    if made.job_id != job.pk:
        raise Conflict(f"A trace of job {job.number} belongs to another job here.")
    if not fresh and made.closed_at is None and trace.closed_at is not None:
        made.closed_at, made.proven = trace.closed_at, trace.proven
        made.save()
    for look in trace.looks:
        Look.objects.get_or_create(
            line_id=look.line, defaults={"trace": made, "probe": look.probe, "answer": look.answer}
        )
    for doubt in trace.doubts:
        Doubt.objects.get_or_create(trace=made, line_id=doubt.line, defaults={"by": people[doubt.by], "at": doubt.at})
