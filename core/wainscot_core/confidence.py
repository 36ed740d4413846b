"""How sure a published or recalled value is."""

from enum import StrEnum


class Confidence(StrEnum):
    """How sure a value is; UNSAID where its source says nothing of it."""

    HIGH = "high"
    MEDIUM = "medium"
    LOW = "low"
    UNSAID = ""
