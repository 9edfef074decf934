"""What the readings of one breath say of each other: an address that one of them lent another, and that cannot be its
own, is left behind; one that contradicts what was read leaves nobody sure."""

from collections.abc import Callable
from dataclasses import replace

from young_spark.core.entry.facts.said import Breath, Said

# what is read of an electrode is at none of the others
ELECTRODE_OF = {
    "screen_voltage": "screen", "screen_current": "screen", "plate_voltage": "anode", "plate_current": "anode",
    "grid_current": "grid", "bias_voltage": "grid",
}  # fmt: skip
ELECTRODES = {"cathode", "grid", "screen", "anode", "collector", "base", "emitter", "gate", "drain", "source"}
AT_REST = {"standby", "receive"}


def agreeing(breath: Breath) -> Breath:
    """A breath whose readings can all be true."""
    said = tuple(
        _of_a_subtone(_of_peaks(_rippled(_at_no_mains(_off_load(one)), breath), breath), breath) for one in breath.said
    )
    said = at_one_place(said)
    sure = breath.sure and not any(_is_of_another_electrode(one) for one in said)
    return replace(breath, said=said, sure=sure)


def at_one_place(said: tuple[Said, ...]) -> tuple[Said, ...]:
    """'fm 4w dev 1.8' where the current line is of another mode, 'plate 520ma, 610w out' where their open lines are of
    two bands: nobody turned the knob between two figures of a line, so that what an open line adds to the power is of
    the others as well."""
    powers = [one for one in said if one.quantity in SENT and one.where_added and not one.derived]
    where = {key: powers[0].address[key] for key in WHERE if key in powers[0].address} if len(powers) == 1 else {}
    if not where:
        return said
    return tuple(
        replace(one, address={k: v for k, v in one.address.items() if k not in WHERE} | where)
        if one.where_added and one.quantity in SENT_WITH
        else one
        for one in said
    )


WHERE = ("channel", "frequency_hz")
SENT = {"carrier_power", "peak_envelope_power"}
SENT_WITH = {
    "plate_current",
    "grid_current",
    "screen_current",
    "drive_power",
    "input_swr",
    "am_depth",
    "am_depth_positive",
    "am_depth_negative",
    "fm_deviation",
    "frequency_error",
    "audio_distortion",
}


def _is_of_another_electrode(said: Said) -> bool:
    """'screen 210 cathode 11.5 of final' as a screen's volts at the cathode."""
    own, place = ELECTRODE_OF.get(str(said.quantity)), said.address.get("place")
    return own is not None and place in ELECTRODES - {own}


def _off_load(said: Said) -> Said:
    """'b+ 265 under load, 290 standby': what stands at rest carries no load."""
    at_rest = said.address.get("state") in AT_REST and said.address.get("setting") == "on load"
    return _without(said, lambda key: at_rest and key == "setting")


def _at_no_mains(said: Said) -> Said:
    """'mains 231v, fil 12.4v': a heater is fed by the mains, and is not there."""
    heats = said.quantity == "filament_voltage" and said.address.get("place") == "mains"
    return _without(said, lambda key: heats and key == "place")


def _rippled(said: Said, breath: Breath) -> Said:
    """'b+ 240 ripple 3v' where the hand was at the speaker: on the volts beside it."""
    fed = [one for one in breath.said if one.quantity in FEEDS and "place" not in one.address]
    lent = said.quantity == "ripple" and len(fed) == 1 and "place" in said.address and said.lent
    return _without(said, lambda key: lent and key == "place")


FEEDS = {"plate_voltage", "supply_voltage", "screen_voltage"}


def _of_peaks(said: Said, breath: Breath) -> Said:
    """'mod peaks 110 neg 100': the depth beside that of the troughs is that of the peaks."""
    names = [one.quantity for one in breath.said if not one.derived]
    paired = names.count("am_depth") == 1 and names.count("am_depth_negative") == 1
    return replace(said, quantity="am_depth_positive") if paired and said.quantity == "am_depth" else said


def _of_a_subtone(said: Said, breath: Breath) -> Said:
    """'tone 88.5 at 0.5k dev': what a subtone deviates, and no voice."""
    beside = any(one.quantity == "subtone_frequency" for one in breath.said)
    little = said.quantity == "fm_deviation" and said.value is not None and said.value <= MOST_OF_A_SUBTONE_HZ
    return replace(said, quantity="subtone_deviation") if beside and little else said


MOST_OF_A_SUBTONE_HZ = 1000.0


def _without(said: Said, is_left: Callable[[str], bool]) -> Said:
    kept = {key: value for key, value in said.address.items() if not is_left(key)}
    return said if len(kept) == len(said.address) else replace(said, address=kept)
