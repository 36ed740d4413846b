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
