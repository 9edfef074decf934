"""Whether a breath is believed: a sure and wrong reading is the worst that the field can give."""

import math
import re

from young_spark.core.entry.meaning import EntryContext
from young_spark.core.entry.said import Breath, Said
from young_spark.core.figure import Conditions

# words that turn a figure into something that was not read: what is due, rated, set, fitted, or only told of
NOT_A_READING = re.compile(
    r"(?<![\w])(should|book|says?|said|rated|rating|type|limit|limits|setting|ratio|scale|knob|fuse|trips?|fitted|"
    r"serial|page|photo|pin|pins|before|reckons|promised|supposed|was|were|try|compare|tap|turns|started|till|until|"
    r"why|what|which|how|if|when|comes? in|folds|arcs|up to|expect|want|wants|need|needs|lamp|quid|hours?|oclock|"
    r"with|without|noise|reg|pad|own|bench|not|sorry|meter|probe|marked|meas|zener|circuit)(?![\w])"
)
# what may stand beside a figure without changing what it is; any other word is asked about
HARMLESS = {
    "now", "still", "again", "today", "slowly", "slow", "rising", "rises", "falling", "steady", "steadily", "wide",
    "dc", "drops", "back", "same", "clean", "sticks", "flickers", "wanders", "meter", "needle", "bit", "rise", "warms",
    "settles", "after", "noisy", "jumpy", "moves", "creeping", "up", "down", "quickly", "then", "led", "overmods",
    "reads", "right",
}  # fmt: skip
LONGEST_REMARK = 4  # words; more of them than that say something of their own
# what a quantity can be at all, at rest or not; then what a unit can
POSSIBLE = {
    ("supply_current", True): (0.0, 3.0), ("supply_voltage", False): (3.0, 60.0), ("supply_voltage", True): (3.0, 60.0),
    ("swr", False): (1.0, 50.0), ("adjacent_channel_power", False): (0.0, 1.0),
}  # fmt: skip
OF_A_UNIT = {"W": (1e-9, 1e5), "%": (-400.0, 400.0), "A": (-1e3, 1e3), "V": (-1e5, 1e5)}
FARTHEST_OVER = 1.5  # of what the unit can give at most


def has_figure(plain: str) -> bool:
    """Whether a folded text holds any figure."""
    return re.search(r"\d", plain) is not None


def is_short_of_a_figure(plain: str) -> bool:
    """Whether a text without a figure is one or two words of a quantity: then it is asked which figure."""
    return len(plain.split()) <= 2


def is_believable(breath: Breath, plain: str, context: EntryContext) -> bool:
    """Whether every reading of a breath may be taken without asking."""
    remark = breath.remark.split()
    if len(remark) > LONGEST_REMARK or NOT_A_READING.search(plain) or not set(remark) <= HARMLESS:
        return False
    if not all(_is_spoken(said) and _is_possible(said, context) for said in breath.said):
        return False
    return _tells_apart(breath)


def _is_spoken(said: Said) -> bool:
    return said.quantity is not None


def _is_possible(said: Said, context: EntryContext) -> bool:
    value = said.value if said.value is not None else said.high
    if value is None:
        return True
    most = context.greatest_power_w
    if said.unit == "W" and most is not None and value > FARTHEST_OVER * most:
        return False
    at_rest = said.address.get("state") in {"standby", "receive"}
    low, high = POSSIBLE.get((said.quantity or "", at_rest), OF_A_UNIT.get(said.unit, (-math.inf, math.inf)))
    return low <= value <= high


def _tells_apart(breath: Breath) -> bool:
    """No two readings of one quantity stand at the same place."""
    seen: set[tuple[object, ...]] = set()
    for said in breath.said:
        where = tuple(sorted((k, str(v)) for k, v in said.address.items() if k in Conditions.model_fields))
        key = (said.quantity, where)
        if key in seen:
            return False
        seen.add(key)
    return True
