"""Certificates of calibration as pictures, the newest first; none is ever replaced."""

import uuid

from django.http import Http404

from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.jobs import kept_files, pictures
from young_spark.server.library.models import ShopInstrument
from young_spark.server.live.models import Certificate
from young_spark.server.problems import must_be_the_same
from young_spark.server.writing import writing


def add(*, actor: Person, instrument_id: str, certificate_id: uuid.UUID, data: bytes) -> None:
    """Keep a certificate; its file is safely on disk before the row commits. The same id again changes nothing. Raises
    Refused for what is no picture."""
    require_technician(actor)
    clean, media_type, _, _ = pictures.reencoded(data)
    with writing():
        instrument = ShopInstrument.objects.filter(pk=instrument_id).first()
        if instrument is None:
            raise Http404
        if (there := Certificate.objects.filter(pk=certificate_id).first()) is not None:
            same = (there.instrument_id, there.sha256)
            must_be_the_same("certificate", (same, (instrument_id, kept_files.name_of(clean))))
            return
        Certificate.objects.create(
            pk=certificate_id,
            instrument=instrument,
            sha256=kept_files.store(clean),
            media_type=media_type,
            by=actor,
        )


def read(certificate_id: uuid.UUID) -> tuple[bytes, str]:
    """A certificate's picture and its media type. Raises Http404, and NotWhole where its file is not what it was."""
    kept = Certificate.objects.select_related("instrument").filter(pk=certificate_id).first()
    if kept is None:
        raise Http404
    return kept_files.kept(kept.sha256, f"The certificate of {kept.instrument.name}"), kept.media_type
