"""Files that instruments saved, kept by the hash of their bytes beside the job they belong to."""

from django.db import models
from django.utils import timezone

from young_spark.server.accounts.models import Person
from young_spark.server.jobs.models import Item, Job


class Record(models.Model):
    """One record or trace; `files` names what was handed in, each by the hash under which its bytes are kept."""

    id = models.UUIDField(primary_key=True)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="records")
    item = models.ForeignKey(Item, null=True, on_delete=models.PROTECT, related_name="+")
    name = models.CharField(max_length=100)
    files = models.JSONField()  # [{"name", "sha256"}]: the first is the one that is read
    told = models.JSONField(default=dict)  # what was told of it: a RecordTold
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["at"]
