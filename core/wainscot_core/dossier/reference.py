"""Load the reference folder: facts with citations, as frozen objects.

The only module of the core that reads files; it is told where they are.
"""

import csv
import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
import yaml

from ..bowl.exclusions import SourceGroups
from ..confidence import Confidence
from ..dog.as_it_is import AsItIsRules
from ..dog.breeds import Breeds
from ..dog.energy import EnergyRules
from ..dog.energy_methods import MethodRules
from ..dog.first_line import LineFacts
from ..dog.first_words import FirstWords
from ..dog.intake import IntakeRules
from ..dog.life_stage import LifeStageRules
from ..dog.told import AskedOfOwner, read_sheet
from ..facts.allergens import AllergenWords
from ..facts.attributes import read_attributes, with_figures
from ..facts.availability import AvailabilityRules, read_availability
from ..facts.batches import BatchRules, read_batch_rules
from ..facts.bounds import ClassBounds
from ..facts.boxes import BoxRules, read_box_rules
from ..facts.change_over import ChangeRules, read_change_rules
from ..facts.foods import (
    UNKNOWN,
    Food,
    FoodLibrary,
    Grade,
    Measure,
    Provenance,
    fill_derived,
    known_values,
)
from ..facts.formulation_rules import FormulationRules
from ..facts.glossary import Glossary
from ..facts.handling import HandlingRules, read_handling
from ..facts.hazards import Hazards, read_hazards
from ..facts.interactions import Interaction, read_interactions
from ..facts.kitchen_errors import KitchenErrors
from ..facts.label_prompts import LabelPrompt, read_prompts
from ..facts.label_terms import LabelTerms
from ..facts.label_words import LabelWords, read_label_words
from ..facts.labels import LabelRules
from ..facts.laboratory import LaboratoryRules, read_laboratory
from ..facts.learning import LearningRules, read_learning
from ..facts.me_methods import MeRules
from ..facts.nutrients import Catalogue
from ..facts.preparations import Method, read_methods
from ..facts.rechecks import RecheckRules, read_rechecks
from ..facts.shelf_label import LabelFacts
from ..facts.shop import ShopRules
from ..facts.soundness import SoundnessRules
from ..facts.supplements import Measuring, Supplement, read_measuring, read_supplements
from ..facts.table_words import TableWords
from ..facts.trials import TrialRules, read_trials
from ..facts.variation import Variation
from ..recipe.plan import ExtrasRule
from ..recipe.proportions import FeedingRules
from ..scale.simulated import ScaleKind, read_scales
from ..targets.basis import BasisRules
from ..targets.beside import KindOfDog, read_kinds
from ..targets.command_words import CommandWords
from ..targets.conditions import Condition, read_conditions
from ..targets.food_rules import FoodRule, read_food_rules
from ..targets.requirements import SafetyLayer
from ..targets.safe_limits import DoseRule, lowest_ceilings, read_safe_limits
from ..targets.standards import Standard
from ..transcribe.hazard_words import HazardWords
from ..transcribe.matching import Matcher
from ..transcribe.words import Words


