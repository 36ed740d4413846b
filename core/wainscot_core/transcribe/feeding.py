"""What a text says of how much it makes and how much of it is fed."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from .often import without_often
from .quantities import Quantity, quantity_at
from .tokens import Token
from .words import Kind, Words

_MAKES = re.compile(
    r"^for\b|\bbatch(?: size| weight)?\s*[=:]|\b(?:makes?|yields?|serves?|servings?|enough for|lasts?|feeds|does (?:him|her|it|them)|covers?|portions?)\b|"
    r"\b(?:this|that|it|which)(?:'s|’s| is)? (?:is |about |roughly |enough |good |plenty )*(?:for )?(?=\S+ (?:day|week|month|meal|serving|portion)s?\b)",
    re.I,
)
_PER_ONE = re.compile(r"\b(?:per|each|a|every)\s*$", re.I)
_EATERS = frozenset({"dog", "puppy", "pup"})
_DAYS = frozenset({"day", "week", "month"})
_FOR = frozenset({"for", "last", "about", "cover", "enough", "is", "make"})
_FED = frozenset(
    {"feed", "give", "serve", "offer", "allow", "feeding", "dose", "dosage", "get", "need"}
)
_PER = frozenset({"per", "for", "every", "each"})
_MASS = {"kg": 1.0, "lb": 0.45359237, "g": 0.001, "oz": 0.028349523125}
_MASS_WORDS = {"kg": "kg", "kilo": "kg", "kilogram": "kg", "lb": "lb", "pound": "lb"}
# "2 % of body weight", "of his weight".
_BODY = frozenset({"body", "bodyweight", "weight", "bw"})
_MEALS = {"two": 2.0, "three": 3.0, "four": 4.0}
# "At each meal": so many are usual.
_USUAL_MEALS = 2.0


@dataclass(frozen=True)
class Yield:
    """What a recipe makes: as it stands, so many of a unit (cup, day, serving, g), None for what is not told."""

    text: str
    amount: float | None
    amount_high: float | None
    unit: str | None


@dataclass(frozen=True)
class FeedingRule:
    """How much is fed: as it stands; an amount of a unit, at each of so many meals or a day, for so many kg of dog
    (or of food or meat, as `of` says), or, of the unit %, of the dog's weight a day. None for what is not told."""

    text: str
    amount: float | None
    amount_high: float | None
    unit: str | None
    per_kg: float | None
    of: str | None
    times_a_day: float | None


def yield_of(words: Words, text: str, tokens: Sequence[Token]) -> Yield | None:
    """What a sentence says a recipe makes, or None."""
    told = next((m for m in _MAKES.finditer(text) if not _PER_ONE.search(text[: m.start()])), None)
    if told is None or _of_something(words, tokens, told.start()):
        return None
    first: Yield | None = None
    for i, token in enumerate(tokens):
        # Where they stand, not in characters before: a sentence may begin within its line.
        if token.start - tokens[0].start < told.start():
            continue
        found = quantity_at(words, tokens, i)
        if found is None:
            continue
        after = tokens[found.end].word if found.end < len(tokens) else ""
        unit = found.quantity.unit
        before = tokens[i - 1].word if i else ""
        if token.word in {"a", "an"} and after in _DAYS and before not in _FOR:
            # "Gets 650 g a day"
            continue
        if after in _EATERS or (token.word in {"a", "an"} and unit is None and after not in _DAYS):
            # "Feeds a 30 lb dog for 4 days"
            continue
        if told[0].lower() == "for" and after not in _DAYS:
            return None
        name = unit.name if unit is not None else after or None
        if told[0].lower().startswith(("serve", "serving", "portion")) and unit is None:
            name = "serving" if after not in _DAYS else after
        read = Yield(text.strip(), found.quantity.low, found.quantity.high, name)
        if name in _DAYS:
            # "Lasts him (11 kilos) 4 days"
            return read
        first = first or read
    return first


def _of_something(words: Words, tokens: Sequence[Token], at: int) -> bool:
    """Whether a sentence begins with an amount that the yield is of: "1 chicken (1.6 kg), boiled (yields 700 g)"."""
    found = quantity_at(words, tokens, 0) if tokens else None
    if found is None or found.end >= len(tokens):
        return False
    return tokens[found.end - 1].end - tokens[0].start < at and bool(tokens[found.end].word)


