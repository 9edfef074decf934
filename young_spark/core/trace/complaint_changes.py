"""What brings a fault about or takes it away, in the words of owners: a hand on something, or warmth and time."""

import re
from functools import cache, cached_property

from young_spark.core.ground import SHIPPED, Frozen, load
from young_spark.core.trace.chain import Chain, Probe

# a hand on something; 'turned on' and 'moved house' are none, since what is touched stands beside the word
_HAND = (
    r"(?:tap(?:s|ped|ping)?|knock(?:s|ed|ing)?|hit(?:s|ting)?|bump\w*|thump\w*|slap\w*|bang(?:s|ed|ing)?"
    r"|bend(?:s|ing)?"
    r"|bent|mov(?:e|es|ed|ing)|wiggl\w+|waggl\w+|jiggl\w+|twist\w*|touch\w*|press(?:es|ed|ing)?|flex\w*|push\w*"
    r"|shak(?:e|es|en|ing)|rock(?:s|ed|ing)?|squeez\w*|lean\w*|pinch\w*|hold(?:s|ing)?)"
)
_TURNED = r"(?:pull(?:s|ed|ing)?|work(?:ed|ing)?|turn(?:s|ed|ing)?)"  # of a control or a lead, never of the whole set
_BETWEEN = r"(?: (?!and\b|but\b|then\b|it\b(?! on the\b)|on\b(?! the\b)|off\b)[a-z]+){0,3}?"
# what it does then, or that it does so only now and then
_CHANGES = re.compile(
    r"\b(?:jumps?|cuts?(?: in and)? out|comes? (?:and goes?|back|right|up|alive)|goes? (?:dead|off|out|away|low"
    r"|silent)"
    r"|in and out|drops?|dies|returns?|crackl\w+|intermittent\w*|sometimes|now and (?:then|again)|on and off"
    r"|only (?:if|when)"
    r"|must be|has to be|needs? (?:a|to be)|better|helps?|cures?|fix(?:es)?|brings? it|flickers?"
    r"|and it (?:works|transmits|plays|talks|receives|is back)|changes"
    r"|disappears?|until"
    r"|unless|loses|lost|(?:when|if|as soon as|once|whenever))\b"
)
_NOTHING_CHANGES = re.compile(
    r"\b(?:no (?:change|difference|effect)|nothing (?:changes|happens)|does(?:n'?t| not) (?:help|change|matter)"
    r"|not (?:by|with) )"
)
_A_TIME = (
    r"(?:long |short |\d+(?:\.\d+)? ?|a |an |some |few |several |half |quarter |the first |[a-z]+ )*(?:minutes?"
    r"|mins?|seconds?|secs?|s|hours?|while|bit|overs?|transmissions?|talk)"
)
_AFTER_A_TIME = re.compile(rf"\b(?:after|within|over|for|in) (?:about |only |of )?{_A_TIME}\b")
_WARMTH = re.compile(
    r"\b(?:(?:as|when|once|until) (?:it |the \w+ )?(?:is |gets |has )?(?:warm\w*|hot|heat\w*)|warmed up"
    r"|heats up|warms up|gets? (?:\w+ )?hot and"
    r"|thermal\w*|cold\b.{0,60}\b(?:warm|hot|after)|(?:warm|hot)\b.{0,60}\bcold)\b"
)
_FOR_A_TIME_ONLY = re.compile(rf"\bfor (?:only |just |about )*{_A_TIME} only\b|\bonly for (?:about )?{_A_TIME}\b")
_FALLS = re.compile(
    r"\b(?:fad(?:es?|ed|ing)|sinks?|falls?|fell|drops?|dropped|folds?|dies|died|gone|goes? (?:dead|down|off|low"
    r"|away|quiet)"
    r"|shuts? (?:down|off)|cuts? (?:out|off|back|down|(?:its )?power)|quits?|stops?|stopped|sags?|weak|weaker|less"
    r"|slumps?|disappears?"
    r"|comes? (?:back|again)|backs? off|down to|to (?:nothing|zero|\d+(?:\.\d+)? ?w(?:atts?)?)|cold)\b"
)
_FREQUENCY = re.compile(r"\b(?:drifts?|off (?:channel|frequency|freq)|frequency|lock|unlocks?)\b")


class Touched(Frozen):
    """What a hand touches: patterns for it, and the probes that do the same, in order of choice."""

    words: tuple[str, ...]
    probes: tuple[str, ...]
    of: str = ""  # a word that stands beside it
    whole: bool = False  # the set itself: it is tapped, and whoever turns it on does not touch it

    def is_in(self, clause: str) -> bool:
        """Whether a clause speaks of a hand on it."""
        beside = not self.of or re.search(rf"\b{self.of}\b", clause) is not None
        return beside and self.pattern.search(clause) is not None

    @cached_property
    def pattern(self) -> re.Pattern[str]:
        """A hand on it, named before it or behind it."""
        thing = rf"(?:{'|'.join(self.words)})"
        hand = _HAND if self.whole else rf"(?:{_HAND}|{_TURNED})"
        return re.compile(
            rf"\b(?:{hand}{_BETWEEN} {thing}|{thing}(?: is| gets| be| has been| was)?{_BETWEEN} {hand})\b"
        )


class TouchedFile(Frozen):
    """The data file."""

    touched: tuple[Touched, ...]


@cache
def touched() -> tuple[Touched, ...]:
    """What owners touch, as shipped."""
    return load(SHIPPED / "complaint_touched.toml", TouchedFile).touched


def of_a_hand(chain: Chain, clause: str, whole: str) -> tuple[Probe, str] | None:
    """What a clause says a hand does, here or in the rest of what is told: 'jumps when I knock the case'."""
    nothing = _NOTHING_CHANGES.search(clause) is not None
    if not nothing and _CHANGES.search(whole) is None:
        return None
    thing = next((thing for thing in touched() if thing.is_in(clause)), None)
    probe = next((chain.by_probe[p] for p in thing.probes if p in chain.by_probe), None) if thing is not None else None
    return (probe, "no_change" if nothing else "changes") if probe is not None else None


def fades(plain: str) -> bool:
    """Whether a text says that it goes down with time or warmth."""
    if _FOR_A_TIME_ONLY.search(plain):
        return True
    warm = _AFTER_A_TIME.search(plain) or _WARMTH.search(plain)
    return warm is not None and _FALLS.search(plain) is not None and _FREQUENCY.search(plain) is None
