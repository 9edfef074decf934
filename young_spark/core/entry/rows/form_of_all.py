"""How volts of a signal were read, said once for a row of stages: 'osc 3.2v pp, buffer 4.1, driver 11'. Without it the
stages behind the first would stand there with a steady voltage."""

import re

_ROW = re.compile(
    r"(?P<first>[a-z][\w /-]*? \d[\d.]* ?(?P<unit>m?v ?(?:pp|p-p|pk|peak|rms)))"
    r"(?P<others>(?:[,;] ?(?:and )?[a-z][\w /-]*? \d[\d.]*)+)"
)
_END = re.compile(r"(?<= )\d[\d.]*(?=$|[,;])")


def form_of_all(plain: str) -> str:
    """A folded text with the unit and the form of the first figure said of each."""
    found = _ROW.fullmatch(plain)
    if found is None:
        return plain
    return found["first"] + _END.sub(lambda figure: f"{figure[0]}{found['unit']}", found["others"])
