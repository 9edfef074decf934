"""The report as one self-contained HTML file: fonts and pictures inside, no script, nothing fetched."""

import base64
from pathlib import Path

from django.conf import settings
from django.template.loader import render_to_string

from young_spark.server.handback.report import Report
from young_spark.server.jobs.models import Picture

FONTS = Path(__file__).parent / "fonts"


def _inside(data: bytes, media_type: str) -> str:
    return f"data:{media_type};base64,{base64.b64encode(data).decode()}"


def _pictures(report: Report) -> list[dict[str, str]]:
    types = dict(
        Picture.objects.filter(sha256__in=[p.sha256 for p in report.pictures]).values_list("sha256", "media_type")
    )
    found = []
    for picture in report.pictures:
        file = settings.PICTURES / picture.sha256
        if file.is_file():
            found.append({"source": _inside(file.read_bytes(), types[picture.sha256]), "words": picture.words})
    return found


def report_page(report: Report) -> str:
    """The whole page as text."""
    fonts = {name: _inside((FONTS / f"{name}.woff2").read_bytes(), "font/woff2") for name in ("regular", "bold")}
    return render_to_string("report.html", {"report": report, "fonts": fonts, "pictures": _pictures(report)})
