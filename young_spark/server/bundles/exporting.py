"""Writing jobs into a bundle."""

import zipfile
from collections.abc import Iterable
from typing import IO

from django.conf import settings
from django.utils import timezone

from young_spark.server.accounts.models import Person
from young_spark.server.benches.services import in_use
from young_spark.server.bundles import format as bundle
from young_spark.server.jobs.models import Job, Line
from young_spark.server.live.models import KeyDown
from young_spark.server.tracing.chains import standing
from young_spark.server.tracing.models import Board


def write_bundle(jobs: Iterable[Job], out: IO[bytes]) -> None:
    """Write the jobs, each with its pictures and records, as one bundle."""
    written: set[str] = set()
    ids = []
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for job in jobs:
            told = job_out(job)
            ids.append(job.pk)
            archive.writestr(f"jobs/{job.pk}.json", told.model_dump_json(indent=1))
            for line in told.lines:
                if line.picture is not None and line.picture.sha256 not in written:
                    written.add(line.picture.sha256)
                    archive.write(settings.PICTURES / line.picture.sha256, f"pictures/{line.picture.sha256}")
            for name in sorted({f.sha256 for record in told.records for f in record.files} - written):
                written.add(name)
                archive.write(settings.PICTURES / name, f"records/{name}")
        manifest = bundle.Manifest(
            format="young-spark-bundle", version=bundle.VERSION, made_at=timezone.now(), jobs=ids
        )
        archive.writestr(bundle.MANIFEST, manifest.model_dump_json(indent=1))


def job_out(job: Job) -> bundle.JobIn:
    """A job as the bundle has it."""
    lines = (
        job.lines.select_related("by", "settled_by", "withdrawn_by", "picture")
        .prefetch_related("readings")
        .order_by("number")
    )
    people = {
        job.created_by,
        *(e.edited_by for e in job.edits.all()),
        *(w.by for w in job.watches.all()),
        *(r.by for r in job.records.all()),
        *(t.by for t in job.traces.all()),
        *(d.by for t in job.traces.all() for d in t.doubts.all()),
    }
    for line in lines:
        people |= {p for p in (line.by, line.settled_by, line.withdrawn_by) if p is not None}
    return bundle.JobIn(
        id=job.pk, number=job.number, title=job.title, owner=job.owner, came_with=job.came_with, part=job.part, value=job.value,
        ceiling=job.ceiling, created_at=job.created_at, created_by=job.created_by.username, handed_back_at=job.handed_back_at,
        touched_at=job.touched_at, people={p.username: p.display_name for p in people},
        items=[bundle.ItemIn(id=i.pk, name=i.name, model=i.model, serial=i.serial, selector=i.selector, position=i.position) for i in job.items.all()],
        lines=[_line(line) for line in lines],
        edits=[bundle.EditIn(key=e.key, text=e.text, edited_by=e.edited_by.username) for e in job.edits.order_by("key")],
        key_downs=[
            bundle.KeyDownIn(item=d.item_id, began_at=d.began_at, ended_at=d.ended_at, by_hand=d.by_hand)
            for d in KeyDown.objects.filter(item__job=job).order_by("began_at")
        ],
        watches=[
            bundle.WatchIn(
                id=w.pk, item=w.item_id, by=w.by.username, began_at=w.began_at, ended_at=w.ended_at, parts=list(w.parts.order_by("id").values_list("points", flat=True)),
                drops=[{n: getattr(d, n) for n in ("at", "name", "kind", "usual", "reached", "lasted")} for d in w.drops.all()],
                marks=[{"id": str(m.pk), "at": m.at, "what": m.what} for m in w.marks.all()],
            )
            for w in job.watches.order_by("began_at")
        ],
        records=[
            bundle.RecordIn(
                id=r.pk, item=r.item_id, name=r.name, files=[bundle.RecordFileIn(**f) for f in r.files], told=r.told, by=r.by.username, at=r.at
            )
            for r in job.records.order_by("at")
        ],
        traces=[
            bundle.TraceIn(
                **{n: getattr(t, n) for n in ("id", "chain", "symptom", "strategy", "proven", "closed_at", "at")}, item=t.item_id, by=t.by.username,
                looks=[bundle.LookIn(line=k.line_id, probe=k.probe, answer=k.answer) for k in t.looks.all()],
                doubts=[bundle.DoubtIn(line=d.line_id, by=d.by.username, at=d.at) for d in t.doubts.all()],
            )
            for t in job.traces.order_by("at")
        ],
        boards=[
            bundle.BoardIn(
                line=b.line_id, side=b.side, model=b.model, pins=[bundle.BoardPinIn(**{n: getattr(p, n) for n in bundle.BoardPinIn.model_fields}) for p in b.pins.all()]
            )
            for b in Board.objects.filter(line__job=job).order_by("line__number")
        ],
        chains={n: own.text for n, own in standing().items() if n in {t.chain for t in job.traces.all()}},
        path=_path(job),
    )  # fmt: skip


def _path(job: Job) -> bundle.PathIn | None:
    row = in_use(job)
    return bundle.PathIn(name=row.name, path=row.path, most_w=row.most_w, at=row.at) if row is not None else None


def _name(person: Person | None) -> str | None:
    return person.username if person is not None else None


def _line(line: Line) -> bundle.LineIn:
    picture = getattr(line, "picture", None)
    same = (
        "number",
        "kind",
        "part",
        "phase",
        "text",
        "raw",
        "story",
        "at",
        "settled_at",
        "withdrawn_at",
        "withdrawn_reason",
    )
    return bundle.LineIn(
        **{name: getattr(line, name) for name in same},
        id=line.pk, item=line.item_id, by=line.by.username, settled_by=_name(line.settled_by), withdrawn_by=_name(line.withdrawn_by),
        superseded_by=line.superseded_by_id,
        picture=bundle.PictureIn(sha256=picture.sha256, media_type=picture.media_type, width=picture.width, height=picture.height) if picture else None,
        readings=[
            bundle.ReadingIn(
                id=r.pk,
                **{n: getattr(r, n) for n in bundle.ReadingIn.model_fields if n != "id"},
            )
            for r in line.readings.all()
        ],
    )  # fmt: skip
