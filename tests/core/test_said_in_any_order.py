"""The same things said in every order that a hand may say them in: the figure, its name, where and how, in one breath
with another, and at points inside. What each text means follows from how it is put together."""

from collections.abc import Iterator
from itertools import islice, permutations
from typing import Any, NamedTuple

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import EntryContext, understand

EVERY = 7  # of the breaths of two figures, and of the points inside, so many are one that is tried


class Told(NamedTuple):
    """A quantity as hands name it, and a figure of it with its value in the quantity's unit."""

    quantity: str
    names: tuple[str, ...]
    typed: str
    value: float


Where = tuple[str, dict[str, Any]]  # as it is typed, and what it must become
OF_ONE_FIGURE = {"after_s", "heat", "supply_v"}  # behind two figures, of the last
NOWHERE: Where = ("", {})

KINDS: dict[str, tuple[str, tuple[Told, ...], tuple[Where, ...]]] = {
    "cb-am-fm-mobile": (
        "current-standby",
        (
            Told("carrier_power", ("power", "pwr", "carrier", "out", "tx power"), "3.8w", 3.8),
            Told("swr", ("swr", "vswr"), "1.4", 1.4),
            Told("frequency_error", ("freq err", "freq", "error"), "+240hz", 240),
            Told("frequency_error", ("freq", "err"), "1.1k low", -1100),
            Told("fm_deviation", ("dev", "deviation", "peak dev"), "1.8k", 1800),
            Told("am_depth", ("mod", "depth", "modulation"), "88%", 88),
            Told("harmonic_2", ("2nd", "h2", "second harmonic"), "-58dbc", -58),
            Told("supply_current", ("current", "draws"), "1.1a", 1.1),
        ),
        (("ch 1", {"channel": 1}), ("ch40", {"channel": 40}), ("hot", {"heat": "hot"}),
         ("after 5 min", {"after_s": 300.0}), ("at 12.6v", {"supply_v": 12.6})),
    ),
    "hf-solid-state": (
        "current-standby",
        (
            Told("carrier_power", ("power", "out"), "98w", 98),
            Told("peak_envelope_power", ("pep", "peak power"), "102w", 102),
            Told("swr", ("swr",), "1.3", 1.3),
            Told("supply_current", ("current", "draws"), "18.4 a", 18.4),
            Told("harmonic_3", ("3rd", "h3"), "-52dbc", -52),
        ),
        (("40m", {"frequency_hz": 7.1e6}), ("on 20m", {"frequency_hz": 14.2e6}), ("on 80", {"frequency_hz": 3.7e6}),
         ("7.1 mhz", {"frequency_hz": 7.1e6})),
    ),
    "valve-linear": (
        "filament",
        (
            Told("plate_current", ("plate", "ip", "anode current"), "420ma", 0.42),
            Told("grid_current", ("grid", "ig", "grid current"), "85 ma", 0.085),
            Told("drive_power", ("drive", "driven with"), "45w", 45),
            Told("carrier_power", ("out", "output"), "620w", 620),
            Told("input_swr", ("input swr",), "1.5", 1.5),
        ),
        (("40m", {"frequency_hz": 7.1e6}), ("on 80", {"frequency_hz": 3.7e6}), ("hot", {"heat": "hot"})),
    ),
    "vhf-uhf-fm-mobile": (
        "current-standby",
        (
            Told("carrier_power", ("power", "out"), "48w", 48),
            Told("fm_deviation", ("dev", "deviation"), "2.3 khz", 2300),
            Told("sensitivity_12db_sinad", ("sens", "sensitivity"), "-121dbm", -121),
            Told("squelch_open", ("squelch opens", "sql opens"), "-125dbm", -125),
            Told("subtone_deviation", ("ctcss dev", "subtone dev", "tone dev"), "0.55k", 550),
        ),
        (("145.5", {"frequency_hz": 145.5e6}), ("on 433.5 mhz", {"frequency_hz": 433.5e6})),
    ),
}  # fmt: skip
INSIDE = (
    ("q3 collector", "Q3 collector"), ("q3 c", "Q3 collector"), ("tr7 b", "TR7 base"), ("tp4", "TP4"),
    ("ic2 pin 8", "IC2 pin 8"), ("ic2/8", "IC2 pin 8"), ("pin 8 ic2", "IC2 pin 8"), ("q12 drain", "Q12 drain"),
    ("driver collector", "driver collector"), ("j4 pin 2", "J4 pin 2"), ("junction r4/r5", "junction of R4 and R5"),
    ("mixer output", "mixer output"),
)  # fmt: skip
STATES = (("", None), ("on tx", "transmit"), ("rx", "receive"), ("standby", "standby"), ("keyed", "transmit"))
POINTED = ("{p} {f} {s}", "{s} {p} {f}", "{f} at {p} {s}", "{f} on {p} {s}", "{p}: {f} {s}", "{p} = {f} {s}",
           "{p} reads {f} {s}", "{p} {s} {f}", "{f} {p} {s}", "only {f} on {p} {s}")  # fmt: skip
