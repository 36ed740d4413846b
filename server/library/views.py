"""What foods of a practice's library look like from outside."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from accounts.models import Practice
from django.core.paginator import Paginator
from wainscot_core.bowl.marks import Mark
from wainscot_core.facts.attributes import Attributes
from wainscot_core.facts.completeness import Completeness, completeness
from wainscot_core.facts.food_profile import ProfileValue, profile_values
from wainscot_core.facts.foods import FoodLibrary, Handling, LabelQuestion
from wainscot_core.facts.preparations import MethodChoice, forms_of, method_choices
from wainscot_core.figures import figure
from wainscot_core.formats.standard_table import StandardRow, rows_of
from wainscot_core.formulation.candidates import first_amount
from wainscot_core.recipe.typed import Typed, typed_amount
from wainscot_core.targets.beside import Overlay
from wainscot_core.targets.standards import Standard

from .facts import reference
from .models import OwnFood, PracticeFood, PracticeStandard
from .practice import questions_open
from .spoilt import SpoiltKind, fault_of

FOODS_A_PAGE = 50


@dataclass(frozen=True, kw_only=True)
class FoundFood:
    """A search hit: `quantity` the amount to start with, as typed or a first one; `mark` why not to
    suggest it; `questions` what its label must tell; `incomplete` strict groups it lacks;
    `derived` made from other rows and published figures, not analysed."""

    id: str
    name: str
    klass: str
    form: str
    derived: bool
    kcal_per_100g: float | None
    methods: tuple[MethodChoice, ...]
    quantity: str
    mark: Mark | None
    questions: tuple[LabelQuestion, ...]
    incomplete: tuple[str, ...]


def found_food(
    practice: Practice,
    library: FoodLibrary,
    row: int,
    typed: Typed | None = None,
    mark: Mark | None = None,
    incomplete: tuple[str, ...] = (),
) -> FoundFood:
    """A food as the search shows it, with the amount that was typed beside its name."""
    food, facts = library.foods[row], reference()
    first = first_amount(facts.formulation, food)
    return FoundFood(
        id=food.id,
        name=food.name,
        klass=food.klass,
        form=food.form,
        derived=food.derived,
        kcal_per_100g=figure(float(library.values[row, library.catalogue.index("ENERC")])),
        methods=method_choices(facts.methods, food),
        quantity=(typed_amount(typed) if typed else "") or first,
        mark=mark,
        questions=tuple(questions_open(practice, food.id)) if food.is_supplement else (),
        incomplete=incomplete,
    )


@dataclass(frozen=True, kw_only=True)
class KitchenMeasure:
    """A household measure of a food, g."""

    name: str
    grams: float
    source: str


@dataclass(frozen=True, kw_only=True)
class OtherForm:
    """Another form of the same food, and its weight per weight of this one by protein."""

    id: str
    name: str
    weight_share: float | None


@dataclass(frozen=True, kw_only=True)
class Noted:
    """What the practice noted of a food."""

    price: float | None
    price_grams: float | None
    price_date: date | None
    shop: str
    season: str
    unavailable: bool
    measures: dict[str, float]
    strengths: dict[str, float]


@dataclass(frozen=True, kw_only=True)
class Profile(FoundFood):
    """All that is known of a food; `own` is the number of an own food."""

    source_name: str
    allergens: tuple[str, ...]
    attributes: Attributes
    measures: tuple[KitchenMeasure, ...]
    values: tuple[ProfileValue, ...]
    completeness: tuple[Completeness, ...]
    forms: tuple[OtherForm, ...]
    handling: Handling | None
    practice: Noted | None
    own: int | None


def profile_of(practice: Practice, library: FoodLibrary, food_id: str) -> Profile:
    """The profile of a food of the practice's library."""
    row = library.row(food_id)
    food = library.foods[row]
    noted = PracticeFood.objects.for_practice(practice).filter(food=food_id).first()
    mine = next((f for f in OwnFood.objects.for_practice(practice) if f.food_id == food_id), None)
    return Profile(
        **vars(found_food(practice, library, row)),
        source_name=food.source_name,
        allergens=food.allergens,
        attributes=food.attributes,
        measures=tuple(
            KitchenMeasure(name=m.name, grams=m.grams, source=m.source) for m in food.measures
        ),
        values=profile_values(library, row),
        completeness=completeness(library, row),
        forms=tuple(
            OtherForm(id=f.food.id, name=f.food.name, weight_share=figure(f.weight_share))
            for f in forms_of(library, row)
        ),
        handling=food.handling,
        practice=noted_of(noted) if noted else None,
        own=mine.pk if mine else None,
    )


