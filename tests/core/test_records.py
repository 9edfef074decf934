"""What comes out of records, against what was put into them in closed form; over ranges, with noise."""

import math

import numpy as np
import pytest

from tests.core import records
from young_spark.core.analysis import Options, analyse
from young_spark.core.analysis.mixer_check import mixer_check
from young_spark.core.analysis.turns import Turns
from young_spark.core.captures import Baseband, Curve, Network, Waveform
from young_spark.core.judging import profiles

pytestmark = pytest.mark.long

CENTRE = 27.185e6
KNOWN = dict(nominal_hz=CENTRE, full_scale_dbm=46.0, reference_ppm=0.0, level_uncertainty_db=0.0)
FULL_W = 10 ** (46 / 10 - 3)


def found(capture, **options):
    return {r.quantity: r for r in analyse(capture, Options(**{**KNOWN, **options})).readings}


def baseband(x, rate):
    return Baseband(rate, CENTRE, x.astype(np.complex64))


@pytest.mark.parametrize("seed", range(14))
def test_am_depth_power_and_frequency(seed):
    rng = np.random.default_rng(seed)
    rate, tone, cnr = float(rng.choice([32_000, 48_000, 192_000, 250_000])), rng.uniform(300, 3000), rng.uniform(25, 60)
    seconds, offset = rng.uniform(0.15, 0.6), rng.uniform(-3000, 3000)
    shape = dict(depth=rng.uniform(0.2, 0.9), second=rng.uniform(-0.08, 0.08))
    x = records.am(rng, rate=rate, seconds=seconds, offset=offset, tone=tone, cnr_db=cnr, **shape)
    crest, trough, level = records.am_truth(**shape)
    got = found(baseband(x, rate), mode="am")
    room = 0.3 if cnr > 30 else 0.5
    assert got["am_depth_positive"].value == pytest.approx(crest, abs=room)
    assert got["am_depth_negative"].value == pytest.approx(trough, abs=room)
    assert got["am_depth"].value == pytest.approx((crest + trough) / 2, abs=room)
    assert got["carrier_power"].value == pytest.approx(FULL_W * (0.3 * level) ** 2, rel=0.01)
    assert got["peak_envelope_power"].value == pytest.approx(FULL_W * (0.3 * (1 + crest / 100)) ** 2, rel=0.01)
    assert got["audio_frequency"].value == pytest.approx(tone, abs=0.1)
    assert got["frequency_error"].value == pytest.approx(offset, abs=5 * cramer_rao(rate, seconds, cnr))


def cramer_rao(rate, seconds, cnr_db):
    """Standard deviation in Hz that no estimate of a bare carrier's frequency can beat (both parts' noise: 1/CNR)."""
    n = rate * seconds
    return math.sqrt(6 / (10 ** (cnr_db / 10) * n * (n * n - 1))) * rate / (2 * math.pi)


def test_frequency_comes_to_the_bound_that_noise_sets_with_the_modulation_in_the_model():
    errors, depth, rate, seconds, cnr = [], 0.8, 48_000.0, 0.2, 30.0
    for seed in range(120):
        x = records.am(np.random.default_rng(seed), rate=rate, seconds=seconds, depth=depth, cnr_db=cnr, offset=713.0)
        errors.append(found(baseband(x, rate), mode="am")["frequency_error"].value - 713.0)
    bound = cramer_rao(rate, seconds, cnr) / math.sqrt(1 + depth**2 / 2)  # the sidebands know the phase too
    assert np.std(errors) < 1.2 * bound and abs(np.mean(errors)) < 0.4 * bound
    errors = []
    for seed in range(120):
        x, _ = records.fm(np.random.default_rng(seed), rate=rate, seconds=seconds, cnr_db=cnr, offset=713.0)
        errors.append(found(baseband(x, rate), mode="fm")["frequency_error"].value - 713.0)
    assert np.std(errors) < 1.2 * cramer_rao(rate, seconds, cnr)


