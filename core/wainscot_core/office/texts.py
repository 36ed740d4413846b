"""Texts that a practice writes again and again, with places for whom they are about."""

import re
from collections.abc import Mapping
from enum import StrEnum

from ..errors import InputError


class Mark(StrEnum):
    """What may stand in braces."""

    DOG = "dog"
    OWNER = "owner"
    PRACTICE = "practice"
    CONSULTANT = "consultant"
    TODAY = "today"


_PLACE = re.compile(r"\{([^{}\n]*)\}")


def check_text(text: str) -> str:
    """A text whose every place is known. Raises InputError naming the first that is not."""
    for found in _PLACE.finditer(text):
        if found[1] not in set(Mark):
            known = ", ".join(f"{{{m}}}" for m in Mark)
            raise InputError("text", f"{found[0]} is no place that is filled; there are {known}")
    return text


def filled(text: str, facts: Mapping[Mark, str]) -> str:
    """A text with its places filled. What is not known stays as it stands, to be seen and filled by hand."""

    def place(found: re.Match[str]) -> str:
        if found[1] not in set(Mark):
            return found[0]
        return facts.get(Mark(found[1])) or found[0]

    return _PLACE.sub(place, text)
