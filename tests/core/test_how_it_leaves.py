"""What the report says of figures that lie outside: of a limit, or only of what is typical of a kind."""

import pytest

from young_spark.core.figure import Verdict
from young_spark.core.job import story
from young_spark.core.job.compared import Comparison
from young_spark.core.judging import TYPICAL, VerdictLine


def left(name: str, profile: str) -> Comparison:
    line = VerdictLine(
        kind="specification", profile=profile, row="output", words="280 to 520 W", low=280.0, high=520.0, unit="W",
        verdict=Verdict.FAIL, source="", confidence="check", version="1",
    )  # fmt: skip
    return Comparison(
        row="output", name=name, where="", before=None, before_verdict=None, before_words="", after="760 W ± 48",
        after_verdict=Verdict.FAIL, after_words="Outside", limits=(line,),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("profile", "said"),
    [
        ("house-hf", "is outside a limit in: carrier power (760 W ± 48, outside)."),
        (TYPICAL, "Not as typical of its kind: carrier power (760 W ± 48); judge by what it is made for."),
    ],
)
def test_what_is_only_typical_is_no_limit(profile, said):
    drafted = story.draft("the linear", [], [left("Carrier power", profile)], (), [])
    text = next(sentence.text for sentence in drafted if sentence.section == "result")
    assert said in text and ("outside a limit in" in text) is (profile != TYPICAL)
