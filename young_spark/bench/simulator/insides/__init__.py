"""The insides of the simulated units: how each class of gear is built, what can be gone in it, what it then does."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Protocol

from young_spark.bench.simulator.insides.gear import WHOLE, Inside
from young_spark.bench.simulator.insides.hf_set import HfSet
from young_spark.bench.simulator.insides.small_set import COMES_AND_GOES, SMALL_SETS, Circuit, faults_of_small_set
from young_spark.bench.simulator.insides.transistor_linear import TransistorLinear
from young_spark.bench.simulator.insides.valve_am import ValveAm
from young_spark.bench.simulator.insides.valve_linear import ValveLinear

__all__ = ["BUILDS", "COMES_AND_GOES", "WHOLE", "Build", "Built", "Inside", "builds_of", "faults_of", "opened"]


class Built(Protocol):
    """One unit as it is built, with its faults."""

    def inside(self) -> Inside: ...
    def points(self, *, keyed: bool) -> dict[str, str]: ...


@dataclass(frozen=True)
class Build:
    """A class of gear: the kind of unit that can be built so, what can be gone in it, and how one is made with some of
    it gone."""

    name: str
    kind: str
    faults: tuple[str, ...]
    make: Callable[..., Built]


BUILDS = {
    **{
        chain: Build(build.name, "mobile", faults_of_small_set(chain), partial(Circuit, build))
        for chain, build in SMALL_SETS.items()
    },
    "hf-solid-state": Build("short-wave set of 100 W", "hf", tuple(HfSet.parts), HfSet),
    "valve-linear": Build("amplifier of two valves", "amplifier", tuple(ValveLinear.parts), ValveLinear),
    "transistor-linear": Build("amplifier of two modules", "modules", tuple(TransistorLinear.parts), TransistorLinear),
    "valve-am-plate-modulated": Build("valve transmitter for AM", "transmitter", tuple(ValveAm.parts), ValveAm),
}


def builds_of(kind: str) -> tuple[str, ...]:
    """How a kind of unit can be built."""
    return tuple(name for name, build in BUILDS.items() if build.kind == kind)


def faults_of(build: str) -> tuple[str, ...]:
    """The faults that this build can carry."""
    return BUILDS[build].faults


def opened(build: str, faults: tuple[str, ...], *, hot: bool) -> Built:
    """A unit of that build with these faults."""
    return BUILDS[build].make(faults=faults, hot=hot)
