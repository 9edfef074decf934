"""What is on the bench: models, their plans, points and notes."""

from young_spark.core.gear.bands import BANDS_M
from young_spark.core.gear.difference import Difference, differences
from young_spark.core.gear.kind import UNNAMED, Kind, gear_of, kind_named, kinds, rated_in, words_of_gear
from young_spark.core.gear.model import Alias, JobPart, Model, ModelNote, ModelPoint, Plug, PlugPin, models
from young_spark.core.gear.named import model_named
from young_spark.core.gear.plan_row import AT_FULL_POWER, OF_THE_POINT, SAME_BAND, PlanRow
from young_spark.core.gear.revision import MOST as MOST_REVISIONS
from young_spark.core.gear.revision import Revision, revision_of
from young_spark.core.gear.sequence import (
    SETTING_UP,
    WHERE_READ,
    AdjustmentSequence,
    Aim,
    Least,
    Level,
    Most,
    OwnMeter,
    Step,
    StepPoint,
    To,
)

__all__ = [
    "AT_FULL_POWER",
    "BANDS_M",
    "MOST_REVISIONS",
    "OF_THE_POINT",
    "SAME_BAND",
    "SETTING_UP",
    "UNNAMED",
    "WHERE_READ",
    "AdjustmentSequence",
    "Aim",
    "Alias",
    "Difference",
    "JobPart",
    "Kind",
    "Least",
    "Level",
    "Model",
    "ModelNote",
    "ModelPoint",
    "Most",
    "OwnMeter",
    "PlanRow",
    "Plug",
    "PlugPin",
    "Revision",
    "Step",
    "StepPoint",
    "To",
    "differences",
    "gear_of",
    "kind_named",
    "kinds",
    "model_named",
    "models",
    "rated_in",
    "revision_of",
    "words_of_gear",
]
