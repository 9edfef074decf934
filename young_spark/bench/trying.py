"""A line tried by hand: what is sent goes out as it was typed, and what comes back is told as it came."""

import time

from young_spark.bench.open_line import LineFault, OpenLine, refused
from young_spark.core.live import NotAFigure
from young_spark.wire import Tried, TryLine

LONGEST_ANSWER = 2000  # signs that are shown
MOST_OF_A_BLOCK = 64


def tried_anew(order: TryLine, address: str) -> Tried:
    """Open the line only for this, and close it."""
    try:
        line = OpenLine(address, order.manner)
    except LineFault as fault:
        return Tried(id=order.id, sentence=fault.sentence)
    try:
        return tried_on(line, order)
    except LineFault as fault:
        return Tried(id=order.id, sentence=refused(address) or fault.sentence)
    finally:
        line.close()


def tried_on(line: OpenLine, order: TryLine) -> Tried:
    """Send it on an open line, and hear as many answers as are wanted. Raises LineFault."""
    began = time.monotonic()
    if order.form == "none":
        line.send(order.words)
        return Tried(id=order.id)
    answers = tuple(_answer(line, order) for _ in range(order.times))
    return Tried(id=order.id, answers=answers, took_s=(time.monotonic() - began) / order.times)


def _answer(line: OpenLine, order: TryLine) -> str:
    if order.form == "text":
        return line.ask(order.words)[:LONGEST_ANSWER].rstrip("\r\n")
    with line.guarded():
        block = line.ask_block(order.words)
        if not block:
            raise NotAFigure("an empty block")
        return ",".join(f"{value:.9g}" for value in block[:MOST_OF_A_BLOCK])
