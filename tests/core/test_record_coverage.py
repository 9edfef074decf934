"""The stated 95 % interval of a record's figures holds the truth in about 95 % of noisy records."""

import math

import numpy as np
import pytest

from tests.core import records
from young_spark.core.analysis import Options, analyse
from young_spark.core.captures import Baseband, Curve, Network, Waveform

pytestmark = pytest.mark.long

SEEDS = 60  # the bench takes 1000
FULL_W = 10 ** (46 / 10 - 3)
KNOWN = dict(nominal_hz=27.185e6, full_scale_dbm=46.0, reference_ppm=0.0, level_uncertainty_db=0.0)


def _baseband(x, mode, **options):
    return Baseband(48_000.0, 27.185e6, x.astype(np.complex64)), Options(mode=mode, **KNOWN, **options)


def am_record(rng):
    depth, offset = rng.uniform(0.3, 0.9), rng.uniform(-2000, 2000)
    x = records.am(rng, depth=depth, second=0.03, offset=offset, seconds=0.12, tone=rng.uniform(700, 1500), cnr_db=30)
    crest, trough, level = records.am_truth(depth, 0.03)
    truth = {
        "carrier_power": FULL_W * (0.3 * level) ** 2,
        "peak_envelope_power": FULL_W * (0.3 * (1 + crest / 100)) ** 2,
        "frequency_error": offset,
        "am_depth_positive": crest,
        "am_depth_negative": trough,
        "am_depth": (crest + trough) / 2,
        "audio_distortion": 3 / depth,
    }
    return *_baseband(x, "am"), truth


def fm_record(rng):
    shape = dict(deviation=rng.uniform(1000, 3000), tone=rng.uniform(600, 1500), clip=rng.choice([0.0, 2.0]))
    x, peak = records.fm(rng, seconds=0.12, cnr_db=25, offset=333.0, **shape)
    truth = {
        "carrier_power": FULL_W * 0.09,
        "frequency_error": 333.0,
        "audio_frequency": shape["tone"],
        "fm_deviation_positive": peak,
    }
    return *_baseband(x, "fm"), truth | {"fm_deviation_negative": peak, "fm_deviation": peak}


def ssb_record(rng):
    down, other = rng.uniform(35, 50), rng.uniform(40, 55)
    parts = [(1012.0, 0.5), (12.0, 0.5 * 10 ** (-down / 20)), (-988.0, 0.5 * 10 ** (-other / 20))]
    x = records.lines(rng, parts, seconds=0.12, cnr_db=45)
    return *_baseband(x, "ssb", tones_hz=(1000.0,)), {
        "carrier_suppression": down,
        "opposite_sideband_suppression": other,
        "frequency_error": 12.0,
    }


def two_tone_record(rng):
    third, fifth = rng.uniform(25, 40), rng.uniform(40, 50)
    parts = [(700.0, 0.3), (1900.0, 0.3), (-500.0, 0.3 * 10 ** (-third / 20)), (4300.0, 0.3 * 10 ** (-fifth / 20))]
    x = records.lines(rng, parts, seconds=0.12, cnr_db=40)
    return *_baseband(x, "two-tone"), {
        "imd3": third,
        "imd5": fifth,
        "mean_power": FULL_W * sum(a * a for _, a in parts),
    }


def scope_record(rng):
    watts = rng.uniform(1, 20)
    t = np.arange(800) / 250e6
    volts = math.sqrt(100 * watts) * np.cos(
        records.TURN * 27.185e6 * t + rng.uniform(0, 6)
    ) + 0.5 * rng.standard_normal(800)
    return Waveform("scope", 250e6, volts), Options(**KNOWN), {"carrier_power": watts}


def spectrum_trace(rng):
    second, third = rng.uniform(40, 60), rng.uniform(40, 65)
    f, level = records.spectrum(
        rng, [(27.185e6, -10.0), (2 * 27.185e6, -10 - second), (3 * 27.185e6, -10 - third)], stop=100e6
    )
    return (
        Curve("spectrum", f, level),
        Options(rbw_hz=100e3, path=lambda hz: 0.0, **KNOWN),
        {"harmonic_2": -second, "harmonic_3": -third},
    )


def fade_trace(rng):
    tau, final = rng.uniform(6, 20), rng.uniform(2, 3.5)
    t = np.arange(0, 60, 0.1)
    p = final + np.exp(-t / tau) + 0.03 * rng.standard_normal(len(t))
    return Curve("fade", t, p), Options(**KNOWN), {"time_constant": tau, "steady_power": final}


