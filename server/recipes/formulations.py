"""Formulations of a recipe as jobs: what is asked, how it is run and run again, how it stands."""

from dataclasses import dataclass
from enum import StrEnum
from uuid import UUID

from accounts.scoping import Actor, find_own
from cases.records import record_of
from django.utils import timezone
from events.log import log
from events.models import EventKind
from jobs import runs
from jobs.actions import begin, last
from jobs.models import Job
from library.facts import reference
from pydantic import ValidationError
from wainscot_core.boundary import adapter, dump, read
from wainscot_core.formulation.answer import goal_names
from wainscot_core.formulation.settings import FormulateSettings, settings_of
from wainscot_core.formulation.sure import MOST_ROUNDS
from wainscot_core.formulation.words import ProposalResult
from wainscot_core.snapshot.freeze import freeze_recipe
from wainscot_core.snapshot.snapshot import canonical, digest_of

from .asks import WITH_CASE, Lines, LinesAsk, dossier_from, with_practice
from .dossiers import parties_of
from .models import Recipe
from .work import FormulationWork

FORMULATION = "formulation"
SPARE_SECONDS = 60


@dataclass(frozen=True, kw_only=True)
class FormulateAsk(LinesAsk):
    """Adjust these lines; `settings` as in a case file's "formulate" section."""

    settings: FormulateSettings


class JobState(StrEnum):
    """How far a run is."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    CANCELLED = "cancelled"


@dataclass(frozen=True, kw_only=True)
class FormulationJob:
    """A formulation that runs or has run. done, of: passes; label: the goal it is at; lines: what it
    was asked of."""

    job: UUID
    state: JobState
    done: int
    of: int
    label: str
    lines: Lines
    result: ProposalResult | None


@dataclass(frozen=True, kw_only=True)
class LastFormulation:
    """The user's last formulation of a recipe that was not put away, None when there is none."""

    last: FormulationJob | None


def work_of(recipe: Recipe, ask: FormulateAsk) -> tuple[str, runs.Work]:
    """The fingerprint of what a formulation is asked of, and its work. Raises InputError."""
    dossier = dossier_from(recipe, ask)
    settings = settings_of(ask.settings)

    # The solver keeps its limit by itself; what helps and what else there is comes after it, and every round of what is
    # to hold in so many batches is as long again.
    limit = settings.time_limit_s or reference().formulation.defaults["time_limit_s"]
    times = 2 if settings.sure is None else 2 + MOST_ROUNDS
    work = FormulationWork(dossier, settings, times * limit + SPARE_SECONDS)
    record = record_of(recipe.case)
    parties, today = parties_of(recipe.case), timezone.localdate()
    frozen = freeze_recipe(dossier, record, parties, "", today, for_paper=False)
    # The snapshot holds what the recipe rests on; the rest of the library is what may be added.
    basis = canonical(frozen) + recipe.practice.library_revision + repr(dossier.marks)
    return digest_of(basis), work


def again(job: Job) -> tuple[str, runs.Work]:
    """A formulation from its row, as it would be run now."""
    recipe = with_practice(find_own(Recipe, job.practice, *WITH_CASE, pk=job.subject))
    return work_of(recipe, asked_of(job))


def asked_of(job: Job) -> FormulateAsk:
    """What was asked."""
    return read(FormulateAsk, job.ask, typed=True)


def begin_formulation(who: Actor, recipe: Recipe, ask: FormulateAsk) -> Job:
    """Let a formulation run. Raises InputError for what cannot be asked."""
    basis, work = work_of(recipe, ask)
    job = begin(who, FORMULATION, recipe.pk, dump(ask), basis, work)
    log(who, EventKind.FORMULATION_STARTED, recipe.case_id, recipe.pk, recipe=recipe.name)
    return job


def last_formulation(who: Actor, recipe: Recipe) -> LastFormulation:
    """The user's last formulation of a recipe, so that a page that was reloaded goes on."""
    job = last(who, FORMULATION, recipe.pk, again)
    return LastFormulation(last=None if job is None else job_view(job))


def job_view(job: Job) -> FormulationJob:
    """A formulation as it stands. A result that this program cannot read is over, without one."""
    state, result = JobState(job.state), None
    if job.result:
        try:
            result = adapter(ProposalResult).validate_json(job.result)
        except ValidationError:
            state = JobState.CANCELLED
    return FormulationJob(
        job=job.pk,
        state=state,
        done=job.done,
        of=job.of,
        label=goal_names(reference()).get(job.label, job.label),
        lines=asked_of(job).lines,
        result=result,
    )
