"""The log of a watch as arrays, each part of it read only once: a page that shows a running watch asks for it again
and again."""

from array import array
from collections import OrderedDict
from threading import Lock
from uuid import UUID

import numpy as np
import numpy.typing as npt

from young_spark.core.live import LiveName
from young_spark.server.live.models import Watch

KEPT = 4  # watches
Series = npt.NDArray[np.float64]


class _Log:
    """What was read so far; parts are never changed, and come in order."""

    def __init__(self) -> None:
        self.newest = 0
        self.points: dict[LiveName, tuple[array[float], array[float]]] = {}

    def read_on(self, watch: Watch) -> None:
        for part, points in watch.parts.filter(pk__gt=self.newest).order_by("pk").values_list("pk", "points"):
            for at, name, value in points:
                times, values = self.points.setdefault(name, (array("d"), array("d")))
                times.append(at)
                values.append(value)
            self.newest = part

    def series(self) -> dict[LiveName, tuple[Series, Series]]:
        series = {}
        for name, (times, values) in self.points.items():
            order = np.argsort(at := np.array(times), kind="stable")
            series[name] = (at[order], np.array(values)[order])
        return series


_logs: OrderedDict[UUID, _Log] = OrderedDict()
_lock = Lock()


def log_of(watch: Watch) -> dict[LiveName, tuple[Series, Series]]:
    """Times in s since the watch began and values, in order of time, by the live value's name."""
    with _lock:
        log = _logs.pop(watch.pk, None) or _Log()
        log.read_on(watch)
        _logs[watch.pk] = log
        while len(_logs) > KEPT:
            _logs.popitem(last=False)
        return log.series()
