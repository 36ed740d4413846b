"""How estimated values count."""

from enum import StrEnum


class Policy(StrEnum):
    """How estimated values count; see adequacy.judge."""

    GRADED = "graded"
    STRICT = "strict"
    CAUTIOUS = "cautious"
