"""What the core refuses, one class a cause, each with a stable code."""

from collections.abc import Iterable


class CoreError(ValueError):
    """Base of everything the core refuses; str() is one sentence for the person at the bench."""

    code = "refused"


class OutOfDomain(CoreError):
    """A quantity lies outside the range its formula is defined on."""

    code = "out_of_domain"

    def __init__(self, name: str, value: float, unit: str, allowed: str) -> None:
        super().__init__(name, value, unit, allowed)  # same arguments, so it survives pickling
        self.name, self.value, self.unit, self.allowed = name, value, unit, allowed

    def __str__(self) -> str:
        return f"{self.name} is {self.value:g} {self.unit}; expected {self.allowed}"


class BadKnowledge(CoreError):
    """A data file cannot be used; carries the file and every problem found in it."""

    code = "bad_knowledge"

    def __init__(self, file: str, problems: tuple[str, ...]) -> None:
        super().__init__(file, problems)
        self.file, self.problems = file, problems

    def __str__(self) -> str:
        return f"{self.file}: " + "; ".join(self.problems)


class UnknownName(CoreError):
    """A name that is in no list; suggests the nearest that is."""

    code = "unknown_name"

    def __init__(self, kind: str, name: str, suggestion: str | None) -> None:
        super().__init__(kind, name, suggestion)
        self.kind, self.name, self.suggestion = kind, name, suggestion

    def __str__(self) -> str:
        hint = f"; did you mean {self.suggestion!r}?" if self.suggestion else ""
        return f"no {self.kind} is called {self.name!r}{hint}"


def nearest(name: str, known: Iterable[str]) -> str | None:
    """The name in a list that a mistyped one is nearest to, or None."""
    import difflib  # costs start-up, and is wanted only where something is wrong

    return next(iter(difflib.get_close_matches(name, list(known), n=1)), None)
