"""The case file: one dog's case with one recipe, read and written.

Format: docs/formats/case.schema.json. Food ids: usda:<5 digits>, supp:<slug> for the generic
supplements, own:<slug> and shelf:<slug> for what the file itself brings.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, StringConstraints

from ..boundary import Number, Text40, Text80, Text120, Text160, Text200, dump, read, unknown_fields
from ..bowl.marks import FoodMark, Mark
from ..confidence import Confidence
from ..conventions import DEFAULT, Conventions
from ..dog.record import (
    CaseRecord,
    Diagnosed,
    Diagnosis,
    DogRecord,
    EnergyBy,
    FoodEnergyBy,
    IntakeRecord,
    ReactionRecord,
    TargetsRecord,
)
from ..dossier.dossier import (
    Dossier,
    avoidance_of,
    check_days,
    conditions_of,
    energy_of,
    feeding_facts,
    merged_targets,
)
from ..dossier.reference import Reference
from ..errors import InputError
from ..facts.food_energy import on_scale
from ..facts.foods import Food, FoodLibrary, Grade, Measure, Provenance, wrong_values
from ..facts.me_methods import DEFAULT_ME, FibreKind
from ..facts.policy import Policy
from ..facts.shelf import ShelfItem
from ..facts.supplements import Measuring, Supplement, label_values, shelf_supplement
from ..recipe.amounts import weight_unit
from ..recipe.line import MAX_LINES, Line, LineText, read_line
from ..units import Measures, convert

MOST_MEASURE_G = 10_000
MOST_STRENGTH = 1_000_000
MOST_MEASURE_NAME = 40
SAID_IN_FILE = "said in the case file"


@dataclass(frozen=True, kw_only=True)
class FileDog(DogRecord):
    """The dog of a case file; it need not have a name."""

    name: Text80 = ""


@dataclass(frozen=True, kw_only=True)
class FileEnergy:
    """How the energy target is set: a multiple of RER, or the consultant's own figure."""

    method: Literal["rer-multiplier"] = "rer-multiplier"
    multiplier: Number = 1.0
    kcal_per_day: Number | None = None


@dataclass(frozen=True, kw_only=True)
class FileLine:
    """An ingredient: grams, or an amount with a unit."""

    food: Annotated[str, StringConstraints(min_length=1, max_length=80)]
    grams: Number | None = None
    amount: Number | None = None
    unit: Text40 = ""
    preparation: Text40 = ""
    note: Text200 = ""
    override: Text200 = ""


@dataclass(frozen=True, kw_only=True)
class FileRecipe:
    """The recipe: lines that together feed the dog for `covers_days`."""

    name: Text160 = ""
    covers_days: Number = 1.0
    lines: Annotated[tuple[FileLine, ...], Field(max_length=MAX_LINES)] = ()


@dataclass(frozen=True, kw_only=True)
class FileFood:
    """A food the file brings: values per 100 g by tag, in catalogue units or with their unit. food_class:
    the class whose spread bounds what is not given (beef, vegetable, ...), "" for none. fibre: whether
    FIBTG is dietary fibre, or the crude fibre of a pet food label."""

    id: Annotated[str, StringConstraints(pattern=r"^own:[A-Za-z0-9][A-Za-z0-9_-]{0,59}$")]
    name: Text160 = ""
    form: Text40 = "plain"
    food_class: Text40 = ""
    fibre: FibreKind = FibreKind.DIETARY
    ingredients: Annotated[str, StringConstraints(max_length=4000)] = ""
    per_100_g: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class FileKnown:
    """What was found out of a food of the library. strengths: read from the pack, by tag, in the unit the
    food asks for; measures: grams of one level measure by name."""

    strengths: dict[str, Number] = field(default_factory=dict)
    measures: dict[str, Number] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class FileClient:
    """The owner."""

    name: Text120 = ""


def _none_is_empty(value: object) -> object:
    return {} if value is None else value


OrEmpty = BeforeValidator(_none_is_empty)


@dataclass(frozen=True, kw_only=True)
class CaseFile:
    """A case file as it stands, checked field by field. conventions: how things are written for its
    client; amounts of the recipe are read with its cups and spoons."""

    format: Literal["wainscot-case"]
    version: Literal[1]
    dog: FileDog
    energy: FileEnergy
    targets: TargetsRecord
    recipe: FileRecipe
    client: FileClient = field(default_factory=FileClient)
    title: Text160 = ""
    foods: tuple[FileFood, ...] = ()
    shelf: tuple[ShelfItem, ...] = ()
    known: dict[str, FileKnown] = field(default_factory=dict)
    data_policy: Policy = Policy.GRADED
    me_method: FoodEnergyBy = DEFAULT_ME
    meals_per_day: Annotated[int, Field(ge=1, le=12)] = 2
    diagnoses: tuple[Diagnosis, ...] = ()
    reactions: tuple[ReactionRecord, ...] = ()
    intake: Annotated[IntakeRecord, OrEmpty] = field(default_factory=IntakeRecord)
    cannot_use: dict[str, Text200] = field(default_factory=dict)
    prices_per_kg: dict[str, Annotated[Number, Field(ge=0)]] = field(default_factory=dict)
    conventions: Conventions = DEFAULT
    formulate: dict[str, Any] = field(default_factory=dict)


