"""A rule of thumb about one food, judged for a dog and its recipe: "1/2 tsp eggshell powder per pound of meat"."""

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass

from ..dog.portion_rule import is_portion
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import Food
from ..facts.preparations import MethodChoice, method_choices
from ..figures import rounded
from ..recipe.amounts import grams_per_ml
from ..recipe.line import Line, LineText, read_all, sum_lines
from ..transcribe.doses import FLESH, Dose, Of
from ..transcribe.matching import Matcher
from ..transcribe.often import days_in
from ..transcribe.reading import Understood, dose_of, understood, weight_of_one
from ..transcribe.review import typed
from ..units import volume_ml
from .doubts import Effect, effects

_MOST = re.compile(
    r"\b(?:no|not|never)\s+more\s+than\s+|\b(?:at\s+most|up\s+to|under|(?:a\s+)?max(?:imum)?(?:\s+of)?)\s+",
    re.I,
)
_PERCENT = r"(?P<low>\d+(?:[.,]\d+)?)\s*(?:%\s*)?(?:(?:-|–|to)\s*(?P<high>\d+(?:[.,]\d+)?)\s*)?(?:%|per\s?cent)"
_BASES = r"(?:the\s+)?(?P<{}>food|diet|recipe|meal|bowl|batch|total|mix|meat)"
_BASE = _BASES.format("base")
_SHARE_FIRST = re.compile(
    rf"(?:about\s+|around\s+)?{_PERCENT}\s*(?:of\s+{_BASE}\s+(?:as|from|is|should\s+be|can\s+be)\s+)?(?:of\s+)?(?P<food>[^\d,;]+?)"
    rf"(?:\s+(?:of|in)\s+{_BASES.format('behind')})?",
    re.I,
)
_SHARE_LAST = re.compile(
    rf"(?P<food>[^\d,;]+?)[\s,:]*(?:(?:at|as|is|should\s+be|about|around|makes\s+up)\s+)*{_PERCENT}(?:\s*of\s+{_BASE})?",
    re.I,
)
# What brings less of a need and of a limit than this is not told.
TELLS = 0.05
MOST_TOLD = 8
# By whether an amount "per kg" was taken to be per kg of dog.
_UNSAID = {
    True: "of body weight: say “of food” if that is meant",
    False: "of the food: say “of body weight” if that is meant",
}
EXAMPLES = "1/2 tsp eggshell powder per pound of meat, 1 fish oil capsule per 10 kg, at most 1 tsp of oil a meal"


@dataclass(frozen=True, kw_only=True)
class Reaches:
    """What a rule brings of one nutrient: a day, in its unit. need, limit: the share of the minimum and of the most
    there may be in the recipe with it, by itself; with_need, with_limit: with the recipe; None where nothing is set."""

    key: str
    name: str
    unit: str
    per_day: float
    need: float | None
    limit: float | None
    with_need: float | None
    with_limit: float | None


@dataclass(frozen=True, kw_only=True)
class ThumbResult:
    """A rule of thumb as it comes out here. most: it tells only how much there may be. told_for: what it was multiplied
    with. quantity: of the batch, to be typed. unknown: nutrients that the food may hold and nobody knows of it."""

    rule: str
    food: str
    name: str
    methods: tuple[MethodChoice, ...]
    most: bool
    told_for: str
    grams_per_day: float
    quantity: str
    reaches: tuple[Reaches, ...]
    unknown: tuple[str, ...]
    effect: Effect
    guessed: tuple[str, ...]


