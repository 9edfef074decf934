"""Whole repairs put together by rule: what was read as received and as it leaves, in the many ways in which hands type
it, with looks and work between; and the table that a colleague would have written beside.

Every figure says its place, or goes on from the one before it in the same text, so nobody can take it otherwise."""

import random
import re
from collections.abc import Callable
from dataclasses import dataclass

POWER = ("{v}w", "{v} w", "{v} watts", "po {v}w", "power {v}w", "carrier {v}w", "out {v}w", "{v}w out", "makes {v}w",
         "pwr {v}w", "output {v} watts", "rf out {v}w", "gives {v}w", "only {v}w")  # fmt: skip
OUTPUT = ("{v}w out", "out {v}w", "output {v}w", "{v} watts out")
DRIVE = ("drive {v}w", "{v}w drive", "driving with {v}w", "{v}w in", "input {v}w")
CURRENT = ("{s} {v}a", "{v}a {s}", "{s} current {v}a", "{s} {m}ma", "{s} draws {v}a", "{v} amps {s}", "{s}: {v}a",
           "current {s} {v}a", "i {s} {v}a")  # fmt: skip
STATES = {
    "standby": ("standby", "stby"), "receive": ("rx", "receive", "on rx", "receiving"),
    "transmit": ("tx", "transmit", "on tx", "keyed", "key down", "transmitting"),
}  # fmt: skip
DEPTH = ("mod {v}%", "{v}% mod", "modulation {v}%", "depth {v}%", "am depth {v}%", "{v}% modulation",
         "mod {v} percent", "modulates {v}%")  # fmt: skip
DEVIATION = ("dev {v}k", "{v}k dev", "deviation {v}khz", "dev {m}hz", "{v} khz deviation", "peak dev {v}k",
             "fm dev {v}khz", "deviates {v}k")  # fmt: skip
SECOND = ("2nd harm -{v}dbc", "h2 -{v}", "second harmonic {v} down", "2nd harmonic {v}db down", "harmonic 2 -{v}dbc",
          "2nd harm {v} dB below carrier")  # fmt: skip
HEARD_UV = ("sens {v}uv", "sensitivity {v}uv", "{v}uv for 10db s+n/n", "rx sens {v} uV", "10db s/n at {v}uv")
HEARD_DBM = ("sens -{v}dbm", "12db sinad at -{v}dbm", "sensitivity -{v} dbm", "-{v}dbm for 12db sinad")
ERROR = ("freq {s}hz", "freq error {s} hz", "{s}hz off", "{v}hz {side}", "{v} hz {side}", "off {v}hz {side}",
         "freq is {v}hz {side}")  # fmt: skip
INPUT_SWR = ("input swr {v}", "in swr {v}", "swr in {v}", "input swr {v}:1", "swr at the input {v}")
HEATER = ("heater {v}v", "heaters {v}v", "fil {v}v", "{v}v heaters")
IDLE = ("idle {m}ma", "idle current {m}ma", "{m}ma idle", "quiescent {m} ma", "zero signal {m}ma")
PLATE = ("plate {v}a", "plate current {v}a", "plate {m}ma", "{m}ma plate", "anode current {m}ma", "ip {m}ma")
GRID = ("grid {m}ma", "grid current {m}ma", "{m}ma grid", "ig {m}ma")
NULLED = ("usb carrier suppression {v}db", "usb carrier {v}db down", "carrier suppression usb {v} dB")
WHERE = ("{p} {x}", "{x} on {p}", "{x} {p}", "{x} at {p}", "{p}: {x}", "on {p} {x}", "{p} - {x}", "{p}, {x}")
BETWEEN = (", ", "; ", " / ", " and ", " , ", " + ", ", then ", ". ")
SEEN = ("found {n} dried out", "found cracked joint at {n}", "{n} looks burnt", "someone has been at the coils",
        "smells burnt", "connector dirty", "customer uses a long lead", "board wet under {n}", "dry joint on {n}",
        "cover screws missing", "warmed up 10 min",
        "lid off, nothing to see", "one of the screws stripped")  # fmt: skip
DONE = ("replaced {n}", "{n} replaced", "new {n}", "fitted new {n}", "changed {n}", "did {n} -> new, bad, 4.50",
        "resoldered {n}", "{n} resoldered", "cleaned and resoldered {n}", "fitted a new {n} from stock", "swapped {n}",
        "renewed {n}, 20 min", "put a new {n} in", "{n} changed for new, 15 min")  # fmt: skip
TRIED = ("left on soak, ok", "left on soak 20 min, ok", "ran it 10 min, no change", "works fine now",
         "back in its case", "no more crackle", "customer told")  # fmt: skip
PARTS = ("C41", "Q8", "R12", "L3", "RL1", "TR5", "D7", "IC3", "Q301", "VR6")


