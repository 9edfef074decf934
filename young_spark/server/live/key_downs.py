"""The clocks of key-downs: rows, so that they go on over a restart."""

from datetime import UTC, datetime

from young_spark import steady_clock
from young_spark.core.live import KeyedSpan
from young_spark.server.jobs.models import Item
from young_spark.server.live.models import KeyDown

NEWEST = 40  # older ones owe no rest any more


def downs_of(item: Item) -> list[KeyedSpan]:
    """The item's newest key-downs, oldest first, in s since 1970.

    Where the machine was started anew with its clock set back, the newest of them seem to be still to come: they count
    as if they had ended just now."""
    newest = list(KeyDown.objects.filter(item=item).order_by("-pk")[:NEWEST])
    last = max(((d.ended_at or d.began_at).timestamp() for d in newest), default=0.0)
    ahead = max(0.0, last - steady_clock.now())
    return [
        KeyedSpan(began=d.began_at.timestamp() - ahead, ended=d.ended_at and d.ended_at.timestamp() - ahead)
        for d in reversed(newest)
    ]


def clock_key_down(item: Item, up: bool, at: float, *, by_hand: bool) -> None:
    """Begin or end the item's key-down; one that lasts already goes on, over a restart too."""
    moment = datetime.fromtimestamp(at, UTC)
    running = KeyDown.objects.filter(item=item, ended_at=None).first()
    if up and running is None:
        KeyDown.objects.create(item=item, began_at=moment, by_hand=by_hand)
    elif not up and running is not None:
        running.ended_at = max(moment, running.began_at)
        running.save()