def thumb(dossier: Dossier, matcher: Matcher, rule: str) -> ThumbResult | None:
    """Judge a rule. None for one that names no food: it is about what is cooked. Raises InputError (field rule) for
    what cannot be computed."""
    if is_portion(rule):
        return None
    most, text, share = _cap_in(rule)
    read = understood(
        matcher, share.food if share else text, dossier.measures, dossier.reference.methods
    )
    named = [u for u in read.parts if u.part.phrase is not None]
    if not named:
        return None
    if len(named) > 1 or named[0].line.food is None:
        raise InputError("rule", f"must name one food that is known here; for example: {EXAMPLES}")
    (one,) = named
    food = dossier.library.food(one.line.food or "")
    if share is not None:
        per_day, told_for, guessed = _of_all(dossier, food, share, most)
    else:
        weight = weight_of_one(matcher, one.part, food, dossier.measures)
        if weight is None:
            raise InputError("rule", "does not say how much, or nobody can tell what that weighs")
        times, told_for, guessed = _times(dossier, one)
        per_day = weight.usual * times
    quantity = typed(per_day * dossier.days)
    texts = [LineText(food.id, quantity)]
    (line,) = read_all(dossier.reference.methods, dossier.library, texts)
    (effect,) = effects(dossier, None, [line])
    sums = sum_lines(dossier.library, [line], dossier.days)
    unknown = [
        n.name
        for n, c in zip(dossier.library.catalogue.nutrients, sums.contributions[0], strict=True)
        if n.key in dossier.requirements.limits and math.isnan(c)
    ]
    return ThumbResult(
        rule=rule, food=food.id, name=food.name,
        methods=method_choices(dossier.reference.methods, food), most=most,
        told_for=told_for, grams_per_day=rounded(per_day), quantity=quantity,
        reaches=tuple(_reaches(dossier, line))[:MOST_TOLD], unknown=tuple(unknown), effect=effect,
        guessed=(*one.line.guessed, *guessed),
    )  # fmt: skip


@dataclass(frozen=True)
class _Share:
    """So much of what is cooked is a food: its words, the share from and to, of the meat or of all."""

    food: str
    low: float
    high: float
    of_meat: bool
    said: bool


def _cap_in(rule: str) -> tuple[bool, str, _Share | None]:
    """Whether a rule tells only how much there may be, the rule without that, and the share that it tells."""
    most = _MOST.search(rule)
    if most is None:
        return False, rule, _share_in(rule)
    text = f"{rule[: most.start()]} {rule[most.end() :]}".strip()
    share = _share_in(text)
    # "1 tbsp, max 2": what comes later is another amount.
    if share is None and rule[: most.start()].strip():
        return False, rule, None
    return True, text, share


def _share_in(text: str) -> _Share | None:
    """The share that a rule tells; None where it tells none."""
    found = _SHARE_FIRST.fullmatch(text.strip()) or _SHARE_LAST.fullmatch(text.strip())
    if found is None:
        return None
    low = float(found["low"].replace(",", ".")) / 100
    high = float(found["high"].replace(",", ".")) / 100 if found["high"] else low
    base = (found["base"] or found.groupdict().get("behind") or "").lower()
    return _Share(
        found["food"].strip(" :,"), min(low, high), max(low, high), base == "meat", bool(base)
    )


def _of_all(
    dossier: Dossier, food: Food, share: _Share, most: bool
) -> tuple[float, str, tuple[str, ...]]:
    """g a day that make a food so much of what is cooked, what that is counted on, and what was taken for granted. What
    is in it already counts. most: no more is allowed. Raises InputError (rule)."""
    if not 0 < share.high < 1:
        raise InputError("rule", "a share lies between 0 and 100 %")
    lines = [x for x in dossier.lines if not x.food.is_supplement]
    if share.of_meat:
        lines = [x for x in lines if x.food.klass in FLESH]
    rest = sum(x.amount.grams for x in lines if x.food.id != food.id) / dossier.days
    there = sum(x.amount.grams for x in lines if x.food.id == food.id) / dossier.days
    what = "meat" if share.of_meat else "food"
    if rest <= 0:
        raise InputError("rule", f"is told for the {what}, and this recipe has no other")
    middle = (share.low + share.high) / 2
    wanted = middle / (1 - middle) * rest - there
    if wanted <= 0:
        whole = f"{wanted + there:.3g} g a day of it; {there:.3g} g are in the recipe"
        raise InputError(
            "rule", f"comes to {whole} already: {'that is more' if most else 'no more is needed'}"
        )
    told = f"{middle * 100:.3g} % of the {what}, beside {rest:.3g} g a day of other {what}"
    if there:
        told += f"; {there:.3g} g a day are in it already"
    guessed = [] if share.said else ["of all the food"]
    if share.low != share.high:
        guessed.append(f"the middle of {share.low * 100:g} to {share.high * 100:g} %")
    return wanted, told, tuple(guessed)