Want = tuple[str, float, dict[str, Any]]


def at_q3(**volts: float) -> tuple[Want, ...]:
    return tuple(("dc_voltage", value, {"place": f"Q3 {at}"}) for at, value in volts.items())


STATED = (("supply_current", 0.31, {"state": "receive"}), ("supply_current", 1.9, {"state": "transmit"}))
EBC = at_q3(base=0.64, collector=7.9, emitter=0.02)
SIDEBANDS = (("peak_envelope_power", 11.8, {"mode": "usb"}), ("peak_envelope_power", 11.6, {"mode": "lsb"}))
IN_TURN: dict[str, tuple[Want, ...]] = {
    **dict.fromkeys(
        ("rx 0.31a tx 1.9a", "0.31a rx, 1.9a tx", "rx/tx 0.31a/1.9a", "0.31a / 1.9a rx/tx",
         "310ma on rx and 1.9a on tx", "draws 310ma rx 1.9a tx", "i rx 0.31a i tx 1.9a"), STATED,
    ),
    **dict.fromkeys(
        ("q3 b 0.64 c 7.9 e 0.02", "q3 b=0.64 c=7.9 e=0.02", "q3: b 0.64, c 7.9, e 0.02", "q3 e/b/c 0.02/0.64/7.9",
         "q3 ebc 0.02 0.64 7.9", "q3 b0.64 c7.9 e0.02", "q3 0.64 b 7.9 c 0.02 e"), EBC,
    ),
    "q3 d 12.1 g 3.2 s 0": at_q3(drain=12.1, gate=3.2, source=0.0),
    "usb/lsb 11.8/11.6w": SIDEBANDS,
    "supply at 13.1v": (("supply_voltage", 13.1, {}),),
}  # fmt: skip


def misread(text: str, ground: EntryContext, *wanted: Want) -> str | None:
    """What is wrong with how a text was read, None where every figure stands as it was said."""
    meant = understand(text, ground)
    if meant.chosen is None:
        return f"{text!r} was asked: {meant.question}"
    chosen = meant.meanings[meant.chosen]
    for quantity, value, where in wanted:
        near = 0.15 if quantity.startswith(("harmonic", "sens", "squelch")) else 0.005 * abs(value) + 1e-9
        there = (
            chosen.conditions_of(n)
            for n, r in enumerate(chosen.readings)
            if r.quantity == quantity and r.value is not None and abs(r.value - value) <= near
        )
        if not any(all(getattr(at, key) == told for key, told in where.items()) for at in there):
            return f"{text!r} has no {quantity} of {value:g} at {where}"
    return None


def orders(told: Told, where: Where) -> Iterator[str]:
    """A figure, its name, and where, in every order."""
    for name in told.names:
        yield from {" ".join(one) for one in permutations([word for word in (name, told.typed, where[0]) if word])}


def breaths(one: Told, other: Told, where: Where) -> Iterator[str]:
    """Two figures in one breath: their names lead, or they trail; where is said first, or last."""
    (a, b), (x, y) = (one.names[-1], other.names[-1]), (one.typed, other.typed)
    for between in (" ", ", ", " and "):
        for said in (f"{a} {x}{between}{b} {y}", f"{x} {a}{between}{y} {b}"):
            yield from {f"{where[0]} {said}".strip(), f"{said} {where[0]}".strip()}


@pytest.mark.parametrize("kind", KINDS)
def test_a_figure_its_name_and_where_in_any_order(kind: str):
    row, told, wheres = KINDS[kind]
    ground = ground_of_kind(kind, row)
    wrong = [
        found
        for one in told
        for where in (NOWHERE, *wheres)
        for text in orders(one, where)
        if (found := misread(text, ground, (one.quantity, one.value, where[1])))
    ]
    assert not wrong, wrong


