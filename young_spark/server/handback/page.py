"""The report as one self-contained HTML file: fonts, pictures and sounds inside, no script, nothing fetched."""

import base64
from pathlib import Path

from django.template.loader import render_to_string

from young_spark.server.handback.report import Report
from young_spark.server.jobs.kept_files import kept
from young_spark.server.jobs.models import Picture
from young_spark.server.records.models import Record
from young_spark.server.records.services import sound_of
from young_spark.server.records.sound import encoded

SOUND_S = 10.0  # of each record
FONTS = Path(__file__).parent / "fonts"


def _inside(data: bytes, media_type: str) -> str:
    return f"data:{media_type};base64,{base64.b64encode(data).decode()}"


def _pictures(report: Report) -> list[dict[str, str]]:
    types = dict(
        Picture.objects.filter(sha256__in=[p.sha256 for p in report.pictures]).values_list("sha256", "media_type")
    )
    pictures = []
    for picture in report.pictures:
        if picture.not_whole:
            pictures.append({"source": "", "words": picture.not_whole})
        else:
            data = kept(picture.sha256, picture.words)
            pictures.append({"source": _inside(data, types[picture.sha256]), "words": picture.words})
    return pictures


def _sounds(report: Report) -> list[dict[str, str]]:
    sounds = []
    for told in report.sounds:
        sound = sound_of(Record.objects.get(pk=told.record), SOUND_S)
        if sound is not None:
            sounds.append({"source": _inside(encoded(sound, "FLAC"), "audio/flac"), "words": told.words})
    return sounds


def report_page(report: Report) -> str:
    """The whole page as text."""
    fonts = {name: _inside((FONTS / f"{name}.woff2").read_bytes(), "font/woff2") for name in ("regular", "bold")}
    return render_to_string(
        "report.html", {"report": report, "fonts": fonts, "pictures": _pictures(report), "sounds": _sounds(report)}
    )