def test_the_carrier_level_is_that_of_the_still_stretch_where_there_is_one():
    rng = np.random.default_rng(3)
    got = found(baseband(records.am(rng, seconds=0.8, quiet_s=0.3, shift=0.05, depth=0.8), 48_000.0), mode="am")
    crest, trough, _ = records.am_truth(0.8, shift=0.05, quiet=True)
    assert got["am_depth_positive"].value == pytest.approx(crest, abs=0.3) and got[
        "am_depth_negative"
    ].value == pytest.approx(trough, abs=0.3)
    assert got["carrier_shift"].value == pytest.approx(5, abs=0.1)
    assert got["carrier_power"].value == pytest.approx(FULL_W * 0.09, rel=0.01)
    # noise of 40 dB below the carrier over 48 kHz, seen over ±15 kHz in phase only, against a tone of 100 %
    expected = -40 - 10 * math.log10(48_000 / (2 * 16_000 * 1.075))
    assert got["hum_and_noise"].value == pytest.approx(expected, abs=1.0)


def test_overmodulation_is_a_flat_trough_and_a_remark():
    x = records.am(np.random.default_rng(4), seconds=0.4, depth=1.3, clip=True, cnr_db=45)
    analysis = analyse(baseband(x, 48_000.0), Options(mode="am", **KNOWN))
    got = {r.quantity: r for r in analysis.readings}
    crest, trough, _ = records.am_truth(1.3, clip=True)
    assert got["am_depth_negative"].value == pytest.approx(100, abs=0.3) == pytest.approx(trough, abs=0.3)
    assert got["am_depth_positive"].value == pytest.approx(crest, abs=0.5)
    assert any("trough reaches zero" in remark for remark in got["am_depth"].remarks)


def test_spikes_a_neighbour_and_a_wandering_phase_do_no_harm():
    rng = np.random.default_rng(5)
    x = records.am(rng, rate=192_000.0, seconds=0.5, depth=0.8)
    t = np.arange(len(x)) / 192_000
    spiked = x.copy()
    spiked[rng.integers(0, len(x), 100)] += 2.0
    for case in (
        spiked,
        x + 0.15 * np.exp(2j * math.pi * 10_713 * t),
        x * np.exp(1j * np.cumsum(rng.standard_normal(len(x))) * 1e-3),
    ):
        got = found(baseband(case, 192_000.0), mode="am")
        assert got["am_depth"].value == pytest.approx(80, abs=0.3) and got["carrier_power"].value == pytest.approx(
            FULL_W * 0.09, rel=0.01
        )


@pytest.mark.parametrize("seed", range(14))
def test_fm_deviation(seed):
    rng = np.random.default_rng(100 + seed)
    cnr = 20.0 if seed % 2 else 30.0
    shape = dict(
        deviation=rng.uniform(800, 4500),
        tone=rng.uniform(400, 1800),
        clip=rng.choice([0.0, 2.5]),
        rate=float(rng.choice([48_000, 96_000, 192_000])),
    )
    if seed % 3 == 0:
        shape |= dict(hum_hz=100.0, hum=rng.uniform(20, 80))
    x, peak = records.fm(rng, seconds=rng.uniform(0.4, 1.0), cnr_db=cnr, **shape)
    got = found(baseband(x, shape["rate"]), mode="fm")
    assert got["fm_deviation"].value == pytest.approx(peak, rel=0.005 if cnr == 30 else 0.02)
    assert got["carrier_power"].value == pytest.approx(FULL_W * 0.09, rel=0.01)
    assert got["frequency_error"].value == pytest.approx(713, abs=0.1)


def test_a_neighbouring_channel_is_remarked_not_counted():
    x, peak = records.fm(np.random.default_rng(7), rate=192_000.0, seconds=0.5)
    x = x + 0.06 * np.exp(2j * math.pi * 10_713 * np.arange(len(x)) / 192_000)
    analysis = analyse(baseband(x, 192_000.0), Options(mode="fm", **KNOWN))
    assert next(r.value for r in analysis.readings if r.quantity == "fm_deviation") == pytest.approx(peak, rel=0.01)
    assert any("neighbouring channel" in remark for remark in analysis.remarks)


