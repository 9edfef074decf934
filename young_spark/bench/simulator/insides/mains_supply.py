"""The mains supply of valve gear: soft start, heaters, high tension with what it sags and ripples, bias.

Volts are told as shares of what is due, ripple as a share of the high tension. A load that is drawn pulls the high
tension down over the resistance of winding, rectifier and capacitors."""

from dataclasses import dataclass

from young_spark.bench.simulator.insides.gear import Changes, Gear

MAINS_FAULTS: Changes = {
    "mains_fuse": {"mains_fuse": 0.0},
    "mains_switch": {"mains_switch": 0.0},
    "soft_start": {"soft_resistor": 0.0},
    "soft_start_stuck": {"soft_drop": 0.3},
    "mains_tap": {"tap": 0.82},
    "heater_pin": {"heater_joint": 0.0},
    "heater_low": {"heater_joint": 0.76},
    "rectifier": {"rectifier": 0.0, "ht_short": 1.0},
    "ht_cap": {"rectifier": 0.0, "ht_short": 1.0},
    "ht_cap_dry": {"ripple": 10.0},
    "ht_cap_worn": {"ripple": 9.0, "sag": 8.0},
    "rectifier_half": {"ripple": 7.0, "sag": 5.0, "rectifier": 0.85},
    "bleeder": {"bleeder": 0.0},
    "ht_trafo": {"winding": 0.0},
    "ht_fuse": {"ht_fuse": 0.0},
    "ht_relay": {"ht_relay": 0.0},
    "neg_gone": {"neg": 0.0},
}
SAG = 0.07  # of the high tension at the full current, in a supply that is well
RIPPLE = 0.01


@dataclass(frozen=True)
class Volts:
    """What the supply gives, in shares of what is due under the full load."""

    mains: float
    heaters: float
    ht: float
    neg: float
    ripple: float

    @property
    def emission(self) -> float:
        """What the cathodes can give at their warmth."""
        return min(1.0, max(0.0, (self.heaters - 0.6) / 0.3))


def mains_volts(gear: Gear, load: float) -> Volts:
    """What the supply gives while a load (a share of the full current) is drawn from its high tension."""
    there = gear.has("mains_fuse") * gear.has("mains_switch") * gear.has("soft_resistor") * gear.has("tap")
    mains = there * (1 - gear.has("soft_drop", 0.0))
    whole = mains * gear.has("winding") * gear.has("rectifier") * gear.has("ht_fuse") * gear.has("ht_relay")
    sagged = max(0.0, whole - SAG * gear.has("sag") * load)
    return Volts(
        mains=mains,
        heaters=mains * gear.has("heater_joint"),
        ht=sagged / (1 - SAG),
        neg=mains * gear.has("neg"),
        ripple=RIPPLE * gear.has("ripple") if whole else 0.0,
    )
