"""A plan as it is put forward, what stands against it, and how far its case is."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cache

import yaml
from cases.models import Case
from cases.queries import conventions_for, library_of, record_energy, record_targets
from cases.records import record_of
from django.conf import settings
from django.utils import timezone
from library.facts import reference
from library.practice import noted_by
from plans.mending import check_plan
from plans.models import Plan
from plans.queries import read_items
from recipes.dossiers import dossier_of, parties_of
from recipes.lines import stored_lines, texts_of
from recipes.models import Recipe, RecipeVersion
from recipes.versions import snapshot_of, texts
from wainscot_core.analysis.shopping import sourcing_of
from wainscot_core.dossier.dossier import Fed
from wainscot_core.errors import InputError
from wainscot_core.facts.handling import Texture
from wainscot_core.recipe.line import Line, read_all
from wainscot_core.release.concerns import Settle, concerns_of
from wainscot_core.release.decisions import ConcernDecision, VetWord, Weighed, weighed
from wainscot_core.release.differences import Differences, differences
from wainscot_core.release.freeze import Forward, concerns_now, freeze_plan, judged
from wainscot_core.release.guide import Guide, GuideWords, guide_of, read_guide
from wainscot_core.release.states import Move, ReleaseState
from wainscot_core.release.steps import CaseSteps, RecipeStanding, steps_of
from wainscot_core.snapshot.snapshot import Snapshot

from .models import FindingDecision, Release, ReleaseMove

GIVEN_STATES = (ReleaseState.ISSUED, ReleaseState.SUPERSEDED)
OPEN_STATES = (
    ReleaseState.DRAFT, ReleaseState.CHECKED, ReleaseState.WITH_VET, ReleaseState.APPROVED,
)  # fmt: skip


def forward_of(recipe: Recipe, version: RecipeVersion | None = None) -> Forward:
    """A recipe, or a version of it, on today's facts, with what the plan gives every day beside it. Raises
    InputError."""
    library = library_of(recipe.case)
    if version is None:
        lines = stored_lines(recipe, library)
        return forward_with(recipe, None, lines, recipe.name, recipe.covers_days)
    lines = read_all(reference().methods, library, texts(version))
    return forward_with(recipe, version, lines, version.recipe.name, version.covers_days)


def forward_with(
    recipe: Recipe, version: RecipeVersion | None, lines: Sequence[Line], name: str, days: float
) -> Forward:
    """The same of lines that are given. Raises InputError."""
    case = recipe.case
    if not lines:
        raise InputError("recipe", "has no lines yet")
    plan = Plan.objects.filter(case=case).first()
    kitchen = conventions_for(case.dog.client).kitchen
    library = library_of(case)
    beside = read_items(library, plan.items, kitchen) if plan else []
    where = noted_by(case.practice).where
    dossier = replace(dossier_of(case, lines, days, library=library), fed=fed_of(recipe, version))
    return Forward(dossier, name, tuple(beside), where)


def fed_of(recipe: Recipe, version: RecipeVersion | None = None) -> Fed:
    """How a recipe, or a version of it, is fed already: since these very lines were given out first."""
    given = [
        (release, release.frozen)
        for release in recipe.releases.filter(state__in=GIVEN_STATES).select_related("frozen__snapshot")
        if release.frozen is not None
        and _said(version or recipe) == _said(release.frozen)
    ]  # fmt: skip
    if not given:
        return Fed()
    moves = ReleaseMove.objects.filter(release__in=[r for r, _ in given], move=Move.ISSUE)
    first = moves.order_by("at").first()
    kept = snapshot_of(given[0][1]).kept
    span = kept.of_recipe.span
    try:
        made = record_targets(recipe.case.practice, kept.case, kept.energy).stages.stages
    except InputError:
        # The standard it was made with is gone: nobody knows.
        made = ()
    return Fed(
        days=(timezone.localdate() - timezone.localdate(first.at)).days if first else 0,
        most_days=span.days if span else None,
        made_for=frozenset(stage.safe_stage for stage in made),
    )


def decisions_of(recipe: Recipe) -> list[ConcernDecision]:
    """The decisions on a recipe that were not taken back, the oldest first."""
    return [decision_of(row) for row in recipe.finding_decisions.filter(taken_back=None)]


def decision_of(row: FindingDecision) -> ConcernDecision:
    """A stored decision as the core takes it."""
    vet = None
    if row.vet_on is not None:
        vet = VetWord(name=row.vet_name, licence=row.vet_licence, on=row.vet_on)
    return ConcernDecision(
        id=row.pk, key=row.key, basis=row.basis, reason=row.reason, by=row.by, at=row.created, vet=vet
    )  # fmt: skip


def weighed_of(recipe: Recipe, version: RecipeVersion | None = None) -> tuple[Weighed, ...]:
    """What stands against a recipe, or a version of it, on today's facts. Raises InputError."""
    concerns = concerns_now(forward_of(recipe, version), record_of(recipe.case))
    return weighed(concerns, decisions_of(recipe))


