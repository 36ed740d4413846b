"""What an amount of a food weighs, and how far off that may be."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..conventions import Kitchen
from ..errors import InputError
from ..facts.foods import Food, Measure
from ..recipe import amounts
from ..recipe.amount import Amount
from ..units import Measures, convert, volume_ml
from .described import Described
from .doses import FLESH
from .phrases import Phrase
from .quantities import EITHER, Quantity, weight_g
from .words import Kind, Span, Unit, Words

# A cup that was filled by another hand; a piece that the table has one weight of; what was told "about".
FILLED, PIECE, ABOUT = 0.1, 0.25, 0.1
_SMALL = frozenset({"mg", "ug", "iu"})
# Of these one is one piece of the food.
_WHOLE = frozenset({"piece", "fillet", "breast", "thigh", "leg", "drumstick", "steak", "chop", "head"})  # fmt: skip
# How tables call what people call otherwise.
_SIZES = {"big": "large", "lg": "large", "lrg": "large", "little": "small", "sm": "small", "med": "medium",
          "average": "medium", "regular": "medium", "huge": "extra large", "xl": "extra large"}  # fmt: skip
_SPOONS = frozenset({"cup", "tbsp", "tsp"})


@dataclass(frozen=True)
class Weight:
    """Grams: the least they are likely to be, the likeliest, the most; what is taken for granted."""

    low: float
    usual: float
    high: float
    guessed: tuple[str, ...] = ()

    def times(self, factor: float) -> "Weight":
        """So many times as much."""
        return replace(
            self, low=self.low * factor, usual=self.usual * factor, high=self.high * factor
        )


@dataclass(frozen=True)
class Content:
    """What a gram of a food holds of the nutrient that it is called by: amount in `unit`, name of the nutrient."""

    tag: str
    name: str
    unit: str
    per_gram: float


def weight_of(
    words: Words,
    phrase: Phrase,
    food: Food | None,
    measures: Measures,
    content: Content | None = None,
) -> Weight | None:
    """What a phrase's amount weighs of a food; of anything where that is None. None where nobody can tell. content:
    of the nutrient that a small amount is of."""
    quantity = phrase.quantity
    if quantity is None or quantity.vague == EITHER or quantity.low <= 0:
        return None
    if content is not None and quantity.unit is not None and quantity.unit.name in _SMALL:
        return _holding(quantity, content)
    if phrase.beside is not None and phrase.beside.grams is not None and quantity.grams is None:
        # "1 cup (158 g)": the weight counts, the cup stays how it is said.
        quantity = phrase.beside
    small = quantity.unit is not None and quantity.unit.name in _SMALL
    if small and food is None:
        return None
    # A food told by its whole name ("12 g Zinc tablet, 10 mg") leaves no words: there the weight is one.
    told = phrase.of.words
    loose = quantity.grams is not None and bool(told) and "tablet" not in told
    if _strength(food) and (small or loose):
        return None
    one = _one(words, quantity, phrase.of, food, measures)
    if one is None:
        return None
    low = quantity.low * one.low
    high = (quantity.high or quantity.low) * one.high
    usual = quantity.usual * one.usual
    if quantity.about and quantity.vague == "":
        low, high = low * (1 - ABOUT), high * (1 + ABOUT)
    guessed = one.guessed
    bone = _bone_share(words, phrase.of, food) if quantity.grams is not None else None
    if bone is not None:
        # Meat that is counted and not there would make a diet look better than it is.
        low, usual = low * (1 - bone.high), usual * (1 - bone.usual)
        guessed = (*guessed, f"about {bone.usual:.0%} of it bone or skin, which is not fed")
    if quantity.high is not None:
        guessed = (*guessed, "the middle of a range")
    return Weight(low, usual, high, guessed)


def _strength(food: Food | None) -> bool:
    """Whether an amount is what a piece holds, and not what it weighs: "zinc gluconate tablet, 25 mg"."""
    return food is not None and food.handling is not None and food.handling.form == "tablet"


def _bone_share(words: Words, of: Described, food: Food | None) -> Span | None:
    """The share of bone in what was weighed with it, where the food's row has none."""
    if food is not None and food.id in words.whole_birds and "whole" in of.words:
        return words.whole_bird_share
    if food is None or ("bone", "yes") not in of.facets or food.with_bone:
        return None
    return words.bone_share.get(food.klass)


