"""Jobs, their items, and the lines of the slip. A line is never edited or deleted: it is withdrawn or superseded."""

import uuid
from typing import Any

from django.db import models
from django.utils import timezone

from young_spark.server.accounts.models import Person


class Part(models.TextChoices):
    """The five parts of a job."""

    IN = "in"
    FIND = "find"
    FIX = "fix"
    PROVE = "prove"
    OUT = "out"


class Job(models.Model):
    """A unit that came in, from check-in to hand-back."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    number = models.PositiveIntegerField(unique=True)
    title = models.CharField(max_length=200)
    owner = models.CharField(max_length=200, blank=True)
    came_with = models.CharField(max_length=300, blank=True)
    part = models.CharField(max_length=5, choices=Part.choices, default=Part.IN)
    value = models.FloatField(null=True, blank=True)
    ceiling = models.FloatField(null=True, blank=True)
    created_at = models.DateTimeField(default=timezone.now)
    created_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    handed_back_at = models.DateTimeField(null=True, blank=True)
    touched_at = models.DateTimeField(default=timezone.now, db_index=True)
    # worked out from the lines after every change, so that the shelf need not read ten thousand slips
    waiting_for = models.CharField(max_length=300, blank=True)
    locked_because = models.CharField(max_length=300, blank=True)
    next_step = models.CharField(max_length=300, blank=True)
    searched = models.TextField(blank=True)

    class Meta:
        indexes = [models.Index(fields=["handed_back_at", "-touched_at"])]


class Item(models.Model):
    """One box of a job: transmitter, microphone, aerial; `model` names a model of the library, or a kind of gear."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="items")
    name = models.CharField(max_length=200)
    model = models.SlugField(blank=True)
    model_version = models.PositiveIntegerField(null=True, blank=True)  # of the shop's own; None follows the newest
    rated_w = models.FloatField(null=True, blank=True)  # what a unit of a kind should give, where somebody said it
    serial = models.CharField(max_length=60, blank=True, db_index=True)
    selector = models.TextField(max_length=4000, blank=True)  # of a modified unit: position and MHz, one a line
    position = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering = ["position"]
        indexes = [models.Index(fields=["model"])]


class Line(models.Model):
    """One line of a slip: what was said, seen, read, done or decided, as typed. Without a job it is loose."""

    id = models.UUIDField(primary_key=True)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.PROTECT, related_name="lines")
    item = models.ForeignKey(Item, null=True, blank=True, on_delete=models.PROTECT, related_name="lines")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=12)
    part = models.CharField(max_length=5, choices=Part.choices)
    phase = models.CharField(max_length=12)
    text = models.TextField()
    raw = models.JSONField()  # exactly what was sent: text, conditions, current line, sense chosen
    story: Any = models.JSONField(null=True, blank=True)  # a StoryLine, or None
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    settled_at = models.DateTimeField(null=True, blank=True)
    settled_by = models.ForeignKey(Person, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    withdrawn_at = models.DateTimeField(null=True, blank=True)
    withdrawn_by = models.ForeignKey(Person, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    withdrawn_reason = models.CharField(max_length=200, blank=True)
    superseded_by = models.OneToOneField(
        "self", null=True, blank=True, on_delete=models.PROTECT, related_name="supersedes"
    )

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="line_number_once_a_job")]
        indexes = [models.Index(fields=["job", "kind"])]


class Picture(models.Model):
    """A picture on a line: a file named by the hash of its re-encoded bytes."""

    line = models.OneToOneField(Line, on_delete=models.PROTECT, related_name="picture")
    sha256 = models.CharField(max_length=64, db_index=True)
    media_type = models.CharField(max_length=20)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
