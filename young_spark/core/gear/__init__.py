"""What is on the bench: models, their plans, points and notes."""

from young_spark.core.gear.bands import BANDS_M
from young_spark.core.gear.difference import Difference, differences
from young_spark.core.gear.kind import UNNAMED, Kind, gear_of, kind_named, kinds, rated_in
from young_spark.core.gear.model import (
    AT_FULL_POWER,
    OF_THE_POINT,
    JobPart,
    Model,
    ModelNote,
    ModelPoint,
    PlanRow,
    Plug,
    PlugPin,
    models,
)
from young_spark.core.gear.named import model_named

__all__ = [
    "AT_FULL_POWER",
    "BANDS_M",
    "OF_THE_POINT",
    "UNNAMED",
    "Difference",
    "JobPart",
    "Kind",
    "Model",
    "ModelNote",
    "ModelPoint",
    "PlanRow",
    "Plug",
    "PlugPin",
    "differences",
    "gear_of",
    "kind_named",
    "kinds",
    "model_named",
    "models",
    "rated_in",
]
