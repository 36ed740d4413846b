"""Foods that cannot be had or used, and why."""

from dataclasses import dataclass
from enum import StrEnum


class Mark(StrEnum):
    """Why a food is not to be had or used."""

    UNAVAILABLE = "unavailable"
    CANNOT_GET = "cannot-get"
    WILL_NOT_USE = "will-not-use"
    SAID_IN_FILE = "said"


_WORDS = {
    Mark.UNAVAILABLE: "it cannot be had now",
    Mark.CANNOT_GET: "the owner cannot get it",
    Mark.WILL_NOT_USE: "the owner will not use it",
}


def mark_said(words: str) -> Mark:
    """The mark that words of a case file are; what is none of ours is that the owner cannot get it."""
    return next((mark for mark, ours in _WORDS.items() if ours == words), Mark.CANNOT_GET)


@dataclass(frozen=True)
class FoodMark:
    """A food that cannot be had or used, and the reason in words where one was given."""

    food: str
    mark: Mark
    words: str = ""

    @property
    def why(self) -> str:
        """The reason in words."""
        return self.words or _WORDS.get(self.mark, "cannot be used")
