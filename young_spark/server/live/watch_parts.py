"""What the bench process watched, put on disk as it comes."""

from django.db import transaction

from young_spark.server.bulletin import bulletin
from young_spark.server.live.models import Watch, WatchDrop, WatchPart
from young_spark.wire import KeepWatch, Watched


def store(watched: Watched) -> None:
    """Keep a part of a watch's log and its drops; of a watch that is gone nothing is kept."""
    watch = Watch.objects.filter(pk=watched.id).first()
    if watch is None:
        return
    with transaction.atomic():
        if watched.points:
            WatchPart.objects.create(watch=watch, points=[list(point) for point in watched.points])
        for drop in watched.drops:
            WatchDrop.objects.update_or_create(watch=watch, name=drop.name, at=drop.at, defaults=drop.model_dump())
    bulletin.publish("watch", {"watch": str(watch.pk), "drops": len(watched.drops)})


def going_on() -> KeepWatch | None:
    """The order to go on with the watch that runs."""
    running = Watch.objects.filter(ended_at=None).first()
    return KeepWatch(id=running.pk, began=running.began_at.timestamp()) if running is not None else None
