"""The path from a unit to its load and instruments: losses, levels at each node, what it stands and what guards it."""

from young_spark.core.path.duty import Duty
from young_spark.core.path.node_levels import MEAN_AND_CREST, Drive, Levels, Node, PathState, driven_by, levels
from young_spark.core.path.parts import padded_part, part_classes, typical_part, with_pad
from young_spark.core.path.signal_path import (
    BadPath,
    Correction,
    LossTo,
    Path,
    PathPart,
    correction,
    loss_to,
    path_of,
    place_of,
    read_path,
    walk,
)

__all__ = [
    "MEAN_AND_CREST",
    "BadPath",
    "Correction",
    "Drive",
    "Duty",
    "Levels",
    "LossTo",
    "Node",
    "Path",
    "PathPart",
    "PathState",
    "correction",
    "driven_by",
    "guard",
    "levels",
    "loss_to",
    "padded_part",
    "part_classes",
    "path_of",
    "place_of",
    "read_path",
    "typical_part",
    "walk",
    "with_pad",
]
