"""Keeping a record, analysing it under what was told of it, and taking its figures onto the slip."""

import json
import logging
import re
import tempfile
import uuid
from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from pathlib import Path as File
from typing import Any, Literal

from django.conf import settings
from django.db import transaction
from ninja import Schema
from pydantic import Field

from young_spark.core.analysis import Analysis, Mode, Options, SoundStretch, analyse, listened, phrased
from young_spark.core.analysis.instrument_doubt import InstrumentDoubt, doubts_of, said
from young_spark.core.analysis.listening import can_be_heard, heard
from young_spark.core.analysis.mixer_check import mixer_checked
from young_spark.core.analysis.record_place import SaidOfIt, taken_at
from young_spark.core.captures import Capture, Real, as_envelope, read
from young_spark.core.entry import EntryContext
from young_spark.core.figure import Conditions
from young_spark.core.ground import CoreError
from young_spark.core.live import columns_of
from young_spark.core.path import Path, loss_to, place_of
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs import kept_files
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.library.models import ShopInstrument
from young_spark.server.library.services import known_definitions
from young_spark.server.moments import after_all
from young_spark.server.problems import Conflict, Refused, must_be_the_same
from young_spark.server.readings import services as readings
from young_spark.server.readings.state import state_of
from young_spark.server.records.models import Record
from young_spark.server.writing import writing

log = logging.getLogger(__name__)
MOST_FILES = 2
LONGEST_SOUND_S = 60.0
READ_BY = {"spectrum": "level", "scope": "voltage_rf"}  # which function of the bench gives such a record
MODES: dict[str, Mode] = {"am": "am", "fm": "fm", "cw": "cw", "usb": "ssb", "lsb": "ssb", "ssb": "ssb"}


class RecordTold(Schema):
    """What a person tells of a record; the rest is taken from the chips of the slip."""

    mode: Mode | None = None
    nominal_hz: float | None = Field(default=None, ge=1, le=1e12)
    full_scale_dbm: float | None = Field(default=None, ge=-200, le=200)
    path_loss_db: float | None = Field(default=None, ge=-100, le=300)
    tone_hz: float | None = Field(default=None, ge=1, le=1e6)
    hz_per_unit: float | None = Field(default=None, ge=1e-6, le=1e9)
    rbw_hz: float | None = Field(default=None, ge=1e-3, le=1e9)
    level_uncertainty_db: float | None = Field(default=None, ge=0, le=60)
    reference_ppm: float | None = Field(default=None, ge=0, le=1e5)
    lower_sideband: bool = False
    attenuated: uuid.UUID | None = None  # the record of the same spectrum with more before the analyser
    attenuated_db: float = Field(default=10.0, ge=1, le=40)  # how much more
    known_by: dict[
        Literal["level_uncertainty_db", "reference_ppm"], str
    ] = {}  # where those come from, until somebody tells them
    path: Path | None = None  # of the bench, as it stood when the record came in
    path_at: str | None = Field(default=None, max_length=60)
    conditions: Conditions | None = None  # the chips as they stood when the record came in
    columns: dict[str, str] = Field(
        default={}, max_length=200
    )  # units of columns by name, as the shop's instruments name them


def told_by(conditions: Conditions, assigned_hz: float | None) -> RecordTold:
    """What the chips tell of a record taken now."""
    return RecordTold(
        mode=MODES.get(conditions.mode or ""),
        lower_sideband=conditions.mode == "lsb",
        nominal_hz=assigned_hz,
        path_loss_db=conditions.pad_db or None,
        tone_hz=conditions.tone_hz,
        conditions=conditions,
    )


def _known(told: RecordTold, kind: str, context: EntryContext) -> RecordTold:
    """With how well its instrument knows level and frequency."""
    doubts = doubts_of(kind, context.instrument_for)
    return told.model_copy(update={d.option: d.value for d in doubts} | {"known_by": {d.option: d.why for d in doubts}})


