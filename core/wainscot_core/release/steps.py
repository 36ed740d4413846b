"""How far a case is: each of its steps, and what is to do next."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ..analysis.adequacy import HELD, Status
from ..analysis.results import Analysis
from ..analysis.shopping import Sourcing, sourcing_words
from ..dog.intake import missing_facts, stopped
from ..dog.life_stage import growing
from ..dog.record import CaseRecord, EnergyBy
from ..dossier.reference import Reference
from ..findings import Level
from ..targets.requirements import MergedSet
from .states import ReleaseState


class StepState(StrEnum):
    """How far a step is. waiting: for something else; conflict: it cannot go on like this."""

    OPEN = "open"
    PARTLY = "partly"
    DONE = "done"
    WAITING = "waiting"
    CONFLICT = "conflict"


class StepKind(StrEnum):
    """The steps of a case, in their order."""

    INTAKE = "intake"
    ENERGY = "energy"
    TARGETS = "targets"
    RECIPE = "recipe"
    PLAN = "plan"
    CHECKS = "checks"


@dataclass(frozen=True, kw_only=True)
class CaseStep:
    """A step of a case. recipe: which one, where it is one; words: what is to do, verb first, "" where
    nothing is; open: how many concerns of a recipe are not settled."""

    kind: StepKind
    state: StepState
    words: str
    recipe: int | None = None
    open: int = 0


@dataclass(frozen=True, kw_only=True)
class CaseSteps:
    """Every step of a case. next: the first that something can be done about, None when all are done."""

    steps: tuple[CaseStep, ...]
    next: CaseStep | None


@dataclass(frozen=True)
class RecipeStanding:
    """A recipe at work: how many lines, what was computed of them. problem: why nothing could be; days: of
    each round of the plan; sourcing: whether its foods can be had, None where nothing could be computed; state: of its
    release; open_concerns: what must be settled before it goes out, in words; settled: something had to be, and is."""

    id: int
    name: str
    lines: int
    analysis: Analysis | None
    problem: str
    days: float
    sourcing: Sourcing | None
    state: ReleaseState = ReleaseState.DRAFT
    open_concerns: tuple[str, ...] = ()
    settled: bool = False


def steps_of(
    reference: Reference, record: CaseRecord, merged: MergedSet, recipes: Sequence[RecipeStanding]
) -> CaseSteps:
    """The steps of a recorded case. A red flag stops all but the intake."""
    stop = stopped(record.intake.red_flags)
    found = [_intake(reference, record)]
    found += [_energy(record), _targets(record, merged), *map(_recipe, recipes), _plan(recipes)]
    found.append(_checks(recipes))
    if stop:
        found[1:] = [_waits(step) for step in found[1:]]
    undone = [s for s in found if s.state not in (StepState.DONE, StepState.WAITING)]
    # What cannot go on stands before what was not begun.
    undone.sort(key=lambda s: s.state is not StepState.CONFLICT)
    return CaseSteps(steps=tuple(found), next=undone[0] if undone else None)


def _waits(step: CaseStep) -> CaseStep:
    words = "Wait: the vet must see the dog first"
    return replace(step, state=StepState.WAITING, words=words)


def _intake(reference: Reference, record: CaseRecord) -> CaseStep:
    if stopped(record.intake.red_flags):
        words = f"See the vet first: {record.intake.red_flags.present}"
        return CaseStep(kind=StepKind.INTAKE, state=StepState.CONFLICT, words=words)
    rules = reference.intake
    grows = growing(reference.life_stages, record.dog)
    missing = [m.what for m in missing_facts(rules, record, grows)]
    asked = len(rules.needed) + (len(rules.growing) if grows else 0)
    if not missing:
        return CaseStep(kind=StepKind.INTAKE, state=StepState.DONE, words="")
    more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
    state = StepState.OPEN if len(missing) == asked else StepState.PARTLY
    return CaseStep(kind=StepKind.INTAKE, state=state, words=f"Ask {missing[0]}{more}")


def _energy(record: CaseRecord) -> CaseStep:
    """Done once somebody said why this figure; a figure of one's own says that by itself."""
    if record.energy_reason or record.energy_method is EnergyBy.OWN_FIGURE:
        return CaseStep(kind=StepKind.ENERGY, state=StepState.DONE, words="")
    return CaseStep(
        kind=StepKind.ENERGY, state=StepState.OPEN,
        words="Choose the energy target: it still stands as it was preset",
    )  # fmt: skip


