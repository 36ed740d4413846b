"""Whose turn it is: practices by turns, so that nobody's long work holds up another's short one."""

from collections import Counter, OrderedDict, deque
from dataclasses import dataclass, field
from typing import Generic, TypeVar

T = TypeVar("T")


@dataclass
class FairQueue(Generic[T]):
    """Work of several practices for a few places. at_once: how many places there are; each: how many of them one practice
    may have, however empty the others are, so that another finds one free."""

    at_once: int
    each: int
    _waiting: OrderedDict[int, deque[T]] = field(default_factory=OrderedDict)
    _running: Counter[int] = field(default_factory=Counter)

    def put(self, practice: int, work: T) -> None:
        """Stand in line."""
        self._waiting.setdefault(practice, deque()).append(work)

    def take(self) -> tuple[int, T] | None:
        """The next that may run, of the practice that waited longest for its turn; None when none may. Its place is free
        again by `done`."""
        if self._running.total() >= self.at_once:
            return None
        for practice, line in self._waiting.items():
            if self._running[practice] < self.each:
                work = line.popleft()
                self._waiting.move_to_end(practice)
                if not line:
                    del self._waiting[practice]
                self._running[practice] += 1
                return practice, work
        return None

    def done(self, practice: int) -> None:
        """What this practice took has ended."""
        self._running[practice] -= 1

    def drop(self, practice: int, work: T) -> bool:
        """Leave the line; whether it still stood there."""
        line = self._waiting.get(practice)
        if line is None or work not in line:
            return False
        line.remove(work)
        if not line:
            del self._waiting[practice]
        return True

    def waiting(self, practice: int) -> int:
        """How many of a practice stand in line."""
        return len(self._waiting.get(practice, ()))