@dataclass(frozen=True)
class Reference:
    """Everything the computation knows before it meets a dog."""

    catalogue: Catalogue
    library: FoodLibrary
    standards: dict[str, Standard]
    energy: EnergyRules
    hazards: Hazards
    methods: tuple[Method, ...]
    supplements: dict[str, Supplement]
    measuring: Measuring
    allergens: AllergenWords
    label_words: LabelWords
    table_words: TableWords
    food_rules: tuple[FoodRule, ...]
    conditions: dict[str, Condition]
    energy_methods: MethodRules
    weight: dict[str, Any]
    breeds: Breeds
    formulation: FormulationRules
    source_groups: SourceGroups
    feeding: FeedingRules
    interactions: tuple[Interaction, ...]
    safety: SafetyLayer
    basis: BasisRules
    life_stages: LifeStageRules
    intake: IntakeRules
    owners_sheet: tuple[AskedOfOwner, ...]
    labels: LabelRules
    me: MeRules
    extras: ExtrasRule
    variation: Variation
    kitchen_errors: KitchenErrors
    words: Words
    hazard_words: HazardWords
    availability: AvailabilityRules
    as_it_is: AsItIsRules
    label_terms: LabelTerms
    shop: ShopRules
    label_prompts: tuple[LabelPrompt, ...]
    handling: HandlingRules
    change_over: ChangeRules
    batches: BatchRules
    scales: Mapping[str, ScaleKind]
    boxes: BoxRules
    learning: LearningRules
    trials: TrialRules
    laboratory: LaboratoryRules
    rechecks: RecheckRules
    first_words: FirstWords
    command_words: CommandWords
    kinds_of_dogs: tuple[KindOfDog, ...]
    # SHA-256 of every file these facts were read from.
    fingerprint: str

    @cached_property
    def matcher(self) -> Matcher:
        """What people call the foods of the library."""
        return Matcher(self.words, self.library, frozenset(m.label for m in self.methods))

    @property
    def line_facts(self) -> LineFacts:
        """What the first line about a dog is read by."""
        return LineFacts(
            self.first_words, self.conditions, self.breeds, self.allergens, self.energy
        )

    @property
    def shelf_labels(self) -> LabelFacts:
        """What the labels of supplements are read by."""
        return LabelFacts(self.label_words, self.catalogue, self.allergens, self.measuring)


# The parser in C reads the folder in a tenth of the time; where it was not built the other one will do.
_Loader = getattr(yaml, "CSafeLoader", yaml.SafeLoader)


def _yaml(path: Path) -> dict[str, Any]:
    data: dict[str, Any] = yaml.load(path.read_text(encoding="utf-8"), Loader=_Loader)  # noqa: S506
    return data


def _rows(path: Path) -> list[dict[str, str]]:
    with path.open(newline="", encoding="utf-8") as handle:
        return list(csv.DictReader(handle))


def fingerprint_of(folder: Path) -> str:
    """SHA-256 over the names and contents of a reference folder's files, in the order of their names."""
    digest = hashlib.sha256()
    for path in sorted(p for p in folder.rglob("*") if p.suffix in {".csv", ".yaml"}):
        content = path.read_bytes()
        digest.update(f"{path.relative_to(folder).as_posix()} {len(content)}\n".encode())
        digest.update(content)
    return digest.hexdigest()


def load_catalogue(folder: Path) -> Catalogue:
    """The nutrient catalogue of a reference folder."""
    return Catalogue.from_data(_yaml(folder / "nutrients.yaml"))


def load_library(folder: Path, catalogue: Catalogue) -> FoodLibrary:
    """The food library of a reference folder (composition/*.csv).

    Raises ValueError when a table names a nutrient or a provenance code that does not exist.
    """
    tables = folder / "composition"
    provenance = [UNKNOWN]
    code_rows = {"": 0}
    for row in _rows(tables / "provenance.csv"):
        code_rows[row["code"]] = len(provenance)
        provenance.append(
            Provenance(
                row["code"],
                Grade(row["grade"]),
                row["text"],
                row["citation"],
                Confidence(row["confidence"]),
                float(row["spread"]),
            )
        )
    measures: dict[str, list[Measure]] = {}
    for row in _rows(tables / "measures.csv"):
        measures.setdefault(row["id"], []).append(
            Measure(
                row["measure"], float(row["grams"]), row["source"], Confidence(row["confidence"])
            )
        )
    attributes = {r["id"]: read_attributes(r) for r in _rows(tables / "attributes.csv")}
    families = {r["id"]: r["family"] for r in _rows(tables / "families.csv")}
    derived: dict[str, dict[str, Any]] = {
        r["id"]: {
            "derived": True,
            "like": tuple(g for g in r["like"].split("|") if g),
            "bone_share": float(r["bone_share"] or 0),
            "bone_protein_g": float(r["bone_protein_g"] or 0),
        }
        for r in _rows(tables / "derived.csv")
    }
    foods = tuple(
        Food(
            row["id"], row["name"], row["class"], row["form"], row["plain"] == "1",
            tuple(row["allergens"].split()), row["source_name"], tuple(measures.get(row["id"], ())),
            attributes=attributes[row["id"]], family=families[row["id"]], **derived.get(row["id"], {}),
        )
        for row in _rows(tables / "foods.csv")
    )  # fmt: skip
    values = np.full((len(foods), len(catalogue.nutrients)), np.nan)
    codes = np.zeros(values.shape, dtype=np.int32)
    order = {food.id: i for i, food in enumerate(foods)}
    for name, target, read in (
        ("values.csv", values, float),
        ("sources.csv", codes, code_rows.__getitem__),
    ):
        with (tables / name).open(newline="", encoding="utf-8") as handle:
            reader = csv.reader(handle)
            columns = [catalogue.index(tag) for tag in next(reader)[1:]]
            for cells in reader:
                row_number = order[cells[0]]
                for column, cell in zip(columns, cells[1:], strict=True):
                    if cell:
                        target[row_number, column] = read(cell)
    fill_derived(catalogue, values, codes)
    foods = tuple(
        replace(f, attributes=with_figures(f.attributes, f.klass, known_values(catalogue, row)))
        for f, row in zip(foods, values, strict=True)
    )
    bounds = ClassBounds.from_rows(_rows(tables / "bounds.csv"))
    return FoodLibrary(catalogue, foods, values, codes, tuple(provenance), bounds)


