"""Whether a figure of a breath is surely none of what it was read as: nobody should choose it either."""

import re
from functools import cache

from pydantic import RootModel

from young_spark.core.entry.believed.beside_its_siblings import is_at_odds
from young_spark.core.entry.facts.said import Breath, Said
from young_spark.core.ground import SHIPPED, load


def is_misread(breath: Breath, plain: str) -> bool:
    """Whether a figure of a breath is surely none of what it was read as: nobody should choose it either."""
    said = breath.said
    if CHANGED.search(plain) is not None and any(map(_is_no_one_figure, said)):
        return True
    if SO_MANY_OF.search(plain) is not None:
        return True
    fed = OF_THE_MAINS.search(plain) is not None and any(one.unit == "W" for one in said)
    return fed or is_at_odds(breath, plain) or any(wrong(one) for one in said for wrong in OF_ONE)


def _is_off_by_so_much(said: Said) -> bool:
    """'xtal synth, ch19 +300': whole hertz of channels, and no volts of a part that was named before."""
    bare = said.unit == "V" and not said.in_its_unit and not said.named and "channel" in said.address
    return bare and said.value is not None and abs(said.value) >= LEAST_OFF and bool(said.address.get("place"))


LEAST_OFF = 100.0


SO_MANY_OF = re.compile(r"(?<![\w.])\d{1,2}x ?\d+ ?v")  # 'zeners 5x62v': what each of them is called by
OF_THE_MAINS = re.compile(r"\d ?w(?:atts?)? (?:from|off|at|on) (?:the )?mains\b|\bmains (?:draw|input|power|watts)\b")


def _is_sent_at_rest(said: Said) -> bool:
    """'standby 18 watts from the mains': no carrier comes out of what receives or rests."""
    at_rest = said.address.get("state") in {"standby", "receive"}
    return at_rest and said.unit == "W" and said.quantity != "audio_power" and bool(said.value)


def _feeds_a_load(said: Said) -> bool:
    """'13.9v on 50 ohm': no supply is told with the load of what is sent."""
    return said.quantity == "supply_voltage" and "load_ohm" in said.address


def _is_at_a_side(said: Said) -> bool:
    """'collector current 7.1 left 4.9': a bare figure at a point inside is no level, share or hertz of the unit."""
    bare = not (said.named or said.in_its_unit or said.derived or said.lent)
    return bare and bool(said.address.get("place")) and said.unit in OF_THE_UNIT


OF_THE_UNIT = {"dBm", "dBc", "%"}


def _is_named_otherwise(said: Said) -> bool:
    """'bias -52 gives 60ma': whether the name directly before a figure is one of another kind."""
    if not said.led_by or said.led_by == said.quantity or said.derived:
        return False
    return said.quantity not in _led_by().get(said.led_by, ())


class _LedBy(RootModel[dict[str, tuple[str, ...]]]):
    """The data file: what a figure directly behind a name may be besides."""


@cache
def _led_by() -> dict[str, tuple[str, ...]]:
    return load(SHIPPED / "entry" / "led_by.toml", _LedBy).root


def _is_of_no_supply(said: Said) -> bool:
    """'coax remade, 1.3 at set': no set is fed with so little, wherever that is read."""
    bare = not (said.in_its_unit or said.named or said.address.get("item"))
    fed = bare and said.quantity == "supply_voltage" and said.address.get("place") == "power socket"
    return fed and said.value is not None and 0 < said.value < LEAST_FED_V


LEAST_FED_V = 2.0


def _is_of_no_trimmer(said: Said) -> bool:
    """'vc1 usb to +5': what has a sign at a capacitor that is trimmed is what it was trimmed to, and no volts of it."""
    bare = said.quantity == "dc_voltage" and said.signed and not (said.in_its_unit or said.named)
    return bare and TRIMMED.fullmatch(str(said.address.get("place"))) is not None


TRIMMED = re.compile(r"(?:VC|CT|TC|CV)\d{1,3}")


def _is_less_than_nothing(said: Said) -> bool:
    """'no spurs to -60', 'frozen to -10': no watts, ohms or farads, no current that is drawn, and no ratio of waves."""
    never = said.unit in NEVER_NEGATIVE or said.quantity in DRAWN
    return never and not said.derived and said.value is not None and said.value < 0


NEVER_NEGATIVE = {"W", "Ω", "F", "H"}


DRAWN = {"supply_current", "idle_current", "plate_current", "swr", "input_swr", "am_depth", "fm_deviation"}


def _is_of_another_mode(said: Said) -> bool:
    """'mod 88% fm 1.9': a depth is of a carrier that is not swung, a deviation of one that is."""
    mode = said.address.get("mode")
    return (said.quantity == "am_depth" and mode == "fm") or (said.quantity == "fm_deviation" and mode == "am")


def _is_no_one_figure(said: Said) -> bool:
    """'alc from 0.1 to 4.2v': what changed so far was read twice, and the middle is neither."""
    if said.low is None or said.high is None or said.derived or said.low <= 0:
        return False
    return said.high > WIDEST * said.low


WIDEST = 3.0


CHANGED = re.compile(r"\bfrom [\d.]+ ?[a-z]* to\b")


def _is_signed_as_no_count_is(said: Said) -> bool:
    """'went from +200 to -2.4k': what has a sign is how far a carrier is off, and never where it is."""
    return said.quantity in COUNTED and said.signed and not said.derived


def _is_a_part_of_a_hertz(said: Said) -> bool:
    """'0.2uv for 12db with tx on, .19 off': nobody counts how far a carrier is off so finely."""
    bare = said.quantity == "frequency_error" and not (said.in_its_unit or said.signed or said.derived)
    return bare and said.value is not None and 0 < said.value < 1


def _is_finer_than_it_is_read(said: Said) -> bool:
    """'lo 45.1234': what nobody names and has no unit is counted in megahertz, where it has so many decimals."""
    bare = not (said.in_its_unit or said.named or said.derived) and said.unit in {"V", "A", "W", "%", "dB"}
    return bare and 0 < said.step < 1.5 * FINEST and said.value is not None and abs(said.value) >= 1


FINEST = 1e-4
COUNTED = {"carrier_frequency", "stage_frequency"}


OF_ONE = (
    _feeds_a_load,
    _is_of_another_mode,
    _is_of_no_supply,
    _is_of_no_trimmer,
    _is_signed_as_no_count_is,
    _is_a_part_of_a_hertz,
    _is_sent_at_rest,
    _is_off_by_so_much,
    _is_at_a_side,
    _is_named_otherwise,
    _is_less_than_nothing,
    _is_finer_than_it_is_read,
)
