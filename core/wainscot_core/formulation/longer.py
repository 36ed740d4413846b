"""What a batch of more days can reach: a small dog's day has amounts that nobody can measure finely enough."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..facts.nutrients import Catalogue
from ..figures import listed
from ..recipe.plan import scaled
from .candidates import LineRule
from .model import build
from .nearest import settled
from .problem import Problem
from .proposal import Proposal, State
from .question import Settings, check_settings, problem_of
from .rows import limit_rows, missed
from .solution import goals_of


@dataclass(frozen=True)
class LongerBatch:
    """Minimums by key that a batch of so many days reaches and this one does not."""

    days: float
    reached: tuple[str, ...]


def longer_batch(dossier: Dossier, settings: Settings, found: Proposal) -> LongerBatch | None:
    """Of the batches that are tried (longer_batches in reference/formulation.yaml) the one that is short of the fewest
    minimums and of no other, the shortest of these; None where none is, nothing is short, or the targets are not decided."""
    grams = found.solution.grams
    if found.state is not State.SHORT or grams is None or not dossier.lines:
        return None
    if not found.model.problem.energy_free:
        return None
    short = _short_at(found.model.problem, grams)
    best: LongerBatch | None = None
    for days in dossier.reference.formulation.longer_batches:
        if days <= dossier.days or not short:
            continue
        left = _short_in(dossier, settings, days)
        if left is None or not left.keys() < short.keys():
            continue
        if best is None or len(left) < len(short) - len(best.reached):
            best = LongerBatch(days, tuple(key for key in short if key not in left))
        if not left:
            break
    return best


def longer_words(catalogue: Catalogue, found: LongerBatch | None) -> str:
    """What a longer batch reaches, with a blank before it; "" where none does."""
    if found is None:
        return ""
    names = listed(tuple(catalogue.name_of(key) for key in found.reached))
    minimums = "minimum" if len(found.reached) == 1 else "minimums"
    return (
        f" A batch of {found.days:g} days could be measured finely enough to reach the {minimums}"
        f" of {names}."
    )


def _short_in(dossier: Dossier, settings: Settings, days: float) -> Mapping[str, float] | None:
    """What stays short where the same recipe is cooked for so many days; None where nothing was found."""
    times = days / dossier.days
    lines = tuple(scaled(line, times) for line in dossier.lines)
    ruled = {at: more_of(rule, times) for at, rule in settings.line_rules.items()}
    asked = check_settings(dossier.reference, replace(settings, line_rules=ruled))
    model = build(problem_of(dossier.with_lines(lines, days), asked))
    ends = settled(model, goals_of(model))
    if ends is None or ends.solution.grams is None:
        return None
    return _short_at(model.problem, ends.solution.grams)


def _short_at(problem: Problem, grams: FloatArray) -> Mapping[str, float]:
    """What is short of a minimum itself, not of the room that is aimed at over it."""
    return missed(limit_rows(replace(problem, eased={}, margin=0.0)), grams)


def more_of(rule: LineRule, times: float) -> LineRule:
    """What is said of a line, for a batch so many times as large."""
    low, high = rule.low_grams, rule.high_grams
    return replace(
        rule,
        low_grams=None if low is None else low * times,
        high_grams=None if high is None else high * times,
    )
