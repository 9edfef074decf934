"""From an expression to readings: one small function a family, chosen by keyword, unit and current line."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from young_spark.core import sums
from young_spark.core.entry.expression import Expression, share_units
from young_spark.core.entry.meaning import EntryContext
from young_spark.core.entry.tokens import Figure, Unclear
from young_spark.core.measures import (
    amplitude_modulation,
    frequency,
    frequency_modulation,
    plain,
    power,
    reflection,
    spectrum,
)
from young_spark.core.quantities import quantity
from young_spark.core.reading import Conditions, Measured
from young_spark.core.uncertainty import Input, Shape, Spread, Term, worst_of


@dataclass(frozen=True, slots=True)
class Draft:
    """Readings of one sense of the text, the principal first, and the conditions as the text changed them."""

    readings: tuple[Measured, ...]
    conditions: Conditions


@dataclass(frozen=True, slots=True)
class Bench:
    """The context with the conditions of this line."""

    context: EntryContext
    conditions: Conditions

    def set(self, **changes: object) -> "Bench":
        """The same bench with some chips changed for this line."""
        conditions = self.conditions.model_copy(update=changes)
        return Bench(self.context.model_copy(update={"conditions": conditions}), conditions)

    def draft(self, *readings: Measured) -> Draft:
        """The readings under this line's conditions."""
        return Draft(readings, self.conditions)


FUNCTION_OF_UNIT = {
    "W": "power", "V": "voltage", "A": "current", "Ω": "resistance", "F": "capacitance", "°C": "temperature",
    "dBm": "level", "%": "depth", "Hz": "frequency",
}  # fmt: skip
FUNCTION_OF = {
    "esr": "esr", "transistor_gain": "gain", "ripple": "ripple", "sinad": "sinad", "audio_distortion": "distortion",
    "hum_and_noise": "audio_level", "carrier_suppression": "relative_level", "opposite_sideband_suppression": "relative_level",
    "imd3": "relative_level", "imd5": "relative_level", "imd7": "relative_level", "fm_deviation": "deviation", "efficiency": "none", "carrier_shift": "depth",
}  # fmt: skip
POWERS = {
    "carrier_power",
    "peak_envelope_power",
    "mean_power",
    "forward_power",
    "reflected_power",
    "drive_power",
    "steady_power",
}
DEPTHS = {"am_depth", "am_depth_positive", "am_depth_negative"}
DEVIATIONS = {"fm_deviation", "fm_deviation_positive", "fm_deviation_negative", "limiter_peak_deviation"}
FREQUENCIES = {"frequency_error", "carrier_frequency"}
SWRS = {"swr", "input_swr", "swr_minimum"}
MHZ = 1e6


def function_of(quantity_id: str) -> str:
    """The instrument function that reads a quantity."""
    return FUNCTION_OF.get(quantity_id) or FUNCTION_OF_UNIT.get(quantity(quantity_id).unit, "none")


def single(expression: Expression, what: str) -> Figure:
    """The one figure there must be; raises Unclear otherwise."""
    if len(expression.figures) != 1:
        raise Unclear(f"{what}: one figure is wanted." if expression.figures else f"{what}: what figure?")
    return expression.figures[0]


