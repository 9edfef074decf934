"""Depth and deviation from an expression: meters, heights on a scope, both peaks, discriminator volts."""

from dataclasses import replace

from young_spark.core.entry.sums.bench import Bench, Draft, single
from young_spark.core.entry.sums.expression import Expression, share_units
from young_spark.core.entry.wording.tokens import Figure, Unclear
from young_spark.core.measures import amplitude_modulation, frequency_modulation

LEAST_SHARE, MOST_SHARE = 40.0, 150.0  # figures that may as well be percent


def read_depth(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """Depth in % from a meter, crest and trough in %, or heights crest / trough / carrier on a scope."""
    bench = bench.set(modulation="on")
    figures = expression.figures
    if len(figures) >= 2 and not any(f.unit == "%" for f in figures):
        if all(f.signed for f in figures) and len(figures) == 2:
            return _both_depths(figures, bench)
        heights = share_units(figures)
        if len(figures) == 2 and all(f.unit is None and LEAST_SHARE <= f.value <= MOST_SHARE for f in figures):
            raise Unclear(f"{figures[0].text}/{figures[1].text}: peaks and troughs in %, or heights on a screen?")
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
    """Peak deviation from a meter (a bare figure is kHz), both peaks, or discriminator volts × slope. It is FM,
    whatever the chip says."""
    bench = bench.set(modulation="on", mode="fm")
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
    reading = frequency_modulation.from_peaks(abs(figure.value), None, meter, figure.step)[0]
    return bench.draft(reading.model_copy(update={"quantity": quantity_id}))


def _as_deviation(figure: Figure) -> Figure:
    if figure.unit in {"k", None} and abs(figure.value) < 100:
        return figure.in_unit("Hz", 1e3)  # a deviation of 2.1 Hz is no deviation: every meter of the trade reads kHz
    if figure.unit in {"Hz", None}:
        return figure
    raise Unclear(f"{figure.text}: deviation in kHz?")