def _along_the_path(told: RecordTold, kind: str, context: EntryContext) -> RecordTold:
    """With the path of the bench where the instrument that gave the record hangs in it: its loss is taken at each
    frequency."""
    if context.path is None or kind not in READ_BY:
        return told
    place = place_of(context.path, context.instrument_for(READ_BY[kind]).id)
    return (
        told
        if place is None
        else told.model_copy(update={"path_loss_db": None, "path": context.path, "path_at": place})
    )


def keep(
    *,
    actor: Person,
    record_id: uuid.UUID,
    job: Job,
    item: Item | None,
    files: list[tuple[str, bytes]],
    conditions: Conditions,
    row: str | None,
) -> Record:
    """Keep a record on a job; the same id again returns it. Refused, with where and why, where it cannot be read.

    Its files are read before anything waits for the writer."""
    require_technician(actor)
    if not 1 <= len(files) <= MOST_FILES:
        raise Refused("One record at a time: one file, or the two of a SigMF recording.")
    named = sorted(((_plain(name), data) for name, data in files), key=lambda f: not f[0].endswith(".sigmf-meta"))
    if len({name for name, _ in named}) != len(named):
        raise Refused("Two files of the same name are no record.")
    if (there := Record.objects.filter(pk=record_id).first()) is not None:
        sent = [{"name": name, "sha256": kept_files.name_of(data)} for name, data in named]
        must_be_the_same("record", (there.job_id, job.pk), (there.files, sent))
        return there
    columns = columns_here(conditions.instrument)
    with _laid_out(named) as first:
        capture = _read(first, columns)
    with writing():
        return _kept(actor, record_id, job, item, named, capture, conditions, row, columns)


def _kept(
    actor: Person,
    record_id: uuid.UUID,
    job: Job,
    item: Item | None,
    named: list[tuple[str, bytes]],
    capture: Capture,
    conditions: Conditions,
    row: str | None,
    columns: dict[str, str],
) -> Record:
    """The row of a record whose files were read."""
    job.refresh_from_db()
    if job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")
    state = state_of(job, item)
    wanted = state.row(row)
    chips = wanted.under(conditions) if wanted else conditions
    context = state.context(chips, row)
    told = told_by(chips, context.assigned_hz())
    told = _along_the_path(_known(told, capture.kind, context), capture.kind, context)
    told = told.model_copy(update={"columns": columns})
    kept = [{"name": name, "sha256": kept_files.store(data)} for name, data in named]
    record = Record.objects.create(
        id=record_id,
        job=job,
        item=item or job.items.first(),
        name=named[0][0],
        files=kept,
        told=told.model_dump(by_alias=True, mode="json"),
        by=actor,
        at=after_all(job.records.all()),
    )
    after_commit("job", {"job": str(job.pk), "record": capture.kind})
    return record


@transaction.atomic
def tell(*, actor: Person, record: Record, told: RecordTold) -> Record:
    """Tell more of a record: its figures are worked out anew, those on the slip stay as they were taken."""
    require_technician(actor)
    before = RecordTold.model_validate(record.told)
    told = told.model_copy(update={"columns": before.columns})  # by which its file is read
    known_by = {name: why for name, why in before.known_by.items() if getattr(told, name) == getattr(before, name)}
    record.told = told.model_copy(update={"known_by": known_by}).model_dump(by_alias=True, mode="json")
    record.save(update_fields=["told"])
    return record


