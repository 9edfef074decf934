"""The stated 95 % interval holds the truth in 93–98 % of cases, for each method a hand types.

The simulation below knows the instruments only by the bounds their sheets state; it shares no code with the core. A
truth is drawn, the instrument misreads it, the reading is typed as a text, and the interval that comes out is asked."""

import math
from collections.abc import Callable

import numpy as np
import pytest

from tests.core.test_entry_table import context
from young_spark.core.entry import EntryContext, understand

pytestmark = pytest.mark.long

DRAWS = 800  # the bench draws 4000
TOLD_TO = math.sqrt(0.05 * 0.95 / DRAWS)  # how closely so many draws tell a share of 95 %
Trial = Callable[[np.random.Generator], tuple[str, dict[str, float], EntryContext]]


def off(rng: np.random.Generator, bound: float) -> float:
    return float(rng.uniform(-bound, bound))


def wattmeter(rng):
    truth = rng.uniform(1, 9)
    return f"{truth + off(rng, 0.5):.6f}w el 10", {"carrier_power": truth}, context()


def wattmeter_behind_a_pad(rng):
    truth = rng.uniform(80, 400)
    behind = truth / 10 ** ((20 + off(rng, 0.2)) / 10)
    return f"{behind + off(rng, 0.25):.6f}w el 5 +20db", {"carrier_power": truth}, context()


def test_set_behind_pads(rng):
    truth = rng.uniform(1, 100)
    level = 10 * math.log10(truth * 1e3) - (40 + off(rng, 0.4)) + off(rng, 0.5)
    return f"{level:.5f}dbm +20db +20db".replace("-", "-"), {"carrier_power": truth}, context(instrument="test_set")


def scope_volts(rng):
    truth = rng.uniform(1, 12)
    return f"{math.sqrt(8 * 50 * truth) / (1 + off(rng, 0.03)):.6f}vpp", {"carrier_power": truth}, context()


def pep_by_scope_ratio(rng):
    carrier, ratio = 4.0, rng.uniform(1.5, 2)
    crest = 3.0
    level = crest / ratio
    height = 0.015 * crest
    known = carrier + rng.normal(0, 0.2 / 1.96)
    return (
        f"pep {crest + off(rng, height):.6f}/{level + off(rng, height):.6f}",
        {"peak_envelope_power": carrier * ratio**2},
        context(carrier_w=known),
    )


def depth_by_crest_trough_carrier(rng):
    up, down = rng.uniform(0.6, 1.0), rng.uniform(0.6, 0.95)
    height = 0.015 * (1 + up)
    typed = "/".join(f"{level + off(rng, height):.6f}" for level in (1 + up, 1 - down, 1.0))
    truths = {"am_depth_positive": 100 * up, "am_depth_negative": 100 * down, "am_depth": 50 * (up + down)}
    return f"mod {typed}", truths, context()


def depth_by_crest_and_trough(rng):
    m = rng.uniform(0.5, 0.95)
    height = 0.015 * (1 + m)
    return f"mod {1 + m + off(rng, height):.6f}/{1 - m + off(rng, height):.6f}", {"am_depth": 100 * m}, context()


def depth_by_peak_needle(rng):
    m, carrier = rng.uniform(0.3, 0.9), 4.0
    crest = carrier * (1 + m) ** 2
    typed = f"swing {carrier + off(rng, 1.25):.6f} -> {crest + off(rng, 1.25):.6f}w"
    return typed, {"am_depth_positive": 100 * m}, context(element_w=25.0, detector="peak")


def deviation_meter(rng):
    truth = rng.uniform(1500, 4500)
    return f"dev {truth * (1 + off(rng, 0.03)) / 1e3:.2f}k", {"fm_deviation": truth}, context()


def discriminator(rng):
    truth = rng.uniform(1500, 4500)
    volts = truth / (5000 * (1 + off(rng, 0.03))) * (1 + off(rng, 0.03))
    return f"dev {volts:.6f}v x 5k/v", {"fm_deviation": truth}, context()


