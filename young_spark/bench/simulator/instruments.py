"""The simulated instruments: SCPI in, SCPI out, each with its noise, range, latency and error queue."""

import random
import struct
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field

from young_spark.bench.simulator.sweeps import Sweep, envelope_volts, reflection, spectrum_lines, swept
from young_spark.bench.simulator.unit import Output, Unit

OVERLOAD, NOTHING = 9.9e37, 9.91e37
PEAK_HOLD_S = 0.2
POINTS, SCOPE_POINTS = 801, 4001
NO_ERROR = '0,"No error"'


@dataclass
class SimInstrument:
    """One instrument: its answer to each command, from what the unit puts out now."""

    name: str
    identity: str
    look: Callable[[], Output]
    latency_s: float
    chance: random.Random
    commands: dict[str, Callable[[], bytes]] = field(default_factory=dict)
    silent: frozenset[str] = frozenset({"*CLS", "*RST", "SENS:RANG:AUTO ON"})
    setters: dict[str, Callable[[float], None]] = field(default_factory=dict)  # commands that carry a figure
    errors: deque[str] = field(default_factory=lambda: deque(maxlen=16))
    overloaded: bool = False  # set by the line-fault menu: something far too strong at its input

    def answer(self, command: str) -> bytes | None:
        """The answer to one command, without its terminator; None for a command that has none."""
        wanted = command.strip().upper()
        if wanted == "*IDN?":
            return self.identity.encode()
        if wanted == "SYST:ERR?":
            return (self.errors.popleft() if self.errors else NO_ERROR).encode()
        if wanted == "*CLS":
            self.errors.clear()
        if wanted in self.silent:
            return None
        if (make := self.commands.get(wanted)) is not None:
            return make()
        head, _, figure = wanted.partition(" ")
        if head in self.setters:
            try:
                self.setters[head](float(figure))
            except ValueError:
                self.errors.append('-104,"Data type error"')
            return None
        self.errors.append('-113,"Undefined header"')
        return None

    def noisy(self, value: float, share: float, fixed: float = 0.0) -> float:
        """A value with the instrument's own scatter."""
        return value * (1 + self.chance.gauss(0, share)) + self.chance.gauss(0, fixed)


def figures(*values: float) -> bytes:
    """Figures between commas, as SCPI writes them."""
    return ",".join(f"{value:.7E}" for value in values).encode()


def block(*values: float) -> bytes:
    """An IEEE 488.2 definite-length block of big-endian 32-bit floats."""
    body = struct.pack(f">{len(values)}f", *values)
    length = str(len(body))
    return f"#{len(length)}{length}".encode() + body


def wattmeter(unit: Unit, chance: random.Random) -> SimInstrument:
    """Forward, reflected and peak envelope power; 250 W at most."""
    look = unit.output
    meter = SimInstrument("wattmeter", "SIMULATED,WATTMETER,LF-W-01,1.0", look, 0.03, chance)

    def power() -> bytes:
        out = look()
        if meter.overloaded or out.mean_w > 250:
            meter.errors.append('-231,"Data questionable; input over range"')
            return figures(OVERLOAD, OVERLOAD, OVERLOAD)
        rho = (out.swr - 1) / (out.swr + 1)
        forward = max(0.0, meter.noisy(out.mean_w, 0.0015, 0.002))
        return figures(
            forward,
            max(0.0, meter.noisy(out.mean_w * rho**2, 0.01, 0.002)),
            max(forward, meter.noisy(out.crest_w, 0.003, 0.002)),
        )

    meter.commands["MEAS:POW?"] = power
    return meter


def counter(unit: Unit, chance: random.Random) -> SimInstrument:
    """Frequency by a gate of a tenth of a second; nothing under a few milliwatts."""
    look = unit.output
    meter = SimInstrument("counter", "SIMULATED,COUNTER,LF-C-01,1.0", look, 0.1, chance)

    def frequency() -> bytes:
        out = look()
        if meter.overloaded:
            return figures(OVERLOAD)
        if out.mean_w < 0.005:
            return figures(NOTHING)
        wobble = out.deviation_hz * 0.2 + out.depth * 30
        return f"{round(meter.noisy(out.frequency_hz, 0.0, 0.4 + wobble)):d}.0".encode()

    meter.commands["MEAS:FREQ?"] = frequency
    return meter


