"""Figures that two readings fit: they are asked about, never guessed. Each check says when."""

import re
from collections.abc import Callable

from young_spark.core.entry.facts.bare_beside import COUNTED_AT
from young_spark.core.entry.facts.said import UNIT_OF, Item, Said
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.frames.results_said import STIRS
from young_spark.core.entry.lines.repairs import SOLD_W
from young_spark.core.entry.wording.changes import FALLS, RISES
from young_spark.core.entry.wording.places import TRIMMER

RATED = {"grid_current", "plate_current", "screen_current", "plate_voltage", "temperature", "supply_current"}
LEAST_SWR_ASKED = 10.0  # 14 may be 1.4 without its point
MOST_DEVIATION_KHZ = 10.0
MOST_MICROVOLTS = 20.0  # of a sensitivity: 107 is one in dBm without its minus
BIAS_OR_IDLE = {"bias_voltage", "idle_current"}
HEATERS_V = (6.3, 12.6)
NEAR_A_HEATER_V = 0.5
REFERENCE_MHZ = (9.6, 10.4)
DEPTHS = {"am_depth", "am_depth_positive", "am_depth_negative"}
SIDEBANDS = {"usb", "lsb", "ssb"}
OF_A_PART = re.compile(r"[A-Z]{1,3}\d+[A-Z]?")
FALLS_BY = (*FALLS, *RISES, "loses", "gains")
WIDEST_BOUNCE = 2.0
MOST_DROPPED_V = 1.5
LEAST_HT_V = 200.0
NEAR_VOLTS = 0.5
OF_ITS_BAND = 2.0  # times: farther than that from all it is made for


def _swr(item: Item, quantity: str, s: Sentence) -> bool:
    return quantity in {"swr", "input_swr"} and _is_whole(item) and item.fact.value >= LEAST_SWR_ASKED


def _deviation(item: Item, quantity: str, s: Sentence) -> bool:
    return quantity == "fm_deviation" and _is_whole(item) and MOST_DEVIATION_KHZ <= item.fact.value < 100


def _sensitivity(item: Item, quantity: str, s: Sentence) -> bool:
    return quantity.startswith("sensitivity_") and _is_whole(item) and item.fact.value >= MOST_MICROVOLTS


def _bias(item: Item, quantity: str, s: Sentence) -> bool:
    named = quantity in BIAS_OR_IDLE and any(f.text == "bias" for f in s.facts)
    both = {i.quantity for i in s.items} >= BIAS_OR_IDLE  # 'bias -54 idle 55': each has its own name
    return named and not both and s.ground.high_voltage and _is_whole(item) and item.address.get("place") is None


def _heater(item: Item, quantity: str, s: Sentence) -> bool:
    near = any(abs(item.fact.value - v) < NEAR_A_HEATER_V for v in HEATERS_V)
    lone = item.fact.unit is None and item.quantity is None and len(s.items) == 1
    return quantity == "plate_current" and near and lone and s.ground.wanted_at_all("filament_voltage")


def _plate(item: Item, quantity: str, s: Sentence) -> bool:
    lone = item.fact.unit is None and len(s.items) == 1 and s.ground.wants != "plate_current"
    return quantity == "plate_current" and lone and item.fact.value >= 100 and any(f.text == "plate" for f in s.facts)


def _is_sold_so(item: Item, quantity: str, s: Sentence) -> bool:
    """'r12 47r 25w': what is printed on a resistor, and neither its ohms nor watts that were read."""
    watts = s.fact(item.at + 1)
    before = s.facts[item.at - 1].text if item.at else ""
    if before not in {"r", "resistor"} and re.fullmatch(r"R\d+", str(item.address.get("place"))) is None:
        return False
    sold = watts is not None and watts.kind == "figure" and watts.unit == "W" and watts.value in SOLD_W
    return sold and quantity == "resistance" and item.at + 2 == len(s.facts)


def _rating(item: Item, quantity: str, s: Sentence) -> bool:
    """'ig max 150': what it may draw, or what it drew at most."""
    return quantity in RATED and item.bound == "upper" and s.has_text(item.at - 1, "max")


