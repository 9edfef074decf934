"""Bundles: a job, or the whole shelf, out of here and into another shop."""

import tempfile
from collections.abc import Iterable
from uuid import UUID

from django.conf import settings
from django.http import FileResponse, Http404
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from young_spark.server.accounts.models import SignedIn
from young_spark.server.bundles.exporting import write_bundle
from young_spark.server.bundles.importing import read_bundle
from young_spark.server.jobs.models import Job
from young_spark.server.problems import TooLarge

router = Router(tags=["bundles"])
IN_MEMORY = 4 << 20


class OutcomeOut(Schema):
    """What became of one job of the bundle."""

    job: UUID
    words: str


def _bundle(jobs: Iterable[Job], name: str) -> FileResponse:
    out = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115  the response closes it
    write_bundle(jobs, out)
    out.seek(0)
    return FileResponse(out, as_attachment=True, filename=name, content_type="application/zip")


@router.get("/jobs/{job_id}/bundle", operation_id="job_bundle")
def job_bundle(request: SignedIn, job_id: UUID) -> FileResponse:
    """The whole job as a zip of JSON and pictures."""
    job = Job.objects.filter(pk=job_id).first()
    if job is None:
        raise Http404
    return _bundle([job], f"job-{job.number}.zip")


@router.get("/shelf/bundle", operation_id="shelf_bundle")
def shelf_bundle(request: SignedIn) -> FileResponse:
    """Every job of the shelf as one bundle."""
    return _bundle(Job.objects.order_by("number").iterator(), "shelf.zip")


@router.post("/bundles", response=list[OutcomeOut], operation_id="bundle_read")
def read(request: SignedIn, file: File[UploadedFile]) -> list[OutcomeOut]:
    """Read a bundle in. A job that is here already is merged without doubles, and said so."""
    if (file.size or 0) > settings.LARGEST_BUNDLE:
        raise TooLarge("That bundle is over 500 MB.")
    return [OutcomeOut(job=o.job.pk, words=o.words) for o in read_bundle(actor=request.user, file=file)]