def _holding(quantity: Quantity, content: Content) -> Weight | None:
    """So much of a food as holds an amount of a nutrient."""
    unit = quantity.unit.name if quantity.unit else ""
    try:
        of = convert(content.tag, 1.0, "IU" if unit == "iu" else unit, content.unit)
    except ValueError:
        return None
    if not content.per_gram > 0:
        return None
    guess = (f"so much as holds it of {content.name}, not of its salt",)
    each = of / content.per_gram
    high = quantity.high or quantity.low
    return Weight(quantity.low * each, quantity.usual * each, high * each, guess)


def _one(
    words: Words, quantity: Quantity, of: Described, food: Food | None, measures: Measures
) -> Weight | None:
    """What one of what is counted weighs."""
    unit = quantity.unit
    if unit is None:
        return None if food is None else _piece(words, quantity, food, None, of)
    per = weight_g(unit) if unit.kind is Kind.WEIGHT else None
    if per is not None and quantity.pack is not None:
        return _drained(words, per, of, food, quantity.pack)
    if per is not None:
        return Weight(per, per, per)
    if unit.kind is Kind.WEIGHT or unit.none:
        return None
    given = food.handling if food is not None else None
    if given is not None and given.unit_g is not None and given.form == unit.name:
        return Weight(given.unit_g, given.unit_g, given.unit_g)
    if unit.kind is Kind.VOLUME:
        filled = _volume(words, unit, of, food, measures)
        return None if filled is None else filled.times(quantity.filled)
    if unit.kind is Kind.HANDFUL:
        span = unit.leaf if food is not None and _leafy(food) else unit.grams
        return None if span is None else _spanned(span, unit.guess).times(quantity.filled)
    if food is None:
        return None if unit.grams is None or unit.given else _spanned(unit.grams, unit.guess)
    return _piece(words, quantity, food, unit, of)


def _spanned(span: Span, guess: str) -> Weight:
    return Weight(span.low, span.usual, span.high, (guess,) if guess else ())


def _drained(
    words: Words, grams: float, of: Described, food: Food | None, unit: Unit | None
) -> Weight:
    """The content of a pack whose weight is told. Of a can that is drained less is left."""
    canned = (food is not None and food.form == "canned") or of.drained or of.packed != ""
    eaten = of.packed == "in-sauce" or food is None or _wet(food)
    if unit is None or not unit.drained or not canned or eaten or food is None:
        return Weight(grams, grams, grams)
    share = words.drained_share.get(food.klass, words.drained_share[""])
    left = grams * share
    told = f"{share:.0%} of the weight on the can, drained"
    if of.drained:
        return Weight(left * 0.9, left, left * 1.1, (told,))
    return Weight(left * 0.9, left, grams, (f"{told}; whether it is drained is not said",))


def _wet(food: Food) -> bool:
    """A can of which everything is eaten: pumpkin, purée, milk."""
    return food.attributes.group not in {"pulse", "fish"} and food.klass not in {"legume", "fish"}


def _leafy(food: Food) -> bool:
    return food.attributes.kind.startswith("leaf")


def _density(words: Words, food: Food | None) -> Span:
    if food is None:
        return words.density[""]
    if _leafy(food) and food.attributes.state == "raw":
        return words.density["leaf"]
    klass = "flesh" if food.klass in FLESH else food.klass
    state = "canned" if food.form == "canned" else food.attributes.state
    if food.is_supplement:
        klass = "liquid" if food.handling and food.handling.form == "liquid" else "powder"
    for name in (f"{klass} {state}", klass):
        if name in words.density:
            return words.density[name]
    return words.density[""]


def _volume(
    words: Words, unit: Unit, of: Described, food: Food | None, measures: Measures
) -> Weight | None:
    """One unit of volume of a food: by its own household weights, or by what such foods weigh."""
    fixed = unit.ml is None
    ml = unit.ml or Span(*(volume_ml(unit.name, measures),) * 3)
    guess = (unit.guess,) if unit.guess else ()
    if food is None:
        return None
    own = _own_volume(food, unit.name, of, measures) if fixed and unit.name in _SPOONS else None
    if own is not None:
        return own
    density = amounts.grams_per_ml(food, ml.usual, measures)
    if density is not None:
        off = FILLED if ml.usual >= 10 else 2 * FILLED
        return Weight(
            ml.low * density * (1 - off), ml.usual * density, ml.high * density * (1 + off), guess
        )
    span = _density(words, food)
    kind = f"{span.usual:g} g per ml, as such foods weigh"
    return Weight(ml.low * span.low, ml.usual * span.usual, ml.high * span.high, (*guess, kind))


