"""Benches as they are saved, and the path that a job has in use."""

import uuid

from django.db import models
from django.utils import timezone

from young_spark.core.path import Path, path_of
from young_spark.server.accounts.models import Person
from young_spark.server.jobs.models import Job


class SavedBench(models.Model):
    """A path under a name, to be taken again in two taps."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    name = models.CharField(max_length=60, unique=True)
    path = models.JSONField()
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["name"]


class JobPath(models.Model):
    """The path between a job's unit and the instruments as it stands now, and what was confirmed of it by name."""

    job = models.OneToOneField(Job, primary_key=True, on_delete=models.CASCADE, related_name="bench_path")
    name = models.CharField(max_length=60, blank=True)
    path = models.JSONField()
    most_w = models.FloatField(null=True)  # what somebody states as the most that can come out
    confirmed = models.JSONField(default=dict)  # hazard → who and when
    overridden = models.JSONField(default=dict)  # part → who and when
    at = models.DateTimeField(default=timezone.now)

    @property
    def as_path(self) -> Path:
        """The path as the core knows it."""
        return path_of(self.path, self.name or "path")