def counter(rng):
    truth = off(rng, 1500)
    hz = 27.185e6 + truth + off(rng, 1e-6 * 27.185e6)
    return f"{hz / 1e6:.5f}M", {"frequency_error": truth, "carrier_frequency": 27.185e6 + truth}, context()


def beat_with_the_dial(rng):
    truth = off(rng, 400)
    dial = 27.184e6
    tone = 27.185e6 + truth - (dial + off(rng, 2e-6 * dial) + off(rng, 10)) + off(rng, 5)
    return f"beat 27.184/{tone:.3f} usb", {"frequency_error": truth}, context()


def swr_by_two_powers(rng):
    rho, leak, forward = rng.uniform(0.3, 0.6), 10 ** (-25 / 20), 80.0
    seen = math.sqrt(rho**2 + leak**2 + 2 * rho * leak * math.cos(rng.uniform(0, 2 * math.pi)))
    typed = f"swr {forward + off(rng, 5):.6f}/{forward * seen**2 + off(rng, 1.25):.6f} el 100/25"
    return typed, {"swr": (1 + rho) / (1 - rho), "return_loss": -20 * math.log10(rho)}, context()


def harmonic_with_path(rng):
    truth = rng.uniform(-70, -40)
    shown = truth - 0.8 + off(rng, 1.0) + off(rng, 0.3)
    return f"h2 {shown:.4f} loss 20/20.8", {"harmonic_2": truth}, context()


def power_step_by_two_powers(rng):
    low, high = rng.uniform(0.6, 0.9), rng.uniform(3, 4.5)
    typed = f"step {low + off(rng, 0.05):.6f}/{high + off(rng, 0.25):.6f}w"
    return typed, {"power_step": 10 * math.log10(low / high)}, context(element_w=5.0, reflected_element_w=1.0)


def supply_current(rng):
    truth = rng.uniform(0.5, 2)
    return f"tx {truth * (1 + off(rng, 0.015)):.2f}a", {"supply_current": truth}, context()


def supply_voltage(rng):
    truth = rng.uniform(11, 14)
    return f"{truth * (1 + off(rng, 0.005)):.1f}v", {"supply_voltage": truth}, context()


TRIALS: tuple[Trial, ...] = (
    wattmeter,
    wattmeter_behind_a_pad,
    test_set_behind_pads,
    scope_volts,
    pep_by_scope_ratio,
    depth_by_crest_trough_carrier,
    depth_by_crest_and_trough,
    depth_by_peak_needle,
    deviation_meter,
    discriminator,
    counter,
    beat_with_the_dial,
    swr_by_two_powers,
    power_step_by_two_powers,
    harmonic_with_path,
    supply_current,
    supply_voltage,
)
for trial in TRIALS:
    trial.__test__ = False  # a trial is no test, whatever its name


def covered(trial: Trial, draws: int, seed: int) -> dict[str, float]:
    """Share of draws in which each figure's interval holds the truth."""
    rng = np.random.default_rng(seed)
    hits: dict[str, int] = {}
    for _ in range(draws):
        text, truths, where = trial(rng)
        readings = {r.quantity: r for r in understand(text, where).meanings[0].readings}
        for quantity, truth in truths.items():
            below, above = readings[quantity].arms
            value = readings[quantity].value
            hits[quantity] = hits.get(quantity, 0) + (value - below <= truth <= value + above)
    return {quantity: count / draws for quantity, count in hits.items()}


@pytest.mark.parametrize("trial", TRIALS, ids=lambda t: t.__name__)
def test_the_stated_interval_holds_the_truth_in_93_to_98_percent(trial):
    for quantity, share in covered(trial, DRAWS, seed=11).items():
        assert 0.93 - TOLD_TO <= share <= 0.98 + TOLD_TO, (quantity, share)
