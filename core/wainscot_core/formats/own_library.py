"""What a case file or a practice brings to the library: own foods, a shelf, strengths and measures of its own."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ..boundary import Number, Text40, Text160
from ..confidence import Confidence
from ..dossier.reference import Reference
from ..errors import InputError
from ..facts.allergens import AllergenWords
from ..facts.foods import Food, FoodLibrary, Grade, Measure, Provenance, wrong_values
from ..facts.me_methods import FibreKind
from ..facts.shelf import ShelfItem, amount_in
from ..facts.supplements import Measuring, Supplement, label_values, shelf_supplement
from ..recipe.amounts import weight_unit

MOST_MEASURE_G = 10_000
MOST_STRENGTH = 1_000_000
MOST_MEASURE_NAME = 40


@dataclass(frozen=True, kw_only=True)
class FileFood:
    """A food the file brings: values per 100 g by tag, in catalogue units or with their unit. food_class:
    the class whose spread bounds what is not given (beef, vegetable, ...), "" for none. fibre: whether
    FIBTG is dietary fibre, or the crude fibre of a pet food label. may_exceed: by how much more than its value there may
    be of a tag, per 100 g in catalogue units, where a label says "at least"."""

    id: Annotated[str, StringConstraints(pattern=r"^own:[A-Za-z0-9][A-Za-z0-9_-]{0,59}$")]
    name: Text160 = ""
    form: Text40 = "plain"
    food_class: Text40 = ""
    fibre: FibreKind = FibreKind.DIETARY
    ingredients: Annotated[str, StringConstraints(max_length=4000)] = ""
    per_100_g: dict[str, Any] = field(default_factory=dict)
    may_exceed: dict[str, Annotated[Number, Field(ge=0)]] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class FileKnown:
    """What was found out of a food of the library. strengths: read from the pack, by tag, in the unit the
    food asks for; measures: grams of one level measure by name."""

    strengths: dict[str, Number] = field(default_factory=dict)
    measures: dict[str, Number] = field(default_factory=dict)


def values_of(library: FoodLibrary, per_100_g: dict[str, Any], at: str) -> dict[str, float]:
    """Values per 100 g by tag in catalogue units. Raises InputError naming the tag."""
    row = {}
    for key, raw in per_100_g.items():
        where = f"{at}.{key}"
        if key not in library.catalogue:
            raise InputError(where, "is not a nutrient key of the catalogue")
        row[key] = amount_in(library.catalogue.get(key).unit, key, raw, where)
    return row


def with_own_foods(
    library: FoodLibrary, entries: Sequence[FileFood], allergens: AllergenWords
) -> FoodLibrary:
    """The library and the case file's own foods, with what their statements name that a dog may react to. Raises InputError (field foods[i]...)."""
    foods: list[Food] = []
    values: list[dict[str, float]] = []
    provenance: list[Provenance] = []
    for i, entry in enumerate(entries):
        at = f"foods[{i}]"
        if entry.id in library or any(f.id == entry.id for f in foods):
            raise InputError(f"{at}.id", f"{entry.id} is given twice")
        row = values_of(library, entry.per_100_g, f"{at}.per_100_g")
        for key, message in wrong_values(library.catalogue, row):
            raise InputError(f"{at}.per_100_g.{key}", message)
        for key in entry.may_exceed:
            if key not in row:
                raise InputError(f"{at}.may_exceed.{key}", "is of a value that is not given")
        name = entry.name or entry.id
        foods.append(
            Food(
                entry.id,
                name,
                entry.food_class or "own",
                entry.form or "plain",
                allergens=tuple(sorted(allergens.found_in(f"{name}. {entry.ingredients}"))),
                source_name=entry.ingredients,
                fibre=entry.fibre,
                statement=entry.ingredients,
                may_exceed=entry.may_exceed,
            )
        )
        values.append(row)
        provenance.append(
            Provenance(
                entry.id,
                Grade.LABEL,
                f"Own food {name}",
                "entered by the practice",
                Confidence.UNSAID,
            )
        )
    return library.extended(foods, values, provenance) if foods else library


def with_shelf(
    library: FoodLibrary,
    items: Sequence[ShelfItem],
    measuring: Measuring,
    stocked: bool = True,
) -> FoodLibrary:
    """The library and the supplements on a shelf, or those that were taken off it. Raises InputError (field
    shelf[i]...)."""
    found: list[Supplement] = []
    for i, item in enumerate(items):
        values = values_of(library, item.per_100_g, f"shelf[{i}].per_100_g")
        for key, message in wrong_values(library.catalogue, {"ENERC": 0.0, **values}):
            raise InputError(f"shelf[{i}].per_100_g.{key}", message)
        supplement = measuring.checked(shelf_supplement(item, values, library.catalogue, stocked))
        if supplement.food.id in library or any(s.food.id == supplement.food.id for s in found):
            raise InputError(f"shelf[{i}].id", f"{supplement.food.id} is given twice")
        found.append(supplement)
    if not found:
        return library
    return library.extended(
        [s.food for s in found], [s.values for s in found], [s.provenance for s in found]
    )


def check_known(
    reference: Reference,
    food_id: str,
    strengths: Mapping[str, float],
    measures: Mapping[str, float],
    at: str = "",
) -> None:
    """Refuse a strength the food does not ask for, a measure that is a weight, and figures that cannot be.

    Raises InputError (field at + strengths.TAG or measures.NAME).
    """
    supplement = reference.supplements.get(food_id)
    asked = {q.tag for q in supplement.label} if supplement else set()
    for tag, amount in strengths.items():
        if tag not in asked:
            raise InputError(f"{at}strengths.{tag}", "this food does not ask for it")
        _positive(f"{at}strengths.{tag}", amount, MOST_STRENGTH)
    for name, grams in measures.items():
        _positive(f"{at}measures.{name}", grams, MOST_MEASURE_G)
        if not 0 < len(name.strip()) <= MOST_MEASURE_NAME or weight_unit(name):
            raise InputError(
                f"{at}measures.{name}", "name a measure that is not a weight: cup, can, scoop"
            )


def _positive(at: str, value: float, most: float) -> None:
    if not 0 < value <= most:
        raise InputError(at, f"must be a number above 0 and at most {most:g}")


def with_known(
    reference: Reference,
    library: FoodLibrary,
    food_id: str,
    strengths: Mapping[str, float],
    measures: Mapping[str, float],
    source: str,
    at: str,
) -> FoodLibrary:
    """The library with what was read from a food's pack and measured of it.

    Raises InputError (field at...) for a food that is not there, a strength it does not ask for, or a
    measure that is a weight.
    """
    if food_id not in library:
        raise InputError(at, f"no food {food_id!r} in the library")
    check_known(reference, food_id, strengths, measures, f"{at}.")
    supplement = reference.supplements.get(food_id)
    if supplement and strengths:
        from_pack = Provenance(
            f"label:{food_id}",
            Grade.LABEL,
            "Strength read from the pack",
            source,
            Confidence.UNSAID,
        )
        values = label_values(supplement, strengths, library.catalogue)
        library = library.with_values(food_id, values, from_pack)
        library = reference.measuring.in_library(library, food_id)
    if measures:
        measured = [
            Measure(n, float(g), source, Confidence.HIGH, own=True) for n, g in measures.items()
        ]
        library = library.with_measures(food_id, measured)
    return library
