"""Combining doubt: against convolution, worked values and simulation that shares no code with the core."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.figure import Input, Shape, Term, Verdict, judge, propagate
from young_spark.core.figure.uncertainty import coverage_factor

rng = np.random.default_rng(20261125)


def draw(shape: Shape, half_width: float, n: int) -> np.ndarray:
    if shape is Shape.NORMAL:
        return rng.normal(0, half_width / 1.959964, n)
    if shape is Shape.RECTANGULAR:
        return rng.uniform(-half_width, half_width, n)
    return half_width * np.sin(rng.uniform(-np.pi, np.pi, n))


@pytest.mark.parametrize(("kurtosis", "k"), [(0, 1.959964), (-1.2, 1.645448), (-1.5, 1.409854)])
def test_the_coverage_factor_of_known_shapes(kurtosis, k):
    """Normal 1.960; one rectangular 0.95·√3; one arcsine √2·sin(0.475·π)."""
    assert coverage_factor(kurtosis) == pytest.approx(k, abs=1e-5)


def convolved_k(widths: list[float], shapes: list[Shape]) -> float:
    """95 % half-width over standard uncertainty of a sum, by convolving densities on a grid."""
    step = 2e-3
    density = np.array([1.0])
    variance = 0.0
    for width, shape in zip(widths, shapes, strict=True):
        reach = width * (2.6 if shape is Shape.NORMAL else 1)
        edges = np.arange(-math.ceil(reach / step) - 0.5, math.ceil(reach / step) + 1.5) * step
        if shape is Shape.NORMAL:
            cdf = np.array([0.5 * (1 + math.erf(e * 1.959964 / width / math.sqrt(2))) for e in edges])
        elif shape is Shape.RECTANGULAR:
            cdf = np.clip((edges / width + 1) / 2, 0, 1)
        else:
            cdf = 0.5 + np.arcsin(np.clip(edges / width, -1, 1)) / math.pi
        density = np.convolve(density, np.diff(cdf))
        variance += {
            Shape.NORMAL: (width / 1.959964) ** 2,
            Shape.RECTANGULAR: width**2 / 3,
            Shape.ARCSINE: width**2 / 2,
        }[shape]
    total = np.cumsum(density)
    centre = len(density) // 2
    half = np.searchsorted(total, 0.975 * total[-1]) - centre
    return float(half * step / math.sqrt(variance))


@pytest.mark.parametrize(
    "weights", [(1.0, 0.3, 0.2), (1.0, 1.0, 1.0), (0.2, 1.0, 0.4), (0.3, 0.4, 1.0), (1.0, 0.05, 0.9)]
)
def test_k_from_kurtosis_agrees_with_convolution(weights):
    shapes = [Shape.RECTANGULAR, Shape.ARCSINE, Shape.NORMAL]
    inputs = {shape.value: Input(0.0, (Term("t", w, shape),)) for shape, w in zip(shapes, weights, strict=True)}
    spread = propagate(lambda **parts: sum(parts.values()), inputs)
    u = math.sqrt(weights[0] ** 2 / 3 + weights[1] ** 2 / 2 + (weights[2] / 1.959964) ** 2)
    assert spread.uncertainty / u == pytest.approx(convolved_k(list(weights), shapes), rel=0.03)


def test_five_percent_of_a_ten_watt_element_is_no_wider_than_half_a_watt():
    spread = propagate(lambda watts: watts, {"watts": Input(4.0, (Term("scale", 0.5),))})
    assert spread.uncertainty == pytest.approx(0.475)  # 95 % of a rectangle of ± 0.5
    assert (
        propagate(
            lambda a, b: a + b, {"a": Input(1, (Term("a", 0.5),)), "b": Input(1, (Term("b", 0.001),))}
        ).uncertainty
        <= 0.501
    )


@given(st.floats(0.1, 1000), st.floats(0, 40), st.floats(0.05, 2))
def test_the_arms_of_a_decibel_figure_are_its_exact_quantiles(watts, pad, bound):
    """One rectangular term in dB through 10^(x/10): the interval's ends are the images of the term's own ends."""
    spread = propagate(lambda loss: watts * 10 ** (loss / 10), {"loss": Input(pad, (Term("pad", bound),))})
    low, high = (watts * 10 ** ((pad + s * 0.95 * bound) / 10) for s in (-1, 1))
    assert spread.interval == pytest.approx((low, high), rel=1e-3)


@given(st.floats(-10, 10), st.floats(-10, 10), st.floats(0.01, 3))
def test_a_verdict_follows_from_the_interval_alone(value, low, arm):
    verdict = judge(value, low=low, below=arm, above=arm)
    if value - arm >= low:
        assert verdict is Verdict.PASS
    elif value >= low:
        assert verdict is Verdict.PASS_CLOSE
    elif value + arm > low:
        assert verdict is Verdict.FAIL_CLOSE
    else:
        assert verdict is Verdict.FAIL


def test_a_figure_that_is_no_number_is_never_judged():
    with pytest.raises(ValueError, match="cannot judge"):
        judge(math.nan, low=0, high=1, below=0.1, above=0.1)
