"""The sheet for the kitchen: what goes into the bowl, what is short or unproven, the caution."""

from collections.abc import Iterator, Sequence

from ..analysis.adequacy import HELD, Status
from ..analysis.results import LineResult, NutrientResult, RatioResult
from ..conventions import (
    Conventions,
    FoodUnit,
    body_weight,
    both_weights,
    difference,
    food_weight,
    grams,
    number,
    share,
    spelled,
    told,
)
from ..facts.foods import FIRM_GRADES
from ..snapshot.snapshot import FrozenRecipe, Snapshot
from .cautions import cautions_of
from .paper import (
    CAUTION,
    Block,
    Column,
    Document,
    DocumentKind,
    Points,
    Section,
    Table,
    Tone,
    Words,
    listed,
    origin_of,
    sentence,
)
from .vital import vital_lead, vital_lines

# A household amount that misses the grams by more than this share is not enough to go by.
HOUSEHOLD_MISS = 0.05
# A limit that is met mostly on values that are not of these very foods is said to be so.
MOSTLY_ESTIMATED = 0.5


def kitchen_sheet(snapshot: Snapshot, edition: str, approved: str = "") -> Document:
    """The sheet of a recipe. approved: who did, in words, "" while nobody has. Raises InputError for a snapshot without one."""
    recipe = snapshot.of_recipe
    dog, c = snapshot.case.dog, snapshot.parties.conventions
    sections = [
        Section(
            title="", blocks=(_portions(snapshot, recipe), _lines(c, recipe), *_beside(c, recipe))
        ),
        Section(
            title=f"Against {recipe.analysis.requirements}",
            blocks=(*_basis(snapshot), *_food_energy(c, recipe), *_verdicts(c, recipe)),
        ),
    ]
    sections += _vital(c, recipe)
    if decide := tuple(_sign_off(snapshot)):
        sections.append(Section(title="For the vet to sign off", blocks=decide, tone=Tone.DECIDE))
    if cautions := cautions_of(c, recipe.analysis.flags):
        sections.append(Section(title="Cautions", blocks=(Points(items=cautions),)))
    return Document(
        kind=DocumentKind.SHEET,
        title=f"{dog.name}: {recipe.name}",
        aside=snapshot.parties.aside(edition),
        sections=tuple(sections),
        foot=(
            Words(
                lead=approved
                or "Do not feed this before the attending veterinarian has approved it.",
                text=CAUTION,
            ),
        ),
        fine=(_sources(recipe), origin_of(snapshot)),
    )


def _vital(c: Conventions, recipe: FrozenRecipe) -> Iterator[Section]:
    """What must not be left out, and what breaks without it."""
    analysis = recipe.analysis
    names = {n.key: n.name for n in analysis.nutrients} | {r.key: r.name for r in analysis.ratios}
    found = vital_lines(c, recipe, names, {x.food: x.name for x in analysis.recipe.lines})
    if found:
        yield Section(
            title="Never leave out",
            blocks=(Words(lead=vital_lead(found), text=""), Points(items=tuple(found.values()))),
        )


def _portions(snapshot: Snapshot, recipe: FrozenRecipe) -> Words:
    dog, whole = snapshot.case.dog, recipe.analysis.recipe
    c = snapshot.parties.conventions
    days = number(c, whole.covers_days, 0 if whole.covers_days % 1 == 0 else 1)
    return Words(
        text=f"For {snapshot.parties.client}. {dog.name} weighs {body_weight(c, dog.weight_kg)}. "
        f"This batch feeds {days} {'day' if whole.covers_days == 1 else 'days'}: "
        f"{both_weights(c, whole.grams_per_day)} and {number(c, whole.kcal_per_day)} kcal a day, "
        f"in {whole.meals_per_day} meals. "
        f"Target {number(c, recipe.analysis.energy.target_kcal)} kcal a day."
    )


def _lines(c: Conventions, recipe: FrozenRecipe) -> Table:
    whole = recipe.analysis.recipe
    unit = ", g" if c.food is FoodUnit.G else ""
    return Table(
        columns=(
            Column(title="Ingredient"),
            Column(title=f"Batch{unit}", figures=True),
            Column(title=f"A day{unit}", figures=True),
            Column(title=f"A meal{unit}", figures=True),
            Column(title="Batch in the kitchen, about"),
        ),
        rows=tuple(_row(c, line) for line in whole.lines),
        total=(
            "Together",
            _batch(c, whole.grams),
            _weight(c, whole.grams_per_day),
            _weight(c, whole.grams_per_meal),
            "",
        ),
    )


def _beside(c: Conventions, recipe: FrozenRecipe) -> Iterator[Block]:
    """What is given every day beside it, which the day is judged with."""
    if recipe.beside:
        yield Words(
            lead="Beside it, every day:",
            text=listed(f"{spelled(c, b.name)} {food_weight(c, b.grams)}" for b in recipe.beside),
        )


