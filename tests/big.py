"""A shop of ten thousand jobs and two hundred thousand readings: the demo's jobs, copied with ids and times of their
own."""

import os
import random
import sys
import uuid
from datetime import timedelta
from pathlib import Path

JOBS, READINGS = 10_000, 200_000
AT_ONCE = 200


def fill(folder: Path) -> None:
    """Fill a data folder; run in a process of its own, since Django's settings are read once."""
    os.environ |= {"YOUNG_SPARK_DATA": str(folder), "DJANGO_SETTINGS_MODULE": "young_spark.server.config.settings"}
    import django

    django.setup()
    from django.core.management import call_command
    from django.db import transaction
    from django.db.models import Count

    from young_spark.server.demo.workshop import make_workshop
    from young_spark.server.jobs.models import Job
    from young_spark.server.readings.models import Reading

    call_command("migrate", verbosity=0)
    make_workshop()
    told = list(Job.objects.annotate(taken=Count("lines__readings")).order_by("-taken"))
    dice, number, readings = random.Random(5), Job.objects.count(), Reading.objects.count()
    while number < JOBS:
        with transaction.atomic():
            for _ in range(AT_ONCE):
                # as many of the long slips as it takes to come to the readings that are wanted
                rich = (READINGS - readings) / max(1, JOBS - number) > told[0].taken / 2
                job = told[0] if rich and dice.random() < 0.8 else dice.choice(told)
                number += 1
                readings += job.taken
                _copy(job, number, timedelta(minutes=97 * (JOBS - number)))
    print(f"{Job.objects.count()} jobs, {Reading.objects.count()} readings")


def _copy(job, number: int, ago: timedelta) -> None:
    from young_spark.server.jobs.models import Item, Job, Line
    from young_spark.server.readings.models import Reading

    def fresh(row, **changes):
        values = {f.attname: getattr(row, f.attname) for f in row._meta.concrete_fields}
        return type(row)(**(values | changes))

    new = fresh(
        job,
        id=uuid.uuid4(),
        number=number,
        owner=f"{job.owner} {number}",
        searched=f"{number} {job.searched}",
        created_at=job.created_at - ago,
        touched_at=job.touched_at - ago,
    )
    new.handed_back_at = job.handed_back_at - ago if job.handed_back_at else (new.touched_at if number % 40 else None)
    items = {i.pk: fresh(i, id=uuid.uuid4(), job_id=new.pk, serial=f"{i.serial}-{number}") for i in job.items.all()}
    lines = {
        line.pk: fresh(
            line,
            id=uuid.uuid4(),
            job_id=new.pk,
            item_id=items[line.item_id].pk,
            superseded_by_id=None,
            at=line.at - ago,
        )
        for line in job.lines.all()
    }
    figures = [
        fresh(r, id=uuid.uuid4(), line_id=lines[r.line_id].pk, at=r.at - ago)
        for r in Reading.objects.filter(line__job=job)
    ]
    Job.objects.bulk_create([new])
    Item.objects.bulk_create(items.values())
    Line.objects.bulk_create(lines.values())
    Reading.objects.bulk_create(figures)


if __name__ == "__main__":
    fill(Path(sys.argv[1]))