def read_case_file(data: dict[str, Any]) -> CaseFile:
    """A case file from parsed JSON. Raises InputError naming the field."""
    return read(CaseFile, data)


def warnings_of(data: dict[str, Any]) -> list[str]:
    """Fields of a case file that are not known and so were not used."""
    return [f"{path} is not known here and was not used" for path in unknown_fields(CaseFile, data)]


def dossier_of(reference: Reference, file: CaseFile) -> Dossier:
    """The dossier of a case file. Raises InputError naming the field."""
    own_figure = file.energy.kcal_per_day is not None
    energy = energy_of(
        reference, file.dog, EnergyBy.OWN_FIGURE if own_figure else EnergyBy.MULTIPLIER,
        file.energy.multiplier, file.energy.kcal_per_day,
    )  # fmt: skip
    facts = feeding_facts(reference, file.dog, energy, file.me_method)
    targets = merged_targets(reference, file.targets, facts)
    days = check_days(file.recipe.covers_days, "recipe.covers_days")
    library = with_shelf(
        with_own_foods(reference.library, file.foods), file.shelf, reference.measuring
    )
    for food_id, known in file.known.items():
        library = with_known(
            reference,
            library,
            food_id,
            known.strengths,
            known.measures,
            SAID_IN_FILE,
            f"known.{food_id}",
        )
    library = on_scale(library, reference.me, file.me_method)
    lines = read_recipe_lines(reference, library, file.recipe.lines, file.conventions.measures)
    conditions = conditions_of(reference, file.targets.conditions)
    marks = tuple(FoodMark(f, Mark.SAID_IN_FILE, why) for f, why in file.cannot_use.items())
    medicines = tuple(m.name for m in file.intake.medicines)
    avoid = avoidance_of(reference, library, lines, file.reactions, conditions, marks, medicines)
    return Dossier(
        reference=reference, library=library, dog_name=file.dog.name, weight_kg=file.dog.weight_kg,
        energy=energy, targets=targets, lines=lines, days=days, policy=file.data_policy,
        meals_per_day=file.meals_per_day,
        conditions=conditions, avoid=avoid, medicines=medicines, prices=dict(file.prices_per_kg), marks=marks,
        measures=file.conventions.measures, eaten=tuple(x.name for x in file.intake.current_diet),
    )  # fmt: skip


@dataclass(frozen=True)
class Opened:
    """A case file, its dossier, and what of it was not used."""

    file: CaseFile
    dossier: Dossier
    warnings: tuple[str, ...]


def open_case(reference: Reference, data: dict[str, Any]) -> Opened:
    """A case file from parsed JSON, ready to be computed. Raises InputError naming the field."""
    file = read_case_file(data)
    return Opened(file, dossier_of(reference, file), tuple(warnings_of(data)))


def read_case(reference: Reference, data: dict[str, Any]) -> Dossier:
    """The dossier of parsed JSON. Raises InputError naming the field."""
    return dossier_of(reference, read_case_file(data))


def amount_in(catalogue_unit: str, key: str, raw: object, at: str) -> float:
    """A value that is a number in the catalogue's unit, or {"value", "unit"}."""
    value: object = raw
    unit = catalogue_unit
    if isinstance(raw, dict):
        value, unit = raw.get("value"), str(raw.get("unit"))
    number = read(Number, value, at)
    try:
        found = convert(key, number, unit, catalogue_unit)
    except ValueError as error:
        raise InputError(at, str(error)) from None
    if found < 0:
        raise InputError(at, "cannot be below 0")
    return found


def values_of(library: FoodLibrary, per_100_g: dict[str, Any], at: str) -> dict[str, float]:
    """Values per 100 g by tag in catalogue units. Raises InputError naming the tag."""
    row = {}
    for key, raw in per_100_g.items():
        where = f"{at}.{key}"
        if key not in library.catalogue:
            raise InputError(where, "is not a nutrient key of the catalogue")
        row[key] = amount_in(library.catalogue.get(key).unit, key, raw, where)
    return row