def load_standards(folder: Path) -> dict[str, Standard]:
    """Published standards by id."""
    loaded = [
        Standard.from_data(_yaml(path)) for path in sorted((folder / "standards").glob("*.yaml"))
    ]
    return {standard.id: standard for standard in loaded}


def load_energy(folder: Path) -> EnergyRules:
    """The energy equations and bounds."""
    return EnergyRules.from_data(_yaml(folder / "energy" / "methods.yaml"))


def load_soundness(folder: Path) -> SoundnessRules:
    """What the food table is held to, which nothing but that looks at."""
    tables = folder / "composition"
    return SoundnessRules.from_data(
        _yaml(folder / "soundness.yaml"), _rows(tables / "spot_values.csv"),
        _rows(tables / "inputs" / "pairs_explained.csv"),
    )  # fmt: skip


def load_glossary(folder: Path) -> Glossary:
    """The words of the trade and of this program."""
    return Glossary.from_data(_yaml(folder / "glossary.yaml"))


def load_me(folder: Path, catalogue: Catalogue) -> MeRules:
    """The methods of food energy."""
    factors = {"atwater": catalogue.atwater, "modified_atwater": catalogue.modified_atwater}
    return MeRules.from_data(_yaml(folder / "energy" / "food_energy.yaml"), factors)


def load_conditions(folder: Path) -> dict[str, Condition]:
    """Every condition of the files of conditions/, by id. ValueError for one that is given twice."""
    found: dict[str, Condition] = {}
    for path in sorted((folder / "conditions").glob("*.yaml")):
        for key, condition in read_conditions(_yaml(path)).items():
            if key in found:
                raise ValueError(f"{path.name}: the condition {key} is given twice")
            found[key] = condition
    return found