@dataclass(frozen=True)
class Figure:
    """One figure of a plan: its name in the report and the words of its place there, how it is typed, what it is of a
    sound unit and of a faulty one (in the unit that is typed), and how the place is typed."""

    name: str
    place: str
    typed: tuple[str, ...]
    due: float
    found: float
    decimals: int = 0
    factor: float = 1.0
    said: tuple[str, ...] = ()

    @property
    def must_be_placed(self) -> bool:
        """A power is read at several places, and the line that is wanted next is of another of them."""
        return self.name == "Carrier power" and bool(self.said)


def _on(channel: int) -> tuple[str, ...]:
    return (f"ch{channel}", f"ch {channel}", f"channel {channel}", f"chan {channel}")


def _at(mhz: float) -> tuple[str, ...]:
    return (f"{mhz}", f"{mhz}mhz", f"{mhz} MHz")


def _amps(state: str, due: float, found: float, decimals: int = 2) -> Figure:
    return Figure("Supply current", state, CURRENT, due, found, decimals)


def _of_channels(*channels: int, due: float, found: float, decimals: int = 1) -> tuple[Figure, ...]:
    return tuple(Figure("Carrier power", f"channel {n}", POWER, due, found, decimals, said=_on(n)) for n in channels)


def _of_bands(*bands: float, due: float, found: float) -> tuple[Figure, ...]:
    return tuple(Figure("Carrier power", f"{mhz} MHz", POWER, due, found, said=_at(mhz)) for mhz in bands)


def _of_fm(channel: int, deviation_khz: tuple[float, float], heard_dbm: tuple[float, float]) -> tuple[Figure, ...]:
    place, said = f"channel {channel}", _on(channel)
    return (
        Figure("Peak deviation", place, DEVIATION, *deviation_khz, 1, 1e3, said),
        Figure("Frequency error", place, ERROR, 200, 300, said=said),
        Figure("Sensitivity for 12 dB SINAD", place, HEARD_DBM, *heard_dbm, said=said),
        Figure("2nd harmonic", place, SECOND, -67, -60, said=said),
    )


UNITS: dict[str, tuple[Figure, ...]] = {
    "old AM cb": (
        _amps("standby", 0.12, 0.12), _amps("receive", 0.28, 0.28), _amps("transmit", 1.2, 0.7),
        *_of_channels(19, 1, 40, due=3.7, found=1.1),
        Figure("Frequency error", "channel 19", ERROR, 100, 140, said=_on(19)),
        Figure("Modulation depth", "channel 19", DEPTH, 88, 60, said=_on(19)),
        Figure("2nd harmonic", "channel 19", SECOND, -62, -58, said=_on(19)),
        Figure("Sensitivity for 10 dB S+N/N", "channel 19", HEARD_UV, 0.5, 0.9, 1, said=_on(19)),
    ),
    "uhf handheld 5W": (
        _amps("standby", 0.06, 0.06), _amps("receive", 0.15, 0.15), _amps("transmit", 1.5, 0.9),
        *_of_channels(20, 1, 40, due=4.6, found=1.2), *_of_fm(20, (2.3, 1.1), (-118, -98)),
    ),
    "marine vhf 25W": (
        _amps("receive", 0.4, 0.4), _amps("transmit", 5.1, 3.2, 1),
        *_of_channels(16, 6, due=24, found=9, decimals=0), *_of_fm(16, (4.5, 2.2), (-119, -106)),
    ),
    "446 handheld 0.5W": (
        _amps("receive", 0.07, 0.07), _amps("transmit", 0.3, 0.2),
        *_of_channels(1, due=0.46, found=0.12, decimals=2), *_of_fm(1, (2.2, 1.0), (-120, -100)),
    ),
    "HF transceiver 100W": (
        _amps("receive", 1.3, 1.3, 1), _amps("transmit", 19, 12, 1), *_of_bands(3.7, 7.1, 28.5, due=97, found=40),
        Figure("Frequency error", "14.2 MHz", ERROR, 15, 20, said=_at(14.2)),
        Figure("2nd harmonic", "14.2 MHz", SECOND, -57, -52, said=_at(14.2)),
        Figure("Carrier suppression", "14.2 MHz", NULLED, 48, 45, said=_at(14.2)),
    ),
    "two-valve linear 400W": (
        Figure("Filament voltage", "", HEATER, 6.3, 6.2, 1), Figure("Idle current", "", IDLE, 0.1, 0.09, 2),
        *_of_bands(3.7, 14.2, 28.5, due=390, found=175),
        Figure("Drive power", "14.2 MHz", DRIVE, 38, 35, said=_at(14.2)),
        Figure("Plate current", "14.2 MHz", PLATE, 0.42, 0.28, 2, said=_at(14.2)),
        Figure("Grid current", "14.2 MHz", GRID, 0.06, 0.055, 3, said=_at(14.2)),
        Figure("Input SWR", "14.2 MHz", INPUT_SWR, 1.4, 1.6, 1, said=_at(14.2)),
    ),
    "mobile linear 100W": (
        _amps("transmit", 14, 8, 1), Figure("Drive power", "", DRIVE, 4, 4, 1),
        Figure("Carrier power", "", OUTPUT, 90, 35), Figure("Input SWR", "", INPUT_SWR, 1.3, 2.4, 1),
        Figure("2nd harmonic", "", SECOND, -45, -40),
    ),
    "valve am transmitter 60w": (
        Figure("Filament voltage", "", HEATER, 6.3, 6.2, 1), Figure("Carrier power", "", OUTPUT, 58, 22),
        Figure("Plate current", "", PLATE, 0.15, 0.08, 2), Figure("Modulation depth", "", DEPTH, 92, 50),
        Figure("2nd harmonic", "", SECOND, -48, -44),
    ),
    "27 MHz SSB base": (
        _amps("standby", 0.2, 0.2), _amps("receive", 0.4, 0.4), _amps("transmit", 1.3, 0.8),
        Figure("Carrier power", "AM channel 19", POWER, 3.8, 1.4, 1, said=("am ch19", "am channel 19", "ch19 am")),
        Figure("Peak envelope power", "USB channel 19", ("usb pep {v}w", "pep usb {v}w", "{v}w pep usb"), 11.5, 4, 1),
        Figure("Peak envelope power", "LSB channel 19", ("lsb pep {v}w", "lsb {v}w pep"), 11.2, 4.4, 1),
        Figure("Carrier suppression", "USB channel 19", NULLED, 48, 44),
        Figure("Modulation depth", "channel 19", DEPTH, 85, 50), Figure("2nd harmonic", "channel 19", SECOND, -60, -55),
    ),
}  # fmt: skip


