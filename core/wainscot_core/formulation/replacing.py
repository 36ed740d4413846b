"""What could take the place of a line: foods like it, each tried in the analysis, the gentlest on the recipe first."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..analysis.adequacy import TOO_MUCH
from ..analysis.short_wall import Boards
from ..bowl.exclusions import rather_not, why_unfit
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import Food
from ..figures import rounded
from ..recipe.amount import Amount
from ..recipe.line import Line, sum_lines
from .adjust import TAGS, Keep
from .candidates import amount_text, increment_of, least_of
from .helpful import Stand, broken, mended, stand_of

MOST_SHOWN = 6
# Of one species so many are shown, what is replaced counted: six cuts of the same animal are no choice.
MOST_OF_SPECIES = 2
# A board counts as filled up to so many times its bound; what lies over that tells two foods apart no more.
MOST_FILLED = 3.0


@dataclass(frozen=True, kw_only=True)
class Replacement:
    """A food in the place of a line. quantity: so much of it keeps what was asked. boards: the wall with it. mends: by
    name, what is held then and is not now; breaks: what falls short, into doubt or over then and does not now. caution:
    why a condition would rather not have it, or ""."""

    food: str
    name: str
    quantity: str
    kcal: float
    boards: Boards
    mends: tuple[str, ...]
    breaks: tuple[str, ...]
    caution: str


@dataclass(frozen=True, kw_only=True)
class Replacements:
    """What could take the place of a line. keys: of the boards; before: the wall as it is; found: the best first."""

    keys: tuple[str, ...]
    before: Boards
    found: tuple[Replacement, ...]


def replacements(dossier: Dossier, position: int, keep: Keep) -> Replacements:
    """Foods like that of line `position` in the amount that keeps its energy or protein, as they are bought.

    Like it: of the same swap of formulation.yaml, or of the same group of kinds where it is in none. What the dog must
    not have is left out. First what breaks nothing, then what a condition has nothing against, then what mends the
    most, then what changes the wall the least. Raises InputError (line).
    """
    if not 0 <= position < len(dossier.lines):
        raise InputError("line", "is no line of this recipe")
    before = stand_of(dossier, sum_lines(dossier.library, dossier.lines, dossier.days))
    keys = tuple(
        key
        for key, verdict in before.verdicts.items()
        if verdict.limit is not None and (verdict.limit.minimum or verdict.limit.ceiling)
    )
    now = _boards(before, keys)
    ranked = sorted(_tried(dossier, position, keep, before, keys), key=lambda x: x[0])
    shown: list[Replacement] = []
    of_species: Counter[str] = Counter({dossier.lines[position].food.attributes.species: 1})
    for _, food, found in ranked:
        species = food.attributes.species
        if len(shown) < MOST_SHOWN and of_species[species] < MOST_OF_SPECIES:
            of_species[species] += 1
            shown.append(found)
    return Replacements(keys=keys, before=now, found=tuple(shown))


def like(dossier: Dossier, food: Food) -> Iterator[Food]:
    """Foods of the library that are used as this one is, and that this dog may have."""
    rules = dossier.reference.formulation
    swap = next((s for s in rules.swaps if s.when.holds(food.attributes) is True), None)
    there = {line.food.id for line in dossier.lines}
    for other in dossier.library.foods:
        if other.id in there or not other.proposable or other.is_supplement != food.is_supplement:
            continue
        if swap is None:
            alike = bool(food.attributes.group) and other.attributes.group == food.attributes.group
        else:
            alike = swap.when.holds(other.attributes) is True
        if alike and not why_unfit(other, dossier.avoid):
            yield other


def _tried(
    dossier: Dossier, position: int, keep: Keep, before: Stand, keys: Sequence[str]
) -> Iterator[tuple[tuple[object, ...], Food, Replacement]]:
    library, rules = dossier.library, dossier.reference.formulation
    replaced = dossier.lines[position]
    if replaced.food.is_supplement:
        return
    wanted = sum_lines(library, [replaced], 1).amount(TAGS[keep])
    column = library.catalogue.index(TAGS[keep])
    energy = library.catalogue.index("ENERC")
    was = _boards(before, keys).filled
    catalogue = library.catalogue
    names = {n.key: n.short for n in catalogue.nutrients} | {
        r.key: r.short for r in catalogue.ratios
    }
    for food in like(dossier, replaced.food):
        row = library.row(food.id)
        theirs = float(library.values[row, column])
        if not (theirs > 0 and wanted > 0):
            continue
        increment = increment_of(rules, food)
        steps = round(wanted / theirs * 100 / increment.grams)
        grams = max(steps * increment.grams, least_of(rules, food, increment))
        amount = Amount(
            grams / increment.grams * increment.count, increment.unit, grams, "adjusted"
        )
        lines = list(dossier.lines)
        lines[position] = Line(food, row, amount, None)
        after = stand_of(dossier, sum_lines(library, lines, dossier.days))
        boards = _boards(after, keys)
        breaks = broken(before.statuses, after.statuses)
        mends = (
            *mended(before.statuses, after.statuses),
            *(
                k
                for k, s in before.statuses.items()
                if s in TOO_MUCH and after.statuses[k] not in TOO_MUCH and k not in breaks
            ),
        )
        caution = rather_not(food, dossier.avoid)
        apart = sum(
            abs(min(a, MOST_FILLED) - min(b, MOST_FILLED))
            for a, b in zip(was, boards.filled, strict=True)
            if a is not None and b is not None
        )
        found = Replacement(
            food=food.id, name=food.name, quantity=amount_text(increment, grams),
            kcal=rounded(float(library.values[row, energy]) * grams / 100), boards=boards,
            mends=tuple(names[k] for k in mends), breaks=tuple(names[k] for k in breaks), caution=caution,
        )  # fmt: skip
        yield (len(breaks), bool(caution), -len(mends), apart, food.id), food, found


def _boards(stand: Stand, keys: Sequence[str]) -> Boards:
    filled: list[float | None] = []
    for key in keys:
        verdict = stand.verdicts[key]
        bound = (verdict.limit.minimum or verdict.limit.ceiling) if verdict.limit else None
        known = verdict.value is not None and bound is not None
        filled.append(rounded((verdict.value or 0.0) / bound) if known and bound else None)
    return Boards(filled=tuple(filled), statuses=tuple(stand.statuses[k] for k in keys))
