"""What is said of having and using a food: that it can be had, must be ordered, cannot be had or used."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum


class Mark(StrEnum):
    """What is said of a food. special-order: it can be had, days after it is ordered."""

    CAN_GET = "can-get"
    SPECIAL_ORDER = "special-order"
    UNAVAILABLE = "unavailable"
    CANNOT_GET = "cannot-get"
    WILL_NOT_USE = "will-not-use"
    SAID_IN_FILE = "said"

    @property
    def keeps_out(self) -> bool:
        """Whether a food with it is not brought up."""
        return self not in {Mark.CAN_GET, Mark.SPECIAL_ORDER}


_WORDS = {
    Mark.CAN_GET: "the owner can get it",
    Mark.SPECIAL_ORDER: "the owner has to order it",
    Mark.UNAVAILABLE: "it cannot be had now",
    Mark.CANNOT_GET: "the owner cannot get it",
    Mark.WILL_NOT_USE: "the owner will not use it",
}


def mark_said(words: str) -> Mark:
    """The mark that words of a case file are; what is none of ours is that the owner cannot get it."""
    ours = (mark for mark, said in _WORDS.items() if said == words and mark.keeps_out)
    return next(ours, Mark.CANNOT_GET)


@dataclass(frozen=True)
class FoodMark:
    """What is said of a food, and the reason in words where one was given. days: how long before it must be ordered,
    None where that is not known."""

    food: str
    mark: Mark
    words: str = ""
    days: int | None = None

    @property
    def why(self) -> str:
        """The reason in words."""
        said = self.words or _WORDS.get(self.mark, "cannot be used")
        if self.days is None:
            return said
        return f"{said} {self.days} {'day' if self.days == 1 else 'days'} before"


def gravest(marks: Iterable[FoodMark], food: str) -> FoodMark | None:
    """What counts of all that is said of a food: what keeps it out, then that it must be ordered; None where nothing is."""
    mine = [m for m in marks if m.food == food]
    mine.sort(key=lambda m: (not m.mark.keeps_out, m.mark is Mark.CAN_GET))
    return mine[0] if mine else None
