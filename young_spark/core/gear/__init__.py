"""What is on the bench: models, their plans, points and notes."""

from young_spark.core.gear.model import OF_THE_POINT, JobPart, Model, ModelNote, ModelPoint, PlanRow, models

__all__ = [
    "OF_THE_POINT",
    "JobPart",
    "Model",
    "ModelNote",
    "ModelPoint",
    "PlanRow",
    "models",
]
