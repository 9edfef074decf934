"""The path of a job: taking a bench, changing it, what it would do to people and instruments, and who said so."""

import math
import tempfile
import uuid
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path as File
from typing import Any

from django.db import transaction
from django.utils import timezone

from young_spark.core.analysis.network_sweep import insertion_losses
from young_spark.core.captures import read
from young_spark.core.gear import Model
from young_spark.core.ground import CoreError
from young_spark.core.path import Drive, Levels, Path, levels, padded_part, walk, with_pad
from young_spark.core.path.guard import (
    Hazard,
    HazardLine,
    greatest_drive,
    hazards,
    highest_hz,
    over_rated,
    still_counts,
)
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.benches.models import JobPath, SavedBench
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs.models import Job, Line
from young_spark.server.jobs.services import add_story
from young_spark.server.library.own_models import gear
from young_spark.server.library.services import known_plans
from young_spark.server.problems import Conflict, Refused

LARGEST_LOSS_FILE = 4 << 20
MOST_ROWS = 400


@dataclass(frozen=True)
class Said:
    """Who confirmed or overrode something, and when. It counts for a working day."""

    by: str
    at: datetime

    @property
    def counts(self) -> bool:
        """Whether it is not from another day."""
        return still_counts(self.at, timezone.now(), None)


@dataclass(frozen=True)
class Guarded:
    """A job's path with what it would do for the most that its start could give."""

    path: Path
    drive: Drive | None
    at_hz: float
    found: Levels | None
    hazards: tuple[tuple[HazardLine, Said | None], ...]
    over: tuple[tuple[str, str, Said | None], ...]

    @property
    def barred(self) -> str:
        """Why it must not be keyed as it stands, or an empty string."""
        if self.drive is None:
            return "nothing says how much power could come out: name the unit, or state the most on the Path page"
        told = [(line.words, said) for line, said in self.hazards] + [(words, said) for _, words, said in self.over]
        return next((words for words, said in told if said is None or not said.counts), "")


def in_use(job: Job | None) -> JobPath | None:
    """The path that a job has in use, or None."""
    return JobPath.objects.filter(job=job).first() if job is not None else None


def guarded(job: Job, row: JobPath) -> Guarded:
    """What the path in use would do, worked out now."""
    units = units_of(job)
    path, covers = row.as_path, covers_off_since(job)
    drive = greatest_drive(path.begins, units, row.most_w)
    at_hz = highest_hz(units, known_plans())
    reached = levels(path, drive, at_hz) if drive is not None else None
    standing = hazards(path, reached, high_voltage=any(u.high_voltage for u in units), covers_off=covers is not None)
    return Guarded(
        path,
        drive,
        at_hz,
        reached,
        tuple((line, _said(row.confirmed.get(line.hazard), covers)) for line in standing),
        tuple((part, words, _said(row.overridden.get(part), None)) for part, words in over_rated(path, reached)),
    )


def units_of(job: Job) -> list[Model]:
    """The models of everything on the job that the library knows."""
    found = (gear(item.model, item.rated_w, version=item.model_version) for item in job.items.all())
    return [unit for unit in found if unit is not None]


def covers_off_since(job: Job) -> datetime | None:
    """When the covers came off, or None while they are on."""
    last = (
        Line.objects.filter(job=job, kind="changed", story__condition="covers", withdrawn_at=None)
        .order_by("-number")
        .first()
    )
    return last.at if last is not None and (last.story or {}).get("condition_value") == "off" else None


def _said(told: dict[str, str] | None, covers_off: datetime | None) -> Said | None:
    """What somebody said still counts: not from another day, nor from before the covers came off."""
    if told is None:
        return None
    said = Said(told["by"], datetime.fromisoformat(told["at"]))
    return said if still_counts(said.at, timezone.now(), covers_off) else None


@transaction.atomic
def use(
    *, actor: Person, job: Job, path: Path | None, name: str, most_w: float | None, keyed: bool, sure: bool = False
) -> JobPath | None:
    """Put a path in use on a job, or take it off. Changing it while keyed is a hazard: only who says so by name may."""
    require_technician(actor)
    if job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")
    if keyed and not sure:
        raise Conflict(
            "The transmitter is keyed: let go first. Changing the path while keyed can hurt you and the final."
        )
    there = in_use(job)
    if path is None:
        if there is not None:
            there.delete()
            _tell_if_keyed(actor, job, "path: none in use", keyed)
        return None
    told = path.model_dump(by_alias=True, mode="json", exclude_defaults=True)
    row = there or JobPath(job=job)
    changed = row.path != told
    if changed:
        row.confirmed, row.overridden, row.at = {}, {}, timezone.now()
    row.name, row.path, row.most_w = name.strip()[:60], told, most_w
    guarded(job, row)  # what cannot be worked out is refused before it is kept
    row.save()
    if changed:
        _tell_if_keyed(actor, job, f"path: {words_of(path, row.name)}", keyed)
    after_commit("job", {"job": str(job.pk), "path": row.name})
    return row


