"""The words that begin a figure, and what each means."""

from collections.abc import Callable
from functools import partial

from young_spark.core.entry.sums.bench import Bench, Draft
from young_spark.core.entry.sums.expression import Expression
from young_spark.core.entry.sums.figures import of_quantity
from young_spark.core.entry.sums.read_power import read_pep, read_power, read_swing, read_two_tone
from young_spark.core.entry.sums.read_spectrum import read_beat
from young_spark.core.figure import QUANTITIES

Handler = Callable[[Expression, Bench], Draft]


def _plainly(quantity_id: str) -> Handler:
    return partial(of_quantity, quantity_id)


def _in_state(state: str, expression: Expression, bench: Bench) -> Draft:
    """'tx 1.1a': a current, or volts, in one of the three states of a supply."""
    volts = any(f.unit == "V" for f in expression.figures)
    return of_quantity("supply_voltage" if volts else "supply_current", expression, bench.set(state=state))


def _own_meter(expression: Expression, bench: Bench) -> Draft:
    """'own 4w': what the unit's own meter shows, an indication only."""
    bench = bench.set(instrument="own_meter")
    if any(f.unit == "V" for f in expression.figures):
        return of_quantity("supply_voltage", expression, bench)
    return of_quantity("carrier_power", expression, bench)


def _scope(expression: Expression, bench: Bench) -> Draft:
    """'scope 40v': volts across the load, peak to peak when it is not said."""
    figures = tuple(f.in_unit("Vpp") if f.unit in {"V", None} else f for f in expression.figures)
    return read_power("carrier_power", Expression(figures=figures, pads_db=expression.pads_db), bench)


WORDS: dict[str, Handler] = {
    **{name: _plainly(name) for name in QUANTITIES},
    **{f"h{n}": _plainly(f"harmonic_{n}") for n in range(2, 11)},
    **{word: _plainly("carrier_power") for word in ("power", "pwr", "po", "carrier", "output", "out")},
    **{word: _plainly("am_depth") for word in ("mod", "depth", "am")},
    **{word: _plainly("fm_deviation") for word in ("dev", "deviation", "fm")},
    **{word: _plainly("frequency_error") for word in ("err", "error", "off", "offset")},
    **{word: _plainly("carrier_frequency") for word in ("freq", "frequency", "f")},
    **{word: _plainly("supply_voltage") for word in ("supply", "vcc", "volts", "rail")},
    **{word: partial(_in_state, "transmit") for word in ("tx", "transmit", "keyed")},
    **{word: partial(_in_state, "receive") for word in ("rx", "receive")},
    **{word: partial(_in_state, "standby") for word in ("standby", "stby")},
    **{word: read_swing for word in ("swing", "needle")},
    **{word: read_two_tone for word in ("two-tone", "twotone", "2tone")},
    **{word: _own_meter for word in ("own", "meter")},
    "crest": _plainly("am_depth_positive"),
    "trough": _plainly("am_depth_negative"),
    "shift": _plainly("carrier_shift"),
    "swr": _plainly("swr"),
    "vswr": _plainly("swr"),
    "rl": _plainly("return_loss"),
    "pep": read_pep,
    "mean": _plainly("mean_power"),
    "fwd": _plainly("forward_power"),
    "ref": _plainly("reflected_power"),
    "drive": _plainly("drive_power"),
    "step": _plainly("power_step"),
    "spur": _plainly("spurious_worst"),
    "beat": read_beat,
    "dial": read_beat,
    "scope": _scope,
    "disc": _plainly("fm_deviation"),
    "current": _plainly("supply_current"),
    "ripple": _plainly("ripple"),
    "idle": _plainly("idle_current"),
    "bias": _plainly("bias_voltage"),
    "loop": _plainly("control_voltage"),
    "plate": _plainly("plate_current"),
    "grid": _plainly("grid_current"),
    "screen": _plainly("screen_voltage"),
    "filament": _plainly("filament_voltage"),
    "heater": _plainly("filament_voltage"),
    "hum": _plainly("hum_and_noise"),
    "dist": _plainly("audio_distortion"),
    "distortion": _plainly("audio_distortion"),
    "sinad": _plainly("sinad"),
    "sens": _plainly("sensitivity_12db_sinad"),
    "squelch": _plainly("squelch_open"),
    "temp": _plainly("temperature"),
    "ohms": _plainly("resistance"),
    "esr": _plainly("esr"),
    "cap": _plainly("capacitance"),
    "gain": _plainly("gain"),
    "hfe": _plainly("transistor_gain"),
    "tone": _plainly("audio_frequency"),
    "suppression": _plainly("carrier_suppression"),
    "loss": _plainly("insertion_loss"),
    "imd": _plainly("imd3"),
    "input": _plainly("input_swr"),
    "resonance": _plainly("resonant_frequency"),
}

# what a figure with only a unit may be, when the current line wants none of these; the first is taken
BY_UNIT: dict[str, tuple[str, ...]] = {
    "W": ("carrier_power",),
    "dBm": ("carrier_power",),
    "dBw": ("carrier_power",),
    "Vpp": ("carrier_power", "ripple"),
    "Vp": ("carrier_power",),
    "V": ("supply_voltage",),
    "A": ("supply_current",),
    "%": ("am_depth",),
    "Ω": ("resistance",),
    "F": ("capacitance",),
    "°C": ("temperature",),
    "ppm": ("frequency_error",),
    "Hz/V": ("fm_deviation",),
}
