"""Sums of money, exact: read as people write them, never by way of a binary fraction."""

import re
from decimal import ROUND_HALF_UP, Decimal
from typing import Annotated, Any

from pydantic import BeforeValidator, Field, WithJsonSchema

from ..errors import InputError

CENT = Decimal("0.01")
MOST = Decimal(10_000_000)
_SIGNED = re.compile(r"(?P<minus>[-−]?)\s*(?P<digits>\d[\d.,'\s]*|[.,]\d+)")
_CURRENCY = re.compile(r"[A-Z]{3}|[$€£]")


def read_amount(text: str, decimals: int = 2, grouped: bool = True) -> Decimal:
    """A sum or a count as people write it: "85", "85,50", "$1,250.00", "1 250". decimals: as many as it may have;
    grouped: thousands may be parted, so that a lone mark before three figures can mean two sums. What `str` makes of a Decimal
    reads as the same. Raises
    InputError for what is none, and for marks that can mean two sums ("1,250")."""
    plain = _CURRENCY.sub("", text).strip().replace("\u202f", " ").replace("\u00a0", " ")
    found = _SIGNED.fullmatch(plain)
    if found is None:
        raise InputError("", f"cannot read {text!r} as a number; write for example 85 or 85.50")
    whole, part = _split(text, re.sub(r"[\s']", "", found["digits"]), grouped)
    if len(part) > decimals:
        raise InputError("", f"{text} has more than {decimals} places behind the point")
    value = Decimal(f"{whole}.{part}" if part else whole)
    if value > MOST:
        raise InputError("", f"is more than {MOST:,}")
    return -value if found["minus"] else value


def _split(text: str, digits: str, grouped: bool) -> tuple[str, str]:
    """What stands before the decimal mark, and behind it."""
    marks = [c for c in digits if c in ".,"]
    if not marks:
        return digits, ""
    last = marks[-1]
    head, tail = digits.rsplit(last, 1)
    if len(marks) == 1:
        if grouped and len(tail) == 3 and head not in ("", "0"):
            raise InputError(
                "",
                f"{text} can be {head}{tail} or {head}.{tail}: leave the mark out, or write all places",
            )
        return head or "0", tail
    groups = re.split(r"[.,]", head)
    if last in marks[:-1]:
        # Every mark is the same: they part thousands, and there are no places behind.
        groups, tail = re.split(r"[.,]", digits), ""
    if len(set(marks)) > 2 or any(len(g) != 3 for g in groups[1:]) or not 1 <= len(groups[0]) <= 3:
        raise InputError("", f"cannot read {text!r} as a number; write for example 1250.00")
    return "".join(groups), tail


def _read(decimals: int, grouped: bool = True) -> BeforeValidator:
    def read(value: Any) -> Any:
        if isinstance(value, Decimal) or value is None:
            return value
        if isinstance(value, bool) or not isinstance(value, str | int | float):
            raise ValueError("must be a number")
        text = str(value)
        if len(text) > MOST_LENGTH:
            raise ValueError(f"must be at most {MOST_LENGTH} characters")
        return read_amount(text, decimals, grouped)

    return BeforeValidator(read)


MOST_LENGTH = 40
# Published as text: what people write is read, and a JSON number would be a binary fraction.
_AS_TEXT = WithJsonSchema({"type": "string", "maxLength": MOST_LENGTH})

# A sum in the practice's currency; how many of something; a percentage.
Money = Annotated[
    Decimal, _read(2), Field(ge=-MOST, le=MOST, max_digits=10, decimal_places=2), _AS_TEXT
]
Times = Annotated[
    Decimal, _read(2), Field(gt=0, le=100_000, max_digits=8, decimal_places=2), _AS_TEXT
]
Percent = Annotated[
    Decimal,
    _read(3, grouped=False),
    Field(ge=0, le=100, max_digits=6, decimal_places=3),
    _AS_TEXT,
]


def cents(value: Decimal) -> Decimal:
    """To whole hundredths, halves away from zero, as on paper."""
    return value.quantize(CENT, ROUND_HALF_UP)


def plain(value: Decimal) -> str:
    """The shortest way to write it: "19", "7.5"."""
    text = f"{value:f}"
    return text.rstrip("0").rstrip(".") if "." in text else text
