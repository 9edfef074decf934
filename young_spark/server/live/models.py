"""What outlives the moment at a live bench: whose turn it is, key-downs, watches."""

import uuid

from django.db import models
from django.utils import timezone

from young_spark.server.accounts.models import Person
from young_spark.server.jobs.models import Item, Job
from young_spark.server.library.models import ShopInstrument


class Seat(models.Model):
    """Which slip the live instruments belong to, and its current line. There is one bench, so there is one row."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    item = models.ForeignKey(Item, on_delete=models.CASCADE)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    row = models.CharField(max_length=60, null=True)
    conditions = models.JSONField(default=dict)
    along = models.JSONField(default=list)  # beginnings of the cells of the table's row that a hand walks along
    turn = models.JSONField(null=True)  # what is being turned: adjuster, quantity, aim, target, tolerance, value found
    at = models.DateTimeField(default=timezone.now)


class KeyDown(models.Model):
    """One key-down of an item; its clocks go on over a restart."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="key_downs")
    began_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    by_hand = models.BooleanField(default=False)  # told with a key, seen by no instrument

    class Meta:
        indexes = [models.Index(fields=["item", "-began_at"])]


class Watch(models.Model):
    """An item watched for what comes and goes."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="watches")
    item = models.ForeignKey(Item, on_delete=models.PROTECT, related_name="watches")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    began_at = models.DateTimeField(default=timezone.now)
    ended_at = models.DateTimeField(null=True)


class WatchPart(models.Model):
    """Some seconds of a watch's log: [s since it began, value's name, value] each."""

    watch = models.ForeignKey(Watch, on_delete=models.CASCADE, related_name="parts")
    points = models.JSONField()


class WatchDrop(models.Model):
    """A drop, as core.watching knows one."""

    watch = models.ForeignKey(Watch, on_delete=models.CASCADE, related_name="drops")
    at = models.FloatField()
    name = models.CharField(max_length=12)
    kind = models.CharField(max_length=8)
    usual = models.FloatField()
    reached = models.FloatField()
    lasted = models.FloatField(null=True)

    class Meta:
        ordering = ["at"]
        constraints = [models.UniqueConstraint(fields=["watch", "name", "at"], name="drop_once")]


class WatchMark(models.Model):
    """What the hands did during a watch."""

    id = models.UUIDField(primary_key=True)
    watch = models.ForeignKey(Watch, on_delete=models.CASCADE, related_name="marks")
    at = models.FloatField()
    what = models.CharField(max_length=60)

    class Meta:
        ordering = ["at"]


class Certificate(models.Model):
    """The certificate of an instrument's calibration as a picture: a file named by the hash of its re-encoded bytes. A
    new one follows the old one, which stays."""

    id = models.UUIDField(primary_key=True)
    instrument = models.ForeignKey(ShopInstrument, on_delete=models.CASCADE, related_name="certificates")
    sha256 = models.CharField(max_length=64, db_index=True)
    media_type = models.CharField(max_length=20)
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-at"]
