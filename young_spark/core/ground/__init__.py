"""What every room stands on: what is refused, how data files are read and edited, the frozen base of all values."""

from young_spark.core.ground.edit_table import (
    EditColumn,
    EditRow,
    EditTable,
    changed,
    differences,
    table_of,
    taken_off,
    with_another,
)
from young_spark.core.ground.edited_text import Plain
from young_spark.core.ground.errors import BadKnowledge, CoreError, OutOfDomain, UnknownName, nearest
from young_spark.core.ground.frozen import Frozen
from young_spark.core.ground.knowledge import SHIPPED, load, parse, shipped, shipped_text
from young_spark.core.ground.needed_letters import needed_letters
from young_spark.core.ground.once_for_each import once_for_each
from young_spark.core.ground.plain_json import NoPlainJson, plain_json
from young_spark.core.ground.slips import is_slip
from young_spark.core.ground.spelling import Spelling, english
from young_spark.core.ground.zip_damage import ZIP_DAMAGE

__all__ = [
    "SHIPPED",
    "ZIP_DAMAGE",
    "BadKnowledge",
    "CoreError",
    "EditColumn",
    "EditRow",
    "EditTable",
    "Frozen",
    "NoPlainJson",
    "OutOfDomain",
    "Plain",
    "Spelling",
    "UnknownName",
    "changed",
    "differences",
    "english",
    "is_slip",
    "load",
    "nearest",
    "needed_letters",
    "once_for_each",
    "parse",
    "plain_json",
    "shipped",
    "shipped_text",
    "table_of",
    "taken_off",
    "with_another",
]