@pytest.mark.parametrize("kind", KINDS)
def test_two_figures_in_one_breath_whichever_side_their_names_stand_on(kind: str):
    row, told, wheres = KINDS[kind]
    ground = ground_of_kind(kind, row)
    pairs = ((a, b) for a, b in permutations(told, 2) if a.quantity != b.quantity)
    every = (
        (text, (a.quantity, a.value, where[1]), (b.quantity, b.value, {}))
        for a, b in pairs
        for where in (NOWHERE, *(w for w in wheres if not OF_ONE_FIGURE & w[1].keys()))
        for text in breaths(a, b, where)
    )
    wrong = [found for text, *wanted in islice(every, 0, None, EVERY) if (found := misread(text, ground, *wanted))]
    assert not wrong, wrong


def volts_of(name: str, value: float) -> str:
    """Millivolts of what a stage gives are its signal; any other volts inside are DC until somebody says otherwise."""
    return "ac_voltage" if name == "mixer output" and value == 0.12 else "dc_voltage"


def test_a_point_inside_its_volts_and_the_state_in_any_order():
    ground = ground_of_kind("cb-am-fm-mobile", "current-standby")
    every = (
        (way.format(p=typed, f=volts, s=state[0]).strip(), value, typed, name, state[1])
        for typed, name in INSIDE
        for volts, value in (("7.9v", 7.9), ("0.62 v", 0.62), ("-3.2v", -3.2), ("120mv", 0.12))
        for state in STATES
        for way in POINTED
    )
    wrong = [
        found
        for text, value, _, name, state in islice(every, 0, None, EVERY)
        if (
            found := misread(
                text, ground, (volts_of(name, value), value, {"place": name, **({"state": state} if state else {})})
            )
        )
    ]
    assert not wrong, wrong


@pytest.mark.parametrize("text", IN_TURN)
def test_labels_and_figures_each_by_its_turn(text: str):
    assert misread(text, ground_of_kind("cb-am-ssb-mobile", "current-standby"), *IN_TURN[text]) is None


@pytest.mark.parametrize(
    ("kind", "row", "text", "wanted"),
    [
        ("valve-linear", "filament", "ht at 2450v", ("plate_voltage", 2450.0, {})),
        ("vhf-uhf-fm-mobile", "current-standby", "dev at 1.8k", ("fm_deviation", 1800.0, {})),
        ("vhf-uhf-fm-mobile", "current-standby", "dev at 1khz 2.1k", ("fm_deviation", 2100.0, {})),
    ],
)
def test_at_leads_to_the_figure_of_a_name_or_says_how_it_was_read(kind: str, row: str, text: str, wanted: Want):
    assert misread(text, ground_of_kind(kind, row), wanted) is None


def rows(name: str, points: tuple[str, ...], figures: tuple[str, ...], unit: str) -> Iterator[str]:
    """A row of figures over points, in the ways that hands write one: points lead, or they trail."""
    pairs = tuple(zip(points, figures, strict=True))
    for glue, between in ((" ", " "), (" ", ", "), (": ", ", "), ("=", " "), (": ", " "), (" ", " and ")):
        yield between.join(f"{p}{glue}{f}{unit}" for p, f in pairs)
    yield " ".join(f"{p} {f}" for p, f in pairs) + unit
    yield f"{name} " + " ".join(f"{p} {f}{unit}" for p, f in pairs)
    yield f"{name} " + ", ".join(f"{p} {f}{unit}" for p, f in pairs)
    yield ", ".join(f"{f}{unit} {p}" for p, f in pairs)
    yield ", ".join(f"{f}{unit} on {p}" for p, f in pairs)
    yield f"{name}: " + "/".join(points) + " " + "/".join(figures) + unit


