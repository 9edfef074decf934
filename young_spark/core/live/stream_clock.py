"""Whether samples of a stream were lost: a stream that is whole keeps up with the clock."""

from collections import deque
from dataclasses import dataclass, field

SLACK_S = 0.006  # a stream that is whole catches up to within this of where it was before
PATIENCE_S = 0.6  # for how long it may lag until it is believed that something is missing
REFERENCE_SHARE = 1e-4  # by how much its clock may run slower than this machine's


@dataclass
class StreamClock:
    """Counts samples against the clock. Every figure in s; `heard` is told how many samples there were by then.

    A stream that lags may only be late: what was sent comes later, and then it is as far as before. What was lost never
    comes. So a stretch is whole once the stream has caught up after it."""

    rate_hz: float
    _begun: float | None = None
    _best: float = 0.0  # how far ahead of the clock it was at its best
    _caught_up: float = 0.0  # samples, in s of the stream, that are known to be whole
    _broken_at: float = 0.0  # in front of it something is missing
    _lags_since: float | None = None
    _lately: deque[tuple[float, float]] = field(default_factory=deque)
    losses: int = 0

    def heard(self, count: int, at: float) -> None:
        """So many samples had come by then."""
        if self._begun is None:
            self._begun = at - count / self.rate_hz
        ahead = count / self.rate_hz - (at - self._begun)
        if self._lately:
            self._best -= REFERENCE_SHARE * (at - self._lately[-1][0])
        self._lately.append((at, ahead))
        while at - self._lately[0][0] > PATIENCE_S:
            self._lately.popleft()
        if ahead >= self._best - SLACK_S:
            self._best, self._lags_since = max(self._best, ahead), None
            self._caught_up = count / self.rate_hz
        elif self._lags_since is None:
            self._lags_since = at
        elif at - self._lags_since > PATIENCE_S:  # it will not come any more
            self._best = max(a for when, a in self._lately if when >= self._lags_since)
            self._lags_since = None
            self._caught_up = self._broken_at = count / self.rate_hz
            self.losses += 1

    def is_whole(self, since: int, until: int) -> bool:
        """Whether it is known that every sample between these two came."""
        return self._broken_at <= since / self.rate_hz and until / self.rate_hz <= self._caught_up
