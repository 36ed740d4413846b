"""Numbers as people write them before a unit: "1 1/2", "1½", "two and a half", "1,5", "a dozen"."""

import math
import re
import unicodedata
from fractions import Fraction
from functools import lru_cache

from ..errors import InputError

ABOVE_ZERO = "an amount must be above zero; remove the line to leave the food out"

_WORDS = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8,
    "nine": 9, "ten": 10, "eleven": 11, "twelve": 12,
}  # fmt: skip
_DECIMAL = r"\d*[.,]?\d+(?:e[+-]?\d+)?"
_NUMBER = re.compile(
    r"^\s*(?:(?P<whole>\d+)\s+(?P<num>\d+)\s*/\s*(?P<den>\d+)"
    r"|(?P<fnum>\d+)\s*/\s*(?P<fden>\d+)"
    rf"|(?P<dec>{_DECIMAL}))\s*(?P<rest>.*)$",
    re.I,
)
# "2-3 cups", "3 to 4 eggs": two figures, of which one is to be chosen.
_RANGE = re.compile(
    r"^(?P<low>\d+(?:[.,]\d+)?(?:\s*/\s*\d+)?)\s*(?:-|–|—|\bto\b|\bor\b)\s*"
    r"(?P<high>\d+(?:[.,]\d+)?(?:\s*/\s*\d+)?)(?P<rest>\D.*|)$",
    re.I,
)
# Groups of three after a space, with nothing but a unit behind: "1 250 g".
_SPACED = re.compile(r"^[1-9]\d{0,2}(?: \d{3})+(?=\s*(?:g|grams?|ml|mg|kcal)?\s*$)", re.I)


# A key changes one line of many: the others were read a moment ago.
@lru_cache(maxsize=4096)
def plain_text(text: str) -> str:
    """What was typed, with number words as figures and fractions as "1 1/2"."""
    plain = re.sub(r"(?<=\d)(?=[¼-¾⅐-⅞])", " ", text)
    plain = unicodedata.normalize("NFKC", plain).replace("⁄", "/").replace("−", "-").strip()
    plain = re.sub(r"^(a\s+)?couple(\s+of)?\s+", "2 ", plain, flags=re.I)
    plain = re.sub(
        rf"^({'|'.join(_WORDS)})\b(?=\s)", lambda m: str(_WORDS[m[1].lower()]), plain, flags=re.I
    )
    plain = re.sub(r"^half\s+a\s+dozen\b", "6", plain, flags=re.I)
    # "2 and a half cups", "1 & 1/2 cups", "1-1/2 cups"
    plain = re.sub(r"^(\d+)\s*(?:and|&)\s*a?\s*half\b", r"\1 1/2", plain, flags=re.I)
    plain = re.sub(r"^(\d+)\s*(?:and|&|-|–)\s*(?=[1-9]\d*\s*/\s*\d)", r"\1 ", plain, flags=re.I)
    plain = re.sub(r"^half\s+(of\s+)?(an?\s+)?", "1/2 ", plain, flags=re.I)
    part = r"(?:\s+of)?(?:\s+an?)?\s+"
    plain = re.sub(rf"^(?:an?|1)?\s*quarter{part}", "1/4 ", plain, flags=re.I)
    plain = re.sub(rf"^3[\s-]+quarters?{part}", "3/4 ", plain, flags=re.I)
    plain = re.sub(rf"^(?:an?|1)\s+third{part}", "1/3 ", plain, flags=re.I)
    plain = re.sub(rf"^2[\s-]+thirds?{part}", "2/3 ", plain, flags=re.I)
    plain = re.sub(r"^an?\s+(?=[a-z])", "1 ", plain, flags=re.I)
    plain = re.sub(r"^(\d+)\s+dozen\b(\s+of\b)?", lambda m: str(12 * int(m[1])), plain, flags=re.I)
    spaced = _SPACED.match(plain)
    if spaced is not None:
        plain = spaced[0].replace(" ", "") + plain[spaced.end() :]
    return plain


def two_figures(plain: str) -> tuple[str, str] | None:
    """A range in plain text as its two amounts ("2 cups", "3 cups"), or None."""
    match = _RANGE.match(plain)
    if match is None:
        return None
    return f"{match['low']}{match['rest']}", f"{match['high']}{match['rest']}"


def _check_thousands(plain: str) -> None:
    comma = re.match(r"([1-9]\d{0,2}),(\d{3})(?!\d)", plain)
    if comma is not None:
        raise InputError(
            "",
            f"{comma[0]} can be {comma[1]}{comma[2]} or {comma[1]}.{comma[2]}: "
            "write it without the comma",
        )
    # No scale shows "1.250 g": it is how others write 1250 g. A computed amount ends in no zero.
    point = re.match(r"([1-9]\d{0,2})\.(\d\d0)(?=\s*(?:g|grams?|ml)?\s*$)", plain, re.I)
    if point is not None:
        raise InputError(
            "",
            f"{point[0]} can be {point[1]}{point[2]} or {point[1]},{point[2]}: "
            "write it without the point, or with fewer figures behind it",
        )


@lru_cache(maxsize=4096)
def parse_number_and_unit(text: str) -> tuple[float, str]:
    """Split "1 1/2 cups" into (1.5, "cups"). A bare number has unit "".

    Raises InputError (field "") for text that is not an amount, can be two, or is not above zero.
    """
    plain = plain_text(text)
    if plain.startswith("-"):
        raise InputError("", ABOVE_ZERO)
    both = two_figures(plain)
    if both is not None:
        raise InputError("", f"{text.strip()} is two figures: give one of them")
    _check_thousands(plain)
    match = _NUMBER.match(plain)
    if match is None:
        raise InputError(
            "", f"cannot read {text!r} as an amount; write for example 180 g, 1 1/2 cups or 6 oz"
        )
    try:
        if match["num"]:
            number = float(int(match["whole"]) + Fraction(int(match["num"]), int(match["den"])))
        elif match["fnum"]:
            number = float(Fraction(int(match["fnum"]), int(match["fden"])))
        else:
            number = float(match["dec"].replace(",", "."))
    except ZeroDivisionError:
        raise InputError("", "a fraction cannot have 0 below the line") from None
    if not math.isfinite(number) or number <= 0:
        raise InputError("", ABOVE_ZERO)
    return number, re.sub(r"\s+", " ", match["rest"]).strip()


def read_number(text: str) -> float:
    """A number as people write it: "1 1/2", "2 1/3", "1,5". Raises InputError for a unit behind."""
    number, unit = parse_number_and_unit(text)
    if unit:
        raise InputError("", f"cannot read {text!r} as a number alone; leave out {unit!r}")
    return number