def _reference(item: Item, quantity: str, s: Sentence) -> bool:
    near = REFERENCE_MHZ[0] < item.fact.value < REFERENCE_MHZ[1] and item.fact.decimals >= 2
    return quantity == "reflected_power" and item.fact.unit is None and near and any(f.text == "ref" for f in s.facts)


def _depth_of_a_sideband(item: Item, quantity: str, s: Sentence) -> bool:
    """'mod 84' on a sideband that a hand said; one that only the current line asks for is no hand's."""
    of_am = any(f.kind == "quantity" and f.text.startswith("am ") for f in s.facts)
    on = None if "mode" in s.ground.lent else s.ground.hand.get("mode")
    return quantity in DEPTHS and not of_am and item.address.get("mode", on) in SIDEBANDS


def _error_at_a_part(item: Item, quantity: str, s: Sentence) -> bool:
    """'x4 off 630hz': of a crystal inside, and not of what leaves the unit."""
    on = s.ground.channel_at(item.fact.value * 1e6)
    if (
        quantity == "stage_frequency"
        and on is not None
        and item.address.get("place") in {"crystal", "carrier oscillator"}
    ):
        return True  # 'usb xtal trim moved, 27.18500': what leaves the unit is on a channel, and no crystal of it
    return quantity == "frequency_error" and any(
        f.kind == "place" and (OF_A_PART.fullmatch(f.of) or str(f.is_) in COUNTED_AT) for f in s.facts
    )


def _average_of_two_tones(item: Item, quantity: str, s: Sentence) -> bool:
    return quantity == "mean_power" and item.address.get("audio") == "two tones"


def _low_setting(item: Item, quantity: str, s: Sentence) -> bool:
    """'power low 2.1w' on a set with a low setting: that setting, or low on the other."""
    said = any(f.text in {"power", "pwr"} for f in s.facts) and any(f.text == "low" for f in s.facts)
    return quantity == "carrier_power" and "low" in s.ground.power_settings and said and len(s.items) == 1


def _two_points(item: Item, quantity: str, s: Sentence) -> bool:
    """'3..8w': a slip of the finger for 3.8, or from 3 to 8."""
    if item.upper is None or not s.has_text(item.at + 1, ".."):
        return False
    whole = item.fact.decimals == 0 and item.upper.decimals == 0
    short = len(item.fact.text) == 1 and len(item.upper.text.rstrip("abcdefghijklmnopqrstuvwxyz% ")) == 1
    return whole and short and item.upper.value > WIDEST_BOUNCE * item.fact.value


def _far_apart(item: Item, quantity: str, s: Sentence) -> bool:
    """'60 to 900' of an amplifier: no watts that bounce so far, but what goes in and what comes out."""
    ends = item.upper is not None and item.upper.value > FARTHEST_BOUNCE * item.fact.value > 0
    return ends and UNIT_OF.get(quantity) == "W" and s.ground.wanted_at_all("drive_power")


FARTHEST_BOUNCE = 3.0  # times


def _keyed_or_band(item: Item, quantity: str, s: Sentence) -> bool:
    """'key down 10m 88w': ten minutes, or the band."""
    bands = [n for n, f in enumerate(s.facts) if f.of == "band" and f.text.endswith("m")]
    return any(s.has_text(n - 1, "key down", "keyed") for n in bands)


def _another_channel(item: Item, quantity: str, s: Sentence) -> bool:
    """'27.205.025' while the hand is on 19: the knob was turned, or the synthesiser is a channel off. Where only the
    current line asks for a channel, the counter says which it is; where the hand says what is due, that does."""
    here = s.ground.assigned_hz if "channel" not in s.ground.lent else None
    counted = item.fact.decimals > 2 or item.fact.unit == "Hz"
    if (
        quantity != "carrier_frequency"
        or not counted
        or here is None
        or {"channel", "frequency_hz"} & item.address.keys()
        or item.fact.unit is None
        or "due" in item.besides
    ):
        return False
    on = s.ground.channel_at(item.fact.value * _factor(item))
    return on is not None and s.ground.hand.get("channel") != on


def _factor(item: Item) -> float:
    return 1e6 if item.fact.unit == "m" else 1.0


def _fallen(item: Item, quantity: str, s: Sentence) -> bool:
    """'ht drops 200v on key': by so much, or to it. What a fuse or a lead drops is across it."""
    if item.fact.unit == "V" and item.fact.value <= MOST_DROPPED_V and item.address.get("place"):
        return False
    return len(s.items) == 1 and item.upper is None and s.has_text(item.at - 1, *FALLS_BY)


