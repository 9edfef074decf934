"""Reading a bundle: bounded, nothing believed that its own hash or type does not bear out, each job whole or not at
all."""

import contextlib
import hashlib
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from typing import IO

from django.db.models import Max
from pydantic import ValidationError

from young_spark.core.ground import ZIP_DAMAGE, NoPlainJson, plain_json
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bundles import format as bundle
from young_spark.server.jobs import kept_files
from young_spark.server.jobs.bundling import BundledFile, Joining
from young_spark.server.jobs.models import Job
from young_spark.server.problems import Refused, TooLarge
from young_spark.server.readings.services import refresh
from young_spark.server.writing import writing

UNREADABLE: tuple[type[Exception], ...] = (*ZIP_DAMAGE, OSError)
LARGEST_JOB, LARGEST_IN_ALL = 64 << 20, 4 << 30
MOST_ENTRIES = 200_000


@dataclass(frozen=True)
class Outcome:
    """What became of one job, in words."""

    job: Job
    words: str


def read_bundle(*, actor: Person, file: IO[bytes]) -> list[Outcome]:
    """Read every job of a bundle. Raises Refused, TooLarge or Conflict with what and where; jobs before it are kept."""
    require_technician(actor)
    with _undamaged():
        archive = zipfile.ZipFile(file)
    with archive:
        manifest = _checked(archive)
        lost = set(manifest.not_whole)
        return [_read_job(archive, str(job_id), lost) for job_id in manifest.jobs]


@contextlib.contextmanager
def _undamaged() -> Iterator[None]:
    """Around what reads the zip alone: a fault in what is done with its contents is no damage."""
    try:
        yield
    except UNREADABLE as problem:
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
    with _undamaged(), archive.open(name) as source:
        data = source.read(most + 1)
    if len(data) > most:
        raise TooLarge(f"{name} in the bundle is larger than it may be.")
    return data


def _read_job(archive: zipfile.ZipFile, job_id: str, lost: set[str]) -> Outcome:
    name = f"jobs/{job_id}.json"
    try:
        told = bundle.JobIn.model_validate(plain_json(_bytes(archive, name, LARGEST_JOB)))
        for section in bundle.SECTIONS:
            section.check(told, getattr(told, section.name))
    except KeyError as problem:
        raise Refused(f"{name} is missing in the bundle.") from problem
    except NoPlainJson as problem:
        raise Refused(f"{name}, {problem}.") from problem
    except ValidationError as problem:
        first = problem.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise Refused(f"{name}, {place}: {first['msg']}.") from problem
    if str(told.id) != job_id:
        raise Refused(f"{name} holds another job than its name says.")
    for section in bundle.SECTIONS:
        for file in section.files(getattr(told, section.name)):
            if file.sha256 not in lost:  # where the bundle was made, it was not whole: its line says so here too
                _keep_file(archive, file)
    return _store(told)


def _whole(archive: zipfile.ZipFile, name: str, sha256: str, most: int) -> bytes:
    """The bytes of a file that its name is the hash of."""
    try:
        data = _bytes(archive, name, most)
    except KeyError as problem:
        raise Refused(f"{name} is missing in the bundle.") from problem
    if hashlib.sha256(data).hexdigest() != sha256:
        raise Refused(f"{name} in the bundle is not what its name says: it was changed or damaged.")
    return data


def _keep_file(archive: zipfile.ZipFile, file: BundledFile) -> None:
    name = f"{file.folder}/{file.sha256}"
    data = _whole(archive, name, file.sha256, file.most_bytes)
    file.check(name, data)
    kept_files.store(data)


def _store(told: bundle.JobHead) -> Outcome:
    """What was read and found whole becomes rows; only this waits for the writer."""
    with writing():
        return _stored(told)


def _stored(told: bundle.JobHead) -> Outcome:
    people = {name: _person(name, shown) for name, shown in told.people.items()}
    if missing := bundle.people_of(told) - set(people):
        raise Refused(f"Job {told.number} names '{sorted(missing)[0][:40]}', who is not among its people.")
    there = Job.objects.filter(pk=told.id).first()
    job = there or _new_job(told, people)
    into = Joining(job, told.number, people)
    for section in bundle.SECTIONS:
        section.merge(into, getattr(told, section.name))
    refresh(job)
    if there is None:
        Job.objects.filter(pk=job.pk).update(touched_at=told.touched_at)
    return Outcome(job, _words(job, told, there is not None, into))


def _words(job: Job, told: bundle.JobHead, was_here: bool, into: Joining) -> str:
    fresh, mended = into.fresh, into.mended
    name = f"Job {job.number}, {job.title}"
    if not was_here:
        moved = f" (it was job {told.number} where it came from)" if job.number != told.number else ""
        return f"{name}: read in with {fresh} lines{moved}."
    if not fresh and not mended:
        return f"{name}: was here already, nothing new."
    return f"{name}: was here already; {fresh} new lines added" + (f", {mended} brought up to date." if mended else ".")


def _person(username: str, shown: str) -> Person:
    """Somebody by the short name; one who is not known here is kept as a name, without a way to sign in."""
    person = Person.objects.filter(username=username[:150]).first()
    if person is None:
        person = Person(username=username[:150], first_name=shown[:150], role=Person.Role.READER, is_active=False)
        person.set_unusable_password()
        person.save()
    return person


def _new_job(told: bundle.JobHead, people: dict[str, Person]) -> Job:
    number = told.number
    if Job.objects.filter(number=number).exists():
        number = (Job.objects.aggregate(Max("number"))["number__max"] or 0) + 1
    same = ("title", "owner", "came_with", "part", "value", "ceiling", "created_at", "handed_back_at", "touched_at")
    return Job.objects.create(
        id=told.id, number=number, created_by=people[told.created_by], **{n: getattr(told, n) for n in same}
    )
