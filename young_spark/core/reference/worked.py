"""Tables that are worked out for what was asked: levels, reflection, pads, elements, cables, wires, harmonics."""

import math
from collections.abc import Iterable

from young_spark.core.figure import format_value, sums
from young_spark.core.ground import Frozen, OutOfDomain, shipped
from young_spark.core.measures import best_element
from young_spark.core.reference.asked import Asked
from young_spark.core.reference.table import Row, Table

MINUS = "\N{MINUS SIGN}"
USUAL_HZ = 27.185e6
USUAL_W = 4.0
USUAL_M = 10.0
LEVELS_DBM = (50, 47, 43, 40, 37, 36, 33, 30, 27, 20, 13, 10, 7, 0, -7, -13, -20, -30, -47, -73, -93, -107, -113, -120)
SWRS = (1.05, 1.1, 1.2, 1.3, 1.4, 1.5, 1.7, 2.0, 2.5, 3.0, 4.0, 5.0, 10.0)
PADS_DB = (1.0, 2.0, 3.0, 6.0, 10.0, 20.0, 30.0)
SAFE_DBM = {"scope at 50 Ω": 27.0, "spectrum analyser": 20.0, "receiver or meter of low level": 0.0}
ALLOCATED = (
    (87.5e6, 108e6, "sound broadcasting"),
    (108e6, 117.975e6, "aircraft navigation"),
    (117.975e6, 137e6, "aircraft"),
)
ALLOCATION_SOURCE = "ITU Radio Regulations, article 5, Region 1; others differ"
GAUGES = tuple(range(10, 25, 2))
SQUARES_MM2 = (0.5, 0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0)
FUSE_OF_MM2 = {0.5: 5, 0.75: 7.5, 1.0: 10, 1.5: 15, 2.5: 20, 4.0: 30, 6.0: 40, 10.0: 60}
COPPER_OHM_MM2_M = 1 / 58  # annealed copper at 20 °C, IEC 60028
S_STEP_DB = 6.0
S9_DBM = {"below 30 MHz": -73.0, "above 144 MHz": -93.0}


class Cable(Frozen):
    """A kind of coaxial cable: its loss in dB for 100 m at each frequency in MHz, as makers typically state it."""

    name: str
    ohm: float
    outside_mm: float
    velocity: float  # share of that of light
    loss: tuple[tuple[float, float], ...]

    def loss_db(self, hz: float, metres: float) -> float:
        """Loss in dB of so many metres at a frequency in Hz, between the stated points by logarithms; raises
        OutOfDomain outside of them, where nothing is stated."""
        mhz = sums.above_zero("frequency", hz, "Hz") / 1e6
        if not self.loss[0][0] <= mhz <= self.loss[-1][0]:
            raise OutOfDomain(
                "frequency", mhz, "MHz", f"{self.loss[0][0]:g} to {self.loss[-1][0]:g} MHz for {self.name}"
            )
        for (low, below), (high, above) in zip(self.loss, self.loss[1:], strict=False):
            if low <= mhz <= high:
                share = math.log(mhz / low) / math.log(high / low)
                return float(below * (above / below) ** share * metres / 100)
        raise AssertionError("a frequency between the ends is between two points")


class Cables(Frozen):
    """The kinds of cable that ship, with their source."""

    title: str
    source: str
    words: str
    note: str
    cables: tuple[Cable, ...]


def cable_loss(wanted: Asked) -> Table:
    """What each kind of cable loses, and lets through, at the asked frequency and length."""
    of = shipped("cables", Cables)["coaxial"]
    hz, metres = wanted.figure("hz", USUAL_HZ), wanted.figure("metres", USUAL_M)
    rows = []
    for cable in of.cables:
        try:
            loss = cable.loss_db(hz, metres)
        except OutOfDomain:
            continue  # nothing is stated there
        through = 100 * sums.watts_from_dbm(-loss) * 1e3
        cells = (
            cable.name,
            f"{loss:.2g} dB" if loss < 10 else f"{loss:.0f} dB",
            f"{through:.0f} %",
            f"{cable.ohm:g} Ω",
            f"{cable.outside_mm:g} mm",
            f"{cable.velocity:g}",
        )
        rows.append(Row(cells=cells, field=f"loss {loss:.2g}db"))
    columns = (f"{metres:g} m at {hz / 1e6:.9g} MHz", "Loss", "Comes through", "Wave", "Outside", "Velocity")
    return Table(title=of.title, source=of.source, words=of.words, note=of.note, columns=columns, rows=tuple(rows))