LISTED = {  # labels in one list, figures in another
    "channels": ("ch1/20/40 3.4/3.8/3.3w", "ch 1/20/40: 3.4/3.8/3.3 w", "ch1,20,40: 3.4, 3.8, 3.3w",
                 "ch 1 20 40 3.4 3.8 3.3w", "3.4/3.8/3.3w ch 1/20/40", "1: 3.4w, 20: 3.8w, 40: 3.3w"),
    "bands": ("80/40/20 98/101/93w", "80m/40m/20m 98/101/93w", "98/101/93w on 80/40/20", "80-98w 40-101w 20-93w",
              "80,40,20: 98,101,93w", "3.7 98w 7.1 101w 14.2 93w",
              "98 w at 3.7 mhz, 101 w at 7.1 mhz, 93 w at 14.2 mhz"),
    "settings": ("hi/lo 24/1.1w", "24/1.1w hi/lo", "24w on high, 1.1w on low", "24 w (hi) 1.1 w (lo)", "hi 24 lo 1.1w"),
    "modes": ("am/usb/lsb 3.8/11.8/11.6w", "am power 3.8w, usb pep 11.8w, lsb pep 11.6w",
              "3.8w am, 11.8w usb, 11.6w lsb"),
}  # fmt: skip
BANDS_HZ = (3.7e6, 7.1e6, 14.2e6)
OVER: dict[str, tuple[str, str, str, tuple[str, ...], tuple[str, ...], tuple[Want, ...]]] = {
    "channels": ("cb-am-fm-mobile", "current-transmit", "power", ("ch1", "ch20", "ch40"), ("3.4", "3.8", "3.3"),
                 tuple(("carrier_power", w, {"channel": n}) for n, w in ((1, 3.4), (20, 3.8), (40, 3.3)))),
    "bands": ("hf-solid-state", "power-14m2", "power", ("80m", "40m", "20m"), ("98", "101", "93"),
              tuple(("carrier_power", w, {"frequency_hz": hz}) for hz, w in ((3.7e6, 98), (7.1e6, 101), (14.2e6, 93)))),
    "settings": ("vhf-uhf-fm-mobile", "current-standby", "power", ("hi", "lo"), ("24", "1.1"),
                 tuple(("carrier_power", w, {"power_setting": at}) for at, w in (("high", 24), ("low", 1.1)))),
    "modes": ("cb-am-ssb-mobile", "current-standby", "power", ("am", "usb", "lsb"), ("3.8", "11.8", "11.6"),
              (("carrier_power", 3.8, {"mode": "am"}), *SIDEBANDS)),
}  # fmt: skip


def over_bands(
    name: str, quantity: str, figures: tuple[str, ...], *bands: str
) -> Iterator[tuple[str, tuple[Want, ...]]]:
    """Rows of any quantity over bands, which are written with their metres, without, or apart."""
    values = [float(figure.rstrip("wavdbcu ")) for figure in figures]
    unit = "".join(sorted({figure.lstrip("+-.0123456789") for figure in figures}))
    wanted = tuple((quantity, v, {"frequency_hz": hz}) for v, hz in zip(values, BANDS_HZ, strict=True))
    for text in rows(name, bands, tuple(str(v) for v in values), unit):
        yield (text if name in text else f"{name} {text}"), wanted


@pytest.mark.parametrize(
    ("name", "quantity", "figures"),
    [
        ("swr", "swr", ("1.4", "1.3", "2.1")),
        ("current", "supply_current", ("18.4a", "17.9a", "19.2a")),
        ("h2", "harmonic_2", ("-52dbc", "-55dbc", "-49dbc")),
        ("carrier suppression", "carrier_suppression", ("52db", "55db", "49db")),
    ],
)
@pytest.mark.parametrize("bands", [("80m", "40m", "20m"), ("80", "40", "20"), ("80 m", "40 m", "20 m")])
def test_any_quantity_in_a_row_over_bands_however_they_are_written(name, quantity, figures, bands):
    ground = ground_of_kind("hf-solid-state", "current-standby")
    wrong = [found for text, wanted in over_bands(name, quantity, figures, *bands)
             if (found := misread(text, ground, *wanted))]  # fmt: skip
    assert not wrong, wrong


def at(key: str, quantity: str, **values: float) -> tuple[Want, ...]:
    return tuple((quantity, value, {key: place}) for place, value in values.items())


