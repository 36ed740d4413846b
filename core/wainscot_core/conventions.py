"""How a practice or a client writes things: units, dates, numbers, money, spelling; and the printing of
each. The one place for it in the core; `web/src/shared/format.ts` does the same in the browser, and both
are held to `tests/fixtures/conventions.csv`.
"""

import math
import re
from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields, replace
from datetime import date, time
from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum
from typing import Any

from .units import WEIGHT_G, Measures

NARROW = "\u202f"  # a space that does not break
MINUS = "\u2212"


class BodyUnit(StrEnum):
    """What a dog's weight is told in."""

    KG = "kg"
    LB = "lb"


class FoodUnit(StrEnum):
    """What food is weighed in."""

    G = "g"
    OZ = "oz"


class Temperature(StrEnum):
    """What a temperature is told in."""

    CELSIUS = "C"
    FAHRENHEIT = "F"


class Dates(StrEnum):
    """How a day is written: 3 Dec 2026, Dec 3, 2026, 2026-12-03."""

    DAY_FIRST = "day-first"
    MONTH_FIRST = "month-first"
    YEAR_FIRST = "year-first"


class Numbers(StrEnum):
    """What stands between thousands (from five digits on) and before decimals."""

    SPACE_POINT = "space-point"
    COMMA_POINT = "comma-point"
    POINT_COMMA = "point-comma"
    SPACE_COMMA = "space-comma"


class Spelling(StrEnum):
    """How names are spelled."""

    BRITISH = "british"
    AMERICAN = "american"


class Currency(StrEnum):
    """What prices are in (ISO 4217)."""

    USD = "USD"
    EUR = "EUR"
    GBP = "GBP"
    CAD = "CAD"
    AUD = "AUD"
    NZD = "NZD"
    CHF = "CHF"
    SEK = "SEK"
    NOK = "NOK"
    DKK = "DKK"
    PLN = "PLN"
    ZAR = "ZAR"


@dataclass(frozen=True)
class Kitchen:
    """How amounts are meant that do not say it: whose cups, and what food is weighed in."""

    measures: Measures = Measures.US
    weigh: FoodUnit = FoodUnit.G


@dataclass(frozen=True, kw_only=True)
class Conventions:
    """How things are written for one reader. measures: what a cup and a spoon hold."""

    body: BodyUnit = BodyUnit.KG
    food: FoodUnit = FoodUnit.G
    temperature: Temperature = Temperature.CELSIUS
    measures: Measures = Measures.US
    dates: Dates = Dates.DAY_FIRST
    numbers: Numbers = Numbers.SPACE_POINT
    currency: Currency = Currency.USD
    spelling: Spelling = Spelling.BRITISH

    @property
    def kitchen(self) -> Kitchen:
        """How amounts are meant."""
        return Kitchen(self.measures, self.food)


DEFAULT = Conventions()


@dataclass(frozen=True, kw_only=True)
class OwnConventions:
    """What a client wants otherwise than the practice; None: as the practice has it."""

    body: BodyUnit | None = None
    food: FoodUnit | None = None
    temperature: Temperature | None = None
    measures: Measures | None = None
    dates: Dates | None = None
    numbers: Numbers | None = None
    currency: Currency | None = None
    spelling: Spelling | None = None


def for_client(practice: Conventions, own: OwnConventions) -> Conventions:
    """The practice's conventions with what the client wants otherwise."""
    return replace(practice, **{k: v for k, v in asdict(own).items() if v is not None})


def otherwise(practice: Conventions, wanted: Conventions) -> OwnConventions:
    """What a client wants otherwise than the practice, where all that she wants is known."""
    mine, hers = asdict(practice), asdict(wanted)
    return OwnConventions(**{k: v for k, v in hers.items() if v != mine[k]})


class Region(StrEnum):
    """Where a practice works: a start for its conventions, each of which can be changed."""

    EUROPE = "europe"
    UNITED_KINGDOM = "united-kingdom"
    UNITED_STATES = "united-states"
    CANADA = "canada"
    AUSTRALIA = "australia"
    NEW_ZEALAND = "new-zealand"


