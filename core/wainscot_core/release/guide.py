"""A first case taken by the hand: the steps of the case as stops on the way, with what each is for."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from .steps import CaseStep, CaseSteps, StepKind, StepState


@dataclass(frozen=True)
class StopWords:
    """What a stop is called, and what it is for."""

    title: str
    what: str


GuideWords = Mapping[StepKind, StopWords]


def read_guide(data: Mapping[str, Any]) -> GuideWords:
    """Parse reference/guide.yaml. Raises KeyError where a step has no words."""
    return {kind: StopWords(**data["stops"][kind.value]) for kind in StepKind}


@dataclass(frozen=True, kw_only=True)
class GuideStop:
    """A stop on the way. todo: what is to do there, "" where nothing is; recipe: which one is meant."""

    kind: StepKind
    title: str
    what: str
    state: StepState
    todo: str
    recipe: int | None


@dataclass(frozen=True, kw_only=True)
class Guide:
    """The way through a case. at: the stop one is at, counted from 0; None when all are done or wait for
    somebody else."""

    stops: tuple[GuideStop, ...]
    at: int | None


def guide_of(words: GuideWords, case: CaseSteps) -> Guide:
    """The guide of a case. Of several recipes the first that is not done stands for all."""
    stops = []
    for kind in StepKind:
        steps = [s for s in case.steps if s.kind is kind]
        if not steps:
            step = CaseStep(kind=kind, state=StepState.OPEN, words="Begin a recipe")
        else:
            step = next((s for s in steps if s.state is not StepState.DONE), steps[0])
        said = words[kind]
        stops.append(
            GuideStop(
                kind=kind, title=said.title, what=said.what, state=step.state, todo=step.words,
                recipe=step.recipe,
            )
        )  # fmt: skip
    todo = (StepState.DONE, StepState.WAITING)
    at = next((i for i, stop in enumerate(stops) if stop.state not in todo), None)
    return Guide(stops=tuple(stops), at=at)
