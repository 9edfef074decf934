"""A reading held against what is due, and by whose word: limit profiles, channel plans, a modified selector."""

from young_spark.core.judging.as_told import Due, judged_as_told
from young_spark.core.judging.channels import Channel, ChannelPlan, channel_plans
from young_spark.core.judging.contradictions import Healthy, contradictions
from young_spark.core.judging.limit_tables import channel_table, limit_tables
from young_spark.core.judging.limits import (
    CHECK_LOCALLY,
    OUTSIDE,
    TOLD,
    TYPICAL,
    Refusal,
    Situation,
    VerdictLine,
    applies,
    judge_reading,
    resolve,
    verdict_by,
    verdict_sentence,
    verdict_words,
    worst,
)
from young_spark.core.judging.profile import Applies, FormulaRow, MaskRow, Profile, RangeRow, Row, profiles, row_words
from young_spark.core.judging.selector import BadSelector, mapped, read_selector

__all__ = [
    "CHECK_LOCALLY",
    "OUTSIDE",
    "TOLD",
    "TYPICAL",
    "Applies",
    "BadSelector",
    "Channel",
    "ChannelPlan",
    "Due",
    "FormulaRow",
    "Healthy",
    "MaskRow",
    "Profile",
    "RangeRow",
    "Refusal",
    "Row",
    "Situation",
    "VerdictLine",
    "applies",
    "channel_plans",
    "channel_table",
    "contradictions",
    "judge_reading",
    "judged_as_told",
    "limit_tables",
    "mapped",
    "profiles",
    "read_selector",
    "resolve",
    "row_words",
    "verdict_by",
    "verdict_sentence",
    "verdict_words",
    "worst",
]