@dataclass(frozen=True)
class Repair:
    """A unit, what was typed of it, and before and after of each figure by its name and place."""

    unit: str
    texts: tuple[str, ...]
    rows: dict[tuple[str, str], tuple[float | None, float | None]]


def repair_by_rule(seed: int) -> Repair:
    """One repair."""
    chance = random.Random(seed)
    unit = chance.choice(list(UNITS))
    before, as_received = _measured(UNITS[unit], chance, lambda figure: figure.found)
    work = [chance.choice(DONE).format(n=chance.choice(PARTS)) for _ in range(chance.choice((1, 1, 2)))]
    after, as_left = _measured(UNITS[unit], chance, lambda figure: figure.due)
    tried = [chance.choice(TRIED)] if chance.random() < 0.5 else []
    rows = {key: (as_received.get(key), as_left.get(key)) for key in (*as_received, *as_left)}
    hand = random.Random(-seed - 1)
    return Repair(unit, tuple(_in_a_hand(text, hand) for text in (*before, *work, *after, *tried)), rows)


def _in_a_hand(text: str, hand: random.Random) -> str:
    """Shouted, with a capital, a stop, a comma for the point, or more spaces than one."""
    ways = (
        str.upper, str.capitalize, lambda t: f"{t}.", lambda t: t.replace(" ", "  "),
        lambda t: re.sub(r"(\d)\.(\d+)(?= ?[wavk]\b)", r"\1,\2", t),
    )  # fmt: skip
    return hand.choice(ways)(text) if hand.random() < 0.5 else text


def _measured(
    figures: tuple[Figure, ...], chance: random.Random, of: Callable[[Figure], float]
) -> tuple[list[str], dict[tuple[str, str], float]]:
    """The texts of one round of measurements, and what was read by name and place."""
    chosen = [figure for figure in figures if chance.random() < 0.8]
    if chance.random() < 0.5:
        chance.shuffle(chosen)
    texts, read = [], {}
    while chosen:
        batch, chosen = chosen[: (take := chance.choice((1, 1, 1, 2, 3)))], chosen[take:]
        parts, here = [], None
        for figure in batch:
            value = round(of(figure) * chance.uniform(0.97, 1.03), figure.decimals)
            goes_on = here is not None and here == figure.said and not figure.must_be_placed
            parts.append(_typed(figure, value, chance, placed=not goes_on or chance.random() < 0.3))
            here = figure.said or here
            read[figure.name, figure.place] = value * figure.factor
        texts.append(chance.choice(BETWEEN).join(parts))
        if chance.random() < 0.25:
            seen = chance.choice(SEEN).format(n=chance.choice(PARTS))
            if chance.random() < 0.5:
                texts.append(seen)
            else:  # in one line with what was read, before it or behind
                told = [seen, texts.pop()] if chance.random() < 0.3 else [texts.pop(), seen]
                texts.append(chance.choice((", ", "; ", ". ", " - ")).join(told))
    return texts, read


def _typed(figure: Figure, value: float, chance: random.Random, *, placed: bool) -> str:
    state = chance.choice(STATES[figure.place]) if figure.place in STATES else f"{value:+.0f}"
    words = chance.choice(figure.typed).format(
        v=f"{abs(value):.{figure.decimals}f}", m=f"{abs(value) * 1e3:.0f}", s=state, side="high" if value > 0 else "low"
    )
    if not figure.said or not placed:
        return words
    return chance.choice(WHERE).format(p=chance.choice(figure.said), x=words)