def _own_volume(food: Food, unit: str, of: Described, measures: Measures) -> Weight | None:
    """By the food's own cup or spoon; where there are several ("chopped", "grated"), by the one that was said."""
    listed = [m for m in food.measures if amounts.counted(m.name) == unit]
    if not listed:
        return None
    grams = [amounts.weight_of(m, measures) for m in listed]
    said = {*of.words, of.made}
    told = [g for m, g in zip(listed, grams, strict=True) if _says(m, said)]
    chosen = told[0] if told else grams[0]
    low, high = (chosen, chosen) if told else (min(grams), max(grams))
    return Weight(low * (1 - FILLED), chosen, high * (1 + FILLED))


def _says(measure: Measure, said: set[str]) -> bool:
    words = {w.strip("(),") for w in measure.name.lower().split()[1:]}
    return bool({w for w in said if len(w) > 3} & words)


def _piece(
    words: Words, quantity: Quantity, food: Food, unit: Unit | None, of: Described
) -> Weight | None:
    """One piece, can or stalk of a food: by its own measure, or by what such pieces weigh."""
    known = words.piece_g.get(food.id)
    counted = unit is None or unit.name in _WHOLE
    if known is not None and counted and quantity.size is None:
        return _spanned(known, f"a medium one of {known.usual:g} g")
    own = _own_piece(food, quantity, unit)
    if own is not None and unit is not None and unit.kind is Kind.CONTAINER:
        # Packs differ from shop to shop.
        packed = _container(words, unit, food, of)
        low = own.low if packed is None else min(own.low, packed.low)
        return replace(own, low=low, guessed=(*own.guessed, f"a {unit.name} of {own.usual:.4g} g"))
    if own is not None:
        return own
    if food.handling is not None:
        each = food.handling.unit_g
        return None if each is None else Weight(each, each, each)
    size = 1.0 if quantity.size is None else quantity.size
    if unit is not None and unit.kind is Kind.CONTAINER:
        whole = _container(words, unit, food, of)
        return None if whole is None else whole.times(size)
    if known is not None and counted:
        middle = known.usual * size
        return Weight(middle * (1 - PIECE), middle, middle * (1 + PIECE))
    if unit is not None and unit.grams is not None and not unit.given:
        return _spanned(unit.grams, unit.guess).times(size)
    return None


def _container(words: Words, unit: Unit, food: Food, of: Described) -> Weight | None:
    holds = unit.by_class.get(food.klass, unit.grams)
    if holds is None:
        return None
    whole = _drained(words, holds.usual, of, food, unit)
    factor = whole.usual / holds.usual
    high = max(whole.high, holds.high * factor)
    guessed = (f"a {unit.name} of {holds.usual:g} g", *whole.guessed)
    return Weight(holds.low * factor, whole.usual, high, guessed)


def _own_piece(food: Food, quantity: Quantity, unit: Unit | None) -> Weight | None:
    """By the food's own measure of a piece, of the size that was said."""
    size = " ".join(_SIZES.get(w, w) for w in quantity.size_word.split())
    said = " ".join(w for w in (size, unit.name if unit else "") if w)
    try:
        amount = amounts.resolve(food, 1.0, said, Kitchen()) if said else _bare(food)
    except amounts.UnsureError as unsure:
        grams = sorted(a.grams for a in unsure.candidates if a.unit not in {"g", "oz"})
        if not grams:
            return None
        packed = unit is not None and unit.kind is Kind.CONTAINER
        middle = _medium(food, unsure.candidates) or grams[0 if packed else len(grams) // 2]
        each = "a large one" if food.klass == "dairy-egg" else "a medium one"
        return Weight(grams[0], middle, grams[-1], (each,))
    except InputError:
        return None
    if amount is None or amount.unit == "g":
        return None
    sure = amount.sure and (quantity.size is not None or unit is not None)
    off = FILLED if sure else PIECE
    return Weight(amount.grams * (1 - off), amount.grams, amount.grams * (1 + off))


def _bare(food: Food) -> Amount | None:
    """One piece of a food that comes in pieces; of several sizes the middle one is asked for."""
    pieces = amounts.pieces_of(food)
    if not pieces:
        return None
    return amounts.resolve(food, 1.0, "", Kitchen())


def _medium(food: Food, candidates: Sequence[Amount]) -> float | None:
    named = [a.grams for a in candidates if "medium" in a.unit]
    if food.klass == "dairy-egg":
        # An egg of which nothing is said is a large one.
        named = [a.grams for a in candidates if "large" in a.unit and "extra" not in a.unit]
    return named[0] if named else None
