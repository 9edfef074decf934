"""Writing jobs into a bundle."""

import zipfile
from collections.abc import Iterable
from typing import IO

from django.utils import timezone

from young_spark.server.accounts.models import Person
from young_spark.server.bundles import format as bundle
from young_spark.server.jobs import kept_files
from young_spark.server.jobs.models import Job


def write_bundle(jobs: Iterable[Job], out: IO[bytes]) -> None:
    """Write the jobs, each with its pictures and records, as one bundle. Files that are not whole are named in it."""
    written: set[str] = set()
    lost: set[str] = set()
    ids = []
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for job in jobs:
            told = job_out(job)
            ids.append(job.pk)
            archive.writestr(f"jobs/{job.pk}.json", told.model_dump_json(indent=1))
            for section in bundle.SECTIONS:
                for file in section.files(getattr(told, section.name)):
                    if (name := f"{file.folder}/{file.sha256}") not in written:
                        written.add(name)
                        try:
                            archive.writestr(name, kept_files.kept(file.sha256, name))
                        except kept_files.NotWhole:
                            lost.add(file.sha256)
        manifest = bundle.Manifest(
            format="young-spark-bundle",
            version=bundle.VERSION,
            made_at=timezone.now(),
            jobs=ids,
            not_whole=sorted(lost),
        )
        archive.writestr(bundle.MANIFEST, manifest.model_dump_json(indent=1))


def job_out(job: Job) -> bundle.JobHead:
    """A job as the bundle has it."""
    same = (
        "number",
        "title",
        "owner",
        "came_with",
        "part",
        "value",
        "ceiling",
        "created_at",
        "handed_back_at",
        "touched_at",
    )
    told = bundle.JobIn.model_validate(
        {name: getattr(job, name) for name in same}
        | {"id": job.pk, "created_by": job.created_by.username, "people": {}}
        | {section.name: section.written(job) for section in bundle.SECTIONS}
    )
    people = Person.objects.filter(username__in=bundle.people_of(told))
    return told.model_copy(update={"people": {p.username: p.display_name for p in people}})
