"""Traces: one a symptom, and the looks that were made for it."""

import uuid

from django.db import models
from django.utils import timezone

from young_spark.server.accounts.models import Person
from young_spark.server.jobs.models import Item, Job, Line


class Trace(models.Model):
    """One symptom traced along a chain. `proven` is the fault that turned out to be the cause; it teaches the next
    trace."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="traces")
    item = models.ForeignKey(Item, null=True, on_delete=models.PROTECT, related_name="+")
    chain = models.SlugField(max_length=60)
    symptom = models.CharField(max_length=200)
    strategy = models.CharField(max_length=16, default="best-value")
    proven = models.CharField(max_length=60, blank=True)
    closed_at = models.DateTimeField(null=True)
    teaches = models.BooleanField(default=True)  # until somebody has the shop forget
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at"]
        indexes = [models.Index(fields=["chain", "closed_at"])]


class Look(models.Model):
    """One look: a line of the slip, so that it is doubted by taking its line back."""

    line = models.OneToOneField(Line, primary_key=True, on_delete=models.PROTECT, related_name="look")
    trace = models.ForeignKey(Trace, on_delete=models.PROTECT, related_name="looks")
    probe = models.SlugField(max_length=60)
    answer = models.CharField(max_length=40)

    class Meta:
        ordering = ["line__number"]


class Doubt(models.Model):
    """A line of the slip that does not count in a trace: somebody doubts it there. On the slip it stands as it was."""

    trace = models.ForeignKey(Trace, on_delete=models.CASCADE, related_name="doubts")
    line = models.ForeignKey(Line, on_delete=models.PROTECT, related_name="+")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["at"]
        constraints = [models.UniqueConstraint(fields=["trace", "line"], name="one_doubt_a_line")]


class Board(models.Model):
    """A picture of the slip that shows a side of a board. `model` is that of the unit: the next one of it finds its
    way by it."""

    class Side(models.TextChoices):
        COMPONENT = "component", "component side"
        SOLDER = "solder", "solder side"

    line = models.OneToOneField(Line, primary_key=True, on_delete=models.PROTECT, related_name="board")
    side = models.CharField(max_length=9, choices=Side.choices)
    model = models.CharField(max_length=60, blank=True, db_index=True)

    class Meta:
        ordering = ["-line__at"]


class Pin(models.Model):
    """A named place on a board, as shares of the picture's width and height; `probe` is the one of the chain that is
    made there."""

    id = models.UUIDField(primary_key=True)
    board = models.ForeignKey(Board, on_delete=models.CASCADE, related_name="pins")
    probe = models.CharField(max_length=60, blank=True)
    name = models.CharField(max_length=60)
    x = models.FloatField()
    y = models.FloatField()

    class Meta:
        ordering = ["name", "pk"]


class GearBoard(models.Model):
    """A picture of a board on the sheet of a model, with its pins as the sheet has them (`gear_boards.BoardPin`)."""

    id = models.UUIDField(primary_key=True)
    model = models.CharField(max_length=60, db_index=True)
    sha256 = models.CharField(max_length=64, db_index=True)
    media_type = models.CharField(max_length=20)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    words = models.CharField(max_length=120)
    side = models.CharField(max_length=9, choices=Board.Side.choices)
    pins = models.JSONField(default=list)
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at"]