def analysis_of(record: Record, capture: Capture) -> Analysis:
    """Every figure of a record, worked out from what its files hold; without figures, and a remark, where something
    must be told first."""
    told = RecordTold.model_validate(record.told)
    try:
        analysis = analyse(capture, options_of(told))
    except CoreError as refusal:
        if refusal.__cause__ is not None:  # a hostile file, or a fault of ours: only whoever reads the log can tell
            log.warning("record %s could not be analysed", record.pk, exc_info=refusal)
        return Analysis(capture.kind, None, (), (_without_options(str(refusal)),))
    if (second := _attenuated(record, told, capture)) is not None:
        analysis = mixer_checked(analysis, second, told.attenuated_db)
    doubts = [
        InstrumentDoubt(option=n, value=v, why=why)
        for n, why in told.known_by.items()
        if (v := getattr(told, n)) is not None
    ]
    analysis = replace(analysis, remarks=(*analysis.remarks, *said(doubts)))
    without = tuple(
        r.model_copy(update={"remarks": tuple(_without_options(m) for m in r.remarks)}) for r in analysis.readings
    )
    return replace(analysis, readings=without, remarks=tuple(_without_options(m) for m in analysis.remarks))


def _without_options(sentence: str) -> str:
    """A sentence of the analysis for a page, which has its fields beside it."""
    return phrased(sentence, lambda names: "")


def _attenuated(record: Record, told: RecordTold, capture: Capture) -> Analysis | None:
    """The second trace of a mixer check, where one is told of and it is a spectrum of the same job."""
    other = Record.objects.filter(pk=told.attenuated, job=record.job).first() if told.attenuated else None
    if other is None or other.pk == record.pk or capture.kind != "spectrum":
        return None
    second = capture_of(other)
    return analyse(second, options_of(told)) if second.kind == "spectrum" else None


def options_of(told: RecordTold) -> Options:
    """What is told of a record, as the analysis takes it."""
    return Options(
        mode=told.mode,
        sideband="lsb" if told.lower_sideband else "usb",
        nominal_hz=told.nominal_hz,
        full_scale_dbm=told.full_scale_dbm,
        path_loss_db=told.path_loss_db,
        tones_hz=(told.tone_hz,) if told.tone_hz else (),
        hz_per_unit=told.hz_per_unit,
        rbw_hz=told.rbw_hz,
        level_uncertainty_db=told.level_uncertainty_db,
        reference_ppm=told.reference_ppm,
        path=loss_to(told.path, told.path_at)
        if told.path is not None and told.path_at is not None and told.path_loss_db is None
        else None,
    )


def has_sound(record: Record, capture: Capture) -> bool:
    """Whether a record can be listened to under what is told of it."""
    return can_be_heard(capture, options_of(RecordTold.model_validate(record.told)))


def sound_of(record: Record, longest_s: float) -> Real | None:
    """The first seconds of what a record sounds like, demodulated, at `listening.RATE_HZ`; None where it has no
    sound."""
    capture = capture_of(record)
    return (
        heard(capture, options_of(RecordTold.model_validate(record.told)), longest_s)
        if has_sound(record, capture)
        else None
    )


def heard_in_report(job: Job) -> list[Record]:
    """The records whose figures stand on the slip of a job and that have a sound, oldest first."""
    standing = Line.objects.filter(job=job, withdrawn_at=None, raw__record__isnull=False)
    ids = set(standing.values_list("raw__record", flat=True))
    taken = [r for r in Record.objects.filter(job=job) if str(r.pk) in ids and not not_whole(r)]
    return [r for r in taken if _has_sound(tuple((f["name"], f["sha256"]) for f in r.files), json.dumps(r.told))]


def not_whole(record: Record) -> str:
    """What is wrong with the files of a record, in words; an empty string where nothing is."""
    told = (kept_files.said(f["sha256"], f"The record {f['name']}") for f in record.files)
    return "; ".join(filter(None, told))


def records_not_whole(job: Job) -> list[str]:
    """Each record of a job whose files are missing or damaged, in words."""
    return [words for record in Record.objects.filter(job=job) if (words := not_whole(record))]


@lru_cache(maxsize=4096)
def _has_sound(files: tuple[tuple[str, str], ...], told: str) -> bool:
    """As `has_sound`; files are named by what is in them, so that they are read only once for it."""
    by = RecordTold.model_validate_json(told)
    return can_be_heard(_capture(files, by.columns), options_of(by))


