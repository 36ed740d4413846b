"""The letter to the attending vet: the case, the plan against its limits, what was told and decided of it. What the
vet is asked to sign, on paper and on the vet's page alike."""

from collections.abc import Iterator

from ..analysis.adequacy import HELD, Status
from ..analysis.results import Analysis, NutrientResult, RatioResult
from ..conventions import (
    Conventions,
    body_weight,
    day,
    food_weight,
    number,
    spelled,
    told,
)
from ..dog.as_it_is import Span
from ..dog.record import Muscle
from ..findings import Level
from ..release.differences import Differences, JudgedDifference
from ..snapshot.snapshot import FrozenConcern, FrozenRecipe, Snapshot
from .paper import (
    Block,
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
    table,
)
from .wall import wall_of

Judged = NutrientResult | RatioResult

# The panels of the wall, in their order.
PANELS = ("energy", "amino", "fats", "minerals", "vitamins")

# How each verdict stands in a table.
_STANDS = {
    Status.SHORT: "short",
    Status.UNPROVEN: "unproven",
    Status.MET: "met",
    Status.OVER: "over",
    Status.ABOVE_SAFE: "above safe limit",
    Status.OFF_ADVICE: "off advice",
}


def vet_letter(
    snapshot: Snapshot, edition: str, approved: str = "", changes: Differences | None = None
) -> Document:
    """The letter. approved: who signed, in words, "" while nobody has; changes: from the issued version, None where
    there is none. Raises InputError for a snapshot without a recipe."""
    recipe = snapshot.of_recipe
    c = snapshot.parties.conventions
    sections = [
        Section(title="", blocks=tuple(_dog(snapshot))),
        Section(
            title="",
            blocks=(
                wall_of(recipe.as_fed, PANELS),
                Words(
                    text="Line: the least; upper mark: the most; open: not proven; hatched: off its limit. "
                    "Every figure is in the table below."
                ),
            ),
        ),
        *_told(c, recipe),
        *([Section(title="Changed since the issued version", blocks=tuple(_changes(c, changes)))]
          if changes is not None else []),
        *_span(c, recipe),
        Section(title="What is fed a day", blocks=tuple(_fed(c, recipe))),
        Section(title="Energy", blocks=tuple(_energy(c, snapshot))),
        Section(
            title=f"Against {recipe.as_fed.requirements}",
            blocks=(_limits(c, recipe.as_fed), *_under(c, snapshot)),
        ),
        *_kitchen(c, recipe),
        *_known(c, recipe),
        *_monitoring(snapshot),
    ]  # fmt: skip
    return Document(
        kind=DocumentKind.LETTER,
        title=f"{snapshot.case.dog.name}: diet for your approval",
        aside=snapshot.parties.aside(edition),
        sections=tuple(sections),
        foot=(
            Words(
                lead=approved or "Not approved yet.",
                text="Wainscot computes; it does not diagnose or prescribe. Whether this dog may be fed this is "
                "for the attending veterinarian.",
            ),
        ),
        fine=(
            "Limits per 1000 kcal. What is not known is not taken for none: a nutrient without figures is unproven.",
            origin_of(snapshot),
        ),
    )


def _dog(snapshot: Snapshot) -> Iterator[Block]:
    record, c = snapshot.case, snapshot.parties.conventions
    dog = record.dog
    months = dog.age_months
    age = "" if months is None else f"{months // 12} years" if months >= 24 else f"{months} months"
    neutered = {True: "neutered ", False: "entire ", None: ""}[dog.neutered]
    said = [
        dog.breed, age, f"{neutered}{dog.sex}" if dog.sex != "unknown" else "",
        body_weight(c, dog.weight_kg),
        f"body condition {dog.body_condition} of 9" if dog.body_condition else "",
        _muscle(record.intake.muscle_condition),
    ]  # fmt: skip
    yield Words(
        text=f"{dog.name}, of {snapshot.parties.client}: {', '.join(x for x in said if x)}."
    )
    ill = [" ".join(x for x in (d.name or d.id, d.stage) if x) for d in record.conditions]
    yield Words(lead="Diagnoses:", text=listed(ill) if ill else "none given.")
    takes = [m.name + (f" ({m.dose})" if m.dose else "") for m in record.intake.medicines]
    yield Words(lead="Medicines:", text=listed(takes) if takes else "none given.")
    reacts = [
        r.food + (f" (tolerates {r.tolerates})" if r.tolerates else "") for r in record.reactions
    ]
    yield Words(lead="Reactions to foods:", text=listed(reacts) if reacts else "none given.")


