"""How long a thing stands the key, and how long it then rests."""

from young_spark.core.ground import Frozen


class Duty(Frozen):
    """How long one thing may be keyed, and how long it then rests, both in s."""

    name: str
    key_down_s: float
    cool_off_s: float
