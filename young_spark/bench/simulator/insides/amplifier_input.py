"""What comes before any amplifying part of an amplifier: the exciter and its lead, the key line, the input relay and
its network; and what comes behind its coupler. Powers in W."""

from dataclasses import dataclass

from young_spark.bench.simulator.insides.gear import Changes, Gear

INPUT_FAULTS: Changes = {
    "exciter_fold": {"exciter": 0.3},
    "exciter_low": {"exciter": 0.3},
    "exciter_lead": {"lead_in": 0.0},
    "exciter_high": {"exciter": 2.5},
    "key_standby": {"key": 0.0},
    "key_wire": {"key": 0.0},
    "key_circuit": {"key": 0.0},
    "relay_in_coil": {"relay_in": 0.0},
    "relay_in_contact": {"relay_in": 0.3},
    "input_part": {"network": 0.35},
    "input_pad": {"network": 0.3},
}
OUTPUT_FAULTS: Changes = {
    "relay_contact": {"relay_out": 0.3},
    "relay_coil": {"relay_out": 0.0},
    "socket_joint": {"socket": 0.0},
    "aerial_bad": {},
}
TRIP = 1.8  # of the due drive: there its protection acts


@dataclass(frozen=True)
class Amplifier(Gear):
    """An amplifier behind its exciter, which a hand sets to a share of the due `drive`."""

    drive: float = 1.0

    def exciter_w(self, due_w: float) -> float:
        """What arrives at its end of the lead."""
        return due_w * self.drive * self.has("exciter") * self.has("lead_in")

    @property
    def _accepted(self) -> float:
        """What gets through its relay and its network, as a share of what arrives."""
        return self.has("relay_in") * self.has("network")

    @property
    def input_swr(self) -> float:
        """What the exciter sees, keyed."""
        return 1.2 if self._accepted > 0.9 else 3.5 if self._accepted > 0 else 20.0

    @property
    def _reaches_nothing(self) -> bool:
        """Whether what it gives does not get out behind its coupler or tank."""
        return min(self.has("relay_out"), self.has("socket")) < 0.5