def _muscle(found: Muscle) -> str:
    if found is Muscle.UNSCORED:
        return ""
    return "muscle normal" if found is Muscle.NORMAL else f"{found} muscle loss"


def _told(c: Conventions, recipe: FrozenRecipe) -> Iterator[Section]:
    """What was decided first: it is what the vet signs with the plan."""
    groups: dict[tuple[object, ...], list[FrozenConcern]] = {}
    for found in recipe.concerns:
        if found.by and found.about != "prompt":
            groups.setdefault((found.by, found.on, found.reason, found.vet), []).append(found)
    blocks: list[Block] = []
    for group in groups.values():
        blocks.append(Words(lead=_accepted(c, group[0]), text=""))
        blocks.append(Points(items=tuple(_concern(c, x) for x in group)))
    if blocks:
        yield Section(
            title="Decided, for you to agree with", blocks=tuple(blocks), tone=Tone.DECIDE
        )


def _accepted(c: Conventions, found: FrozenConcern) -> str:
    """Who accepted what follows, when and why."""
    on = f" on {day(c, found.on, long=True)}" if found.on else ""
    vet = f" By the decision of {found.vet}." if found.vet else ""
    return told(c, f"Accepted by {found.by}{on}: {sentence(found.reason)}{vet}")


def _span(c: Conventions, recipe: FrozenRecipe) -> Iterator[Section]:
    span = recipe.span
    if span is None or span.span is Span.ON:
        return
    lead = (
        f"The owner is told: at most {span.days} days."
        if span.span is Span.DAYS
        else "Not complete: the owner is told to feed it only as long as you say. Please say how long."
    )
    yield Section(
        title="For how long", blocks=(Words(lead=lead, text=told(c, sentence(span.why))),)
    )


def _known(c: Conventions, recipe: FrozenRecipe) -> Iterator[Section]:
    known = [x for x in recipe.concerns if not x.by and x.level is not Level.NOTE]
    if known:
        yield Section(title="To know", blocks=(Points(items=tuple(_concern(c, x) for x in known)),))
    read = [x for x in recipe.concerns if x.by and x.about == "prompt"]
    if read:
        yield Section(
            title="Labels that were read",
            blocks=(Words(text=listed(spelled(c, x.what.partition(":")[0]) for x in read)),),
        )


def _kitchen(c: Conventions, recipe: FrozenRecipe) -> Iterator[Section]:
    """How surely it holds where it is cooked; nothing of what was kept before that was worked out."""
    found = recipe.robust
    if found is None:
        return
    yield Section(
        title="In a real kitchen",
        blocks=(
            Words(text=told(c, spelled(c, found.words))),
            Words(text=f"{found.not_in_it}. {found.source}; confidence {found.confidence}."),
        ),
    )


def _monitoring(snapshot: Snapshot) -> Iterator[Section]:
    """When each condition asks for the dog to be seen again, the soonest first."""
    asked = sorted(snapshot.targets.conditions, key=lambda x: x.recheck_days)
    items = tuple(
        Words(
            lead=f"{x.name}{f', {x.stage}' if x.stage else ''}:",
            text=f"again within {x.recheck_days} days of the change"
            + (f"; {x.sign_off}" if x.sign_off not in {"", "yes", "no"} else "")
            + f" ({x.source}).",
        )
        for x in asked
    )
    if items:
        yield Section(title="Monitoring asked for", blocks=(Points(items=items),))


def _concern(c: Conventions, found: FrozenConcern) -> Words:
    said = [sentence(found.why)]
    if found.do and not found.by:
        said.append(sentence(found.do))
    return Words(lead=told(c, sentence(found.what)), text=told(c, " ".join(said)))


def _fed(c: Conventions, recipe: FrozenRecipe) -> Iterator[Block]:
    whole = recipe.analysis.recipe
    rows = [
        (
            spelled(c, line.name) + (f", {line.preparation_label}" if line.preparation_label else ""),
            food_weight(c, line.grams_per_day),
        )
        for line in whole.lines
    ]  # fmt: skip
    yield table((recipe.name, "a day"), rows, figures=(1,))
    if recipe.beside:
        beside = [
            (f"{spelled(c, b.name)} ({b.kind})", food_weight(c, b.grams)) for b in recipe.beside
        ]
        yield table(("Beside it, every day", "a day"), beside, figures=(1,))