IN_A_ROW: dict[str, tuple[str, str, tuple[str, ...], tuple[Want, ...]]] = {
    "cold and hot": (
        "cb-am-mobile", "current-standby",
        ("freq +504hz cold +308hz hot", "freq cold +504hz hot +308hz", "freq +504hz cold, hot +308hz",
         "cold freq +504hz, hot freq +308hz", "error cold: +504hz, hot: +308hz"),
        at("heat", "frequency_error", cold=504, hot=308),
    ),
    "settings": (
        "vhf-uhf-fm-mobile", "current-standby",
        ("high: 45w, mid: 21w, low: 5.5w", "45w high, 21w mid, 5.5w low", "high power/mid power/low power 45/21/5.5w",
         "hi 45 mid 21 lo 5.5w", "45w on high, 21w on mid and 5.5w on low"),
        at("power_setting", "carrier_power", high=45, mid=21, low=5.5),
    ),
    "harmonics": (
        "cb-am-mobile", "current-standby",
        ("2nd/3rd/4th -48/-76/-54dbc", "h2/h3/h4 -48/-76/-54", "harmonic 2 -48, harmonic 3 -76, harmonic 4 -54",
         "second harmonic 48 down, third harmonic 76 down, fourth harmonic 54 down", "2f -48 3f -76 4f -54 dbc"),
        (("harmonic_2", -48, {}), ("harmonic_3", -76, {}), ("harmonic_4", -54, {})),
    ),
    "minutes": (
        "hf-solid-state", "current-standby",
        ("0 min: 97w, 10 min: 83w", "97w at 0 min, 83w after 10 min", "97w at first, 83w after 10 min"),
        (("carrier_power", 97, {}), ("carrier_power", 83, {"after_s": 600.0})),
    ),
    "a squelch": (
        "vhf-uhf-fm-mobile", "current-standby",
        ("squelch open/close 0.5/0.35uv", "sq open 0.5uv close 0.35uv", "squelch opens at 0.5uv, closes at 0.35uv"),
        (("squelch_open", -113.01, {}), ("squelch_close", -116.11, {})),
    ),
    "drives": (
        "valve-linear", "filament",
        ("16w in 161w out, 43w in 398w out", "16w in 161w out 43w in 398w out",
         "drive 16w out 161w, drive 43w out 398w",
         "161w out for 16w in, 398w out for 43w in", "16/43w in 161/398w out", "16w -> 161w, 43w -> 398w"),
        (("drive_power", 16, {}), ("carrier_power", 161, {}), ("drive_power", 43, {}), ("carrier_power", 398, {})),
    ),
    "a linear on its bands": (
        "valve-linear", "filament",
        ("80 606w plate 425ma grid 84ma, 20 632w plate 460ma grid 46ma",
         "80m: 606w, ip 425ma, ig 84ma; 20m: 632w, ip 460ma, ig 46ma",
         "80 606 W plate 425 mA grid 84 mA. 20 632 W plate 460 mA grid 46 mA"),
        tuple((q, v, {"frequency_hz": hz})
              for hz, values in ((3.7e6, (606, 0.425, 0.084)), (14.2e6, (632, 0.46, 0.046)))
              for q, v in zip(("carrier_power", "plate_current", "grid_current"), values, strict=True)),
    ),
}  # fmt: skip


@pytest.mark.parametrize("axis", IN_A_ROW)
def test_figures_in_a_row_each_with_what_it_is_of(axis):
    kind, line, texts, wanted = IN_A_ROW[axis]
    wrong = [found for text in texts if (found := misread(text, ground_of_kind(kind, line), *wanted))]
    assert not wrong, wrong


@pytest.mark.parametrize("axis", OVER)
def test_a_row_over_points_however_it_is_written(axis: str):
    kind, line, name, points, figures, wanted = OVER[axis]
    ground = ground_of_kind(kind, line)
    texts = (*rows(name, points, figures, "w"), *LISTED[axis])
    wrong = [found for text in texts if (found := misread(text, ground, *wanted))]
    assert not wrong, wrong


CHANGED = (
    "{n} was {x} now {y}", "{n} {x} -> {y}", "{n} {y} was {x}", "{n} {y} (was {x})", "{n} up from {x} to {y}",
    "{n} from {x} to {y}", "{n} now {y}, was {x}", "{n} {x} before, {y} after", "was {x} {n}, now {y}",
    "{n} back to {y}", "{n} {y} again", "{n} still {y}", "{n} {y} after repair", "{n} came up to {y}",
    "{n} now reads {y}", "{n} improved to {y}", "{n} settled at {y}", "{n} steady at {y}", "{n} holds {y}",
    "{n} {y} at last", "{n} nearly {y}", "{n} about {y}", "{n} ~{y}", "{n} fine at {y}", "max {n} {y}",
)  # fmt: skip


