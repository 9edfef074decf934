"""Kinds of gear: units that nobody described, told in one line, and what they get for it."""

import pytest

from young_spark.core.gear import gear_of, kind_named, kinds, models, rated_in
from young_spark.core.judging import channel_plans, profiles
from young_spark.core.trace import chain_names

# a line of check-in, the kind that a colleague would call it, and what it should give in W
LINES = [
    ("old AM cb", "cb-am-mobile", 4), ("27 MHz AM/FM mobile", "cb-am-fm-mobile", 4),
    ("SSB base station", "cb-am-ssb-mobile", 4), ("cb fm set", "cb-fm-mobile", 4),
    ("hand held walkie talkie", "cb-fm-handheld", 4), ("tube base CB", "cb-valve-base", 4),
    ("10 metre all mode 25w", "ten-metre-mobile", 25), ("UHF handheld 5W", "uhf-cb", 5),
    ("taxi VHF mobile", "vhf-uhf-fm-mobile", 25), ("HF transceiver 100 W", "hf-solid-state", 100),
    ("HF/VHF 100W rig", "hf-vhf", 100), ("hybrid with valve finals", "hf-hybrid", 100),
    ("plate modulated valve AM transmitter", "valve-am-transmitter", 50),
    ("two-valve linear 800w", "valve-linear", 800),
    ("mobile linear", "transistor-linear", 100), ("homebrew QRP kit", "home-built", 5),
    ("scanner", "receiver", None), ("whip and mag mount", "aerial-feeder", None),
    ("1kW tube amp", "valve-linear", 1000), ("home built linear 2x triode", "valve-linear", 400),
    ("28 to 144 MHz transverter, 20 W", "transverter", 20), ("dual band mobile 50/35W", "vhf-uhf-fm-mobile", 50),
    ("boat radio 25W VHF", "marine-vhf", 25),
    ("single pentode AM rig 80m/160m", "valve-am-transmitter", 50), ("PMR handheld 4w uhf", "vhf-uhf-fm-handheld", 4),
    ("2m allmode base 25w", "vhf-all-mode", 25), ("6m ssb mobile 10w", "vhf-all-mode", 10),
    ("pmr446 handheld pair", "licence-free-446", 0.5), ("458 data radio 500mw telemetry", "vhf-uhf-fm-mobile", 0.5),
    ("marine ssb 150w 2-22MHz", "hf-commercial", 150), ("HF manpack 20w ssb/cw 2-12 MHz", "hf-commercial", 20),
    ("amateur dual bander 50w", "vhf-uhf-fm-mobile", 50), ("dual-bander handheld 5w", "vhf-uhf-fm-handheld", 5),
    ("4m fm mobile 25w", "vhf-uhf-fm-mobile", 25), ("hf linear 1kw ldmos", "transistor-linear", 1000),
]  # fmt: skip


@pytest.mark.parametrize(("line", "kind", "watts"), LINES)
def test_a_line_says_its_kind_and_the_kind_brings_its_plan(line, kind, watts):
    assert kind_named(line) == kind
    unit = gear_of(kind, rated_in(line), models())
    assert unit.rated_w == watts and unit.kind_id == kind
    assert unit.plan and unit.cautions and unit.stages and unit.greatest_power_w > 0
    assert not unit.high_voltage or any("kills" in caution for caution in unit.cautions)
    assert unit.greatest_power_w >= (watts or 0)


@pytest.mark.parametrize(
    ("line", "mhz"),
    [
        ("am broadcast tx 100w 1386khz", 1.386), ("fm broadcast exciter 100w 98.1MHz", 98.1),
        ("medium wave am tx 100w 1584 khz", 1.584), ("wireless mic tx 100w 863MHz", 863.0),
    ],
)  # fmt: skip
def test_a_unit_off_the_channels_of_a_kind_is_not_held_against_its_limits(line, mhz):
    """What it should give is all that is due of it, at the frequency that the line says."""
    assert kind_named(line) is None
    unit = gear_of("any-transmitter", rated_in(line), models(), line)
    power = next(row for row in unit.plan if row.quantity == "carrier_power")
    assert power.frequency_hz == pytest.approx(mhz * 1e6) and power.expected == 100
    assert not unit.profiles and [row.quantity for row in unit.typical.rows] == ["carrier_power"]


