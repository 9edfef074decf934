"""Moments that put rows in an order: later than every one before, whatever is done to the machine's clock."""

from datetime import datetime, timedelta
from typing import Any

from django.db.models import Max, QuerySet
from django.utils import timezone


def after_all(rows: QuerySet[Any], field: str = "at") -> datetime:
    """Now, or just after the latest of these rows where the clock was set back meanwhile."""
    latest = rows.aggregate(latest=Max(field))["latest"]
    now = timezone.now()
    return now if latest is None or latest < now else latest + timedelta(microseconds=1)