def _targets(record: CaseRecord, merged: MergedSet) -> CaseStep:
    open_ = [c for c in merged.conflicts if c.decided is None]
    if open_:
        words = f"Decide {open_[0].name}" + (f" and {len(open_) - 1} more" if open_[1:] else "")
        return CaseStep(kind=StepKind.TARGETS, state=StepState.CONFLICT, words=words)
    if not record.conditions and not record.intake.conditions_asked:
        words = "Say the diagnoses: the standard's own limits stand until then"
        return CaseStep(kind=StepKind.TARGETS, state=StepState.OPEN, words=words)
    return CaseStep(kind=StepKind.TARGETS, state=StepState.DONE, words="")


def _recipe(recipe: RecipeStanding) -> CaseStep:
    def step(state: StepState, words: str) -> CaseStep:
        return CaseStep(
            kind=StepKind.RECIPE, state=state, words=words, recipe=recipe.id,
            open=len(recipe.open_concerns),
        )  # fmt: skip

    if recipe.lines == 0:
        return step(StepState.OPEN, f"Write “{recipe.name}”: it has no ingredient yet")
    if recipe.analysis is None:
        return step(StepState.CONFLICT, f"Mend “{recipe.name}”: {recipe.problem}")
    # What somebody decided may stay as it is.
    if recipe.settled:
        return step(StepState.DONE, "")
    blocked = [f.what for f in recipe.analysis.flags if f.level is Level.BLOCK]
    if blocked:
        return step(StepState.CONFLICT, f"Mend “{recipe.name}”: {blocked[0]}")
    judged = (*recipe.analysis.nutrients, *recipe.analysis.ratios)
    bad = [x for x in judged if x.status not in HELD]
    if not bad:
        asked = [f.what for f in recipe.analysis.flags if f.level is Level.DECIDE]
        if asked:
            return step(StepState.PARTLY, f"Decide in “{recipe.name}”: {asked[0]}")
        if recipe.sourcing is not None and (words := sourcing_words(recipe.sourcing)):
            return step(StepState.PARTLY, words)
        return step(StepState.DONE, "")
    open_ = sum(1 for x in bad if x.status is Status.UNPROVEN)
    told = [f"{len(bad) - open_} off their limits"] if len(bad) > open_ else []
    told += [f"{open_} unproven"] if open_ else []
    return step(StepState.PARTLY, f"Mend “{recipe.name}”: {', '.join(told)}")


def _plan(recipes: Sequence[RecipeStanding]) -> CaseStep:
    fed = [r for r in recipes if r.days > 0]
    if not fed:
        return CaseStep(
            kind=StepKind.PLAN, state=StepState.OPEN, words="Plan what is fed on which day"
        )
    unready = [r for r in fed if _recipe(r).state is not StepState.DONE]
    if unready:
        words = f"Wait for {unready[0].name}: it is not ready to be fed"
        return CaseStep(kind=StepKind.PLAN, state=StepState.WAITING, words=words)
    return CaseStep(kind=StepKind.PLAN, state=StepState.DONE, words="")


_WORDS = {
    ReleaseState.DRAFT: "Check “{name}”, then send it to the vet",
    ReleaseState.CHECKED: "Send “{name}” to the vet",
    ReleaseState.WITH_VET: "Wait for the vet: “{name}”",
    ReleaseState.APPROVED: "Issue “{name}” to the owner",
}


def _checks(recipes: Sequence[RecipeStanding]) -> CaseStep:
    """The first of what is fed that has not gone out yet; of what is written, while no plan says what is fed."""
    written = [r for r in recipes if r.analysis is not None]
    due = [r for r in written if r.days > 0] or written
    if not due:
        words = "Write a recipe first: there is nothing to check yet"
        return CaseStep(kind=StepKind.CHECKS, state=StepState.WAITING, words=words)
    for recipe in due:
        if recipe.state is ReleaseState.ISSUED:
            continue
        state = StepState.PARTLY
        words = _WORDS.get(recipe.state, _WORDS[ReleaseState.DRAFT]).format(name=recipe.name)
        if recipe.state is ReleaseState.DRAFT and recipe.open_concerns:
            more = len(recipe.open_concerns) - 1
            words = f"Settle in “{recipe.name}”: {recipe.open_concerns[0]}"
            words += f" and {more} more" if more else ""
        elif recipe.state is ReleaseState.WITH_VET:
            state = StepState.WAITING
        return CaseStep(
            kind=StepKind.CHECKS, state=state, words=words, recipe=recipe.id,
            open=len(recipe.open_concerns),
        )  # fmt: skip
    return CaseStep(kind=StepKind.CHECKS, state=StepState.DONE, words="")