def with_own_foods(library: FoodLibrary, entries: Sequence[FileFood]) -> FoodLibrary:
    """The library and the case file's own foods. Raises InputError (field foods[i]...)."""
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
        name = entry.name or entry.id
        foods.append(
            Food(
                entry.id, name, entry.food_class or "own", entry.form or "plain", fibre=entry.fibre
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
    library: FoodLibrary, items: Sequence[ShelfItem], measuring: Measuring
) -> FoodLibrary:
    """The library and the supplements on a shelf. Raises InputError (field shelf[i]...)."""
    found: list[Supplement] = []
    for i, item in enumerate(items):
        values = values_of(library, item.per_100_g, f"shelf[{i}].per_100_g")
        for key, message in wrong_values(library.catalogue, {"ENERC": 0.0, **values}):
            raise InputError(f"shelf[{i}].per_100_g.{key}", message)
        supplement = measuring.checked(shelf_supplement(item, values, library.catalogue))
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


def _plain(number: float) -> str:
    """A number in full, whole ones without a point."""
    return repr(number).removesuffix(".0")


def line_text(entry: FileLine, at: str = "", measures: Measures = Measures.US) -> LineText:
    """A line of a case file as it would be typed. Raises InputError without an amount."""
    if entry.grams is not None:
        quantity = f"{_plain(entry.grams)} g"
    elif entry.amount is not None:
        quantity = f"{_plain(entry.amount)} {entry.unit}".strip()
    else:
        raise InputError(f"{at}.grams", "is missing: give grams, or amount and unit")
    return LineText(
        entry.food, quantity, entry.note, entry.preparation, entry.override, measures=measures
    )


def read_recipe_lines(
    reference: Reference,
    library: FoodLibrary,
    entries: Sequence[FileLine],
    measures: Measures = Measures.US,
) -> tuple[Line, ...]:
    """The recipe's lines. Raises InputError (field recipe.lines[i]...)."""
    lines = []
    for i, entry in enumerate(entries):
        at = f"recipe.lines[{i}]"
        try:
            lines.append(read_line(reference.methods, library, line_text(entry, at, measures)))
        except InputError as error:
            if error.field.startswith(at):
                raise
            named = error.field
            if named == "amount" and entry.grams is not None:
                named = "grams"
            raise InputError(f"{at}.{named}", error.message) from None
    return tuple(lines)


def record_of(file: CaseFile) -> CaseRecord:
    """What a case file records of a case, without its recipe and foods."""
    own_figure = file.energy.kcal_per_day is not None
    diagnoses = file.diagnoses or tuple(
        Diagnosis(id=c.id, stage=c.stage) for c in file.targets.conditions
    )
    return read(
        CaseRecord,
        {
            "dog": dump(file.dog), "title": file.title, "conditions": dump(diagnoses, tuple[Diagnosis, ...]),
            "reactions": dump(file.reactions, tuple[ReactionRecord, ...]), "intake": dump(file.intake),
            "energy_method": EnergyBy.OWN_FIGURE if own_figure else EnergyBy.MULTIPLIER,
            "multiplier": file.energy.multiplier, "kcal_per_day": file.energy.kcal_per_day,
            "standard": file.targets.standard, "life_stage": file.targets.life_stage,
            "basis": file.targets.basis, "me_method": file.me_method,
            "decisions": dump(file.targets)["decisions"], "data_policy": file.data_policy,
            "meals_per_day": file.meals_per_day,
        },
    )  # fmt: skip


def case_file_data(
    record: CaseRecord,
    client: str,
    recipe_name: str,
    days: float,
    lines: Sequence[Line],
    foods: Sequence[dict[str, Any]],
    shelf: Sequence[ShelfItem] = (),
    known: Mapping[str, FileKnown] = MappingProxyType({}),
    prices_per_kg: Mapping[str, float] = MappingProxyType({}),
    cannot_use: Mapping[str, str] = MappingProxyType({}),
    conventions: Conventions = DEFAULT,
) -> dict[str, Any]:
    """A case with one recipe as a case file. Every line keeps its full weight, method and notes.

    `foods` are the practice's foods that the lines use, as the file has them; known, prices_per_kg and
    cannot_use what it says of foods of the library.
    """
    data = dump(record)
    own_figure = record.energy_method is EnergyBy.OWN_FIGURE
    return {
        "format": "wainscot-case",
        "version": 1,
        "client": {"name": client},
        "title": record.title,
        "dog": data["dog"],
        "diagnoses": data["conditions"],
        "reactions": data["reactions"],
        "intake": data["intake"],
        "meals_per_day": record.meals_per_day,
        "energy": {"kcal_per_day": record.kcal_per_day}
        if own_figure
        else {"method": "rer-multiplier", "multiplier": record.multiplier},
        "targets": dump(targets_of(record)),
        "data_policy": data["data_policy"],
        "me_method": data["me_method"],
        "conventions": dump(conventions),
        "foods": list(foods),
        "shelf": [dump(item) for item in shelf],
        "known": {food: dump(said) for food, said in known.items()},
        "prices_per_kg": dict(prices_per_kg),
        "cannot_use": dict(cannot_use),
        "recipe": {
            "name": recipe_name,
            "covers_days": days,
            "lines": [_line_data(line) for line in lines],
        },
    }


def _line_data(line: Line) -> dict[str, Any]:
    text = line.text
    entry: dict[str, Any] = {"food": line.food.id, "grams": line.amount.grams}
    if line.prepared:
        entry["preparation"] = line.prepared.method.id
    for key in ("note", "override"):
        if text is not None and getattr(text, key):
            entry[key] = getattr(text, key)
    return entry


def targets_of(record: CaseRecord) -> TargetsRecord:
    """The targets of a recorded case."""
    return TargetsRecord(
        standard=record.standard,
        life_stage=record.life_stage,
        basis=record.basis,
        conditions=tuple(Diagnosed(id=c.id, stage=c.stage) for c in record.conditions),
        decisions=record.decisions,
    )
