"""Traces that were asked for and are awaited: the bench process answers under the id of the request."""

import queue
import uuid
from collections.abc import Callable

from young_spark.server.problems import Refused
from young_spark.wire import AskTrace, Traced

TRACE_S = 8.0  # a sweep takes its time


class TraceRequests:
    """Each waits in the thread that asked."""

    def __init__(self) -> None:
        self._waiting: dict[str, queue.SimpleQueue[Traced]] = {}

    def ask(self, order: Callable[[AskTrace], None], instrument: str, name: str) -> Traced:
        """Have an instrument hand over a trace, and wait for it. Raises Refused with why there is none."""
        trace_id = str(uuid.uuid4())
        answer = self._waiting[trace_id] = queue.SimpleQueue()
        try:
            order(AskTrace(id=trace_id, instrument=instrument, trace=name))
            traced = answer.get(timeout=TRACE_S)
        except queue.Empty:
            raise Refused(f"No trace within {TRACE_S:g} s.") from None
        finally:
            del self._waiting[trace_id]
        if traced.sentence:
            raise Refused(f"No trace: {traced.sentence}.")
        return traced

    def answered(self, traced: Traced) -> None:
        """Hand an answer to who waits for it; nobody does any more where it came late."""
        if (waiting := self._waiting.get(traced.id)) is not None:
            waiting.put(traced)
