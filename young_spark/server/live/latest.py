"""The latest value of each kind that instruments handed over, and which of them are of now."""

from collections.abc import Mapping
from dataclasses import dataclass

from young_spark import steady_clock
from young_spark.core.figure import format_value, quantity
from young_spark.core.live import LIVE_QUANTITIES, LiveName, is_nothing
from young_spark.wire import ValuesMessage

FRESH_S = 2.0  # an older value is not one of now
AT_REST_S = 4.0  # without a carrier instruments are asked less often


@dataclass(frozen=True)
class Latest:
    """One value in its own unit, None for nothing to measure; `at` in s since 1970."""

    value: float | None
    at: float
    instrument: str


class LatestValues:
    """Only the thread that hears replaces them; others read what is there."""

    def __init__(self) -> None:
        self.by_name: Mapping[LiveName, Latest] = {}
        self._floors: dict[str, dict[LiveName, float]] = {}
        self._place: dict[str, int] = {}

    def know_floors(self, floors: dict[str, dict[LiveName, float]]) -> None:
        """What each instrument shows of nothing, by its id, in the order in which the shop believes them."""
        self._floors = floors
        self._place = {instrument: n for n, instrument in enumerate(floors)}

    def given_by(self, instrument: str) -> set[LiveName]:
        """The values that an instrument gives."""
        return set(self._floors.get(instrument, {}))

    def heard(self, answer: ValuesMessage) -> None:
        """One answer of an instrument: what another gives that is believed before it stays."""
        new = {
            name: Latest(value, answer.at, answer.instrument)
            for name, value in answer.values.items()
            if not self._is_given_before(name, answer)
        }
        self.by_name = {**self.by_name, **new}

    def _is_given_before(self, name: LiveName, answer: ValuesMessage) -> bool:
        there = self.by_name.get(name)
        if there is None or there.instrument == answer.instrument or answer.at - there.at > FRESH_S + AT_REST_S:
            return False
        last = len(self._place)
        return self._place.get(there.instrument, last) < self._place.get(answer.instrument, last)

    def forget(self, instrument: str | None) -> None:
        """Drop the values of an instrument, or of all."""
        kept = {n: v for n, v in self.by_name.items() if instrument is not None and v.instrument != instrument}
        self.by_name = kept

    def now(self) -> dict[LiveName, float]:
        """The values of now."""
        oldest = steady_clock.now() - FRESH_S
        return {n: v.value for n, v in self.by_name.items() if v.value is not None and v.at > oldest}

    def silent_s(self, name: LiveName) -> float | None:
        """For how many seconds nothing was heard of a value; None where the latest is one of now."""
        silent = steady_clock.now() - self.by_name[name].at
        return silent if silent >= FRESH_S else None

    def is_nothing(self, instrument: str, name: LiveName, value: float | None) -> bool:
        """Whether an instrument's value is no more than what it shows of nothing."""
        return is_nothing(value, self._floors.get(instrument, {}).get(name, 0.0))

    def shown(self, *, up: bool) -> dict[LiveName, dict[str, object]]:
        """What a page shows, with each value in words."""
        oldest = steady_clock.now() - (FRESH_S if up else FRESH_S + AT_REST_S)
        return {
            name: {"value": v.value, "at": v.at, "instrument": v.instrument, "shown": self._words(name, v)}
            for name, v in self.by_name.items()
            if v.at > oldest
        }

    def _words(self, name: LiveName, latest: Latest) -> str:
        if latest.value is None or self.is_nothing(latest.instrument, name, latest.value):
            return "nothing"
        return format_value(latest.value, unit_of(name), figures=7 if name == "frequency" else 3)


def unit_of(name: LiveName) -> str:
    """The unit of a live value."""
    return quantity(LIVE_QUANTITIES[name]).unit
