"""The shop's own instruments; models, limits and channels are data files."""

from datetime import date

from django.db import models
from django.utils import timezone

from young_spark import steady_clock
from young_spark.core.figure import Accuracy, Instrument, instruments
from young_spark.server.accounts.models import Person


class ShopInstrument(models.Model):
    """An instrument of this shop: a class default with what is known of this one."""

    id = models.SlugField(primary_key=True)
    name = models.CharField(max_length=100)
    kind = models.SlugField()
    serial = models.CharField(max_length=60, blank=True)
    detector = models.CharField(max_length=20, default="unknown")
    functions = models.JSONField(default=dict, blank=True)  # own accuracy, over the class's
    elements_w = models.JSONField(default=list, blank=True)
    directivity_db = models.FloatField(null=True, blank=True)
    calibrated_on = models.DateField(null=True, blank=True)
    calibration_due = models.DateField(null=True, blank=True)
    remark = models.CharField(max_length=300, blank=True)
    address = models.CharField(max_length=120, blank=True)  # where it answers; empty for one that does not talk
    definition = models.SlugField(blank=True)  # the file that says how to ask it
    position = models.PositiveSmallIntegerField(default=0)  # where two give the same value, the first is believed
    on_since = models.DateTimeField(null=True, blank=True)  # as its line shows; empty for one that does not talk
    seen_at = models.DateTimeField(null=True, blank=True)
    key_down_s = models.FloatField(null=True, blank=True)
    cool_off_s = models.FloatField(null=True, blank=True)
    reference_ppm = models.FloatField(null=True, blank=True)  # by how much its own reference tunes too high; taken off

    def as_instrument(self, today: date) -> Instrument:
        """The instrument as the core knows one; typical where it states no accuracy of its own."""
        base = instruments.typical(self.kind)
        own = self._once_held() | {name: Accuracy(**accuracy) for name, accuracy in self.functions.items()}
        return base.model_copy(
            update={
                "id": self.id,
                "name": self.name,
                "functions": {**base.functions, **own},
                "detector": self.detector,
                "elements_w": tuple(self.elements_w) or base.elements_w,
                "directivity_db": self.directivity_db or base.directivity_db,
                "typical": not self.functions,
                "overdue": self.calibration_due is not None and self.calibration_due < today,
                "drifted": self.drifted(),
                "cold": self.cold(),
            }
        )

    def _once_held(self) -> dict[str, Accuracy]:
        """What is better known of it since its reference was held against a standard."""
        held = instruments.instrument_classes()[self.kind].held_ppm
        if self.reference_ppm is None or held is None:
            return {}
        return {"frequency": Accuracy(ppm=held, digital=True)}

    def cold(self) -> bool:
        """Whether its line shows that it has been on for less than its kind takes to warm up."""
        warm_up = instruments.instrument_classes()[self.kind].warm_up_min
        return self.on_since is not None and (steady_clock.moment() - self.on_since).total_seconds() < 60 * warm_up

    def drifted(self) -> bool:
        """Whether its last quick check against the shop's standard fell outside its own accuracy."""
        newest = next(iter(sorted(self.checks.all(), key=lambda c: c.at, reverse=True)), None)
        return newest is not None and newest.outside


class OwnText(models.Model):
    """A version of this shop's own text of a data file: a corrected copy of a shipped one, in whose place it stands,
    or one that the shop wrote itself. Never edited, only followed by another."""

    class Kind(models.TextChoices):
        """What it is a text of, named as the folder of the shipped ones."""

        LIMITS = "limits"
        CHAINS = "chains"
        MODELS = "models"
        CHANNELS = "channels"
        WORDS = "words"
        DEFINITIONS = "definitions"

    kind = models.CharField(max_length=12, choices=Kind.choices)
    name = models.SlugField(max_length=60)
    number = models.PositiveIntegerField()
    text = models.TextField(max_length=200_000)
    shipped = models.TextField(blank=True)  # what shipped in its place when it was written; empty where nothing did
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    withdrawn_at = models.DateTimeField(null=True, blank=True)  # the shipped one stands again

    class Meta:
        ordering = ["kind", "name", "number"]
        constraints = [models.UniqueConstraint(fields=["kind", "name", "number"], name="one_own_text_a_version")]


class QuickCheck(models.Model):
    """An instrument held against the shop's standard: both in the unit of its function."""

    id = models.UUIDField(primary_key=True)
    instrument = models.ForeignKey(ShopInstrument, on_delete=models.CASCADE, related_name="checks")
    function = models.SlugField()
    standard = models.FloatField()
    read = models.FloatField()
    outside = models.BooleanField()  # farther out than the instrument's own accuracy allows, as known then
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-at"]