def sound(rng):
    tone, bad = rng.uniform(400, 2000), rng.uniform(0.01, 0.04)
    t = np.arange(9600) / 48_000
    x = 0.5 * (
        np.sin(records.TURN * tone * t) + bad * np.sin(2 * records.TURN * tone * t)
    ) + 0.01 * rng.standard_normal(len(t))
    rest = (0.5 * bad) ** 2 / 2 + 1e-4
    truth = {"audio_frequency": tone, "audio_distortion": 100 * bad, "sinad": 10 * math.log10((0.125 + rest) / rest)}
    return Waveform("audio", 48_000.0, x), Options(), truth


def still_then_toned(rng):
    shift = rng.uniform(-0.08, 0.08)
    x = records.am(rng, seconds=0.5, depth=0.7, quiet_s=0.2, shift=shift, cnr_db=35)
    return *_baseband(x, "am"), {"carrier_shift": 100 * shift, "carrier_power": FULL_W * 0.09}


def filter_sweep(rng):
    f = np.arange(200, 3600, 10.0)
    width, depth = rng.uniform(1100, 1300), rng.uniform(0.3, 0.8)

    def shape(at):
        return -3.0103 * ((at - 1500) / width) ** 8 + depth * np.cos(records.TURN * (at - 1500) / 700)

    dense = np.arange(200, 3600, 0.02)
    exact = shape(dense)
    inside = dense[exact >= exact.max() - 3]
    peaks = 1 + np.flatnonzero((exact[1:-1] > exact[:-2]) & (exact[1:-1] >= exact[2:]))
    peaks = [p for p in peaks if exact[p] > exact.max() - 6]
    between = exact[peaks[0] : peaks[-1] + 1]
    truth = {"edge_low_3db": inside[0], "edge_high_3db": inside[-1], "passband_ripple": between.max() - between.min()}
    return Curve("response", f, shape(f) + 0.03 * rng.standard_normal(len(f))), Options(), truth


def part_sweep(rng):
    f = np.linspace(25e6, 30e6, 101)
    loss = rng.uniform(0.3, 3)
    s = 10 ** (-loss / 20) * np.exp(-1j * f / 3e6) + 0.003 * (rng.standard_normal(101) + 1j * rng.standard_normal(101))
    return Network("transmission", f, s, 50.0), Options(**KNOWN), {"insertion_loss": loss}


def _under_two(resonance):
    dense = np.linspace(25e6, 30e6, 100_001)
    under = dense[np.abs(records.aerial(dense, resonance=resonance, henry=1.5e-6)) < 1 / 3]
    return under[-1] - under[0]


def aerial_sweep(rng):
    resonance = rng.uniform(26.8e6, 27.6e6)
    f = np.linspace(25e6, 30e6, 201)
    gamma = records.aerial(f, resonance=resonance, henry=1.5e-6) + 0.003 * (
        rng.standard_normal(201) + 1j * rng.standard_normal(201)
    )
    size = float(np.abs(records.aerial(np.array([27.185e6]), resonance=resonance, henry=1.5e-6))[0])
    truth = {"swr": (1 + size) / (1 - size), "return_loss": -20 * math.log10(size), "swr_minimum": 1.25}
    truth |= {"resonant_frequency": resonance, "swr_bandwidth": _under_two(resonance)}
    return Network("reflection", f, gamma, 50.0), Options(**KNOWN), truth


RECORDS = (
    am_record,
    fm_record,
    ssb_record,
    two_tone_record,
    scope_record,
    still_then_toned,
    filter_sweep,
    part_sweep,
    spectrum_trace,
    fade_trace,
    sound,
    aerial_sweep,
)


def covered(trial, seeds: int, start: int = 0) -> dict[str, float]:
    """Share of noisy records whose interval holds the truth, for each quantity of a kind of record."""
    inside: dict[str, list[bool]] = {}
    for seed in range(start, start + seeds):
        capture, options, truth = trial(np.random.default_rng(seed))
        for reading in analyse(capture, options).readings:
            if reading.quantity in truth and reading.arms is not None:
                below, above = reading.arms
                inside.setdefault(reading.quantity, []).append(
                    reading.value - below <= truth[reading.quantity] <= reading.value + above
                )
    return {name: sum(hits) / len(hits) for name, hits in inside.items()}


@pytest.mark.parametrize("trial", RECORDS, ids=lambda t: t.__name__)
def test_the_stated_interval_covers(trial):
    shares = covered(trial, SEEDS)
    assert shares
    # 93 to 98 % are wanted; so many records tell a share to about 2.8 %
    assert {name: share for name, share in shares.items() if not 0.865 <= share <= 1} == {}
