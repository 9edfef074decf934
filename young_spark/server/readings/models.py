"""Readings: figures as the core worked them out, with how, where and under what conditions."""

from functools import cached_property

from django.db import models
from django.utils import timezone

from young_spark.core.figure import Conditions, Measured
from young_spark.core.judging import VerdictLine, worst
from young_spark.server.jobs.models import Line


class Reading(models.Model):
    """One figure of a line. Never edited: its line is withdrawn or superseded. Verdicts are kept as judged."""

    id = models.UUIDField(primary_key=True)
    line = models.ForeignKey(Line, on_delete=models.PROTECT, related_name="readings")
    position = models.PositiveSmallIntegerField()
    quantity = models.CharField(max_length=40)
    value = models.FloatField(null=True)
    unit = models.CharField(max_length=8)
    uncertainty = models.FloatField(null=True)
    bound = models.CharField(max_length=5, null=True)
    measured = models.JSONField()  # the whole Measured
    conditions = models.JSONField()
    verdicts = models.JSONField()
    phase = models.CharField(max_length=12)
    plan_row = models.CharField(max_length=60, null=True)
    model = models.SlugField(blank=True)  # of the item, for the shop's own median
    at = models.DateTimeField(
        default=timezone.now
    )  # as its line, so that the newest of a model are found without a join

    class Meta:
        ordering = ["line__number", "position"]
        indexes = [models.Index(fields=["model", "plan_row", "phase", "-at"])]

    @cached_property
    def as_measured(self) -> Measured:
        """The figure as the core knows it."""
        return Measured.model_validate(self.measured)

    @cached_property
    def as_conditions(self) -> Conditions:
        """The conditions it was taken under."""
        return Conditions.model_validate(self.conditions)

    @cached_property
    def worst_verdict(self) -> VerdictLine | None:
        """The gravest of its verdicts, or None where nothing judged it."""
        return worst(tuple(VerdictLine.model_validate(v) for v in self.verdicts))
