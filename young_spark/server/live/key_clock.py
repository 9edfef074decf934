"""The clock of the key: whether there is a carrier, and the word for the hand."""

from young_spark import steady_clock
from young_spark.core.live import KeyedSpan, Keying, SeenOnAir, is_modulated, keying, swr_of, what_is_left
from young_spark.core.path import Duty
from young_spark.server.benches.services import key_down_ended
from young_spark.server.bulletin import bulletin
from young_spark.server.live.key_downs import clock_key_down, downs_of
from young_spark.server.live.latest import LatestValues
from young_spark.server.live.presence import Presence
from young_spark.server.live.seat import Seated, duties


class KeyClock:
    """The carrier, the clocks of the seated unit, and KEY, HOLD, UNKEY."""

    def __init__(self, presence: Presence, values: LatestValues) -> None:
        self.up = False
        self.up_since = 0.0  # s since 1970
        self.left: tuple[str, ...] = ()  # rows that this key-down can still give
        self.word = Keying(word=None, why="")
        self._presence, self._values = presence, values
        self._downs: list[KeyedSpan] = []
        self._duties: list[Duty] = []
        self._first_key = False

    def sit(self, place: Seated) -> None:
        """Take the clocks of the unit that sits there now, and everything whose time counts."""
        self._downs = downs_of(place.seat.item)
        self._duties = duties(place, self._presence.connected)

    def carrier(self, place: Seated | None, up: bool, at: float, *, by_hand: bool) -> bool:
        """The carrier came or went at `at` in s since 1970; whether that ended what was confirmed for one key-down."""
        if up and not self.up:
            self.up_since = at
        self.up = up
        if place is None:
            return False
        clock_key_down(place.seat.item, up, at, by_hand=by_hand)
        self._downs = downs_of(place.seat.item)
        return not up and key_down_ended(place.seat.job)

    def work_out(self, place: Seated | None) -> None:
        """The word of now; pages are told where it changed."""
        if place is None:
            return
        if not self.up:  # what the first key is does not change while it lasts
            self._first_key = not any(d.ended is not None for d in self._downs) and not place.carrier_was_read
        now = self._values.now()
        modulated = is_modulated(now)
        left = place.sought(self.left)
        word = keying(
            now=steady_clock.now(),
            downs=self._downs,
            duties=self._duties,
            first_key=self._first_key,
            wanted=len(self.left) if self._presence.present and self._presence.lines and not place.busy else -1,
            what=place.with_the_row(what_is_left(left, modulated=self.up and modulated)),
            seen=SeenOnAir(power_w=now.get("power"), swr=swr_of(now) if self.up else None, modulated=modulated),
            greatest_power_w=place.state.model.greatest_power_w if place.state.model else None,
            barred=place.barred,
            not_yet=place.not_yet,
        )
        if word != self.word:
            self.word = word
            bulletin.publish("keying", word.model_dump() | {"now": steady_clock.now()})
