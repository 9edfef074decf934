"""Powers and SWR from an expression: wattmeter, level, scope volts, needles, forward and reflected."""

from young_spark.core.entry.sums.bench import Bench, Draft, own_meter_not_judged, single
from young_spark.core.entry.sums.expression import Expression, share_units
from young_spark.core.entry.wording.tokens import Figure, Unclear
from young_spark.core.figure import Input, Shape, Term, quantity
from young_spark.core.measures import amplitude_modulation, power, reflection

READ_BY = {"dBm": "level", "dBw": "level", "Vpp": "voltage_rf", "Vp": "voltage_rf"}


def read_power(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """Watts on a wattmeter, dBm behind pads, or volts on a scope."""
    if expression.arrow is not None or len(expression.figures) == 2:
        return read_swing(expression, _with_path(expression, bench, "power"))
    figure = single(expression, quantity(quantity_id).name)
    bench = _with_path(expression, bench, READ_BY.get(figure.unit or "", "power"))
    if figure.unit in {"dBm", "dBw"}:
        level_dbm = figure.value + (30 if figure.unit == "dBw" else 0)
        reading = power.level(quantity_id, level_dbm, bench.context.instrument_for("level"), bench.conditions)
        return bench.draft(reading)
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
        return bench.draft(
            power.nothing_seen(quantity_id, bench.context.instrument_for("power"), "power", bench.conditions)
        )
    reading = power.wattmeter(quantity_id, figure.value, bench.context.instrument_for("power"), bench.conditions)
    return bench.draft(own_meter_not_judged(reading, bench))


def _with_path(expression: Expression, bench: Bench, function: str) -> Bench:
    """Multiplier and pads typed on the line stand for the chips, for this line; where none are, the path of the bench
    says what it takes away before the instrument that has the function."""
    changes: dict[str, object] = {}
    correction = bench.context.correction_for(bench.context.instrument_for(function))
    if correction is not None:
        changes |= {"pad_db": correction.loss_db, "pad_bound_db": correction.bound_db or None, "path": correction.words}
    if expression.multiplier is not None:
        if expression.multiplier <= 0:
            raise Unclear("A multiplier of nothing? For example 'x10'.")
        changes["multiplier"] = expression.multiplier
    if expression.pads_db:
        changes |= {"pad_db": sum(expression.pads_db), "pad_bound_db": None, "path": None}
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
    found = amplitude_modulation.from_needle(pair[0].value, pair[1].value, meter, bench.conditions)
    if found[0].value is None and all(f.unit is None for f in pair):
        raise Unclear("No modulation makes a needle move so far. A swing is in watts, for example 'swing 4 -> 6w'.")
    return bench.set(modulation="on").draft(*found)


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
    return read_power("peak_envelope_power", expression, bench)


def read_two_tone(expression: Expression, bench: Bench) -> Draft:
    """PEP of two equal tones from a needle, by the meter's detector."""
    bench = _with_path(expression, bench, "power")
    figure = single(expression, "Two-tone needle")
    if figure.unit not in {None, "W"} or figure.value <= 0:
        raise Unclear("What does the needle read, in watts?")
    return bench.draft(power.two_tone(figure.value, bench.context.instrument_for("power"), bench.conditions))


def read_swr(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """SWR from a scale, or from forward and reflected power, each on its element."""
    bench = _with_path(expression, bench, "power")
    if len(expression.figures) == 2:
        forward, reflected = share_units(expression.figures)
        if {forward.unit, reflected.unit} - {None, "W"}:
            raise Unclear("Forward and reflected in watts, for example 'swr 3.8/0.3'.")
        meter = bench.context.instrument_for("power")
        readings = reflection.from_powers(forward.value, reflected.value, meter, bench.conditions)
        readings = (readings[0].model_copy(update={"quantity": quantity_id}), *readings[1:])
        return bench.draft(*(own_meter_not_judged(r, bench) if r.quantity == quantity_id else r for r in readings))
    figure = single(expression, "SWR")
    if figure.unit is not None:
        raise Unclear("SWR has no unit: 'swr 1.4', or forward and reflected 'swr 3.8/0.3'.")
    meter = bench.context.instrument_for("swr" if bench.conditions.instrument == "own_meter" else "power")
    reading = reflection.from_meter(figure.value, meter).model_copy(update={"quantity": quantity_id})
    return bench.draft(
        own_meter_not_judged(reading, bench)
        if not meter.indication_only
        else reading.model_copy(update={"not_judged": "indication only: the unit's own meter"})
    )


def read_step(expression: Expression, bench: Bench) -> Draft | None:
    """'step 0.38/3.8w': the low setting against the high one; None where the text is no pair of powers."""
    if len(expression.figures) != 2:
        return None
    low, high = share_units(expression.figures)
    if {low.unit, high.unit} - {None, "W"} or not 0 < low.value <= high.value:
        raise Unclear("Low against high in watts, for example 'step 0.38/3.8w', or the step in dB.")
    return bench.draft(power.step(low.value, high.value, bench.context.instrument_for("power"), bench.conditions))