def test_ssb_suppressions_are_figures_or_bounds():
    parts = [(1012.0, 0.5), (12.0, 0.5 * 10 ** (-45 / 20)), (-988.0, 0.5 * 10 ** (-52 / 20))]
    got = found(baseband(records.lines(np.random.default_rng(8), parts), 48_000.0), mode="ssb", tones_hz=(1000.0,))
    assert got["carrier_suppression"].value == pytest.approx(45, abs=0.3)
    assert got["opposite_sideband_suppression"].value == pytest.approx(52, abs=0.3)
    assert got["frequency_error"].value == pytest.approx(12, abs=0.1)
    crest = sum(a for _, a in parts)
    assert got["peak_envelope_power"].value == pytest.approx(FULL_W * crest**2, rel=0.01)
    clean = found(
        baseband(records.lines(np.random.default_rng(9), [(1012.0, 0.5)], cnr_db=40), 48_000.0),
        mode="ssb",
        tones_hz=(1000.0,),
    )
    assert clean["carrier_suppression"].bound == "lower" and 60 < clean["carrier_suppression"].value < 95
    lower = [(-1012.0, 0.5), (-12.0, 0.5 * 10 ** (-45 / 20))]
    got = found(
        baseband(records.lines(np.random.default_rng(8), lower), 48_000.0),
        mode="ssb",
        sideband="lsb",
        tones_hz=(1000.0,),
    )
    assert got["carrier_suppression"].value == pytest.approx(45, abs=0.3) and got[
        "frequency_error"
    ].value == pytest.approx(-12, abs=0.1)


def test_two_tone_products_are_below_one_tone():
    parts = [(700.0, 0.3), (1900.0, 0.3), (-500.0, 0.003), (3100.0, 0.006), (4300.0, 0.0006)]
    got = found(baseband(records.lines(np.random.default_rng(10), parts, seconds=0.5), 48_000.0), mode="two-tone")
    assert got["imd3"].value == pytest.approx(20 * math.log10(0.3 / 0.006), abs=0.3)  # the worse of the two
    assert got["imd5"].value == pytest.approx(20 * math.log10(0.3 / 0.0006), abs=0.3)
    assert got["imd7"].bound == "lower"
    assert got["mean_power"].value == pytest.approx(FULL_W * sum(a * a for _, a in parts), rel=0.01)


def test_a_scope_across_the_load():
    rng = np.random.default_rng(11)
    t = np.arange(2000) / 250e6
    volts = math.sqrt(2 * 50 * 4.0) * np.cos(2 * math.pi * 27.185e6 * t + 1) + 0.1 * rng.standard_normal(2000) + 0.3
    assert found(Waveform("scope", 250e6, volts))["carrier_power"].value == pytest.approx(4.0, rel=0.01)
    assert found(Waveform("scope", 250e6, volts / 10), probe_ratio=10.0, load_ohm=25.0)[
        "carrier_power"
    ].value == pytest.approx(8.0, rel=0.01)
    t = np.arange(300_000) / 100e6
    volts = math.sqrt(2 * 50 * 4.0) * (1 + 0.8 * np.sin(2 * math.pi * 1000 * t)) * np.cos(
        2 * math.pi * 27.185e6 * t
    ) + 0.3 * rng.standard_normal(len(t))
    got = found(Waveform("scope", 100e6, volts))
    assert got["carrier_power"].value == pytest.approx(4, rel=0.01) and got[
        "peak_envelope_power"
    ].value == pytest.approx(4 * 1.8**2, rel=0.01)
    assert got["am_depth"].value == pytest.approx(80, abs=0.3)