def modulation_meter(unit: Unit, chance: random.Random) -> SimInstrument:
    """Depth in %, deviation in kHz and tone in Hz as one block; it holds its peaks for a moment."""
    look = unit.output
    meter = SimInstrument("modulation-meter", "SIMULATED,MODULATION METER,LF-M-01,1.0", look, 0.05, chance)

    def modulation() -> bytes:
        out = look()
        if meter.overloaded:
            return block(OVERLOAD, OVERLOAD, OVERLOAD)
        if out.mean_w < 0.005:
            return block(NOTHING, NOTHING, NOTHING)
        held_depth, held_deviation_hz = unit.loudest(PEAK_HOLD_S)
        depth = abs(meter.noisy(100 * held_depth, 0.001, 0.15))
        deviation = abs(meter.noisy(held_deviation_hz / 1e3, 0.001, 0.006))
        return block(depth, deviation, 1000.0 if held_depth or held_deviation_hz else 0.0)

    meter.commands["FETC:MOD:DATA?"] = modulation
    return meter


def supply(unit: Unit, chance: random.Random) -> SimInstrument:
    """Volts and current at the unit's lead."""
    look = unit.output
    meter = SimInstrument("supply", "SIMULATED,SUPPLY,LF-P-01,1.0", look, 0.02, chance)

    def everything() -> bytes:
        out = look()
        if meter.overloaded:
            return figures(OVERLOAD, OVERLOAD)
        return figures(meter.noisy(out.volts, 0.0002, 0.001), max(0.0, meter.noisy(out.amps, 0.001, 0.0008)))

    meter.commands["MEAS:ALL?"] = everything
    return meter


def input_wattmeter(unit: Unit, chance: random.Random) -> SimInstrument:
    """What goes from an exciter into its amplifier, and what comes back, in W."""
    meter = SimInstrument("input-wattmeter", "SIMULATED,INPUT WATTMETER,LF-W-03,1.0", unit.output, 0.03, chance)

    def drive() -> bytes:
        if meter.overloaded:
            return figures(OVERLOAD, OVERLOAD)
        now = unit.driven
        back = now.drive_w * ((now.input_swr - 1) / (now.input_swr + 1)) ** 2
        return figures(max(0.0, meter.noisy(now.drive_w, 0.0015, 0.002)), max(0.0, meter.noisy(back, 0.004, 0.001)))

    meter.commands["MEAS:DRIV?"] = drive
    return meter


def amplifier_meters(unit: Unit, chance: random.Random) -> SimInstrument:
    """Plate volts and amperes and grid amperes of an amplifier; where there is none, nothing to measure."""
    meter = SimInstrument("amplifier-meters", "SIMULATED,AMPLIFIER METERS,LF-K-01,1.0", unit.output, 0.05, chance)

    def everything() -> bytes:
        if meter.overloaded:
            return figures(OVERLOAD, OVERLOAD, OVERLOAD)
        if unit.hands.kind != "amplifier":
            return figures(NOTHING, NOTHING, NOTHING)
        now = unit.driven
        currents = (max(0.0, meter.noisy(amps, 0.002, 0.0003)) for amps in (now.plate_a, now.grid_a))
        return figures(meter.noisy(now.plate_v, 0.001, 0.5), *currents)

    meter.commands["MEAS:AMPL?"] = everything
    return meter


def generator(unit: Unit, chance: random.Random) -> SimInstrument:
    """The level of a signal generator at the unit's socket, in dBm; nothing while it is off."""
    meter = SimInstrument("generator", "SIMULATED,GENERATOR,LF-G-01,1.0", unit.output, 0.02, chance)

    def level() -> bytes:
        set_to = unit.hands.generator_dbm
        return figures(NOTHING if set_to is None else set_to)

    meter.commands["POW?"] = level
    return meter


