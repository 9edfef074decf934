"""What was asked of the bench process and is awaited: it answers under the id of the request."""

import queue
from collections.abc import Callable
from typing import Generic, TypeVar

from young_spark.server.problems import Refused
from young_spark.wire import AskTrace, Traced, Tried, TryLine

Asked = TypeVar("Asked", AskTrace, TryLine)
Answer = TypeVar("Answer", Traced, Tried)


class Requests(Generic[Asked, Answer]):
    """Requests of one kind, each awaited in the thread that asked; `what` names it in a refusal."""

    def __init__(self, what: str, patience_s: float) -> None:
        self.what, self.patience_s = what, patience_s
        self._waiting: dict[str, queue.SimpleQueue[Answer]] = {}

    def ask(self, order: Callable[[Asked], None], asked: Asked) -> Answer:
        """Have it done, and wait for the answer. Raises Refused with why there is none."""
        waiting = self._waiting[asked.id] = queue.SimpleQueue()
        try:
            order(asked)
            answer = waiting.get(timeout=self.patience_s)
        except queue.Empty:
            raise Refused(f"No {self.what} within {self.patience_s:g} s.") from None
        finally:
            del self._waiting[asked.id]
        if answer.sentence:
            raise Refused(f"No {self.what}: {answer.sentence}.")
        return answer

    def answered(self, answer: Answer) -> None:
        """Hand an answer to who waits for it; nobody does any more where it came late."""
        if (waiting := self._waiting.get(answer.id)) is not None:
            waiting.put(answer)