def _energy(c: Conventions, snapshot: Snapshot) -> Iterator[Block]:
    energy, fed = snapshot.energy, snapshot.of_recipe.as_fed.recipe
    yield Words(
        text=f"{number(c, fed.kcal_per_day)} kcal a day against a target of {number(c, energy.target_kcal)} "
        f"(resting need {number(c, energy.rer_kcal)}), in {fed.meals_per_day} meals."
    )
    if snapshot.case.energy_reason:
        yield Words(lead="Why:", text=told(c, sentence(snapshot.case.energy_reason)))


def _limits(c: Conventions, analysis: Analysis) -> Table:
    """Every nutrient and ratio that has a limit, what is not held first."""
    judged: list[Judged] = [*analysis.nutrients, *analysis.ratios]
    limited = [x for x in judged if x.status is not Status.NO_LIMIT]
    limited.sort(key=lambda x: x.status in HELD)
    return table(
        ("per 1000 kcal", "plan", "least", "most", "", "whose limit"),
        [_row(c, x) for x in limited],
        figures=(1, 2, 3),
    )


def _row(c: Conventions, found: Judged) -> tuple[str, ...]:
    if isinstance(found, NutrientResult):
        # What no food has a figure for is unknown, not none.
        amount = found.per_1000_kcal if found.known_share > 0 else None
        decimals = found.decimals
        unit = f" {spelled(c, found.unit)}"
    else:
        amount, decimals, unit = found.value, 2, ""
    least = found.min if found.min is not None else found.advised_min
    return (
        spelled(c, found.name),
        "unknown" if amount is None else f"{number(c, amount, decimals)}{unit}",
        _bound(c, least, decimals),
        _bound(c, found.ceiling if found.ceiling is not None else found.advised_max, decimals),
        _STANDS[found.status],
        found.set_by.source if found.set_by else "",
    )


def _bound(c: Conventions, value: float | None, decimals: int) -> str:
    return "–" if value is None else number(c, value, decimals)


def _under(c: Conventions, snapshot: Snapshot) -> Iterator[Block]:
    targets = snapshot.targets
    if targets.basis is not None:
        yield Words(lead="Minimums held:", text=told(c, targets.basis.words))
    if targets.under_standard:
        yield Words(
            lead="Limits under the standard's minimum, on purpose:",
            text=listed(targets.under_standard),
        )
    for conflict in targets.conflicts:
        decided = conflict.decided
        end = f" Decided by {decided.by}: {sentence(decided.reason)}" if decided else ""
        yield Words(text=told(c, conflict.words) + end)


def _changes(c: Conventions, changes: Differences) -> Iterator[Block]:
    if changes.none:
        yield Words(text="Nothing that is fed or judged.")
        return
    if changes.dog:
        yield Words(lead="The dog:", text=told(c, listed(changes.dog)))
    if changes.lines:
        rows = [
            (spelled(c, x.name), _grams(c, x.before_g), _grams(c, x.after_g)) for x in changes.lines
        ]
        yield table(("a day", "issued", "now"), rows, figures=(1, 2))
    verdicts = [x for x in changes.nutrients if x.verdict_differs]
    if verdicts:
        yield Words(lead="Judged otherwise:", text=listed(_verdict(c, x) for x in verdicts))
    others = len(changes.nutrients) - len(verdicts)
    if others:
        yield Words(text=f"{others} other amounts or limits differ, and are judged as before.")
    for lead, names in (("Told anew:", changes.found), ("No longer told:", changes.gone)):
        if names:
            yield Words(lead=lead, text=told(c, listed(names)))


def _grams(c: Conventions, grams: float | None) -> str:
    return "none" if grams is None else food_weight(c, grams)


def _verdict(c: Conventions, found: JudgedDifference) -> str:
    was, now = found.status_before or "not judged", found.status_after or "not judged"
    return f"{spelled(c, found.name)} was {was}, is {now}"


def signature(name: str, licence: str, on: str) -> str:
    """Who signed, in words."""
    return f"Approved by {name}, licence {licence}, on {on}."