def capture_of(record: Record) -> Capture:
    """What the record's files hold."""
    files = tuple((f["name"], f["sha256"]) for f in record.files)
    return _capture(files, RecordTold.model_validate(record.told).columns)


def columns_here(instrument_id: str | None) -> dict[str, str]:
    """What the columns of a table are in, as the shop's definitions say: that of the instrument where one is named,
    else all of them as far as they agree."""
    known = known_definitions()
    instrument = ShopInstrument.objects.filter(pk=instrument_id or "").first()
    own = known.get(instrument.definition) if instrument is not None else None
    return columns_of(known.values()) | (columns_of([own]) if own is not None else {})


def listened_to(name: str, data: bytes, clock_ppm: float) -> SoundStretch:
    """What a stretch of sound says by a clock that is right to so many ppm; nothing of it is kept. Refused where it is
    no sound."""
    with _laid_out([(_plain(name), data)]) as first:
        capture = _read(first, {})
    try:
        return listened(capture, clock_ppm)
    except CoreError as refusal:
        raise Refused(str(refusal)) from refusal


def _capture(files: tuple[tuple[str, str], ...], columns: Mapping[str, str]) -> Capture:
    with _laid_out([(name, kept_files.kept(sha256, f"The record {name}")) for name, sha256 in files]) as first:
        return _read(first, columns)


class _laid_out:
    """Files under their own names in a folder that lasts as long as the block; gives the first."""

    def __init__(self, named: list[tuple[str, bytes]]) -> None:
        self.named = named

    def __enter__(self) -> File:
        self.folder = tempfile.TemporaryDirectory(dir=settings.FILE_UPLOAD_TEMP_DIR)
        for name, data in self.named:
            (File(self.folder.name) / name).write_bytes(data)
        return File(self.folder.name) / self.named[0][0]

    def __exit__(self, *_: object) -> None:
        self.folder.cleanup()


def _plain(name: str) -> str:
    """A file's own name, without what a folder or a shell could take for something else."""
    plain = re.sub(r"[^\w.\- ]", "_", File(name.replace("\\", "/")).name).lstrip(".")[-90:]
    return plain or "record"


def _read(file: File, columns: Mapping[str, str]) -> Capture:
    try:
        return as_envelope(read(file, columns=columns))
    except CoreError as refusal:
        raise Refused(str(refusal)) from refusal


def take(
    *, actor: Person, record: Record, line_id: uuid.UUID, quantity_id: str, conditions: Conditions, row: str | None
) -> Line:
    """Take one figure of a record as a line of the slip, once: where it stands on it already, that line is returned."""
    require_technician(actor)
    standing = Line.objects.filter(
        job=record.job, withdrawn_at=None, raw__record=str(record.pk), raw__quantity=quantity_id
    )
    if (there := standing.first()) is not None:
        return there
    context = state_of(record.job, record.item).context(conditions, row)
    conditions = context.conditions
    told = RecordTold.model_validate(record.told)
    place = SaidOfIt(
        there=told.conditions or conditions,
        mode=told.mode,
        lower_sideband=told.lower_sideband,
        nominal_hz=told.nominal_hz,
    )
    conditions = taken_at(place, context, conditions)
    reading = next((r for r in analysis_of(record, capture_of(record)).readings if r.quantity == quantity_id), None)
    if reading is None or reading.value is None:
        raise Refused("That record does not give this figure.")
    raw: dict[str, Any] = {
        "record": str(record.pk),
        "quantity": quantity_id,
        "told": record.told,
        "files": record.files,
        "job": str(record.job_id),
        "conditions": conditions.model_dump(exclude_defaults=True),
        "row": row,
    }
    return readings.take_found(
        actor=actor,
        line_id=line_id,
        text=f"from {record.name}",
        measured=reading,
        raw=raw,
        job=record.job,
        item=record.item,
        conditions=conditions,
        row=row,
    )
