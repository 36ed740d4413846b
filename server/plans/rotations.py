"""The rounds of a plan formulated as a whole: what is asked, how it is run and run again, and taken."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from accounts.scoping import Actor, find_own
from cases.models import Case
from cases.queries import check_not_stopped, library_of
from cases.records import record_of
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from jobs import runs
from jobs.actions import begin, last
from jobs.models import Job, RunState
from library.facts import reference
from pydantic import ValidationError
from recipes.actions import fill_recipe, keep
from recipes.dossiers import dossier_of, parties_of
from recipes.formulations import SPARE_SECONDS, JobState
from recipes.models import Recipe
from wainscot_core.boundary import Whole, YesNo, adapter, dump, read
from wainscot_core.errors import InputError
from wainscot_core.formulation.question import Settings, check_settings
from wainscot_core.formulation.rotation_words import RotationResult
from wainscot_core.recipe.plan import whole_round
from wainscot_core.snapshot.freeze import freeze_recipe
from wainscot_core.snapshot.snapshot import canonical, digest_of

from .actions import plan_of
from .models import Plan
from .queries import read_items, read_turns
from .work import RotationWork

ROTATION = "rotation"
# As long as one recipe may take, for each of so many at most.
MOST_RECIPES = 6
BEFORE = "before the round was adjusted"
CHANGED = InputError("job", "The plan or one of its recipes changed since: adjust the round again.")


@dataclass(frozen=True, kw_only=True)
class RotationAsk:
    """How the recipes may be adjusted. max_supplements: in each of them, None for as many as is usual; nothing_new: only what a
    recipe holds already."""

    max_supplements: Whole | None = None
    nothing_new: YesNo = False

    @property
    def settings(self) -> Settings:
        """As the formulation takes them."""
        allowed = () if self.nothing_new else None
        return Settings(max_supplements=self.max_supplements, allowed=allowed)


@dataclass(frozen=True, kw_only=True)
class RotationJob:
    """A round that is being adjusted, or was. done, of: sets of recipes that were looked at; label: what is done; recipes: the
    recipes of the plan in the order that `result` counts them in; asked: how they might be adjusted."""

    job: UUID
    state: JobState
    done: int
    of: int
    label: str
    recipes: tuple[int, ...]
    asked: RotationAsk
    result: RotationResult | None


@dataclass(frozen=True, kw_only=True)
class LastRotation:
    """The user's last adjusting of a plan's round that still holds of it, None when there is none."""

    last: RotationJob | None


@dataclass(frozen=True, kw_only=True)
class TakeRotation:
    """Make the recipes of a plan what a job found for them."""

    job: UUID


def work_of(plan: Plan, asked: RotationAsk) -> tuple[str, runs.Work]:
    """The fingerprint of what a round rests on, and the work of adjusting it. Raises InputError."""
    case, library = plan.case, library_of(plan.case)
    turns, daily = read_turns(case, library, plan.turns), read_items(library, plan.items)
    lines, days = whole_round(turns, daily)
    dossier = dossier_of(case, lines, days, library=library)
    limit = reference().formulation.defaults["time_limit_s"]
    check_settings(reference(), asked.settings)
    seconds = MOST_RECIPES * limit + SPARE_SECONDS
    work = RotationWork(dossier, asked.settings, tuple(turns), tuple(daily), seconds)
    today = timezone.localdate()
    frozen = freeze_recipe(dossier, record_of(case), parties_of(case), "", today, for_paper=False)
    parts = [(t["recipe"], t["days"]) for t in plan.turns]
    basis = canonical(frozen) + plan.practice.library_revision + repr((dossier.marks, parts))
    return digest_of(basis), work


def again(job: Job) -> tuple[str, runs.Work]:
    """A round from its row, as it would be adjusted now."""
    return work_of(plan_of(find_own(Case, job.practice, pk=job.subject)), asked_of(job))


def asked_of(job: Job) -> RotationAsk:
    """How the recipes might be adjusted."""
    return read(RotationAsk, job.ask.get("asked", {}), typed=True)


def begin_rotation(who: Actor, case: Case, asked: RotationAsk) -> Job:
    """Let the recipes of a case's plan be adjusted together. Raises InputError for a plan that cannot be computed."""
    check_not_stopped(case)
    plan = plan_of(case)
    basis, work = work_of(plan, asked)
    ask = {"recipes": _recipes(plan), "asked": dump(asked)}
    job = begin(who, ROTATION, case.pk, ask, basis, work)
    log(who, EventKind.ROUND_STARTED, case.pk, plan.pk)
    return job


def last_rotation(who: Actor, case: Case) -> LastRotation:
    """The user's last adjusting of a case's plan, so that a page that was reloaded goes on."""
    job = last(who, ROTATION, case.pk, again)
    if job is None or work_of(plan_of(case), asked_of(job))[0] != job.basis:
        return LastRotation(last=None)
    return LastRotation(last=rotation_view(job))


def _recipes(plan: Plan) -> list[int]:
    return [int(turn["recipe"]) for turn in plan.turns]


def rotation_view(job: Job) -> RotationJob:
    """A round as it stands. A result that this program cannot read is over, without one."""
    state, result = JobState(job.state), None
    if job.result:
        try:
            result = adapter(RotationResult).validate_json(job.result)
        except ValidationError:
            state = JobState.CANCELLED
    return RotationJob(
        job=job.pk, state=state, done=job.done, of=job.of, label=job.label,
        recipes=tuple(job.ask["recipes"]), asked=asked_of(job), result=result,
    )  # fmt: skip


@transaction.atomic
def take_rotation(who: Actor, case: Case, asked: TakeRotation) -> Sequence[Recipe]:
    """Make the recipes what was found for them; what they were is kept as a version of each.

    Raises InputError (job) where what it rests on changed since, or nothing was found; nothing is written then.
    """
    job = find_own(Job, who.practice, pk=asked.job, kind=ROTATION, subject=case.pk)
    view = rotation_view(job)
    if job.state != RunState.DONE or view.result is None or not view.result.recipes:
        raise InputError("job", "There is nothing to take: adjust the round first.")
    plan = plan_of(case, lock=True)
    if work_of(plan, asked_of(job))[0] != job.basis:
        raise CHANGED
    taken = []
    for found in view.result.recipes:
        recipe = find_own(Recipe, who.practice, pk=view.recipes[found.turn], case=case)
        keep(who, recipe, BEFORE, automatic=True)
        taken.append(fill_recipe(who, recipe, recipe.name, recipe.covers_days, found.lines))
    return taken
