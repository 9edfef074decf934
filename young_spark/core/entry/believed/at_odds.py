"""Figures of one line that cannot all be so: one of them was read as a quantity, or at a point, that was not meant."""

import re
from collections.abc import Iterable, Sequence

from young_spark.core.entry.facts.meaning import EntryContext, Meaning
from young_spark.core.entry.facts.said import Breath, Said

SIGNED_ALIKE = frozenset({"harmonic_2", "harmonic_3", "harmonic_4", "harmonic_5", "spurious_worst"})
FARTHEST_OFF_HZ = 15e3  # more than a channel beside: the channel is another one
# of what is read at several points of a unit the most is so many times the least
MOST_TIMES = {"reflected_power": 50.0, "fm_deviation": 50.0}
OF_THE_GREATEST = 0.5  # what a low setting gives at most
_BELOW = re.compile(r"-\d+(?:\.\d+)?")
_ON_A_CHANNEL = re.compile(r"\bch(?:an(?:nel)?)? ?\d")  # where none is named, the work says it later
_PIN_OF_NO_CHIP = re.compile(r"\b(?:ic|u)\d+ (?:emitter|collector|base|drain|gate|source)\b", re.IGNORECASE)
OF_NO_FREQUENCY = frozenset({"resistance", "capacitance", "esr", "condition", "temperature"})


def is_at_odds(breath: Breath, context: EntryContext) -> bool:
    """Whether the figures of a breath contradict each other, or where they stand."""
    read = [said for said in breath.said if said.value is not None]
    nowhere = any(_is_of_no_such_point(said, len(read)) for said in breath.said)
    driven_bare = any(said.quantity == "drive_power" and not said.in_its_unit for said in read)
    return (
        nowhere
        or any(_is_no_gain(said, driven_bare=driven_bare) for said in read)
        or _is_far_apart(read)
        or _has_lent_a_prefix(read)
        or _is_low_at_full_power(read, context)
    )


def _is_what_goes_in(meaning: Meaning) -> str | None:
    """'hv 740 at 190ma, input 140w': the watts that are the product of a final's volts and amps, and no drive."""
    values = {r.quantity: r.value for r in meaning.readings}
    volts, amps, watts = (values.get(name) or 0.0 for name in ("plate_voltage", "plate_current", "drive_power"))
    return f"{watts:g}" if watts and abs(volts * amps / watts - 1) < NEAR_PRODUCT else None


_SIDEBAND_OR_KEYED = {"usb", "lsb", "ssb", "cw"}


def _depth_without_a_carrier(meaning: Meaning) -> str | None:
    """'idle 160ma ssb pos, 60 cw': a modulation depth is of a carrier that stays."""
    return next(
        (
            f"{reading.value:g} %"
            for n, reading in enumerate(meaning.readings)
            if reading.quantity.startswith("am_depth")
            and reading.value is not None
            and meaning.conditions_of(n).mode in _SIDEBAND_OR_KEYED
        ),
        None,
    )


NEAR_PRODUCT = 0.1
LEAST_GAIN_DB = -15.0  # where nobody says that the drive is in watts; a dead amplifier gives less


def _is_no_gain(said: Said, *, driven_bare: bool) -> bool:
    """'28.2 in at 50mw', 'agc ok, 60 db change': megahertz as watts of drive, or decibels of a control."""
    if said.quantity != "gain" or said.value is None:
        return False
    place = str(said.address.get("place", ""))
    return (driven_bare and said.derived and said.value < LEAST_GAIN_DB) or place.startswith(("AGC", "ALC"))


def at_odds_in(plain: str, meaning: Meaning) -> str | None:
    """The figure of a text that contradicts the others, in words, or None."""
    odd = _of_unlike_signs(plain, meaning) or _is_what_goes_in(meaning) or _depth_without_a_carrier(meaning)
    return odd or (_far_off_its_channel(meaning) if _ON_A_CHANNEL.search(plain) else None)


def _of_unlike_signs(plain: str, meaning: Meaning) -> str | None:
    """'h2 14.2 -51, 30m 97 17m 95': levels below a carrier, some typed with their sign and some without."""
    levels = [r.value for r in meaning.readings if r.quantity in SIGNED_ALIKE and r.value is not None and not r.bound]
    below = {float(figure) for figure in _BELOW.findall(plain)}
    signed = [-abs(value) in below for value in levels]
    odd = next((value for value, is_signed in zip(levels, signed, strict=True) if not is_signed), None)
    return f"{abs(odd):g}" if odd is not None and any(signed) else None


def _far_off_its_channel(meaning: Meaning) -> str | None:
    """'3.4 watts on channel 1, freq 27185.1 khz': counted on another channel than the one that was named before."""
    for n, reading in enumerate(meaning.readings):
        if reading.quantity == "frequency_error" and abs(reading.value or 0.0) > FARTHEST_OFF_HZ:
            channel = meaning.conditions_of(n).channel
            if channel is not None:
                return f"that frequency on channel {channel}"
    return None


def _is_low_at_full_power(read: Iterable[Said], context: EntryContext) -> bool:
    """'45w low' on a set of 50 W: a figure that is low, or of a low setting that would be none."""
    greatest = context.greatest_power_w
    return greatest is not None and any(
        said.quantity == "carrier_power"
        and said.value is not None
        and said.value > OF_THE_GREATEST * greatest
        and said.address.get("power_setting") == "low"
        for said in read
    )


def _is_far_apart(read: Sequence[Said]) -> bool:
    """'ref 0.2w, cw 98': the second is of no name that leads the first."""
    return any(_spreads(read, quantity, most) for quantity, most in MOST_TIMES.items())


def _has_lent_a_prefix(read: Sequence[Said]) -> bool:
    """'290ma, rx .31 tx 1.3': amps, and no thousandths of what stands before them."""
    amps = [said for said in read if said.quantity == "supply_current" and said.value]
    most = max((said.value or 0.0 for said in amps if said.in_its_unit), default=0.0)
    return any(said.leans and (said.value or 0.0) < most / LEAST_SHARE for said in amps)


LEAST_SHARE = 100.0  # of a current beside it, of one that has its unit from there


def _spreads(read: Iterable[Said], quantity: str, most: float) -> bool:
    values = [abs(said.value) for said in read if said.quantity == quantity and said.value]
    return bool(values) and max(values) > most * min(values)


def _is_of_no_such_point(said: Said, figures: int) -> bool:
    """'450mv pin 3 ic1, emitter nothing': no chip has one; beside other figures a resistance is of no frequency."""
    place = said.address.get("place")
    if isinstance(place, str) and _PIN_OF_NO_CHIP.search(place) is not None:
        return True
    if said.quantity == "resistance" and said.leans and "mode" in said.address:
        return True  # 'null vr3: usb 51 lsb 50'
    of_no_frequency = said.quantity in OF_NO_FREQUENCY and "frequency_hz" in said.address
    return of_no_frequency and place is not None and figures > 1
