"""What hands write beside a figure of what it should be: '2.1w, want 4w', '60mv (not over 20mv allowed)', 'mod want 85,
got 62%'. Each is written as 'should be', 'should be under' or 'should be over', whichever it says."""

import re

from young_spark.core.entry.wording.typed_figures import FIGURE, unit_of

_UNDER = (
    r"(?:under|below|less than|lower than|no (?:more|higher|greater) than|not (?:over|above|more than)|at most|within"
    r"|<=?)"
)
_OVER = (
    r"(?:over|above|more than|greater than|higher than|no (?:less|lower) than|not (?:under|below|less than)|at least"
    r"|>=?)"
)
_BOUND = rf"(?:(?P<under>{_UNDER}|max(?:imum)?)|(?P<over>{_OVER}|min(?:imum)?)|(?P<better>better than|at best))"
_DUE = rf"(?P<figure>{FIGURE}(?: ?(?:\.\.|-|to|and) ?{FIGURE})?)"
# it should: these say it wherever they stand
_MODAL = (
    r"(?:(?:it |that |which )?(?:should|must|ought to|has to|needs to|(?:is )?supposed to|(?:is )?meant to)"
    r"(?: (?:be|read|show|stay|sit|stand|do|give|make|go))?|should)"
)
# and these only straight behind a figure, or at the head of what follows it
_HEAD = (
    r"(?:want(?:ed)?|needs?|requires?|required|due|expect(?:ed|ing)?|spec(?:ified)?|limit|target|nominal(?:ly)?|"
    r"normal(?:ly)?|usually|rated|typ(?:ical)?|(?:the )?(?:book|manual|sheet|data ?sheet|card)|aim(?:ing)?(?: for)?)"
)
_FILLER = r"(?: (?:is|says|said|gives|of|at|be|to be|for|value|that is|being))*"
_SAID = r"(?:wanted|due|needed|allowed|required|expected|permitted|acceptable|specified|spec)"
_MORE = r"(?:or (?:more|better|over|above)|at least|min(?:imum)?|\+|upwards?)"
_LESS = r"(?:or (?:less|under|below)|at most|max(?:imum)?|tops)"
_END = r"(?=$|[,;)]| [,;-])"

SHOULD = re.compile(
    rf"(?P<lead>[,;(-]* ?)(?<![\w])(?:{_MODAL})(?: {_BOUND})? ?{_DUE}"
    rf"(?: (?:(?P<more>{_MORE})|(?P<less>{_LESS})))?{_END}"
)
HEADED = re.compile(
    rf"(?<=[\w%])(?P<lead>,? ?[(;-] ?|, | )(?P<head>{_HEAD}){_FILLER}(?: {_BOUND})? ?{_DUE}"
    rf"(?: ?(?:(?P<more>{_MORE})|(?P<less>{_LESS})))?{_END}"
)
BOUNDED = re.compile(rf"(?<=[\w%])(?P<lead>,? ?[(;-] ?|, | ){_BOUND} ?{_DUE}(?: (?:is |was )?{_SAID}){_END}")
IN_BRACKETS = re.compile(rf"(?<=[\w%])(?P<lead> ?\( ?){_BOUND} ?{_DUE} ?(?=\))")
A_FIGURE = re.compile(rf"(?:^|[ (:=+-]){FIGURE}(?=$|[ ,;()/-])")
STRAIGHT_BEHIND = re.compile(rf"(?:^|[ (:=+-]){FIGURE}$")
LESS_IS_BETTER = re.compile(r"\b(?:v?swr|sens\w*|ripple|dist\w*|thd|esr|leak\w*|drift|err(?:or)?|noise)\b")
NO_MORE = {"limit"}  # heads that say the most by themselves
OF_A_HAND = re.compile(r"\b(?:was|were|had been|used to be) $")


IS = (
    r"(?:is|got|get(?:ting)?|reads?|reading|only|gives|shows|measures|measured|has|have|there is|actual(?:ly)?|now"
    r"|found|(?:it |that )?(?:is|was|reads|gives|shows|makes|does) only|see|saw)"
)
IN_FRONT = re.compile(
    rf"^(?P<name>(?:[a-z][\w]*[ :]+){{0,4}}?)(?:{_MODAL}|{_HEAD}{_FILLER})(?: {_BOUND})? {_DUE}[,;]?"
    rf" (?:but |and |it |that |i )*{IS}(?: at)? (?P<read>{FIGURE})(?P<rest>$|[ ,;].*$)"
)


CLAIMED = re.compile(
    rf"^(?P<name>(?:[a-z][\w]*[ :]+){{0,5}}?){_DUE}"
    r" (?:claimed|rated|stated|quoted|advertised|spec(?:ified|'d)?|wanted|due)[,;]?(?: but| it| that| and)*"
    rf" (?:{IS})(?: at)? (?P<read>{FIGURE})(?P<rest>$|[ ,;].*$)"
)


def due_said(plain: str) -> str:
    """A folded text with what is due said plainly, as it was typed where no figure stands before that."""
    for pattern in (CLAIMED, IN_FRONT):
        plain = pattern.sub(_behind_what_is_read, plain)
    for pattern in (SHOULD, HEADED, BOUNDED, IN_BRACKETS):
        plain = pattern.sub(_plainly, plain)
    return plain


def _behind_what_is_read(found: re.Match[str]) -> str:
    """'mod want 85, got 62%': what was read, and what it should be behind it."""
    told = found.groupdict()
    under, over = told.get("under"), told.get("over") or told.get("better")
    bound = " under" if under else " over" if over else ""
    return f"{told['name']}{told['read']} should be{bound} {told['figure']}{told['rest']}"


def _plainly(found: re.Match[str]) -> str:
    """'should be', with its bound; what was typed where nothing was read in front of it."""
    told, before = found.groupdict(), found.string[: found.start()]
    if A_FIGURE.search(before) is None or OF_A_HAND.search(before):
        return found[0]
    if _is_of_another_unit(told["figure"], before):
        return found[0]
    if told["lead"] == " " and told.get("head") and STRAIGHT_BEHIND.search(before) is None:
        return found[0]
    return f"{_stop(told['lead'])}should be{_bound(told, before)} {told['figure']}"


def _bound(told: dict[str, str | None], before: str) -> str:
    """' under' or ' over', where the most or the least is meant; 'better' is what is better of the figure in front."""
    if told.get("better") is not None or told.get("more") == "or better":
        return " under" if _counts_downwards(told["figure"] or "", before) else " over"
    if told.get("under") or told.get("less"):
        return " under"
    if told.get("over") or told.get("more"):
        return " over"
    return " under" if told.get("head") in NO_MORE else ""


def _is_of_another_unit(due: str, before: str) -> bool:
    """'127.500 +300hz, spec 5ppm': whether no figure in front of it could be held against it."""
    mine, theirs = unit_of(due), {unit_of(last.strip(" (:=")) for last in A_FIGURE.findall(before)}
    return mine in {"ppm", "c"} and mine not in theirs


def _counts_downwards(due: str, before: str) -> bool:
    """Whether less of it is better: harmonics, what a receiver needs, an SWR."""
    last = A_FIGURE.findall(before)[-1]
    unit = unit_of(due) or unit_of(last.strip(" (:="))
    named = LESS_IS_BETTER.search(before) is not None
    return unit in {"uv", "dbc", "dbm"} or due.startswith("-") or "-" in last or named


def _stop(lead: str) -> str:
    """What parts it from the figure: a bracket stands, anything else is a blank."""
    return " (" if "(" in lead else " "