def plan_snapshot(
    recipe: Recipe,
    found: Iterable[Weighed],
    version: RecipeVersion | None = None,
    texture: Texture = Texture.CHUNKS,
    buy_days: Sequence[float] = (),
) -> Snapshot:
    """A snapshot of a plan as it is today; nothing is stored. Raises InputError."""
    case = recipe.case
    return freeze_plan(
        forward_of(recipe, version), record_of(case), parties_of(case), timezone.localdate(),
        tuple(found), texture, buy_days,
    )  # fmt: skip


def changed_since(recipe: Recipe, version: RecipeVersion) -> Differences:
    """What a frozen version would be otherwise on today's facts. Raises InputError."""
    kept = snapshot_of(version).kept
    return differences(kept, plan_snapshot(recipe, weighed_of(recipe, version), version))


def open_release(recipe: Recipe) -> Release | None:
    """The release of a recipe that is on its way out."""
    return recipe.releases.filter(state__in=OPEN_STATES).select_related("frozen").first()


def issued_release(recipe: Recipe) -> Release | None:
    """The release of a recipe that its owner has."""
    found = recipe.releases.filter(state=ReleaseState.ISSUED)
    return found.select_related("frozen__snapshot").first()


def same_lines(recipe: Recipe, version: RecipeVersion) -> bool:
    """Whether a recipe at work is what a version of it holds."""
    return _said(recipe) == _said(version)


def _said(of: Recipe | RecipeVersion) -> tuple[float, list[tuple[str, ...]]]:
    """What a recipe or a version of it says to be cooked, and for how many days."""
    lines = texts_of(of) if isinstance(of, Recipe) else texts(of)
    return of.covers_days, [(t.food, t.quantity, t.preparation, t.note) for t in lines]


@cache
def guide_words() -> GuideWords:
    """What the guide says at each step."""
    text = (settings.REFERENCE_DIR / "guide.yaml").read_text(encoding="utf-8")
    return read_guide(yaml.safe_load(text))


@dataclass(frozen=True, kw_only=True)
class StepsOfCase(CaseSteps):
    """How far a case is. guide: while one is led through it."""

    guide: Guide | None


def steps_view(case: Case) -> StepsOfCase:
    """How far a case is. Raises InputError for a record that cannot be read."""
    record = record_of(case)
    merged = record_targets(case.practice, record, record_energy(record))
    plan = Plan.objects.filter(case=case).first()
    if plan:
        check_plan(plan)
    days = {str(t["recipe"]): float(t["days"]) for t in plan.turns} if plan else {}
    recipes = [
        _standing(recipe, days.get(str(recipe.pk), 0.0))
        for recipe in case.recipes.filter(archived=False)
    ]
    steps = steps_of(reference(), record, merged, recipes)
    guide = guide_of(guide_words(), steps) if case.guided else None
    return StepsOfCase(**vars(steps), guide=guide)


def state_of(recipe: Recipe) -> ReleaseState:
    """How far a recipe is: of the version on its way out, or of the issued one while the recipe is still that."""
    at_work = open_release(recipe)
    if at_work is not None and at_work.state != ReleaseState.DRAFT:
        return ReleaseState(at_work.state)
    issued = issued_release(recipe)
    if issued is not None and issued.frozen is not None and same_lines(recipe, issued.frozen):
        return ReleaseState.ISSUED
    return ReleaseState.DRAFT


def _standing(recipe: Recipe, days: float) -> RecipeStanding:
    count = recipe.lines.count()
    if not count:
        return RecipeStanding(recipe.pk, recipe.name, 0, None, "", days, None)
    try:
        forward = forward_of(recipe)
        plan, had = judged(forward), sourcing_of(forward.dossier)
        prompts = forward.dossier.reference.label_prompts
        concerns = concerns_of(record_of(recipe.case), plan, prompts)
        state = weighed(concerns, decisions_of(recipe))
    except InputError as error:
        return RecipeStanding(recipe.pk, recipe.name, count, None, error.message, days, None)
    asked = [w for w in state if w.concern.settle is not Settle.NOTHING]
    open_ = tuple(w.concern.what for w in asked if w.is_open)
    return RecipeStanding(
        recipe.pk, recipe.name, count, plan.recipe, "", days, had, state_of(recipe), open_,
        settled=bool(asked) and not open_,
    )  # fmt: skip