def of_quantity(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """The expression read as this quantity, by the family it belongs to."""
    if expression.nothing:
        return bench.draft(
            power.nothing_seen(
                quantity_id,
                bench.context.instrument_for(function_of(quantity_id)),
                function_of(quantity_id),
                bench.conditions,
            )
        )
    if expression.weak and not expression.figures:
        return bench.draft(_weak(quantity_id))
    if expression.ends is not None:
        return _bouncing(quantity_id, expression, bench)
    family = _family(quantity_id)
    draft = family(quantity_id, expression, bench)
    return _bounded(draft, expression.bound) if expression.bound else draft


def _family(quantity_id: str) -> Callable[[str, Expression, Bench], Draft]:
    if quantity_id in POWERS:
        return read_power
    if quantity_id in SWRS:
        return read_swr
    if quantity_id in DEPTHS:
        return read_depth
    if quantity_id in DEVIATIONS:
        return read_deviation
    if quantity_id in FREQUENCIES:
        return read_frequency
    if quantity_id.startswith("harmonic_") or quantity_id == "spurious_worst":
        return read_relative_level
    return read_plain


def _weak(quantity_id: str) -> Measured:
    return Measured(
        quantity=quantity_id, value=None, unit=quantity(quantity_id).unit, reason="not_measured", method="seen", working="seen, not measured",
        remarks=("weak, not measured: an observation, not a figure",),
    )  # fmt: skip


def _bounded(draft: Draft, bound: str) -> Draft:
    words = "at most" if bound == "upper" else "at least"
    readings = tuple(
        r.model_copy(update={"bound": bound, "uncertainty": None, "interval": None, "working": f"{words}: {r.working}"})
        for r in draft.readings[:1]
    )
    return replace(draft, readings=readings)


def _bouncing(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """A figure that bounces: both ends by the same method; the worse end is judged."""
    low_figure, high_figure = sorted(expression.ends or (), key=lambda f: f.value)
    drafts = [
        of_quantity(quantity_id, replace(expression, ends=None, figures=(f,)), bench) for f in (low_figure, high_figure)
    ]
    low, high = (d.readings[0] for d in drafts)
    if low.value is None or high.value is None:
        raise Unclear("Between what and what?")
    if low.value > high.value:  # a frequency error below the channel, say
        low, high = high, low
    ends = (low.value or 0.0, high.value or 0.0)
    words = f"between {low.working} and {high.working}"
    if low.arms is None or high.arms is None:
        middle = low.model_copy(update={"value": sum(ends) / 2, "ends": ends, "working": words})
        return Draft((middle,), drafts[0].conditions)
    spread = worst_of(Spread(ends[0], *low.arms), Spread(ends[1], *high.arms))
    found = low.model_copy(
        update={
            "value": spread.value,
            "uncertainty": spread.uncertainty,
            "interval": spread.interval,
            "ends": ends,
            "working": words,
            "remarks": ("it bounces: the worse end is judged", *low.remarks),
        }
    )
    return Draft((found,), drafts[0].conditions)


def read_power(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """Watts on a wattmeter, dBm behind pads, or volts on a scope."""
    bench = _with_path(expression, bench)
    if expression.arrow is not None or len(expression.figures) == 2:
        return read_swing(expression, bench)
    figure = single(expression, quantity(quantity_id).name)
    if figure.unit in {"dBm", "dBw"}:
        level_dbm = figure.value + (30 if figure.unit == "dBw" else 0)
        found = power.level(quantity_id, level_dbm, bench.context.instrument_for("level"), bench.conditions)
        return bench.draft(found)
    if figure.unit in {"Vpp", "Vp"}:
        volts_pp = figure.value * (2 if figure.unit == "Vp" else 1)
        return bench.draft(
            power.scope_volts(quantity_id, volts_pp, bench.context.instrument_for("voltage_rf"), bench.conditions)
        )
    if figure.unit == "V":
        raise Unclear(f"{figure.text}: across the load? Say vpp or vp. Or is it the supply?")
    if figure.unit not in {None, "W"}:
        raise Unclear(f"{figure.text}: watts or dBm?")
    if figure.value < 0:
        raise Unclear(f"{figure.text}: dBm? Power in watts is not below 0.")
    if figure.value == 0:
        return of_quantity(quantity_id, Expression(nothing=True), bench)
    found = power.wattmeter(quantity_id, figure.value, bench.context.instrument_for("power"), bench.conditions)
    return bench.draft(_own(found, bench))


def _own(found: Measured, bench: Bench) -> Measured:
    """A figure of the unit's own meter is an indication; one beyond its scale is an overload."""
    if bench.context.instrument_for(function_of(found.quantity)).indication_only:
        return found.model_copy(update={"not_judged": "indication only: the unit's own meter"})
    if any("off its scale" in remark for remark in found.remarks):
        return found.model_copy(update={"not_judged": "beyond the element's scale"})
    return found


def _with_path(expression: Expression, bench: Bench) -> Bench:
    """Multiplier and pads typed on the line stand for the chips, for this line."""
    changes: dict[str, object] = {}
    if expression.multiplier is not None:
        if expression.multiplier <= 0:
            raise Unclear("A multiplier of nothing? For example 'x10'.")
        changes["multiplier"] = expression.multiplier
    if expression.pads_db:
        changes["pad_db"] = sum(expression.pads_db)
    if expression.elements:
        changes["element_w"] = expression.elements[0]
        changes["reflected_element_w"] = expression.elements[1] if len(expression.elements) > 1 else None
    if any(e <= 0 for e in expression.elements):
        raise Unclear("Which element? For example 'el 5' or 'el 250/10'.")
    return bench.set(**changes) if changes else bench


def read_swing(expression: Expression, bench: Bench) -> Draft:
    """A needle that goes from carrier to another figure on audio, explained by detector."""
    pair = (
        expression.arrow
        or expression.ends
        or (share_units(expression.figures) if len(expression.figures) == 2 else None)
    )
    if pair is None:
        carrier = bench.context.last("carrier_power")
        if carrier is None:
            raise Unclear("From what carrier? For example 'swing 4 -> 6w'.")
        pair = (Figure(carrier.value, "W", 0.0, f"{carrier.value:g} W"), single(expression, "Needle"))
    if any(f.unit not in {None, "W"} or f.value <= 0 for f in pair):
        raise Unclear("A swing is two powers in watts, for example 'swing 4 -> 6w'.")
    meter = bench.context.instrument_for("power")
    return bench.set(modulation="on").draft(
        *amplitude_modulation.from_needle(pair[0].value, pair[1].value, meter, bench.conditions)
    )


def read_pep(expression: Expression, bench: Bench) -> Draft:
    """PEP: watts on a peak meter, or 'pep 3.8/2.0' as crest and carrier height on one scope, the carrier known in W."""
    if len(expression.figures) == 2 and all(f.unit in {None, "div", "V", "Vpp", "Vp"} for f in expression.figures):
        crest, level = expression.figures
        carrier = bench.context.last("carrier_power")
        if carrier is None:
            raise Unclear("The scope ratio needs the carrier in watts: measure it first.")
        doubt = (Term("carrier", carrier.uncertainty, Shape.NORMAL),) if carrier.uncertainty else ()
        given = Input(carrier.value, doubt)
        return bench.draft(
            power.pep_from_scope(given, crest.value, level.value, bench.context.instrument_for("screen_height"))
        )
    return of_quantity("peak_envelope_power", expression, bench)


def read_two_tone(expression: Expression, bench: Bench) -> Draft:
    """PEP of two equal tones from a needle, by the meter's detector."""
    bench = _with_path(expression, bench)
    figure = single(expression, "Two-tone needle")
    if figure.unit not in {None, "W"} or figure.value <= 0:
        raise Unclear("What does the needle read, in watts?")
    return bench.draft(power.two_tone(figure.value, bench.context.instrument_for("power"), bench.conditions))


def read_swr(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """SWR from a scale, or from forward and reflected power, each on its element."""
    bench = _with_path(expression, bench)
    if len(expression.figures) == 2:
        forward, reflected = share_units(expression.figures)
        if {forward.unit, reflected.unit} - {None, "W"}:
            raise Unclear("Forward and reflected in watts, for example 'swr 3.8/0.3'.")
        meter = bench.context.instrument_for("power")
        readings = reflection.from_powers(forward.value, reflected.value, meter, bench.conditions)
        readings = (readings[0].model_copy(update={"quantity": quantity_id}), *readings[1:])
        return bench.draft(*(_own(r, bench) if r.quantity == quantity_id else r for r in readings))
    figure = single(expression, "SWR")
    if figure.unit is not None:
        raise Unclear("SWR has no unit: 'swr 1.4', or forward and reflected 'swr 3.8/0.3'.")
    meter = bench.context.instrument_for("swr" if bench.conditions.instrument == "own_meter" else "power")
    found = reflection.from_meter(figure.value, meter).model_copy(update={"quantity": quantity_id})
    return bench.draft(
        _own(found, bench)
        if not meter.indication_only
        else found.model_copy(update={"not_judged": "indication only: the unit's own meter"})
    )


def read_depth(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """Depth in % from a meter, crest and trough in %, or heights crest / trough / carrier on a scope."""
    bench = bench.set(modulation="on")
    figures = expression.figures
    if len(figures) >= 2 and not any(f.unit == "%" for f in figures):
        if all(f.signed for f in figures) and len(figures) == 2:
            return _both_depths(figures, bench)
        heights = share_units(figures)
        if len(figures) > 3:
            raise Unclear("Crest / trough / carrier: three heights at most.")
        carrier = heights[2].value if len(heights) == 3 else None
        scope = bench.context.instrument_for("screen_height")
        return bench.draft(*amplitude_modulation.from_heights(heights[0].value, heights[1].value, carrier, scope))
    if len(figures) == 2:
        return _both_depths(figures, bench)
    figure = single(expression, "Depth")
    if figure.unit not in {None, "%"}:
        raise Unclear(f"{figure.text}: depth in %, or crest / trough like 'mod 2.1/0.15'?")
    meter = bench.context.instrument_for("depth")
    return bench.draft(amplitude_modulation.from_meter(quantity_id, abs(figure.value), meter))


def _both_depths(figures: tuple[Figure, ...], bench: Bench) -> Draft:
    """'mod +92/-88': crest and trough in % on a meter, and their mean."""
    meter = bench.context.instrument_for("depth")
    crest, trough = (abs(f.value) for f in figures)
    positive = amplitude_modulation.from_meter("am_depth_positive", crest, meter)
    negative = amplitude_modulation.from_meter("am_depth_negative", trough, meter)
    mean = amplitude_modulation.from_meter("am_depth", (crest + trough) / 2, meter)
    mean = mean.model_copy(update={"working": f"({crest:g} % + {trough:g} %) / 2"})
    return bench.draft(mean, positive, negative)


def read_deviation(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """Peak deviation from a meter (a bare figure is kHz), both peaks, or discriminator volts × slope."""
    bench = bench.set(modulation="on")
    if expression.slope_hz_per_v is not None:
        volts = single(expression, "Discriminator")
        if volts.unit not in {"V", "Vp", "Vpp", None}:
            raise Unclear("Discriminator volts times its slope, for example 'dev 0.42v x 5k/v'.")
        peak = volts.value / 2 if volts.unit == "Vpp" else volts.value
        scope = bench.context.instrument_for("voltage_audio")
        return bench.draft(frequency_modulation.from_discriminator(peak, expression.slope_hz_per_v, scope))
    figures = tuple(_as_deviation(f) for f in share_units(expression.figures)) if expression.figures else ()
    meter = bench.context.instrument_for("deviation")
    if len(figures) == 2:
        return bench.draft(
            *frequency_modulation.from_peaks(abs(figures[0].value), figures[1].value, meter, figures[0].step)
        )
    figure = single(replace(expression, figures=figures), "Deviation")
    found = frequency_modulation.from_peaks(abs(figure.value), None, meter, figure.step)[0]
    return bench.draft(found.model_copy(update={"quantity": quantity_id}))


def _as_deviation(figure: Figure) -> Figure:
    if figure.unit in {"k", None} and abs(figure.value) < 100:
        return figure.in_unit("Hz", 1e3)  # a deviation of 2.1 Hz is no deviation: every meter of the trade reads kHz
    if figure.unit in {"Hz", None}:
        return figure
    raise Unclear(f"{figure.text}: deviation in kHz?")


def read_frequency(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """A counted carrier (error beside it where the channel is known), or an error in Hz, kHz or ppm."""
    figure = single(expression, "Frequency")
    assigned = bench.context.assigned_hz()
    if figure.unit == "ppm":
        if assigned is None:
            raise Unclear("ppm of what? Name the channel or the frequency.")
        figure = figure.in_unit("Hz", sums.hz_from_ppm(1.0, assigned))
    hertz = _as_hertz(figure, assigned)
    if abs(hertz.value) >= 100e3:
        return counted(hertz, bench)
    return bench.draft(
        _modulated(
            frequency.error_as_read(hertz.value, hertz.step, assigned, bench.context.instrument_for("frequency")), bench
        )
    )


def _as_hertz(figure: Figure, assigned_hz: float | None) -> Figure:
    if figure.unit == "Hz":
        return figure
    if figure.unit == "k":
        return figure.in_unit("Hz", 1e3)
    if figure.unit == "m":
        return figure.in_unit("Hz", MHZ)
    if figure.unit is None:
        mhz = figure.value * MHZ
        near = assigned_hz is not None and abs(mhz / assigned_hz - 1) < 0.02
        if near or (assigned_hz is None and figure.step < 0.02 and 1 < figure.value < 1300):
            return figure.in_unit("Hz", MHZ)
        return figure.in_unit("Hz")
    raise Unclear(f"{figure.text}: a frequency in MHz, or an error in Hz?")


def _modulated(found: Measured, bench: Bench) -> Measured:
    if bench.conditions.modulation == "on":
        return found.model_copy(update={"not_judged": "a counter is not to be believed on a modulated carrier"})
    return found


def counted(hertz: Figure, bench: Bench) -> Draft:
    """A carrier frequency in Hz, and its error where a channel or an assigned frequency is known."""
    carrier, given = frequency.counted(
        hertz.value, hertz.step, bench.context.instrument_for("frequency"), bench.conditions
    )
    return _with_error(_modulated(carrier, bench), given, bench)


def _with_error(carrier: Measured, given: Input, bench: Bench) -> Draft:
    assigned, words = bench.context.assigned_hz(), "assigned"
    plan = bench.context.channel_plan
    if bench.conditions.channel is not None:
        words = f"of channel {bench.conditions.channel}"
    if assigned is None and plan is not None and (channel := plan.on_channel(given.value)) is not None:
        assigned, words = channel.hz, f"of channel {channel.number}, the nearest"
        bench = bench.set(channel=channel.number)
    if assigned is None or abs(given.value - assigned) > 0.02 * assigned:
        return bench.draft(carrier)
    error = _modulated(frequency.error_from_carrier(carrier, given, assigned, words), bench)
    return bench.draft(error, carrier)


def read_beat(expression: Expression, bench: Bench) -> Draft:
    """'beat 27.184 usb 1000': dial and tone in a communications receiver."""
    sidebands = [w for w in expression.words if w in {"usb", "lsb"}]
    if len(sidebands) != 1:
        raise Unclear("On USB or LSB? For example 'beat 27.184/1000 usb'. In CW, does the dial include its offset?")
    if len(expression.figures) != 2:
        raise Unclear("Dial and tone, for example 'beat 27.184/1000 usb'.")
    dial, tone = expression.figures
    tone_hz = tone.in_unit("Hz").value if tone.unit in {None, "Hz"} else _as_hertz(tone, None).value
    receiver = bench.context.instrument_for("dial")
    shown = (
        receiver.model_copy(update={"functions": {"frequency": receiver.functions["dial"]}})
        if "dial" in receiver.functions
        else receiver
    )
    dial_hz = _as_hertz(dial, dial.value * MHZ if dial.unit is None else None)
    carrier, given = frequency.beaten(dial_hz.value, abs(tone_hz), sidebands[0], expression.receiver_error_hz, shown)
    return _with_error(carrier, given, bench)


def read_relative_level(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """A harmonic or spur: dBc as displayed, or dBm against a carrier in dBm; 'loss 20/20.8' corrects the path."""
    figures = expression.figures
    if not 1 <= len(figures) <= 2:
        raise Unclear("How far below the carrier? For example 'h2 -62'.")
    level, carrier_db = figures[0], 0.0
    if level.unit not in {None, "dB", "dBc", "dBm"}:
        raise Unclear(f"{level.text}: a level in dBc or dBm?")
    if len(figures) == 2:
        carrier_db = figures[1].value
    elif level.unit == "dBm":
        raise Unclear("And the carrier on the same screen? For example 'h2 -48dbm/+12dbm'.")
    value = level.value
    if carrier_db == 0 and value > 0 and level.unit != "dBm" and not level.signed:
        value = -value  # '62 down' is how it is said
    losses = expression.losses_db
    if losses and len(losses) != 2:
        raise Unclear("Two losses: at the carrier and at the harmonic, for example 'loss 20/20.8'.")
    found = spectrum.relative_level(
        quantity_id, value, carrier_db, bench.context.instrument_for("relative_level"),
        loss_at_carrier_db=losses[0] if losses else None, loss_at_level_db=losses[1] if losses else None,
        at_hz=_place(quantity_id, expression, bench), bound=expression.bound == "upper",
    )  # fmt: skip
    return bench.draft(found)


def _place(quantity_id: str, expression: Expression, bench: Bench) -> float | None:
    assigned = bench.context.assigned_hz()
    if quantity_id.startswith("harmonic_"):
        return int(quantity_id.split("_")[1]) * assigned if assigned else None
    if expression.at is None:
        return None
    place = _as_hertz(expression.at, assigned)
    offset = place.value if abs(place.value) < 1e6 else None
    return place.value if offset is None else (assigned + offset if assigned else None)


def read_plain(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """A figure straight off an instrument, in the quantity's unit or a bare number read as it."""
    figure = single(expression, quantity(quantity_id).name)
    unit = quantity(quantity_id).unit
    typed = figure.unit
    accepted = {
        unit: 1.0,
        "k": 1e3 if unit in {"Hz", "Ω"} else 0.0,
        "m": 1e6 if unit in {"Hz", "Ω"} else 0.0,
        "Vpp": 1.0 if unit == "V" else 0.0,
    }
    factor = 1.0 if typed is None or (unit == "1" and typed is None) else accepted.get(typed, 0.0)
    if factor == 0.0:
        raise Unclear(f"{figure.text}: {quantity(quantity_id).name} is in {unit}. Which is it?")
    if unit == "A" and typed is None and figure.value >= 30:
        raise Unclear(f"{figure.text}: A or mA?")
    value, step = figure.value * factor, figure.step * factor
    if quantity_id in {"hum_and_noise", "power_step", "power_fade"} and value > 0 and not figure.signed:
        value = -value  # "40 down" is how it is said; signed below is negative
    function = function_of(quantity_id)
    return bench.draft(plain.direct(quantity_id, value, bench.context.instrument_for(function), function, step=step))