REGIONS: Mapping[Region, Conventions] = {
    Region.EUROPE: Conventions(
        measures=Measures.METRIC, currency=Currency.EUR, numbers=Numbers.SPACE_POINT
    ),
    Region.UNITED_KINGDOM: Conventions(
        measures=Measures.METRIC, currency=Currency.GBP, numbers=Numbers.COMMA_POINT
    ),
    Region.UNITED_STATES: Conventions(
        body=BodyUnit.LB, temperature=Temperature.FAHRENHEIT, dates=Dates.MONTH_FIRST,
        numbers=Numbers.COMMA_POINT, spelling=Spelling.AMERICAN,
    ),
    Region.CANADA: Conventions(
        body=BodyUnit.LB, measures=Measures.METRIC, dates=Dates.YEAR_FIRST, currency=Currency.CAD,
        numbers=Numbers.COMMA_POINT,
    ),
    Region.AUSTRALIA: Conventions(
        measures=Measures.AUSTRALIAN, currency=Currency.AUD, numbers=Numbers.COMMA_POINT
    ),
    Region.NEW_ZEALAND: Conventions(
        measures=Measures.METRIC, currency=Currency.NZD, numbers=Numbers.COMMA_POINT
    ),
}  # fmt: skip

_MARKS = {
    Numbers.SPACE_POINT: (NARROW, "."), Numbers.COMMA_POINT: (",", "."),
    Numbers.POINT_COMMA: (".", ","), Numbers.SPACE_COMMA: (NARROW, ","),
}  # fmt: skip
# Thousands are parted from here on: 1750 needs no help, and then agrees with figures in sentences.
GROUPED_FROM = 10_000


def number(c: Conventions, value: float | None, decimals: int = 0) -> str:
    """A number: halves up, a dash for what is not known."""
    if value is None or not math.isfinite(value):
        return "–"
    step = Decimal(1).scaleb(-decimals)
    # repr is the shortest decimal that is this number: 0.125 rounds up, as on paper.
    rounded = Decimal(repr(float(value))).quantize(step, ROUND_HALF_UP)
    text = f"{abs(rounded):,f}" if abs(rounded) >= GROUPED_FROM else f"{abs(rounded):f}"
    group, point = _MARKS[c.numbers]
    text = text.replace(",", "\0").replace(".", point).replace("\0", group)
    return (MINUS if rounded < 0 else "") + text


def share(c: Conventions, value: float | None) -> str:
    """A share as a percentage, on one line."""
    return "–" if value is None else f"{number(c, value * 100)}{NARROW}%"


def difference(c: Conventions, value: float) -> str:
    """By how much something differs, as a percentage with its sign."""
    text = share(c, abs(value))
    if text == share(c, 0):
        return "the same"
    return f"{'+' if value > 0 else MINUS}{text}"


def body_weight(c: Conventions, kg: float | None) -> str:
    """A dog's weight with its unit."""
    return number(c, body_figure(c, kg), 1) + ("" if kg is None else f" {c.body}")


def body_figure(c: Conventions, kg: float | None) -> float | None:
    """A dog's weight in the unit it is told in."""
    if kg is None or c.body is BodyUnit.KG:
        return kg
    return kg * 1000 / WEIGHT_G["lb"]


def grams(c: Conventions, weight_g: float) -> str:
    """Grams without their unit, as finely as they must be weighed: 0.25 g of a powder is not 0.3 g."""
    decimals = 0 if weight_g >= 10 else 1 if weight_g >= 1 else 2 if weight_g >= 0.1 else 3
    return number(c, weight_g, decimals)


# Under this, a kitchen scale that shows ounces is too coarse: such weights stay grams.
LEAST_OUNCES_G = 10.0
# Under this many ounces a tenth would be more than a hundredth of the weight.
FINE_OUNCES = 4.0


def food_weight(c: Conventions, weight_g: float) -> str:
    """A weight of food with its unit: "179 g"; "6.3 oz", "2 lb 3.3 oz" where food is weighed in ounces."""
    if c.food is FoodUnit.G or weight_g < LEAST_OUNCES_G:
        return f"{grams(c, weight_g)} g"
    ounces = weight_g / WEIGHT_G["oz"]
    if ounces < FINE_OUNCES:
        return f"{number(c, ounces, 2)} oz"
    tenths = int(Decimal(repr(ounces * 10)).quantize(Decimal(1), ROUND_HALF_UP))
    pounds, rest = divmod(tenths, 160)
    if not pounds:
        return f"{number(c, rest / 10, 1)} oz"
    return f"{number(c, pounds)} lb" + (f" {number(c, rest / 10, 1)} oz" if rest else "")


def both_weights(c: Conventions, weight_g: float) -> str:
    """A weight of food for who weighs by hand: ounces never without the grams."""
    told = food_weight(c, weight_g)
    plain = f"{grams(c, weight_g)} g"
    return told if told == plain else f"{told} ({plain})"


def temperature(c: Conventions, celsius: float) -> str:
    """A temperature with its unit, to the degree."""
    if c.temperature is Temperature.CELSIUS:
        return f"{number(c, celsius, 0 if float(celsius).is_integer() else 1)} °C"
    return f"{number(c, celsius * 9 / 5 + 32)} °F"


_MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September",
           "October", "November", "December")  # fmt: skip