@pytest.mark.parametrize(
    ("name", "before", "now", "quantity"),
    [
        ("power", "1.8w", "3.8w", "carrier_power"),
        ("mod", "40%", "85%", "am_depth"),
        ("swr", "2.6", "1.4", "swr"),
        ("current", "0.7a", "1.1a", "supply_current"),
    ],
)
def test_what_it_is_now_beside_what_it_was(name: str, before: str, now: str, quantity: str):
    ground = ground_of_kind("cb-am-mobile", "power-am-19")
    texts = (way.format(n=name, x=before, y=now) for way in CHANGED)
    wanted = (quantity, float(now.rstrip("w%a")), {})
    wrong = [found for text in texts if (found := misread(text, ground, wanted))]
    assert not wrong, wrong


DONE = (
    "r7 changed", "replaced r7", "q3 resoldered", "resoldered q3", "k7 cleaned", "cleaned k7 contacts", "new r7 fitted",
    "fitted new final", "new final", "driver replaced", "mic socket cleaned", "reflowed joints around the driver",
    "swapped q5", "l14 core glued", "bridged the cracked track",
)  # fmt: skip
READ = (
    ("3.8w", "carrier_power", 3.8), ("power 3.8w", "carrier_power", 3.8), ("3.8w out", "carrier_power", 3.8),
    ("swr 1.4", "swr", 1.4), ("1.1a on tx", "supply_current", 1.1), ("tx current 1.1a", "supply_current", 1.1),
    ("supply 13.6v", "supply_voltage", 13.6), ("ripple 8mv", "ripple", 0.008),
)  # fmt: skip
TOGETHER = (
    "{done}, {read}", "{done} {read}", "{done}: {read}", "{done} -> {read}", "{done}, now {read}", "{done}; {read}",
    "{done} - {read}", "{done} and {read}", "after {done} {read}", "{read} after {done}", "{done}. {read}",
    "{done}, back to {read}", "{done}, still {read}", "{done} gives {read}",
)  # fmt: skip


@pytest.mark.parametrize(("kind", "row"), [("cb-am-mobile", "power-am-19"), ("hf-solid-state", "power-14m2")])
def test_a_repair_keeps_what_was_read_with_it(kind, row):
    ground = ground_of_kind(kind, row)
    texts = [(form.format(done=done, read=read), quantity, value)
             for form in TOGETHER for done in DONE for read, quantity, value in READ]  # fmt: skip
    lost = []
    for text, quantity, value in texts[::EVERY]:
        meant = understand(text, ground)
        readings = meant.meanings[meant.chosen].readings if meant.chosen is not None else ()
        said = [r.value for r in readings if r.quantity == quantity and r.value is not None]
        if not any(abs(v - value) <= 0.006 * value for v in said) or meant.story is None or meant.story.kind != "did":
            lost.append(text)
    assert len(texts) > 1500 and lost == []


ADJUSTERS = ("VR6", "L3", "TC2", "the mod pot", "bias pot", "T2 core", "L14 slug", "dev pot VR3")
MOVED = (
    "turned up", "turned down", "tweaked", "peaked", "adjusted", "reset", "trimmed", "backed off", "up a touch",
    "half a turn in", "two turns cw", "nudged", "retuned", "turned clockwise", "brought up", "set",
)  # fmt: skip
MOVED_TO = (
    ("mod 85%", "am_depth", 85), ("3.8w", "carrier_power", 3.8), ("ch19 3.8w", "carrier_power", 3.8),
    ("freq +20 hz", "frequency_error", 20), ("27.18502", "frequency_error", 20), ("h2 -62", "harmonic_2", -62),
    ("tx 1.2a", "supply_current", 1.2), ("swr 1.3", "swr", 1.3),
)  # fmt: skip
LEFT = (
    "{a} {m}, {r}", "{a} {m}: {r}", "{a} {m} -> {r}", "{a} {m} now {r}", "{r} after {a} {m}", "{a} {m} and {r}",
    "{a} {m}; {r}", "{a} {m}. {r}", "{a} {m} {r}", "{a} {m}, gives {r}", "{a} {m} = {r}",
)  # fmt: skip