@pytest.mark.parametrize(
    ("line", "kind"),
    [
        ("echo mic for cb", "accessory"), ("30A bench power supply", "accessory"), ("antenna tuner 1.5kW", "accessory"),
        ("mains power supply 13.8v 20a", "accessory"), ("cb mobile with echo mic", "cb-am-mobile"),
        ("valve amp psu", "valve-linear"), ("handheld with speaker mic", "cb-fm-handheld"),
    ],
)  # fmt: skip
def test_a_box_that_sends_nothing_is_held_against_no_limit_of_what_it_is_for(line, kind):
    """Valves in it are high voltage, whatever it is for."""
    assert kind_named(line) == kind
    unit = gear_of(kind, rated_in(line), models(), line)
    assert (unit.typical is None) == (kind == "accessory") and unit.high_voltage == ("valve" in line)


@pytest.mark.parametrize("line", ["2m valve linear 400w single tetrode", "valve linear 4m 150w"])
def test_a_linear_above_the_bands_of_its_kind_is_measured_at_its_own(line):
    unit = gear_of(kind_named(line), rated_in(line), models(), line)
    there = {row.frequency_hz for row in unit.plan if row.quantity == "carrier_power"}
    assert len(there) == 1 and min(there) > 69e6 and unit.high_voltage


@pytest.mark.parametrize("name", list(kinds()))
def test_a_kind_is_whole(name):
    kind = kinds()[name]
    unit = kind.as_model(name)
    assert len({row.id for row in unit.plan}) == len(unit.plan)
    assert set(unit.profiles) <= set(profiles()) and (unit.channel_plan or "us-27mhz") in channel_plans()
    assert unit.chain is None or unit.chain in chain_names()
    for row in unit.plan:
        assert row.channel is None or unit.channel_plan is not None, row.id
        limit = next((r for r in unit.typical.rows if r.id == row.id), None) if unit.typical else None
        assert limit is None or row.expected is None or limit.low <= row.expected <= limit.high, row.id
    if unit.high_voltage:
        first = [row for row in unit.plan if row.first_power]
        assert first and all(row.quantity.endswith("_voltage") or row.quantity.startswith("grid") for row in first)


@pytest.mark.parametrize("name", [name for name, kind in kinds().items() if kind.rated_w])
def test_what_is_due_grows_with_what_it_should_give(name):
    kind = kinds()[name]
    small, large = kind.as_model(name, 10.0), kind.as_model(name, 20.0)
    powers = [r for r in small.plan if r.quantity in {"carrier_power", "peak_envelope_power"}]
    powers = [r for r in powers if r.power_setting != "low"]  # that is what the law caps, whatever the rating
    assert powers and large.greatest_power_w == pytest.approx(2 * small.greatest_power_w)
    for row in powers:
        assert large.row(row.id).expected == pytest.approx(2 * row.expected)


def test_a_name_of_earlier_versions_is_still_known_and_nonsense_is_not():
    assert gear_of("any-27-am-fm", None, models()).kind_id == "cb-am-fm-mobile"
    assert gear_of("no-such-thing", None, models()) is None and kind_named("old thing from the barn") is None


@pytest.mark.parametrize(
    ("line", "kind"),
    [
        ("old am cb rx dead", "cb-am-mobile"),
        ("CB AM mobile with aerial", "cb-am-mobile"),
        ("27 MHz FM set", "cb-fm-mobile"),
        ("AM SSB base and aerial", "cb-am-ssb-mobile"),
        ("UHF CB with amp", "uhf-cb"),
        ("10m linear 100w", "transistor-linear"),
        ("10m mobile 25w AM/FM/SSB", "ten-metre-mobile"),
        ("2m fm handheld 5w", "vhf-uhf-fm-handheld"),
        ("rx of a repeater pair", "receiver"),
        ("Airband AM handheld 5W, flying club", "airband-handheld"),
        ("VHF airband base 10W AM", "airband-am"),
        ("10m FM mobile converted", "ten-metre-fm-mobile"),
        ("27 MHz AM handhelds pair", "cb-fm-handheld"),
        ("SSB/CW transceiver qrp 10w", "hf-solid-state"),
        ("70cm hand-portable", "vhf-uhf-fm-handheld"),
    ],
)
def test_what_it_is_decides_and_not_what_came_with_it_or_fails_in_it(line, kind):
    assert kind_named(line) == kind