def day(c: Conventions, on: date, long: bool = False) -> str:
    """A day as it is written; long: with the month's whole name."""
    month = _MONTHS[on.month - 1]
    name = month if long else month[:3]
    if c.dates is Dates.YEAR_FIRST:
        return on.isoformat()
    if c.dates is Dates.MONTH_FIRST:
        return f"{name} {on.day}, {on.year}"
    return f"{on.day} {name} {on.year}"


def clock(c: Conventions, at: time) -> str:
    """A time of day: "14:30", or "2:30 pm" where the month is written first."""
    if c.dates is not Dates.MONTH_FIRST:
        return f"{at.hour}:{at.minute:02d}"
    return f"{at.hour % 12 or 12}:{at.minute:02d} {'pm' if at.hour >= 12 else 'am'}"


def when(c: Conventions, words: str) -> str:
    """A day that stands in a record as 2026-12-03; words that tell of one as they are."""
    try:
        return day(c, date.fromisoformat(words))
    except ValueError:
        return words


_SIGNS = {Currency.USD: "$", Currency.EUR: "€", Currency.GBP: "£"}


def money(c: Conventions, amount: float | None) -> str:
    """An amount of money; other currencies than three go by their letters: none is taken for another."""
    if amount is None:
        return "–"
    sign = _SIGNS.get(c.currency, f"{c.currency} ")
    return f"{sign}{number(c, amount, 2)}"


# Degrees in sentences of the facts: "74 °C", "30 to 38 °C", "−20 °C".
_DEGREES = re.compile(r"(?P<low>[-−]?\d+(?:\.\d+)?)(?: to (?P<high>\d+(?:\.\d+)?))? ?°C")
# A figure in a sentence that is written otherwise elsewhere: with decimals, or of five digits and more.
_FIGURE = re.compile(r"(?<![\w.,/-])(\d+\.\d+|\d{5,})(?![\w/-]|[.,]\d)")


def told(c: Conventions, text: str) -> str:
    """A sentence of the program or of its facts as this reader writes it: degrees, figures, names."""

    def degrees(found: re.Match[str]) -> str:
        ends = [float(x.replace(MINUS, "-")) for x in (found["low"], found["high"]) if x]
        texts = [temperature(c, x) for x in ends]
        return " to ".join([*(t.rpartition(" ")[0] for t in texts[:-1]), texts[-1]])

    def figure(found: re.Match[str]) -> str:
        _, _, decimals = found[1].partition(".")
        return number(c, float(found[1]), len(decimals))

    return spelled(c, _DEGREES.sub(degrees, _FIGURE.sub(figure, text)))


# British and American names of one thing, whole words.
AMERICAN_WORDS: Mapping[str, str] = {
    "fibre": "fiber", "yoghurt": "yogurt", "yoghurts": "yogurts", "sulphur": "sulfur",
    "sulphate": "sulfate", "sulphite": "sulfite", "haemoglobin": "hemoglobin", "oesophagus": "esophagus",
    "oestrogen": "estrogen", "colour": "color", "flavour": "flavor", "iodised": "iodized", "litre": "liter", "litres": "liters",
    "millilitre": "milliliter", "grey": "gray", "aubergine": "eggplant", "courgette": "zucchini",
    "courgettes": "zucchini", "swede": "rutabaga", "rocket": "arugula",
}  # fmt: skip
# What the food table writes the American way, for British readers; zucchini is one and several.
BRITISH_WORDS: Mapping[str, str] = {
    "fiber": "fibre", "iodized": "iodised", "yogurt": "yoghurt", "yogurts": "yoghurts", "sulfur": "sulphur", "eggplant": "aubergine",
    "zucchini": "courgette", "rutabaga": "swede", "rutabagas": "swedes", "arugula": "rocket",
}  # fmt: skip


def words_of(spelling: Spelling) -> Mapping[str, str]:
    """The words that are spelled otherwise; data say ug, people µg."""
    words = AMERICAN_WORDS if spelling is Spelling.AMERICAN else BRITISH_WORDS
    return {**words, "ug": "µg"}


def spelled(c: Conventions, text: str) -> str:
    """A name with the words of this reader's spelling; capitals stay."""
    words = words_of(c.spelling)

    def other(found: re.Match[str]) -> str:
        word = words.get(found[0].lower())
        if word is None:
            return found[0]
        return word.capitalize() if found[0][0].isupper() else word

    return re.sub(r"[A-Za-z]+", other, text)


def as_data(c: Conventions | OwnConventions) -> dict[str, Any]:
    """Conventions as plain data, only what is said."""
    said = ((f.name, getattr(c, f.name)) for f in fields(c))
    return {name: value.value for name, value in said if value is not None}