def _volts_at_idle(item: Item, quantity: str, s: Sentence) -> bool:
    """'ht 810v idle 740 keyed': the high tension at rest, and no current."""
    bare = quantity == "idle_current" and item.fact.unit is None
    volts = (i.fact.value for i in s.items if i.fact.unit == "V" or i.quantity == "plate_voltage")
    return bare and any(v >= LEAST_HT_V and NEAR_VOLTS * v <= item.fact.value <= v / NEAR_VOLTS for v in volts)


def _volts_at_rest(item: Item, quantity: str, s: Sentence) -> bool:
    """'in car 13.9 idle': what feeds it while it idles, and no milliamps of a stage."""
    volts = item.fact.unit is None and item.fact.decimals > 0 and item.fact.may_feed
    return quantity == "idle_current" and volts


def _counted_far_away(item: Item, quantity: str, s: Sentence) -> bool:
    """'12.8000001' on a set for 145 MHz: a reference, or the wrong range."""
    known = [*s.ground.frequencies, *s.ground.channel_hz.values(), *s.ground.read_at]
    if quantity != "carrier_frequency" or {"place", "frequency_hz"} & item.address.keys() or not known:
        return False
    hz = item.fact.value * (1e6 if item.fact.unit in {None, "m"} else 1.0)
    return item.fact.unit in {None, "m", "Hz"} and not any(1 / OF_ITS_BAND < hz / k < OF_ITS_BAND for k in known)


def _into_another_load(item: Item, quantity: str, s: Sentence) -> bool:
    """'into 100 ohm 2.0': watts, or the ratio that it makes."""
    bare = item.fact.unit is None and item.quantity is None
    return bare and item.address.get("load_ohm") not in {None, 50.0}


def _on_its_own_meter(item: Item, quantity: str, s: Sentence) -> bool:
    """'own meter 1.1' where amps or hertz are wanted: what its needle is of, nobody said."""
    bare = item.fact.unit is None and item.quantity is None
    return bare and item.address.get("instrument") == "own_meter" and UNIT_OF.get(quantity) not in {"W", "1"}


def _after_a_stir(item: Item, quantity: str, s: Sentence) -> bool:
    """'cooled driver q12: back to 3.9': what came back is what the unit gives, and not what was read at the part."""
    at_a_part = bool(item.address.get("place")) and item.fact.unit is None and item.quantity is None
    return at_a_part and any(f.text in STIRS and f.of != "heat" for f in s.facts)


def _share_of_a_change(item: Item, quantity: str, s: Sentence) -> bool:
    """'carrier 76 rises 5% on audio': a shift, or a depth."""
    return item.fact.unit == "%" and item.quantity is None and s.has_text(item.at - 1, *FALLS_BY, "up", "down")


def _missing(item: Item, quantity: str, s: Sentence) -> bool:
    """'no 8v on tx': what is missing was not read."""
    before = s.fact(item.at - 2)
    corrects = before is not None and before.kind == "figure"  # '3.6 no 3.8w'
    return s.has_text(item.at - 1, "no") and item.at - 1 not in s.taken and not corrects


def _carrier_of_a_sideband(item: Item, quantity: str, s: Sentence) -> bool:
    """'carrier 52' on a sideband: watts of it, or how far it is down."""
    bare = item.fact.unit is None and item.fact.value >= LEAST_DOWN_DB and s.ground.wanted_at_all("carrier_suppression")
    named = quantity in {"carrier_power", "peak_envelope_power"} and s.has_text(item.at - 1, "carrier")
    last = s.ground.last[0] if s.ground.last else ""
    behind = last.endswith("_suppression") or s.ground.wants == "carrier_suppression"
    return bare and named and (behind or s.ground.hand.get("mode") in SIDEBANDS)


LEAST_DOWN_DB = 20.0


def _bare_width_of_a_filter(item: Item, quantity: str, s: Sentence) -> bool:
    """'before filter 62': nobody says that it is how wide it is."""
    return quantity == "filter_bandwidth" and item.fact.unit is None and s.ground.wants != quantity


