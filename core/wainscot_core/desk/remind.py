"""What an owner is reminded of, in words to her."""

from dataclasses import dataclass

from ..errors import InputError
from .due import DueKind


@dataclass(frozen=True, kw_only=True)
class Reminder:
    """A message: its subject and text."""

    subject: str
    text: str


# What the owner does herself, and can be reminded of.
_WORDS = {
    DueKind.WEIGH: (
        "Time to weigh {dog}",
        "it is time to weigh {dog}: on the same scale at the same hour, before food. {how}",
    ),
    DueKind.COOK: (
        "Time to cook for {dog}",
        "what is cooked for {dog} will soon be eaten up: please plan the next batch.",
    ),
    DueKind.SHEET: (
        "About {dog}",
        "we wait for what you can tell us about {dog}. {how}",
    ),
}
CAN_REMIND = frozenset(_WORDS)


def reminder(kind: DueKind, dog: str, client: str, practice: str, form: bool) -> Reminder:
    """What is written to an owner. form: the message leads to the form in which she puts it down. Raises InputError for what
    is not hers to do."""
    if kind not in _WORDS:
        raise InputError("kind", "is not the owner's to do")
    subject, words = _WORDS[kind]
    how = "Put it down by the link of this message." if form else "Then tell us."
    said = words.format(dog=dog, how=how)
    return Reminder(
        subject=subject.format(dog=dog), text=f"Hello {client},\n\n{said}\n\nIf {dog} is unwell, ask your veterinarian first.\n\n{practice}"
    )  # fmt: skip
