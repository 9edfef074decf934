"""What a text must hold before a pattern is worth trying: a long list of patterns is gone through many times a line."""

SIGNS = frozenset("\\^$.|?*+()[]{}")
QUANTIFIERS = frozenset("?*+{")


def needed_letters(pattern: str) -> str:
    """The longest run of letters and spaces that stands in every text that the pattern finds; empty where none must.

    Only what stands outside of brackets is looked at, and nothing of a pattern of several ways."""
    runs, run, depth, at = [""], "", 0, 0
    while at < len(pattern):
        sign = pattern[at]
        if depth == 0 and sign == "|":
            return ""
        if sign not in SIGNS:
            run = run + sign if depth == 0 else run
            at += 1
            continue
        if sign in QUANTIFIERS:
            run = run[:-1]  # the last letter may be missing
        runs.append(run)
        run = ""
        if sign == "[":
            at = _end_of_set(pattern, at)
        elif sign == "{":
            at = pattern.index("}", at)
        else:
            depth += {"(": 1, ")": -1}.get(sign, 0)
        at += 2 if sign == "\\" else 1
    return max((*runs, run), key=len)


def _end_of_set(pattern: str, at: int) -> int:
    """Where the set of signs ends that begins here."""
    at += 2 if pattern.startswith("[^", at) else 1
    at += pattern.startswith("]", at)  # at the beginning it is one of the signs
    while pattern[at] != "]":
        at += 2 if pattern[at] == "\\" else 1
    return at
