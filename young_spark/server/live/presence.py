"""Who is there: the bench process, the line of each instrument, and what each said last."""

import time

from young_spark import steady_clock
from young_spark.core.live import Definition
from young_spark.server.bulletin import bulletin
from young_spark.server.library.models import ShopInstrument
from young_spark.server.library.services import known_definitions
from young_spark.wire import LineState, OwnInstruments, Talking, ValuesMessage

COLD_AGAIN_S = 600.0  # off for longer, an instrument has cooled


class Presence:
    """How the lines stand; what must outlive this process is on the instrument's row."""

    def __init__(self) -> None:
        self.present = False
        self.lines: dict[str, LineState] = {}
        self.last: dict[str, ValuesMessage] = {}
        self._seen_at: dict[str, float] = {}  # monotonic s

    @property
    def connected(self) -> set[str]:
        """The instruments that answer."""
        return {name for name, line in self.lines.items() if line.connected}

    def gone(self) -> None:
        """The bench process went, and with it every line."""
        self.present = False
        away = {"connected": False, "sentence": "the bench process is being started again"}
        self.lines = {name: line.model_copy(update=away) for name, line in self.lines.items()}
        for line in self.lines.values():
            _publish(line)

    def stands(self, line: LineState) -> bool:
        """Keep how a line stands; whether its instrument came or went with it."""
        before = self.lines.get(line.instrument)
        self.lines[line.instrument] = line
        self._seen(line.instrument, line.connected)
        _publish(line)
        return before is None or before.connected != line.connected

    def heard(self, answer: ValuesMessage) -> None:
        """An instrument answered."""
        if time.monotonic() - self._seen_at.get(answer.instrument, 0.0) > COLD_AGAIN_S / 3:
            self._seen(answer.instrument, True)
        self.last[answer.instrument] = answer

    def _seen(self, instrument: str, connected: bool) -> None:
        """Keep since when an instrument is on: one that was away for long is cold again."""
        now = steady_clock.moment()
        self._seen_at[instrument] = time.monotonic()
        row = ShopInstrument.objects.filter(pk=instrument).first()
        if row is None:
            return
        if connected and (row.seen_at is None or (now - row.seen_at).total_seconds() > COLD_AGAIN_S):
            row.on_since = now
        row.seen_at = now
        row.save(update_fields=["on_since", "seen_at"])


def talking() -> tuple[OwnInstruments, dict[str, Definition]]:
    """The shop's instruments that talk as an order, and the definition of each whose file is there."""
    rows, files = ShopInstrument.objects.exclude(address="").order_by("position", "name"), known_definitions()
    told = tuple(
        Talking(
            id=i.pk,
            name=i.name,
            address=i.address,
            definition=i.definition,
            asked=files.get(i.definition),
            reference_ppm=i.reference_ppm or 0.0,
        )
        for i in rows
    )
    return OwnInstruments(instruments=told), {i.id: i.asked for i in told if i.asked is not None}


def _publish(line: LineState) -> None:
    bulletin.publish("instrument", line.model_dump(exclude={"kind"}))
