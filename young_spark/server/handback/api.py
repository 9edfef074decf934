"""Handing back: the report on screen, its sentences, and its three files."""

from uuid import UUID

from django.http import Http404, HttpResponse
from ninja import Field, Router, Schema

from young_spark.server.accounts.models import SignedIn
from young_spark.server.handback.page import report_page
from young_spark.server.handback.report import Report, edit_sentence, report
from young_spark.server.handback.table import readings_csv
from young_spark.server.jobs.models import Job

router = Router(tags=["handback"])


class SentenceIn(Schema):
    """A sentence as wanted; null gives the drafted one back, empty leaves it out."""

    key: str = Field(max_length=90)
    text: str | None = Field(None, max_length=2000)


def _job(job_id: UUID) -> Job:
    job = Job.objects.filter(pk=job_id).first()
    if job is None:
        raise Http404
    return job


def _file(content: bytes | str, media_type: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=media_type)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/jobs/{job_id}/report", response=Report, operation_id="report")
def get_report(request: SignedIn, job_id: UUID) -> Report:
    """The report as it stands now."""
    return report(_job(job_id))


@router.put("/jobs/{job_id}/report/sentence", response=Report, operation_id="report_edit")
def edit(request: SignedIn, job_id: UUID, data: SentenceIn) -> Report:
    """Keep a sentence as wanted."""
    job = _job(job_id)
    edit_sentence(actor=request.user, job=job, key=data.key, text=data.text)
    return report(job)


@router.get("/jobs/{job_id}/report.html", operation_id="report_html")
def as_page(request: SignedIn, job_id: UUID) -> HttpResponse:
    """One self-contained HTML file."""
    job = _job(job_id)
    return _file(report_page(report(job)), "text/html; charset=utf-8", f"report-{job.number}.html")


@router.get("/jobs/{job_id}/report.pdf", operation_id="report_pdf")
def as_pdf(request: SignedIn, job_id: UUID) -> HttpResponse:
    """The report as PDF."""
    from young_spark.server.handback.pdf import report_pdf

    job = _job(job_id)
    return _file(report_pdf(report(job)), "application/pdf", f"report-{job.number}.pdf")


@router.get("/jobs/{job_id}/readings.csv", operation_id="readings_csv")
def as_csv(request: SignedIn, job_id: UUID) -> HttpResponse:
    """Every reading of the job as CSV."""
    job = _job(job_id)
    return _file(readings_csv(job), "text/csv; charset=utf-8", f"readings-{job.number}.csv")
