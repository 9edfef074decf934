"""Class defaults of instruments, so that no set-up precedes the first figure."""

from functools import cache

from young_spark.core.figure.reading import Accuracy, Detector, Instrument
from young_spark.core.ground import Frozen, shipped

# the unit of what a function reads, where an absolute bound of it is stated
FUNCTION_UNITS = {
    "depth": "%",
    "distortion": "%",
    "sinad": "dB",
    "audio_level": "dB",
    "esr": "Ω",
    "temperature": "°C",
    "dial": "Hz",
    "power": "W",
    "voltage": "V",
    "current": "A",
    "frequency": "Hz",
    "deviation": "Hz",
    "resistance": "Ω",
    "capacitance": "F",
}


class InstrumentClass(Frozen):
    """What is typical of a kind of instrument; `order` says which kind is tried first for a function."""

    name: str
    order: int
    functions: dict[str, Accuracy]
    detector: Detector = "unknown"
    elements_w: tuple[float, ...] = ()
    directivity_db: float | None = None
    indication_only: bool = False
    key_down_s: float | None = None  # how long it may stand full power, and how long it then rests
    cool_off_s: float | None = None
    warm_up_min: float = 0.0
    held_ppm: float | None = None  # how well its reference keeps once its error is known and taken off


def instrument_classes() -> dict[str, InstrumentClass]:
    """The shipped classes by id."""
    return shipped("instruments", InstrumentClass)


@cache
def typical(kind: str) -> Instrument:
    """The class default as an instrument, marked typical."""
    base = instrument_classes()[kind]
    return Instrument(
        id=kind,
        kind=kind,
        **base.model_dump(exclude={"order", "key_down_s", "cool_off_s", "warm_up_min", "held_ppm"}),
        typical=True,
    )


@cache
def default_for(function: str) -> Instrument:
    """The typical instrument for a function; one without a known accuracy where no class has it."""
    fitting = [(c.order, kind) for kind, c in instrument_classes().items() if function in c.functions]
    if not fitting:
        return Instrument(id="unnamed", name="Instrument", kind="unnamed", functions={})
    return typical(min(fitting)[1])
