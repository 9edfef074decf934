"""KEY, HOLD, UNKEY: what the hand on the key should do, and until when. The program itself never keys a transmitter.

Times are seconds on one clock of the caller's; a rule of thumb of the trade, not of a standard, where no source is
named."""

from collections.abc import Sequence
from typing import Literal

from young_spark.core.ground import Frozen
from young_spark.core.path import Duty

HandWord = Literal["KEY", "HOLD", "UNKEY", "COOL"]
FIRST_KEY_S = 2.0
FIRST_KEY_SWR = 1.5
GREATEST_SWR = 3.0  # above it finals die in well under a minute
OVER_POWER = 1.25  # of the greatest carrier that the model can give
FULL_MODULATION = 1.5  # mean power of a carrier at 100 % depth, over its own


class KeyedSpan(Frozen):
    """One key-down; `ended` is None while it lasts. `heat_s` is what it counts for."""

    began: float
    ended: float | None = None


class SeenOnAir(Frozen):
    """What the instruments say while it is keyed; None where none of them says it."""

    power_w: float | None = None
    swr: float | None = None
    modulated: bool = False


class Keying(Frozen):
    """What to do now, why, and when that changes by itself (`until`, on the same clock; None: it does not)."""

    word: HandWord | None
    why: str
    until: float | None = None
    then: HandWord | None = None
    limit: str = ""  # whose time it is


BARE_DUTY = Duty(name="nothing better known", key_down_s=30.0, cool_off_s=60.0)


def shortest(duties: Sequence[Duty]) -> Duty:
    """The duty that counts: the shortest key-down of all, the longest rest of all."""
    if not duties:
        return BARE_DUTY
    first = min(duties, key=lambda d: d.key_down_s)
    return first.model_copy(update={"cool_off_s": max(d.cool_off_s for d in duties)})


def cool_at(duty: Duty, downs: Sequence[KeyedSpan], now: float) -> float:
    """When it may be keyed again: each key-down owes rest in proportion to its length, worked off while unkeyed."""
    owed_until = float("-inf")
    for down in sorted(downs, key=lambda d: d.began):
        ended = now if down.ended is None else down.ended
        left = max(0.0, owed_until - down.began)
        owed_until = ended + left + duty.cool_off_s * max(0.0, ended - down.began) / duty.key_down_s
    return owed_until


def is_cool(duty: Duty, downs: Sequence[KeyedSpan], now: float) -> bool:
    """Whether a whole key-down may begin. A short one owes little: what is owed may be at most half a rest."""
    return cool_at(duty, downs, now) - now <= duty.cool_off_s / 2


def keying(
    *,
    now: float,
    downs: Sequence[KeyedSpan],
    duties: Sequence[Duty],
    first_key: bool,
    wanted: int,
    what: str = "",
    seen: SeenOnAir,
    greatest_power_w: float | None,
    barred: str = "",
    not_yet: str | None = None,
) -> Keying:
    """The word for the hand. `downs` holds earlier key-downs and the one that lasts; `wanted` counts the readings
    still to be taken in this one (below 0: nothing says) and `what` names them; `barred` is why it must not be
    keyed at all, `not_yet` why nothing is to be keyed now though it might be (None: it is time)."""
    duty = shortest(duties)
    down = next((d for d in downs if d.ended is None), None)
    if down is None:
        rest = _at_rest(now, downs, duty, first_key, wanted, what, barred)
        return Keying(word=None, why=not_yet) if rest.word == "KEY" and not_yet is not None else rest
    if barred:
        return Keying(word="UNKEY", why=barred)
    danger = _danger(seen, first_key, greatest_power_w)
    if danger:
        return Keying(word="UNKEY", why=danger)
    allowed = _allowed_s(duty, downs, down)
    limit = duty.name
    if first_key and allowed > FIRST_KEY_S:
        allowed, limit = FIRST_KEY_S, "first key"
    end = down.began + allowed
    if now >= end:
        return Keying(word="UNKEY", why=f"{allowed:.0f} s are over ({limit})", limit=limit)
    if wanted == 0:
        return Keying(word="UNKEY", why="all read", limit=limit)
    why = what if wanted > 0 else "keyed"
    return Keying(word="HOLD", why=why, until=end, then="UNKEY", limit=limit)


def _at_rest(
    now: float, downs: Sequence[KeyedSpan], duty: Duty, first_key: bool, wanted: int, what: str, barred: str
) -> Keying:
    if barred:
        return Keying(word=None, why=barred)
    if not is_cool(duty, downs, now):
        cool = cool_at(duty, downs, now) - duty.cool_off_s / 2
        return Keying(
            word="COOL", why=f"{duty.name} cools off", until=cool, then="KEY" if wanted else None, limit=duty.name
        )
    if first_key:
        return Keying(word="KEY", why="first key: lowest power, 2 s at most, SWR under 1.5", limit="first key")
    return Keying(word="KEY" if wanted else None, why=what if wanted > 0 else "", limit=duty.name)


def _allowed_s(duty: Duty, downs: Sequence[KeyedSpan], down: KeyedSpan) -> float:
    """How long this key-down may last: less by what earlier ones still owe."""
    owed = max(0.0, cool_at(duty, [d for d in downs if d is not down], down.began) - down.began)
    return duty.key_down_s * max(0.25, 1 - owed / duty.cool_off_s) if duty.cool_off_s > 0 else duty.key_down_s


def _danger(seen: SeenOnAir, first_key: bool, greatest_power_w: float | None) -> str:
    greatest_swr = FIRST_KEY_SWR if first_key else GREATEST_SWR
    if seen.swr is not None and seen.swr > greatest_swr:
        return f"SWR over {greatest_swr:g}"
    if seen.power_w is not None and greatest_power_w is not None:
        most = OVER_POWER * greatest_power_w * (FULL_MODULATION if seen.modulated else 1)
        if seen.power_w > most:
            return f"more power than this unit can give ({greatest_power_w:g} W)"
    return ""