def words_of(path: Path, name: str) -> str:
    """A path in one line: its name, and the parts as the signal meets them."""
    parts = ", ".join(part.title for part, _ in walk(path))
    return f"{name}: {parts}" if name else parts


def _tell_if_keyed(actor: Person, job: Job, words: str, keyed: bool) -> None:
    """A path that changes needs no line, since each reading says what it went through; one that changes while keyed
    does."""
    if keyed:
        _tell(actor, job, f"{words} (changed while keyed, said by {actor.display_name})")


def _tell(actor: Person, job: Job, words: str) -> None:
    words = words[:300]
    add_story(actor=actor, job=job, kind="note", words=words, text=words, line_id=uuid.uuid4())


@transaction.atomic
def set_pad(
    *, actor: Person, job: Job, instrument: str | None, pad_db: float, keyed: bool, sure: bool = False
) -> JobPath:
    """Another pad before an instrument of the path (None: the one that readings behind a pad go by): what the chip
    changes."""
    row = in_use(job)
    if row is None:
        raise Refused("No path is in use on this job.")
    path = row.as_path
    place = padded_part(path, instrument)
    if place is None:
        raise Refused("That instrument does not hang in the path.")
    padded = with_pad(path, place, pad_db)
    kept = use(actor=actor, job=job, path=padded, name=row.name, most_w=row.most_w, keyed=keyed, sure=sure)
    assert kept is not None
    return kept


def key_down_ended(job: Job) -> bool:
    """A part is let through for one key-down; returns whether that used anything up."""
    return JobPath.objects.filter(job=job).exclude(overridden={}).update(overridden={}) > 0


@transaction.atomic
def confirm(*, actor: Person, job: Job, hazard: Hazard) -> JobPath:
    """Confirm by name a hazard that stands now; it goes onto the slip."""
    require_technician(actor)
    row = in_use(job)
    standing = {line.hazard: line for line, _ in guarded(job, row).hazards} if row is not None else {}
    if row is None or hazard not in standing:
        raise Refused("That hazard does not stand.")
    row.confirmed = row.confirmed | {hazard: _named(actor)}
    row.save(update_fields=["confirmed"])
    _tell(actor, job, f"confirmed by {actor.display_name}: {standing[hazard].words}")
    after_commit("job", {"job": str(job.pk), "confirmed": hazard})
    return row


@transaction.atomic
def override(*, actor: Person, job: Job, part: str) -> JobPath:
    """Let one named part see more than it stands for the next key-down; it goes onto the slip."""
    require_technician(actor)
    row = in_use(job)
    over = {name: words for name, words, _ in guarded(job, row).over} if row is not None else {}
    if row is None or part not in over:
        raise Refused("That part is not over what it stands.")
    row.overridden = row.overridden | {part: _named(actor)}
    row.save(update_fields=["overridden"])
    _tell(actor, job, f"overridden by {actor.display_name}: {over[part]}")
    after_commit("job", {"job": str(job.pk), "overridden": part})
    return row


def _named(actor: Person) -> dict[str, str]:
    return {"by": actor.display_name, "at": timezone.now().isoformat()}


def resumed(job: Job) -> None:
    """Somebody sits down with a job after another one: what was confirmed is asked again."""
    JobPath.objects.filter(job=job).update(confirmed={}, overridden={})


@transaction.atomic
def save_bench(*, actor: Person, name: str, path: Path) -> SavedBench:
    """Keep a path under a name; a name that is there already gets the new path."""
    require_technician(actor)
    if not name.strip():
        raise Refused("A bench needs a name to be taken by.")
    told: dict[str, Any] = path.model_dump(by_alias=True, mode="json", exclude_defaults=True)
    kept, _ = SavedBench.objects.update_or_create(
        name=name.strip()[:60], defaults={"path": told, "by": actor, "at": timezone.now()}
    )
    return kept


def losses_in(name: str, data: bytes) -> list[tuple[float, float]]:
    """Loss in dB against Hz from a two-port Touchstone file; at most a few hundred of its rows are kept."""
    if len(data) > LARGEST_LOSS_FILE:
        raise Refused(f"{name}: over {LARGEST_LOSS_FILE >> 20} MB, too long for one part's loss.")
    with tempfile.TemporaryDirectory() as folder:
        file = File(folder) / "part.s2p"
        file.write_bytes(data)
        try:
            rows = insertion_losses(read(file))
        except CoreError as refusal:
            raise Refused(str(refusal).replace("part.s2p", name)) from refusal
    step = math.ceil(len(rows) / MOST_ROWS)
    return [*rows[:-1:step], rows[-1]]