def test_harmonics_are_corrected_by_the_path_at_their_own_frequency():
    parts = [(27.185e6, -10.0), (2 * 27.185e6, -62.0), (3 * 27.185e6, -70.0), (41.3e6, -66.0)]
    f, level = records.spectrum(np.random.default_rng(12), parts, floor_db=-105.0)
    loss = lambda hz: 20 + hz / 100e6  # noqa: E731
    got = found(Curve("spectrum", f, level), rbw_hz=100e3, path=loss)
    assert got["carrier_power"].value == pytest.approx(10 ** ((-10 + loss(27.185e6)) / 10 - 3), rel=0.01)
    for n, dbc in ((2, -52), (3, -60)):
        assert got[f"harmonic_{n}"].value == pytest.approx(dbc + loss(n * 27.185e6) - loss(27.185e6), abs=0.3)
    assert got["harmonic_4"].bound == "upper" and got["harmonic_4"].value < -80
    assert got["spurious_worst"].value == pytest.approx(-56 + 0.14, abs=0.3) and got[
        "spurious_worst"
    ].at_hz == pytest.approx(41.3e6, abs=2e4)
    judged = analyse(Curve("spectrum", f, level), Options(**KNOWN, rbw_hz=100e3, mixer_dbm=-10.0))
    assert next(r for r in judged.readings if r.quantity == "harmonic_2").not_judged is not None


def test_a_harmonic_of_the_mixers_own_is_told_by_two_traces():
    def at(level, second):
        f, trace = records.spectrum(
            np.random.default_rng(13), [(27.185e6, level), (2 * 27.185e6, second)], floor_db=-110.0
        )
        return found(Curve("spectrum", f, trace), rbw_hz=100e3)["harmonic_2"]

    assert mixer_check(at(-10, -60), at(-20, -70), 2) == "real"
    assert mixer_check(at(-10, -60), at(-20, -80), 2) == "mixer"
    assert mixer_check(at(-10, -60), at(-20, -75), 2) == "both"


def test_occupied_bandwidth_has_the_floor_taken_out():
    f = np.arange(27.165e6, 27.205e6, 50.0)
    power = np.where(np.abs(f - 27.185e6) < 4000, 1e-6, 0) + np.random.default_rng(14).exponential(1e-10, len(f))
    got = found(Curve("spectrum", f, 10 * np.log10(power)))
    assert got["occupied_bandwidth"].value == pytest.approx(0.99 * 8000, abs=120)
    wide = np.where(np.abs(f - 27.185e6) < 19_990, 1e-6, 1e-10)
    assert found(Curve("spectrum", f, 10 * np.log10(wide)))["occupied_bandwidth"].bound == "lower"


def test_a_fade_is_told_only_where_the_record_can_tell():
    t = np.arange(0, 60, 0.1)
    p = np.where(t < 0.3, t / 0.3 * 4, 3 + np.exp(-(t - 0.3) / 12)) + 0.01 * np.random.default_rng(15).standard_normal(
        len(t)
    )
    got = found(Curve("fade", t, p))
    first = np.mean(3 + np.exp(-np.arange(0, 1.0, 0.1) / 12))
    last = 3 + np.exp(-59 / 12)
    assert got["power_fade"].value == pytest.approx(10 * math.log10(last / first), abs=0.05)
    assert got["time_constant"].value == pytest.approx(12, rel=0.05) and got["steady_power"].value == pytest.approx(
        3, rel=0.01
    )
    short = found(Curve("fade", t[:50], p[:50]))
    assert short["time_constant"].value is None and short["steady_power"].reason == "not_supported"


def test_sinad_and_distortion_of_a_recording():
    t = np.arange(48_000) / 48_000
    x = (
        0.5 * np.sin(2 * math.pi * 997 * t)
        + 0.01 * np.sin(2 * math.pi * 2 * 997 * t)
        + 0.02 * np.random.default_rng(16).standard_normal(len(t))
    )
    got = found(Waveform("audio", 48_000.0, x), hz_per_unit=5000.0)
    rest = 0.01**2 / 2 + 0.02**2
    assert got["sinad"].value == pytest.approx(10 * math.log10((0.125 + rest) / rest), abs=0.3)
    assert got["audio_distortion"].value == pytest.approx(2.0, abs=0.1)
    assert got["audio_frequency"].value == pytest.approx(997, abs=0.05)