def _times(dossier: Dossier, one: Understood) -> tuple[float, str, tuple[str, ...]]:
    """How often what is given at one of it ("twice a day" told already) is given a day, what that is counted on, and what was taken for granted."""
    of = one.part.phrase.of if one.part.phrase is not None else None
    if of is None or (of.dose is None and not of.per):
        raise InputError("rule", f"must say what the amount is for; for example: {EXAMPLES}")
    if of.dose is None:
        return _a_day(dossier, of.per), _often(dossier, of.per), ()
    dose = dose_of(one.part) or of.dose
    has, words = _has(dossier, dose)
    if has <= 0:
        raise InputError("rule", f"is told for {dose.words}, and this recipe has none of it")
    guessed = () if dose.said else (_UNSAID[dose.of is Of.DOG],)
    # Of a dog it is for a day; of what is cooked for what is cooked.
    often = _a_day(dossier, of.often or "day") if dose.of is Of.DOG else 1.0
    told = f"{dose.words}, here {words}"
    if of.often:
        told += f"; {_often(dossier, of.often)}"
    return often * has / dose.amount, told, guessed


def _often(dossier: Dossier, per: str) -> str:
    return f"a {per}, {dossier.meals_per_day} a day" if per == "meal" else f"a {per}"


def _a_day(dossier: Dossier, per: str) -> float:
    span = days_in(per)
    return float(dossier.meals_per_day) if span is None else 1.0 / span


def _has(dossier: Dossier, dose: Dose) -> tuple[float, str]:
    """How much of what a dose is told for there is a day, in its unit, and in words."""
    days = dossier.days
    if dose.of is Of.DOG:
        return dossier.weight_kg, f"{dossier.weight_kg:g} kg of dog"
    if dose.of is Of.MEAT:
        kg = sum(x.amount.grams for x in dossier.lines if x.food.klass in FLESH) / 1000 / days
        return kg, f"{kg:.3g} kg of meat a day"
    sums = sum_lines(dossier.library, dossier.lines, days) if dossier.lines else None
    if sums is None:
        return 0.0, ""
    if dose.of is Of.FOOD:
        kg = sums.total_grams / 1000 / days
        return kg, f"{kg:.3g} kg of food a day"
    if dose.of is Of.KCAL:
        return sums.kcal / days, f"{sums.kcal / days:.0f} kcal a day"
    # A food without a household weight counts as water.
    ml = sum(
        x.fed_grams / (grams_per_ml(x.food, measures=dossier.measures) or 1.0)
        for x in dossier.lines
    )
    cups = ml / volume_ml("cup", dossier.measures) / days
    return cups, f"about {cups:.2g} cups of food a day"


def _reaches(dossier: Dossier, line: Line) -> Iterator[Reaches]:
    """What the line brings, the most of a need or of a limit first."""
    library, days = dossier.library, dossier.days
    alone = sum_lines(library, [line], days).contributions[0] / days
    there = sum_lines(library, dossier.lines, days).known / days if dossier.lines else 0 * alone
    # As the wall has it: per 1000 kcal of the recipe with the line; what the dog needs, while there is none.
    with_it = sum_lines(library, [*dossier.lines, line], days).kcal / days
    mcal = (with_it if dossier.lines else dossier.energy.target_kcal) / 1000
    found = []
    for i, nutrient in enumerate(library.catalogue.nutrients):
        limit = dossier.requirements.limits.get(nutrient.key)
        if limit is None or not nutrient.board or not math.isfinite(alone[i]):
            continue
        need, most = limit.minimum, limit.ceiling
        by = float(alone[i])
        shares = [by / (x * mcal) if x else None for x in (need, most)]
        both = [float(alone[i] + there[i]) / (x * mcal) if x else None for x in (need, most)]
        told = max((s for s in shares if s is not None), default=0.0)
        if told >= TELLS:
            found.append(
                (
                    told,
                    Reaches(
                        key=nutrient.key, name=nutrient.name, unit=nutrient.unit,
                        per_day=rounded(by), need=_figure(shares[0]), limit=_figure(shares[1]),
                        with_need=_figure(both[0]), with_limit=_figure(both[1]),
                    ),
                )
            )  # fmt: skip
    found.sort(key=lambda pair: -pair[0])
    yield from (reaches for _, reaches in found)


def _figure(share: float | None) -> float | None:
    return None if share is None else rounded(share)