def _price_of_a_valve(item: Item, quantity: str, s: Sentence) -> bool:
    """'v9 5.00': no volts stand at a valve as a whole, and a new one has its price."""
    priced = item.fact.unit is None and item.fact.decimals == PENCE and quantity == "dc_voltage"
    return priced and len(s.facts) == 2 and re.fullmatch(r"V\d+", str(item.address.get("place"))) is not None


PENCE = 2  # decimals


LEAST_IN_A_ROW = 2
COUNTED_MHZ = 3  # decimals that a counter shows


def _bare_kilohertz(item: Item, quantity: str, s: Sentence) -> bool:
    """'distortion 3.1% at 85% 1k': an error without a sign, a side or a carrier beside it may be a tone."""
    plain = item.quantity is None and item.fact.unit == "k" and not item.fact.signed and item.side is None
    if quantity != "frequency_error" or not plain or len(s.items) < LEAST_IN_A_ROW:
        return False
    return all(s.ground.as_carrier(f) is None for f in s.facts if f.kind == "figure")


def _tone_alone(item: Item, quantity: str, s: Sentence) -> bool:
    """'tone 1k clean': what was sent meanwhile, and no error."""
    plain = item.quantity is None and item.fact.unit in {"k", "Hz"} and not item.fact.signed
    return quantity == "frequency_error" and plain and any(f.text == "tone" for f in s.facts)


def _of_an_adjuster(item: Item, quantity: str, s: Sentence) -> bool:
    """'vr3 85%': what turning it gave, or the knob's own figure; nothing but ohms and volts is read at a pot."""
    place = str(item.address.get("place") or "")
    if re.match(rf"(?:{TRIMMER})\d", place.lower()) and item.fact.decimals >= COUNTED_MHZ and item.fact.unit is None:
        return True  # 'trimmer ct1 up, 27.98126'
    return re.match(rf"(?:{TRIMMER})\d", place.lower()) is not None and UNIT_OF.get(quantity) not in {"Ω", "V", "A"}


def _ratio_of_a_receiver(item: Item, quantity: str, s: Sentence) -> bool:
    """'rx 0.9uv 6db s+n/n': decibels beside microvolts say for which ratio they are, and are of no transmitter."""
    bare = item.fact.unit == "dB" and item.quantity is None and not item.fact.signed
    return bare and any(i.fact.unit == "uV" for i in s.items) and not quantity.startswith(HEARD)


HEARD = ("sensitivity_", "squelch_", "s_meter", "agc", "sinad", "signal_to_noise", "adjacent", "image", "if_rejection")


CHECKS: tuple[Callable[[Item, str, Sentence], bool], ...] = (
    _swr, _deviation, _sensitivity, _bias, _heater, _plate, _reference, _rating, _is_sold_so, _depth_of_a_sideband,
    _error_at_a_part,
    _average_of_two_tones,
    _far_apart, _carrier_of_a_sideband, _bare_width_of_a_filter, _bare_kilohertz, _fallen, _missing, _price_of_a_valve,
    _into_another_load, _on_its_own_meter, _after_a_stir, _share_of_a_change, _volts_at_idle,
    _volts_at_rest, _counted_far_away, _of_an_adjuster, _low_setting, _two_points, _another_channel, _keyed_or_band,
    _ratio_of_a_receiver, _tone_alone,
)  # fmt: skip


def is_asked(item: Item, quantity: str, s: Sentence) -> bool:
    """Whether a figure of a quantity is asked about."""
    return any(check(item, quantity, s) for check in CHECKS)


def _is_whole(item: Item) -> bool:
    return item.fact.unit is None and item.fact.decimals == 0 and not item.fact.signed


def result_is_asked(said: Said, s: Sentence) -> bool:
    """Whether a result in words is asked about: 'dead' where a current is wanted, 'c19 dead', 'low' with a setting."""
    words = [f.text for f in s.facts]
    place = re.fullmatch(r"C(\d{1,2})", str(said.address.get("place") or ""))
    if (
        place is not None
        and "part" not in words
        and int(place[1]) in s.ground.channel_hz
        and said.result in {"dead", "none", "weak"}
    ):
        return True
    if words == ["dead"] and s.ground.wants == "supply_current":
        return True
    return words in (["low"], ["high"]) and words[0] in s.ground.power_settings