def test_an_aerial_through_noise():
    f = np.linspace(24e6, 31e6, 281)

    def swept(seed):
        rng = np.random.default_rng(seed)
        return records.aerial(f) + 0.002 * (rng.standard_normal(281) + 1j * rng.standard_normal(281))

    gamma = swept(17)
    got = found(Network("reflection", f, gamma, 50.0))
    size = float(np.abs(records.aerial(np.array([CENTRE])))[0])
    assert got["swr"].value == pytest.approx((1 + size) / (1 - size), rel=0.01)
    assert got["swr_minimum"].value == pytest.approx(1.25, rel=0.01)
    places = [found(Network("reflection", f, swept(seed), 50.0))["resonant_frequency"].value for seed in range(17, 37)]
    assert math.sqrt(np.mean((np.array(places) - 27.3e6) ** 2)) < 2e4
    dense = np.linspace(24e6, 31e6, 200_001)
    under = dense[np.abs(records.aerial(dense)) < 1 / 3]
    assert got["swr_bandwidth"].value == pytest.approx(under[-1] - under[0], rel=0.01)
    assert found(Network("reflection", f, 1.0 + 0 * gamma, 50.0))["swr"].reason == "infinite"
    assert found(Network("transmission", f, 0.5 + 0 * gamma, 50.0))["insertion_loss"].value == pytest.approx(
        6.0206, abs=0.01
    )


def test_a_filters_edges_and_ripple_through_noise():
    f = np.arange(100, 4000, 10.0)
    level = -3.0103 * ((f - 1500) / 1200) ** 8 + 0.5 * np.cos(2 * math.pi * (f - 1500) / 700)
    dense = np.arange(100, 4000, 0.05)
    exact = -3.0103 * ((dense - 1500) / 1200) ** 8 + 0.5 * np.cos(2 * math.pi * (dense - 1500) / 700)
    got = found(Curve("response", f, level + 0.03 * np.random.default_rng(18).standard_normal(len(f))))
    for down in (3, 6):
        inside = dense[exact >= exact.max() - down]
        assert got[f"edge_low_{down}db"].value == pytest.approx(inside[0], abs=6) and got[
            f"edge_high_{down}db"
        ].value == pytest.approx(inside[-1], abs=6)
    peaks = [i for i in range(1, len(exact) - 1) if exact[i - 1] < exact[i] >= exact[i + 1]]
    ripple = exact[peaks[0] : peaks[-1] + 1]
    assert got["passband_ripple"].value == pytest.approx(ripple.max() - ripple.min(), abs=0.1)
    cut = found(Curve("response", f[f > 600], level[f > 600]))
    assert cut["edge_low_3db"].value is None and cut["edge_high_3db"].value is not None


def test_powers_without_a_scale_are_no_figure_and_verdicts_know_bounds():
    x = records.am(np.random.default_rng(19), depth=0.9)
    options = Options(mode="am", nominal_hz=CENTRE, profile=("us-27mhz", profiles()["us-27mhz"]))
    from young_spark.core.analysis import verdicts

    analysis = analyse(baseband(x, 48_000.0), options)
    got = {r.quantity: r for r in analysis.readings}
    assert got["carrier_power"].value is None and got["carrier_power"].reason == "not_supported"
    assert [v.verdict for v in verdicts(got["am_depth"], analysis, options)] == ["pass"]
    assert any("not in the spread" in remark for remark in got["frequency_error"].remarks)


@pytest.mark.parametrize(("n", "tone", "count"), [(7, 3.0, 1), (100, 11.7, 4), (1001, 240.0, 9), (4096, 1.5, 2)])
def test_turns_are_what_they_are_written_out(n, tone, count):
    turns = Turns(n, 1000.0, tone, count)
    t = (np.arange(n) - (n - 1) / 2) / 1000.0
    series = np.random.default_rng(n).standard_normal(n)
    k = np.arange(2 * count + 1)
    written = np.exp(2j * np.pi * tone * np.outer(k, t))
    assert np.allclose(turns.times, t)
    assert np.allclose(turns.sums(series), written[: count + 1] @ series)
    assert np.allclose(turns.moments(), np.stack([written @ t**p for p in range(3)]), atol=1e-9)
    c = np.arange(1, count + 1) * (1 - 0.3j)
    assert np.allclose(turns.wave(c), (c @ written[1 : count + 1]).real)