def audio_analyser(unit: Unit, chance: random.Random) -> SimInstrument:
    """The SINAD of what comes out of the receiver, in dB; nothing while it is silent."""
    meter = SimInstrument("audio-analyser", "SIMULATED,AUDIO ANALYSER,LF-T-08,1.0", unit.output, 0.08, chance)

    def sinad() -> bytes:
        now = unit.heard
        return figures(NOTHING if now is None or not now.is_open else meter.noisy(now.sinad_db, 0.0, 0.12))

    meter.commands["MEAS:SINAD?"] = sinad
    return meter


def sweeping(name: str, identity: str, unit: Unit, chance: random.Random) -> tuple[SimInstrument, Sweep]:
    """An instrument that sweeps: its ends can be set and asked for."""
    meter, sweep = SimInstrument(name, identity, unit.output, 0.15, chance), Sweep()
    meter.setters |= {"FREQ:STAR": sweep.set_start, "FREQ:STOP": sweep.set_stop}
    meter.commands |= {"FREQ:STAR?": lambda: figures(sweep.start), "FREQ:STOP?": lambda: figures(sweep.stop)}
    return meter, sweep


def analyser(unit: Unit, chance: random.Random) -> SimInstrument:
    """A spectrum in dBm behind the bench's sampler and pad; `FREQ:SPAN:CARR` puts a span about the carrier."""
    meter, sweep = sweeping("analyser", "SIMULATED,ANALYSER,LF-A-00,1.0", unit, chance)

    def about_the_carrier(span: float) -> None:
        middle = unit.kind.channels[unit.hands.channel]
        sweep.start, sweep.stop = middle - span / 2, middle + span / 2

    def trace() -> bytes:
        if meter.overloaded:
            meter.errors.append('-231,"Data questionable; input over range"')
            return block(*[OVERLOAD] * POINTS)
        out = unit.output()
        lines = spectrum_lines(out, unit.hands.tone, unit.hands.mode)
        rbw = (sweep.stop - sweep.start) / 400
        return block(*swept(lines, sweep.places(POINTS), rbw, chance))

    meter.setters["FREQ:SPAN:CARR"] = about_the_carrier
    meter.commands["TRAC:DATA?"] = trace
    return meter


def scope(unit: Unit, chance: random.Random) -> SimInstrument:
    """The envelope across the load through its detector probe, in V: ten milliseconds."""
    meter, sweep = sweeping("scope", "SIMULATED,SCOPE,LF-S-03,1.0", unit, chance)
    sweep.start, sweep.stop = 0.0, 0.01
    meter.commands |= {"TIM:STAR?": lambda: figures(sweep.start), "TIM:STOP?": lambda: figures(sweep.stop)}

    def trace() -> bytes:
        if meter.overloaded:
            return block(*[OVERLOAD] * SCOPE_POINTS)
        out = unit.output()
        begin = chance.random()
        return block(
            *(
                max(0.0, envelope_volts(out, at + begin) + chance.gauss(0, 0.002 * (1 + envelope_volts(out, 0.0))))
                for at in sweep.places(SCOPE_POINTS)
            )
        )

    meter.commands["WAV:DATA?"] = trace
    return meter


def network_analyser(unit: Unit, chance: random.Random) -> SimInstrument:
    """S11 of what hangs at the socket, real and imaginary part in turn, 2 MHz about the channel."""
    meter, sweep = sweeping("network-analyser", "SIMULATED,NETWORK ANALYSER,LF-N-01,1.0", unit, chance)

    def about_the_channel(span: float) -> None:
        middle = unit.kind.channels[unit.hands.channel]
        sweep.start, sweep.stop = middle - span / 2, middle + span / 2

    def trace() -> bytes:
        middle = unit.kind.channels[unit.hands.channel]
        values: list[float] = []
        for hz in sweep.places(POINTS):
            s11 = reflection(unit.hands.load_swr, middle, hz)
            values += [s11.real + chance.gauss(0, 5e-4), s11.imag + chance.gauss(0, 5e-4)]
        return block(*values)

    meter.setters["FREQ:SPAN:CHAN"] = about_the_channel
    meter.commands["CALC:DATA:S11?"] = trace
    return meter


METERS = (wattmeter, counter, modulation_meter, supply)
MAKERS = (*METERS, analyser, scope, network_analyser, input_wattmeter, amplifier_meters, generator, audio_analyser)