def load(folder: Path) -> Reference:
    """Load a whole reference folder."""
    catalogue = load_catalogue(folder)
    safe_limits = read_safe_limits(_rows(folder / "safe_limits.csv"))
    shelf = _yaml(folder / "supplements" / "supplements.yaml")
    measuring = read_measuring(shelf, lowest_ceilings(safe_limits, catalogue))
    supplements = [measuring.checked(s) for s in read_supplements(shelf, catalogue)]
    library = load_library(folder, catalogue).extended(
        [s.food for s in supplements],
        [s.values for s in supplements],
        [s.provenance for s in supplements],
    )
    label_words = read_label_words(
        _yaml(folder / "supplements" / "label_words.yaml"), shelf["atomic_weights"], catalogue
    )
    preparations = folder / "preparations"
    basis = BasisRules.from_data(_yaml(folder / "basis.yaml"))
    methods = _yaml(folder / "energy" / "methods.yaml")
    me = load_me(folder, catalogue)
    return Reference(
        catalogue,
        library,
        load_standards(folder),
        load_energy(folder),
        read_hazards(_yaml(folder / "hazards" / "foods.yaml")),
        read_methods(
            _yaml(preparations / "methods.yaml"),
            _rows(preparations / "retention.csv"),
            _rows(preparations / "yields.csv"),
            _rows(folder / "composition" / "cooking.csv"),
        ),
        {s.food.id: s for s in supplements},
        measuring,
        AllergenWords.from_data(_yaml(folder / "library" / "allergens.yaml")["groups"]),
        label_words,
        TableWords.from_data(
            _yaml(folder / "library" / "table_words.yaml"), label_words, catalogue
        ),
        read_food_rules(_rows(folder / "conditions" / "food_rules.csv")),
        load_conditions(folder),
        MethodRules.from_data(methods),
        {key: methods[key] for key in ("ideal_weight", "weight_plan", "cold")},
        Breeds.from_data(
            _rows(folder / "breeds" / "breeds.csv"),
            _yaml(folder / "breeds" / "sizes.yaml")["size_classes"],
        ),
        FormulationRules.from_data(_yaml(folder / "formulation.yaml")),
        SourceGroups.from_data(_yaml(folder / "library" / "source_groups.yaml")),
        FeedingRules.from_data(_yaml(folder / "feeding_ways.yaml")),
        read_interactions(_rows(folder / "hazards" / "interactions.csv")),
        SafetyLayer(
            safe_limits,
            DoseRule(basis.poisons, basis.poison_intake),
        ),
        basis,
        LifeStageRules.from_data(_yaml(folder / "energy" / "life_stages.yaml")),
        IntakeRules.from_data(_yaml(folder / "intake.yaml")),
        read_sheet(_yaml(folder / "intake.yaml")["sheet"]),
        LabelRules.from_data(_yaml(folder / "energy" / "labels.yaml"), me),
        me,
        ExtrasRule.from_data(_yaml(folder / "plan.yaml")["extras"]),
        Variation.from_data(_yaml(folder / "variation.yaml")),
        KitchenErrors.from_data(_yaml(folder / "kitchen_errors.yaml")),
        Words.from_data(
            _yaml(folder / "transcribe" / "words.yaml"), _rows(folder / "transcribe" / "called.csv")
        ),
        HazardWords.from_data(_yaml(folder / "hazards" / "words.yaml")),
        read_availability(
            _yaml(folder / "hazards" / "availability.yaml"),
            _yaml(folder / "hazards" / "patterns.yaml"),
        ),
        AsItIsRules.from_data(_yaml(folder / "as_it_is.yaml")),
        LabelTerms.from_rows(_rows(folder / "library" / "label_terms.csv")),
        ShopRules.from_data(_yaml(folder / "shopping.yaml")),
        read_prompts(_yaml(folder / "hazards" / "prompts.yaml")),
        read_handling(_yaml(folder / "kitchen" / "handling.yaml")),
        read_change_rules(_yaml(folder / "kitchen" / "change_over.yaml")),
        read_batch_rules(_yaml(folder / "kitchen" / "batches.yaml")),
        read_scales(_yaml(folder / "kitchen" / "scales.yaml")),
        read_box_rules(_yaml(folder / "kitchen" / "labels.yaml")),
        read_learning(_yaml(folder / "followup" / "weight.yaml")),
        read_trials(_yaml(folder / "followup" / "trial.yaml")),
        read_laboratory(_yaml(folder / "followup" / "laboratory.yaml")),
        read_rechecks(_yaml(folder / "followup" / "rechecks.yaml")),
        FirstWords.from_data(_yaml(folder / "first_line.yaml"), load_conditions(folder)),
        CommandWords.from_data(_yaml(folder / "commands.yaml")),
        read_kinds(_yaml(folder / "kinds_of_dogs.yaml")),
        fingerprint_of(folder),
    )
