"""Frequencies and levels beside the carrier from an expression: counter, beat, harmonics, spurs."""

from young_spark.core.entry.sums.bench import MHZ, Bench, Draft, as_hertz, single
from young_spark.core.entry.sums.expression import Expression
from young_spark.core.entry.wording.tokens import Figure, Unclear
from young_spark.core.figure import Input, Measured, sums
from young_spark.core.measures import frequency, spectrum

SPACING_HZ = 1250.0  # that every plan's channels are a multiple of
ROUGHLY_HZ = 1e3  # near enough to say where, and mostly no multiple of a spacing, so that nobody takes it for assigned
MOST_OFF_HZ = 25e3  # from where a line is wanted: farther than that it was counted somewhere else


def read_frequency(quantity_id: str, expression: Expression, bench: Bench) -> Draft:
    """A counted carrier (error beside it where the channel is known), or an error in Hz, kHz or ppm."""
    figure = single(expression, "Frequency")
    assigned = bench.context.assigned_hz()
    if figure.unit == "ppm":
        if assigned is None:
            raise Unclear("ppm of what? Name the channel or the frequency.")
        figure = figure.in_unit("Hz", sums.hz_from_ppm(1.0, assigned))
    hertz = as_hertz(figure, assigned)
    if abs(hertz.value) >= 100e3:
        return counted(hertz, bench)
    return bench.draft(
        _modulated(
            frequency.error_as_read(hertz.value, hertz.step, assigned, bench.context.instrument_for("frequency")), bench
        )
    )


def _modulated(reading: Measured, bench: Bench) -> Measured:
    if bench.conditions.modulation == "on":
        return reading.model_copy(update={"not_judged": "a counter is not to be believed on a modulated carrier"})
    return reading


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
    if assigned is None and (stood := _where_it_stood(given.value, bench)) is not None:
        assigned, words = stood, "where it was read before"
        bench = bench.set(frequency_hz=stood)
    elsewhere = bench.conditions.channel is None and assigned is not None and abs(given.value - assigned) > MOST_OFF_HZ
    if elsewhere:
        bench = bench.set(frequency_hz=ROUGHLY_HZ * round(given.value / ROUGHLY_HZ))
    if assigned is None or elsewhere or abs(given.value - assigned) > 0.02 * assigned:
        return bench.draft(carrier)
    error = _modulated(frequency.error_from_carrier(carrier, given, assigned, words), bench)
    return bench.draft(error, carrier)


def _where_it_stood(counted_hz: float, bench: Bench) -> float | None:
    """'145.50142' behind '145.500 23w': the newest whole frequency that something was read at, so near to it that the
    one is the error of the other."""
    stood = (e.conditions.frequency_hz for e in reversed(bench.context.earlier))
    whole = (hz for hz in stood if hz is not None and hz % SPACING_HZ == 0)
    return next((hz for hz in whole if abs(counted_hz - hz) <= MOST_ERROR_HZ), None)


MOST_ERROR_HZ = 5e3  # farther off it is rather the next channel than an error


def read_beat(expression: Expression, bench: Bench) -> Draft:
    """'beat 27.184 usb 1000': dial and tone in a communications receiver."""
    sidebands = [w for w in expression.words if w in {"usb", "lsb"}]
    if len(sidebands) != 1:
        raise Unclear("On USB or LSB? For example 'beat 27.184/1000 usb'. In CW, does the dial include its offset?")
    if len(expression.figures) != 2:
        raise Unclear("Dial and tone, for example 'beat 27.184/1000 usb'.")
    dial, tone = expression.figures
    tone_hz = tone.in_unit("Hz").value if tone.unit in {None, "Hz"} else as_hertz(tone, None).value
    receiver = bench.context.instrument_for("dial")
    shown = (
        receiver.model_copy(update={"functions": {"frequency": receiver.functions["dial"]}})
        if "dial" in receiver.functions
        else receiver
    )
    dial_hz = as_hertz(dial, dial.value * MHZ if dial.unit is None else None)
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
    at_hz = _place(quantity_id, expression, bench)
    losses = losses or _losses_of_path(at_hz, bench)
    reading = spectrum.relative_level(
        quantity_id, value, carrier_db, bench.context.instrument_for("relative_level"),
        loss_at_carrier_db=losses[0] if losses else None, loss_at_level_db=losses[1] if losses else None,
        at_hz=at_hz, bound=expression.bound == "upper",
    )  # fmt: skip
    return bench.draft(reading)


def _losses_of_path(at_hz: float | None, bench: Bench) -> tuple[float, ...]:
    """What the path of the bench takes away at the carrier and there, before the analyser that hangs in it."""
    if at_hz is None:
        return ()
    analyser = bench.context.instrument_for("relative_level")
    corrections = [bench.context.correction_for(analyser, hz) for hz in (None, at_hz)]
    return tuple(c.loss_db for c in corrections if c is not None)


def _place(quantity_id: str, expression: Expression, bench: Bench) -> float | None:
    assigned = bench.context.assigned_hz()
    if quantity_id.startswith("harmonic_"):
        return int(quantity_id.split("_")[1]) * assigned if assigned else None
    if expression.at is None:
        return None
    place = as_hertz(expression.at, assigned)
    offset = place.value if abs(place.value) < 1e6 else None
    return place.value if offset is None else (assigned + offset if assigned else None)