def reflection(wanted: Asked) -> Table:
    """SWR, return loss, what comes back and what that takes from a carrier."""
    watts = wanted.figure("watts", 100.0)
    rows = []
    for swr in SWRS:
        rho = sums.reflection_from_swr(swr)
        back = rho**2
        cells = (
            f"{swr:g}",
            f"{sums.return_loss_from_reflection(rho):.1f} dB",
            f"{rho:.3f}",
            f"{100 * back:.2g} %" if back < 0.1 else f"{100 * back:.0f} %",
            format_value(watts * back, "W", figures=3),
            f"{-10 * math.log10(1 - back):.2f} dB",
        )
        rows.append(Row(cells=cells, field=f"swr {swr:g}"))
    columns = ("SWR", "Return loss", "Reflection", "Comes back", f"Of {format_value(watts, 'W')}", "Mismatch")
    return Table(title="SWR and return loss", source="ρ = (S − 1)/(S + 1)", columns=columns, rows=tuple(rows))


def levels(wanted: Asked) -> Table:
    """A level in every unit, in 50 Ω; the asked one first."""
    asked_for = wanted.figures.get("dbm")
    if asked_for is None and wanted.figures.get("watts"):
        asked_for = sums.dbm_from_watts(wanted.figures["watts"])
    wanted_dbm = (*(() if asked_for is None else (asked_for,)), *LEVELS_DBM)
    columns = ("Level", "Power", "Volts rms", "Peak to peak", "EMF", "dBµV")
    return Table(
        title="Level in every unit, 50 Ω",
        source="P = U²/R; EMF is twice the potential difference",
        columns=columns,
        rows=tuple(_level(dbm) for dbm in dict.fromkeys(wanted_dbm)),
    )


def _level(dbm: float) -> Row:
    watts = sums.watts_from_dbm(dbm)
    volts = sums.rms_volts(watts)
    cells = (
        f"{dbm:+.4g} dBm".replace("-", MINUS),
        format_value(watts, "W", figures=3),
        format_value(volts, "V", figures=3),
        format_value(volts * 2 * math.sqrt(2), "V", figures=3),
        format_value(volts * 2, "V", figures=3),
        f"{20 * math.log10(volts / 1e-6):.0f}",
    )
    return Row(cells=cells, field=f"{dbm:+.4g}dbm")


def pads(wanted: Asked) -> Table:
    """The resistors of pads for 50 Ω, and what an asked power leaves behind each and burns in it."""
    watts = wanted.figure("watts", USUAL_W)
    first = wanted.figures.get("db")
    losses = dict.fromkeys((*((first,) if first and 0 < first <= 60 else ()), *PADS_DB))
    rows = []
    for loss in losses:
        behind = watts * 10 ** (-loss / 10)
        (between, to_ground), (arm, foot) = sums.pi_pad(loss), sums.tee_pad(loss)
        cells = (
            f"{loss:g} dB",
            f"{_ohm(between)} between, {_ohm(to_ground)} to ground",
            f"{_ohm(arm)} each, {_ohm(foot)} to ground",
            f"{format_value(behind, 'W', figures=3)} ({sums.dbm_from_watts(behind):+.0f} dBm)".replace("-", MINUS),
            format_value(watts - behind, "W", figures=3),
        )
        rows.append(Row(cells=cells, field=f"note {loss:g} dB pad "))
    columns = ("Pad", "As a π", "As a T", f"{format_value(watts, 'W')} in gives", "Burns")
    return Table(
        title="Pads, 50 Ω",
        source="K = 10^(dB/20): π 50(K² − 1)/2K and 50(K + 1)/(K − 1); T 50(K − 1)/(K + 1) and 100K/(K² − 1)",
        note="A pad must stand what it burns: twice that for a key-down of minutes.",
        columns=columns,
        rows=tuple(rows),
    )


def _ohm(value: float) -> str:
    return format_value(value, "Ω", figures=3)


def pad_to_use(wanted: Asked) -> Table:
    """How much has to stand between an asked power and each kind of input."""
    watts = wanted.figure("watts", USUAL_W)
    dbm = sums.dbm_from_watts(watts)
    rows = []
    for name, safe in SAFE_DBM.items():
        needed = max(0.0, dbm - safe)
        pad = 10 * math.ceil((needed + 3) / 10)  # half the power to spare: a set gives more than it should
        words = f"at least {needed:.0f} dB; {pad} dB leaves {dbm - pad:+.0f} dBm".replace("-", MINUS)
        rows.append(Row(cells=(name, f"{safe:+.0f} dBm", words), field=f"note {pad} dB pad before the {name}"))
    return Table(
        title=f"What must stand before an input, {format_value(watts, 'W')}",
        source="typical greatest levels; what the instrument says at its socket rules",
        note="Write the path down: the program then bars a key-down that a part of it does not stand.",
        columns=("Input", "Stands, typically", "Pad"),
        rows=tuple(rows),
    )