def _weight(c: Conventions, weight_g: float) -> str:
    """A weight in a column that says grams, or with its unit where there are several."""
    return grams(c, weight_g) if c.food is FoodUnit.G else food_weight(c, weight_g)


def _batch(c: Conventions, weight_g: float) -> str:
    """What is weighed: ounces never without the grams."""
    return grams(c, weight_g) if c.food is FoodUnit.G else both_weights(c, weight_g)


def _row(c: Conventions, line: LineResult) -> tuple[str, ...]:
    cooked = (
        f", {line.preparation_label} (gives {food_weight(c, line.fed_grams)})"
        if line.preparation_label
        else ""
    )
    return (
        spelled(c, line.name) + cooked,
        _batch(c, line.grams),
        _weight(c, line.grams_per_day),
        _weight(c, line.grams_per_meal),
        household_words(c, line),
    )


def household_words(c: Conventions, line: LineResult) -> str:
    """A line's batch as a kitchen measures it, or that it must be weighed."""
    if not line.household:
        return "weigh it"
    miss = line.household_error or 0.0
    if abs(miss) <= HOUSEHOLD_MISS:
        return line.household
    return f"{line.household} ({difference(c, miss)} off: weigh it)"


def _basis(snapshot: Snapshot) -> Iterator[Block]:
    basis = snapshot.targets.basis
    if basis is not None:
        yield Words(lead="Minimums held:", text=told(snapshot.parties.conventions, basis.words))


def _food_energy(c: Conventions, recipe: FrozenRecipe) -> Iterator[Block]:
    found = recipe.analysis.food_energy
    if found is None:
        return
    others = [f"{o.name} {difference(c, o.difference)}" for o in found.others]
    if found.whole is not None:
        whole = (
            f"the predictive equation over the whole bowl {difference(c, found.whole.difference)}"
        )
        others.append(f"{whole} ({found.whole.why})" if found.whole.why else whole)
    said = [
        f"{found.name}{', the default' if found.is_default else ''} ({found.source}).",
        f"Other methods give: {listed(others)}",
        *(sentence(note) for note in found.notes),
    ]
    yield Words(lead="Energy of the food:", text=told(c, " ".join(said)))


def _verdicts(c: Conventions, recipe: FrozenRecipe) -> Iterator[Block]:
    nutrients, ratios = recipe.analysis.nutrients, recipe.analysis.ratios
    judged: tuple[NutrientResult | RatioResult, ...] = (*nutrients, *ratios)
    for status, lead in (
        (Status.SHORT, "Short"),
        (Status.ABOVE_SAFE, "Above the safe upper limit"),
        (Status.OVER, "Over the maximum"),
    ):
        yield from _named(lead, [spelled(c, x.name) for x in judged if x.status is status])
    yield from _named(
        "Unproven, because some foods have no value for it (share of the recipe that is known)",
        [f"{spelled(c, n.name)} ({share(c, n.known_share)})" for n in nutrients if _unproven(n)]
        + [spelled(c, r.name) for r in ratios if _unproven(r)],
    )
    yield from _named(
        "Rests mostly on estimates, not analyses of these foods",
        [
            spelled(c, n.name)
            for n in nutrients
            if n.status is Status.MET and n.estimated_share > MOSTLY_ESTIMATED
        ],
    )
    yield from _named(
        "Off advice", [spelled(c, x.name) for x in judged if x.status is Status.OFF_ADVICE]
    )
    if all(x.status in HELD for x in judged):
        yield Words(text="Every limit is met.")


def _unproven(judged: NutrientResult | RatioResult) -> bool:
    return judged.status is Status.UNPROVEN


def _named(lead: str, names: Sequence[str]) -> Iterator[Words]:
    if names:
        yield Words(lead=f"{lead}:", text=listed(names))


def _sign_off(snapshot: Snapshot) -> Iterator[Block]:
    targets = snapshot.targets
    if targets.under_standard:
        yield Words(
            lead="Limits under the standard's minimum, on purpose:",
            text=listed(targets.under_standard),
        )
    for conflict in targets.conflicts:
        decided = conflict.decided
        end = (
            f"Decided by {decided.by}: {sentence(decided.reason)}"
            if decided
            else "Not decided yet."
        )
        yield Words(text=told(snapshot.parties.conventions, conflict.words) + f" {end}")


def _sources(recipe: FrozenRecipe) -> str:
    checked, of = recipe.analysis.limits_checked.checked, recipe.analysis.limits_checked.of
    limits = (
        "Every limit was compared with its publication."
        if checked == of
        else f"Limits are transcribed; {of - checked} of {of} values are not yet checked against "
        "their publication."
    )
    firm = sorted({s.citation for s in recipe.sources if s.grade in FIRM_GRADES and s.citation})
    cited = "; ".join([*firm, "estimates, marked as such on the bench"])
    return f"Food values: {cited}. {limits}"