def noted_of(noted: PracticeFood) -> Noted:
    """A practice's note of a food; strengths and measures that cannot be read are told among what is spoilt."""
    readable = fault_of(SpoiltKind.NOTE, noted) is None
    strengths, measures = (noted.strengths, noted.measures) if readable else ({}, {})
    return Noted(
        price=None if noted.price is None else float(noted.price),
        price_grams=noted.price_grams,
        price_date=noted.price_date,
        shop=noted.shop,
        season=noted.season,
        unavailable=noted.unavailable,
        measures=measures,
        strengths=strengths,
    )


@dataclass(frozen=True, kw_only=True)
class Revision:
    """An older revision of an own food, and when it was replaced."""

    revision: int
    replaced: datetime


@dataclass(frozen=True, kw_only=True)
class OwnFoodView:
    """An own food: values per 100 g by tag; origin: how it was entered; allergens: source groups
    found in its name and ingredients, each with the word."""

    id: int
    food_id: str
    slug: str
    name: str
    klass: str
    form: str
    ingredients: str
    values: dict[str, float]
    origin: dict[str, Any]
    version: int
    revision: int
    revisions: tuple[Revision, ...]
    allergens: dict[str, str]


@dataclass(frozen=True, kw_only=True)
class OwnFoodPage:
    """A page of own foods. found: how many there are in all."""

    rows: tuple[OwnFoodView, ...]
    found: int
    page: int
    pages: int


def own_food_page(practice: Practice, page: int) -> OwnFoodPage:
    """A page of a practice's own foods by their names, from 1; the last one where there are not so many."""
    foods = OwnFood.objects.for_practice(practice).order_by("name", "pk")
    shown = Paginator(foods.prefetch_related("revisions"), FOODS_A_PAGE).get_page(max(1, page))
    return OwnFoodPage(
        rows=tuple(map(own_food_view, shown)), found=shown.paginator.count, page=shown.number,
        pages=shown.paginator.num_pages,
    )  # fmt: skip


def own_food_view(food: OwnFood) -> OwnFoodView:
    """A stored own food."""
    return OwnFoodView(
        id=food.pk,
        food_id=food.food_id,
        slug=food.slug,
        name=food.name,
        klass=food.klass,
        form=food.form,
        ingredients=food.ingredients,
        # Of one that cannot be read nothing is known; what stands there is told among what is spoilt.
        values={} if fault_of(SpoiltKind.FOOD, food) else food.values,
        origin=food.origin,
        version=food.version,
        revision=food.revision,
        revisions=tuple(
            Revision(revision=r.revision, replaced=r.replaced) for r in food.revisions.all()
        ),
        allergens=reference().allergens.found_in(f"{food.name}. {food.ingredients}"),
    )


@dataclass(frozen=True, kw_only=True)
class StandardStage:
    """A life stage of a standard."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class StandardChoice:
    """A standard as the list shows it."""

    id: str
    name: str
    citation: str
    checked: str
    life_stages: tuple[StandardStage, ...]


@dataclass(frozen=True, kw_only=True)
class StandardFull(StandardChoice):
    """A standard with every row as printed, per 1000 kcal ME; `own` when it may be edited,
    against `version`."""

    own: bool
    version: int
    words: str
    rows: tuple[StandardRow, ...]


@dataclass(frozen=True, kw_only=True)
class StandardsBeside(Overlay):
    """All standards over each other for a kind of dog; `own`: those that are the practice's copies."""

    dog: str
    dogs: tuple[StandardStage, ...]
    own: tuple[str, ...]


def choice_of(standard: Standard) -> StandardChoice:
    """A standard as the list shows it."""
    stages = [StandardStage(id=s.id, name=s.name) for s in standard.life_stages.values()]
    stages += [
        StandardStage(id=name, name=f"{name.replace('-', ' ').capitalize()}, by the dog's facts")
        for name, entries in standard.aliases.items()
        if len(entries) > 1
    ]
    return StandardChoice(
        id=standard.id,
        name=standard.name,
        citation=standard.citation,
        checked=standard.checked,
        life_stages=tuple(stages),
    )


def standard_full(standard: Standard, own: PracticeStandard | None) -> StandardFull:
    """A standard with its rows; `own`: the practice's copy that it is, None for a published one."""
    return StandardFull(
        **vars(choice_of(standard)),
        own=own is not None,
        version=own.version if own else 0,
        words=standard.words,
        rows=rows_of(reference().catalogue, standard),
    )
