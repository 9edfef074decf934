"""What a test in which nothing failed rules out: a fault that shows in a share p of the tries stays away in all n of
them with probability (1 − p)ⁿ."""

import math
import re

CERTAIN = 0.99
SELDOM = 100  # a fault that shows once in so many
_DONE = (
    r"tapp?(?:ed|s)?|flex(?:ed)?|key(?:ed|s|downs?)?|key[- ]downs?|keyings?|tries|times|cycles|power ups?"
    r"|switch(?:ed)? on|bumps?|shakes?|wiggles?|tunes?|presses|starts|attempts|goes|operations|closures"
)
_NO_COUNT = r"(?<!pin )(?<!pins )(?<!ch )(?<!channel )(?<!no )(?<!number )"  # 'cleaned pin 7 ok'
_WELL = (
    r"(?:all )?(?:ok|okay|good|fine|well)|(?:all|they) (?:held|released|passed|worked|keyed|came up|clean)|held"
    r"|(?:none|never) (?:failed|missed|stuck|dropped)"
    r"|no (?:fails?|failures?|faults?|troubles?|problems?|drop(?:outs?)?|change)|nothing"
    r"|without (?:a )?(?:fail(?:ure)?|fault|drop)|steady|stable|solid"
)
TEST = re.compile(
    rf"\b(?:(?:{_DONE}) )?{_NO_COUNT}(?P<tries>\d{{1,4}})(?: ?x| times| (?:{_DONE}))?"
    rf"(?: [\w ]{{0,30}}?)?,? ?(?:{_WELL})\b"
)
NAMES_A_TEST = re.compile(rf"\b(?:{_DONE})\b")


def share_ruled_out(tries: int) -> float:
    """The least share of tries in which a fault would have to show for CERTAIN certainty that it had; of n tries
    1 − (1 − certainty)^(1/n). Raises ValueError for no tries."""
    if tries < 1:
        raise ValueError("no tries rule out nothing")
    return float(1 - (1 - CERTAIN) ** (1 / tries))


def tries_needed(once_in: float) -> int:
    """How many tries without a failure rule out a fault that shows once in so many."""
    return math.ceil(math.log(1 - CERTAIN) / math.log(1 - 1 / once_in))


def tries_in(plain: str) -> int | None:
    """How many tries a text says went well, or None: '20 taps ok', 'keyed 30 times no fail'."""
    told = TEST.search(plain)
    if told is None or NAMES_A_TEST.search(plain) is None or int(told["tries"]) < 1:
        return None
    return int(told["tries"])


def what_it_rules_out(tries: int) -> str:
    """What so many tries without a failure rule out, and what they do not."""
    once_in = 1 / share_ruled_out(tries)
    most = max(1, math.floor(once_in))
    shows = "every time" if most == 1 else f"once in {most}"
    if once_in >= SELDOM:
        return f"{tries} without a failure: a fault that shows {shows} would have shown, with 99 % certainty"
    return (
        f"{tries} without a failure: a fault that shows {shows} would have shown, with 99 % certainty; "
        f"one that shows once in {SELDOM} needs {tries_needed(SELDOM)} tries and is not excluded"
    )