def elements(wanted: Asked, of_the_shop: Iterable[tuple[str, float]]) -> Table:
    """Which plug-in element of a wattmeter reads an asked power in its upper two thirds."""
    watts = wanted.figure("watts", USUAL_W)
    rows = [
        Row(
            cells=(f"{element:g} W, {name}", f"{element / 3:.3g} to {element:g} W", _fits(watts, element)),
            field=f"note {element:g} W element",
        )
        for name, element in sorted(of_the_shop, key=lambda of: of[1])
    ]
    best = best_element(watts)
    if best is not None and not rows:
        words = f"{best:g} W, as they are sold"
        rows.insert(
            0, Row(cells=(words, f"{best / 3:.3g} to {best:g} W", _fits(watts, best)), field=f"note {best:g} W element")
        )
    return Table(
        title=f"Wattmeter elements for {format_value(watts, 'W')}",
        source="an element is off by a share of its full scale, often 5 %",
        columns=("Element", "Reads well", "A needle's ±5 % of full scale there"),
        rows=tuple(rows),
    )


def _fits(watts: float, element: float) -> str:
    if watts > element:
        return "beyond its scale"
    share = 5 * element / watts
    return f"± {share:.2g} % of the reading" if share < 100 else "nothing can be read"


def wires(wanted: Asked) -> Table:
    """Copper wires by gauge and by area: volts lost over an asked length there and back, and the fuse that still
    protects them."""
    metres = wanted.figure("metres", 3.0)
    sizes = [(f"AWG {g}", 0.127 * 92 ** ((36 - g) / 39)) for g in GAUGES]  # diameter in mm, ASTM B258
    by_area = [(name, math.pi / 4 * d**2) for name, d in sizes] + [(f"{a:g} mm²", a) for a in SQUARES_MM2]
    rows = []
    for name, area in sorted(by_area, key=lambda of: of[1]):
        ohms = COPPER_OHM_MM2_M / area
        fuse = max((f for mm2, f in FUSE_OF_MM2.items() if mm2 <= area * 1.02), default=3)
        cells = (
            name,
            f"{area:.2g} mm²" if area < 10 else f"{area:.0f} mm²",
            f"{1e3 * ohms:.2g} mΩ/m",
            f"{2 * metres * ohms * 10:.2g} V",
            f"{fuse:g} A",
        )
        rows.append(Row(cells=cells, field=f"note {name} wire, fuse {fuse:g} A"))
    return Table(
        title="Wires and their fuses",
        source="ASTM B258, IEC 60028; the fuse as usual for single copper in a vehicle",
        note="The fuse protects the wire, at the battery; the set's own sheet and local rules come first.",
        columns=("Wire", "Area", "Copper", f"10 A, {metres:g} m there and back", "Greatest fuse"),
        rows=tuple(rows),
    )


def harmonics(hz: float, name: str) -> Table:
    """Where the harmonics of a carrier fall, and whom they meet there."""
    rows = [
        Row(
            cells=(f"{n}", f"{n * hz / 1e6:.6g} MHz", _whose(n * hz)),
            field=f"h{n} ",
        )
        for n in range(2, 11)
    ]
    return Table(
        title=f"Harmonics of {name}",
        source=ALLOCATION_SOURCE,
        columns=("Harmonic", "At", "Who listens there"),
        rows=tuple(rows),
    )


def _whose(hz: float) -> str:
    return next((words for low, high, words in ALLOCATED if low <= hz < high), "")


def s_meter(_wanted: Asked) -> Table:
    """What an S-meter should show: 6 dB a step, S9 as IARU Region 1 recommends."""
    rows = []
    shown = [(f"S{n}", -S_STEP_DB * (9 - n)) for n in range(1, 10)] + [
        (f"S9 + {db} dB", float(db)) for db in (20, 40, 60)
    ]
    for name, over in shown:
        cells = [name]
        for ninth in S9_DBM.values():
            cells += [f"{ninth + over:.0f} dBm".replace("-", MINUS), f"{sums.microvolts_from_dbm(ninth + over):.3g} µV"]
        rows.append(Row(cells=tuple(cells), field=f"{name.lower()} " if over <= 0 else f"note {name} at "))
    columns = ("Shows", *(c for band in S9_DBM for c in (band, "in 50 Ω")))
    return Table(
        title="S-meter",
        source="IARU Region 1, recommendation R.1; sets keep it more or less",
        columns=columns,
        rows=tuple(rows),
    )