def test_an_adjustment_keeps_what_was_read_with_it():
    ground = ground_of_kind("cb-am-mobile", "power-am-19")
    texts = [(form.format(a=a, m=m, r=typed), quantity, value)
             for form in LEFT for a in ADJUSTERS for m in MOVED for typed, quantity, value in MOVED_TO]  # fmt: skip
    lost = []
    for text, quantity, value in texts[:: 5 * EVERY]:
        meant = understand(text, ground)
        readings = meant.meanings[meant.chosen].readings if meant.chosen is not None else ()
        read = [r.value for r in readings if r.quantity == quantity and r.value is not None]
        adjusted = meant.story is not None and meant.story.kind == "adjusted"
        if not any(abs(v - value) <= 0.006 * abs(value) for v in read) or not adjusted:
            lost.append(text)
    assert len(texts) > 10_000 and lost == []


NOTHING = (
    "no output", "no power", "no rf", "nothing", "dead", "0w", "zero output", "nil", "no output at all",
    "not a thing", "no power out", "0 watts", "doesn't transmit", "wont transmit", "no tx", "output zero",
    "nothing comes out", "not transmitting", "no watts", "no signal out",
)  # fmt: skip
THERE = (
    "{n} on {p}", "{p} {n}", "{p}: {n}", "{n} {p}", "on {p} {n}", "{n} at {p}", "{p}, {n}", "{p} - {n}",
    "still {n} on {p}", "{p} still {n}", "now {n} {p}",
)  # fmt: skip


@pytest.mark.parametrize(
    ("kind", "row", "where", "at"),
    [
        ("cb-am-mobile", "power-am-19", "ch40", {"channel": 40}),
        ("hf-solid-state", "power-14m2", "7.1", {"frequency_hz": 7.1e6}),
        ("hf-solid-state", "power-14m2", "28.5 MHz", {"frequency_hz": 28.5e6}),
        ("valve-linear", "output-14", "10m", {"frequency_hz": 28.5e6}),
        ("vhf-uhf-fm-mobile", "power-fm-20", "low power", {"power_setting": "low"}),
    ],
)
def test_nothing_is_a_reading_where_it_was_said(kind, row, where, at):
    ground = ground_of_kind(kind, row)
    lost = []
    for text in (form.format(n=words, p=where) for form in THERE for words in NOTHING):
        meant = understand(text, ground)
        meaning = meant.meanings[meant.chosen] if meant.chosen is not None else None
        read = meaning.readings[0] if meaning is not None else None
        nothing = read is not None and read.quantity == "carrier_power" and (read.value or 0.0) <= 0.05
        if not nothing or any(getattr(meaning.conditions_of(0), key) != value for key, value in at.items()):
            lost.append(text)
    assert lost == []


@pytest.mark.parametrize("text", ["carrier 4w, pep 14w", "carrier 4w and pep 14w"])
def test_a_peak_beside_a_carrier_is_of_that_carrier(text):
    meaning = understand(text, ground_of_kind("cb-am-ssb-mobile", "power-am-19")).meanings[0]
    assert {meaning.conditions_of(n).mode for n in range(len(meaning.readings))} == {"am"}


@pytest.mark.parametrize(
    ("text", "channel"),
    [
        ("swr 3.8/0.3 ch19", 19),
        ("swr 3.8/0.3w ch1 am", 1),
        ("ch40 swr 3.8w/0.3w", 40),
        ("3.8/0.3w fwd/ref ch 1", 1),
        ("fwd/ref 3.8/0.3w ch40", 40),
        ("ch1 swr 3800/300mw", 1),
        ("vswr on channel 40 3.8w / 300mw", 40),
    ],
)
def test_forward_and_reflected_are_a_pair_wherever_they_were_read(text, channel):
    """Never an SWR of 3.8 beside a carrier of 0.3 W."""
    meant = understand(text, ground_of_kind("cb-am-mobile", "current-standby"))
    assert meant.chosen is not None, meant.question
    chosen = meant.meanings[meant.chosen]
    read = {r.quantity: r.value for r in chosen.readings}
    assert read["forward_power"] == pytest.approx(3.8)
    assert read["reflected_power"] == pytest.approx(0.3)
    assert read["swr"] == pytest.approx(1.7815, rel=1e-3)
    assert set(read) <= {"forward_power", "reflected_power", "swr", "return_loss"}
    assert {chosen.conditions_of(n).channel for n in range(len(chosen.readings))} == {channel}