@pytest.mark.parametrize(
    ("kind", "words", "hz"),
    [
        ("transistor-linear", "23cm transistor linear 60W, Runa, no idle on 2m", 1296.2e6),
        ("home-built", "CW home brew 10W 40m, chirps", 7.1e6),
        ("home-built", "CW home brew 10W, low on 40m", None),  # what ails it says no band of its own
        ("vhf-uhf-fm-handheld", "70cm handheld", 433.5e6),
        ("cb-am-mobile", "CB AM mobile 11m", None),
        ("valve-linear", "11m valve linear 400W, low output", 27.205e6),
        ("valve-linear", "10m triode linear 200W", 28.5e6),
    ],
)
def test_a_band_in_the_name_says_where_a_unit_of_one_band_is_measured(kind, words, hz):
    model = gear_of(kind, None, {}, words)
    assert {row.frequency_hz for row in model.plan if row.quantity == "carrier_power"} == {hz}


def test_five_watts_of_an_airband_handheld_are_its_peaks():
    assert gear_of("airband-handheld", 5.0, {}).rated_w == pytest.approx(5 / 3)
    assert gear_of("airband-am", 8.0, {}).rated_w == 8.0


@pytest.mark.parametrize(
    ("words", "hz"),
    [("2 m FM mobile 50 W, club", 145.5e6), ("marine VHF 25 W", None), ("GMRS style UHF 40W mobile", None)],
)
def test_a_unit_is_measured_at_the_frequency_of_its_kind_only_where_its_words_say_so(words, hz):
    """Nobody said 145.5 MHz of a marine set: no line and no reading of it may."""
    model = gear_of("vhf-uhf-fm-mobile", 25.0, {}, words)
    sent = [row for row in model.plan if row.state is None]
    assert sent and {row.frequency_hz for row in sent} == {hz} and {row.channel for row in sent} == {None}
    assert model.typical.rows


@pytest.mark.parametrize(("rated_w", "carrier_w", "peaks_w"), [(None, 3.8, 11.6), (4.0, 3.8, 11.6), (12.0, 3.8, 11.6)])
def test_the_rating_of_a_sideband_set_is_of_its_carrier_or_of_its_peaks(rated_w, carrier_w, peaks_w):
    """12 W of such a set are its peaks: 3.7 W of carrier is none that is far too low."""
    model = gear_of("cb-am-ssb-mobile", rated_w, {})
    due = {row.quantity: row.expected for row in model.plan if row.quantity.endswith("_power")}
    assert due["carrier_power"] == pytest.approx(carrier_w) and due["peak_envelope_power"] == pytest.approx(peaks_w)


@pytest.mark.parametrize(
    ("words", "volts", "share"),
    [
        ("solid state amp 300W 28V supply", 28.0, 13.8 / 28), ("24V linear 300W", 24.0, 13.8 / 24),
        ("12V linear 300W", 13.8, 1.0), ("linear 300W, 24 V battery bought for it", 13.8, 1.0),
    ],
)  # fmt: skip
def test_a_kind_is_fed_as_the_line_says_and_draws_the_less_for_it(words, volts, share):
    told = gear_of("transistor-linear", 300, models(), words)
    plain = gear_of("transistor-linear", 300, models())
    drawn, usual = told.row("current-transmit"), plain.row("current-transmit")
    assert (told.supply_v, drawn.supply_v) == (volts, volts)
    assert drawn.expected == pytest.approx(usual.expected * share)
