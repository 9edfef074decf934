"""What every room stands on: what is refused, how data files are read, the frozen base of all values."""

from young_spark.core.ground.errors import BadKnowledge, CoreError, OutOfDomain, UnknownName, nearest
from young_spark.core.ground.frozen import Frozen
from young_spark.core.ground.knowledge import SHIPPED, load, parse, shipped, shipped_text
from young_spark.core.ground.plain_json import NoPlainJson, plain_json
from young_spark.core.ground.zip_damage import ZIP_DAMAGE

__all__ = [
    "SHIPPED",
    "ZIP_DAMAGE",
    "BadKnowledge",
    "CoreError",
    "Frozen",
    "NoPlainJson",
    "OutOfDomain",
    "UnknownName",
    "load",
    "nearest",
    "parse",
    "plain_json",
    "shipped",
    "shipped_text",
]