def rule_of(words: Words, text: str, tokens: Sequence[Token]) -> FeedingRule | None:
    """What a sentence says of how much is fed, or None: an amount for a weight of dog, or at a meal or a day."""
    share = _share_of_body(text, tokens)
    if share is not None:
        return share
    fed = any(t.word in _FED for t in tokens)
    amount: Quantity | None = None
    per_kg: float | None = None
    of: str | None = None
    i = behind = 0
    while i < len(tokens):
        found = quantity_at(words, tokens, i)
        if found is None:
            i += 1
            continue
        before = [t.word for t in tokens[max(0, i - 2) : i]]
        unit = found.quantity.unit
        mass = unit is not None and unit.kind is Kind.WEIGHT and unit.name in _MASS
        after = {t.word for t in tokens[found.end : found.end + 2]}
        if mass and unit is not None and per_kg is None and words.dogs & after:
            per_kg, of = found.quantity.low * _MASS[unit.name], "dog"
        elif mass and unit is not None and amount is not None and _PER & set(before):
            per_kg = found.quantity.low * _MASS[unit.name]
            of = _weighed(tokens, found.end, per_kg <= 1 and not fed)
        elif unit is None and (after & (_DAYS | words.dogs) or _counts_next(tokens, found.end)):
            # "One 20 kg dog", "for 3 days"
            pass
        elif amount is None and (unit is not None or fed):
            amount, behind = found.quantity, found.end
        i = found.end
    if per_kg is None and amount is not None:
        per_kg, of = _per_bare(tokens, behind, fed)
    times = _times(tokens)
    if amount is None or (per_kg is None and not (fed and times is not None)):
        return None
    unit_name = amount.unit.name if amount.unit is not None else None
    return FeedingRule(text.strip(), amount.low, amount.high, unit_name, per_kg, of, times)


def _counts_next(tokens: Sequence[Token], i: int) -> bool:
    return i < len(tokens) and tokens[i].value is not None


def _share_of_body(text: str, tokens: Sequence[Token]) -> FeedingRule | None:
    """ "2 to 3 % of body weight"."""
    at = next((i for i, t in enumerate(tokens) if t.mark == "%" and i), None)
    if at is None or not _BODY & {t.word for t in tokens[at + 1 : at + 6]}:
        return None
    high = tokens[at - 1].value
    if high is None:
        return None
    range_ = at > 2 and (tokens[at - 2].mark in {"-", "–"} or tokens[at - 2].word == "to")
    low = tokens[at - 3].value if range_ else None
    if low is None or low >= high:
        return FeedingRule(text.strip(), high, None, "%", None, "dog", _times(tokens))
    return FeedingRule(text.strip(), low, high, "%", None, "dog", _times(tokens))


def _per_bare(tokens: Sequence[Token], behind: int, fed: bool) -> tuple[float | None, str | None]:
    """ "per kg", "a kilo of food": one of a unit of weight without a figure, behind an amount."""
    for i in range(behind, len(tokens) - 1):
        if tokens[i].word in {"per", "every", "each", "a"}:
            unit = _MASS_WORDS.get(tokens[i + 1].word)
            if unit:
                return _MASS[unit], _weighed(tokens, i + 2, not fed)
    return None, None


def _weighed(tokens: Sequence[Token], at: int, small: bool) -> str:
    """What the weight behind "per" is of. small: it is one kilo or pound, and nobody speaks of feeding."""
    words = [t.word for t in tokens[at : at + 4]]
    if "meat" in words:
        return "meat"
    if "food" in words or "batch" in words or "mix" in words:
        return "food"
    if not small or {"dog", "body", "weight", "bodyweight"} & set(words):
        return "dog"
    # "A teaspoon of eggshell a kilo"
    return "food"


def _times(tokens: Sequence[Token]) -> float | None:
    """Meals a day, where they are told."""
    for i, token in enumerate(tokens[:-2]):
        if (
            token.word == "meal"
            and i
            and {"day", "daily"} & {t.word for t in tokens[i + 1 : i + 3]}
        ):
            # "At each of 3 meals a day"
            return tokens[i - 1].value or _MEALS.get(tokens[i - 1].word)
    _, often = without_often(tokens)
    if often is None or often.per not in {"day", "meal"}:
        return None
    return often.times * (_USUAL_MEALS if often.per == "meal" else 1.0)
