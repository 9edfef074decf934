"""What the technician changed in the drafted report."""

from django.db import models

from young_spark.server.accounts.models import Person
from young_spark.server.jobs.models import Job


class SentenceEdit(models.Model):
    """A sentence as the technician wants it; empty text leaves it out. Its key ties it to its evidence."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="edits")
    key = models.CharField(max_length=90)
    text = models.TextField(max_length=2000, blank=True)
    edited_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    edited_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="one_edit_a_sentence")]
