"""What the foods of a phrase bring of strong nutrients in a day, beside the safe upper limits, by the dog's weight alone."""

from collections.abc import Iterator, Sequence

from ..dossier.reference import Reference
from ..facts.foods import Food, FoodLibrary
from ..figures import plainly
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals, totals
from ..targets.per import Per
from ..targets.safe_limits import Counts, Role, SafeLimit, SafeStage, limits_for
from ..transcribe.reading import ReadLine
from ..units import convert

# Salt has a table of doses of its own.
_DOSED = frozenset({"NA", "CLD"})
_STRENGTHS = frozenset({"iu", "mg", "ug"})
_JUDGED = frozenset({Role.CEILING, Role.ACUTE})


def strong_doses_told(
    reference: Reference, lines: Sequence[ReadLine], weight_kg: float
) -> Iterator[Finding]:
    """One finding for every safe limit that the weighed foods of a text pass if a grown dog eats them in a day: a block
    where they do at the most that a dog of its weight eats, a warning where only at rest. A food that keeps to a limit
    by itself is only much of it. Nothing is said of what is not known."""
    library = reference.library
    foods = [(library.food(x.food), x.grams) for x in lines if x.food and x.grams is not None]
    whole = _sums(library, foods)
    added = _sums(library, [(f, g) for f, g in foods if f.is_supplement])
    for limit in limits_for(reference.safety.limits, frozenset({SafeStage.ADULT}), frozenset()):
        if limit.role not in _JUDGED or limit.value is None or limit.key in _DOSED:
            continue
        sums = whole if limit.counts is Counts.TOTAL else added
        if sums is None or limit.key not in library.catalogue:
            continue
        nutrient = library.catalogue.get(limit.key)
        amount = convert(limit.key, sums.amount(limit.key), nutrient.unit, limit.unit)
        at_rest, at_most, eaten_kcal = _allowed(reference, limit, weight_kg)
        strong = amount * eaten_kcal > at_most * sums.kcal
        if strong and amount > at_rest * (1 + 1e-9):
            span = " to ".join(dict.fromkeys((plainly(at_rest), plainly(at_most))))
            yield Finding(
                kind=Kind.SAFETY,
                level=Level.BLOCK if amount > at_most * (1 + 1e-9) else Level.WARN,
                what=f"{nutrient.name}: {plainly(amount)} {limit.unit} in this",
                why=f"{limit.kind}: at most {limit.printed}, which is {span} {limit.unit} a day for {weight_kg:g} kg"
                + (f" ({limit.effect})" if limit.effect else ""),
                do="Less of it, or say for how many days it is; formulate it to see the whole bowl.",
                source=limit.source, confidence=limit.confidence, nutrient=limit.key,
            )  # fmt: skip


def doses_not_known(lines: Sequence[ReadLine]) -> Iterator[Finding]:
    """One finding for every strength (IU, mg, ug) of which nobody can say what it is of: it is never passed over."""
    for line in lines:
        if line.unit in _STRENGTHS and line.amount is not None and line.grams is None:
            yield Finding(
                kind=Kind.SAFETY, level=Level.WARN, matter="Dose not known", what=f"Dose not known: {line.text}",
                why="what this strength is of was not found, so whether it is too much cannot be told",
                do="Name the supplement as it stands in the library, or read its pack and enter it.",
                source="the text itself", named=line.text,
            )  # fmt: skip


def _sums(library: FoodLibrary, foods: Sequence[tuple[Food, float]]) -> Totals | None:
    if not foods:
        return None
    return totals(library, [library.row(f.id) for f, _ in foods], [g for _, g in foods], 1.0)


def _allowed(
    reference: Reference, limit: SafeLimit, weight_kg: float
) -> tuple[float, float, float]:
    """What a limit allows a dog in a day, at rest and at the intake that published figures refer to, and that intake
    in kcal."""
    value = limit.value or 0.0
    metabolic = weight_kg**0.75
    eaten_kcal = metabolic * reference.safety.dose.reference_intake
    if limit.per is Per.MCAL:
        at_rest = value / 1000 * metabolic * reference.energy.rer_a
        return at_rest, value / 1000 * eaten_kcal, eaten_kcal
    allowed = value * (weight_kg if limit.per is Per.KG else metabolic)
    return allowed, allowed, eaten_kcal
