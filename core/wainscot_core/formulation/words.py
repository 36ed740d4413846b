"""A proposal as plain data with its words: the one shape the command and the server return."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from ..foods import FloatArray
from ..report import clean, limit_origins
from ..standards import Limit, Origin
from .conflicts import Conflict, Loosening
from .costs import LimitCost
from .helpful import Priced
from .model import Group
from .problem import Problem
from .proposal import Change, Proposal, candidate_name

_STATES = {
    "met": "Every limit is met.",
    "short": "Not every minimum can be reached with what is allowed. This is the closest.",
    "impossible": "What is fixed breaks a limit that may not be broken. Nothing is proposed.",
    "undecided": "Two limits contradict each other before any recipe is made. Decide which gives way in the targets.",
    "time-limit": "No recipe was found in the time given. Allow more time, or fewer candidates.",
    "cancelled": "Stopped. Nothing is proposed but what was found until then.",
}


def limit_name(problem: Problem, key: str) -> str:
    """The name of a nutrient or ratio."""
    ratio = next((r for r in problem.catalogue.ratios if r.key == key), None)
    return ratio.name if ratio else problem.catalogue.get(key).name


def _unit(limit: Limit) -> str:
    return ": 1" if limit.unit == "ratio" else f"{limit.unit}/1000 kcal"


def _bound(problem: Problem, group: Group) -> tuple[float, Limit]:
    limit = problem.requirements.limits[group.key]
    value = (limit.minimum if group.kind == "min" else limit.ceiling) or 0.0
    aimed = group.kind == "min" and limit.unit != "ratio"
    return value * (1 + problem.margin if aimed else 1), limit


def _origin_of(limit: Limit, kind: str) -> Origin | None:
    """What set a bound: for the upper side, the lower of maximum and safe limit."""
    which = kind
    if kind == "max" and limit.safe is not None and limit.ceiling == limit.safe:
        which = "safe"
    return next((o for o in limit.origins if o.which == which), None)


def number(value: float) -> str:
    """Three significant figures, more for whole numbers."""
    return f"{value:.0f}" if abs(value) >= 1000 else f"{value:.3g}"


def group_words(problem: Problem, group: Group) -> str:
    """A limit or a choice in words."""
    if group.kind in {"min", "max"}:
        value, limit = _bound(problem, group)
        side = "at least" if group.kind == "min" else "at most"
        origin = _origin_of(limit, group.kind)
        by = f" ({origin.source})" if origin else ""
        return f"{limit_name(problem, group.key)} {side} {number(value)} {_unit(limit)}{by}"
    if group.kind == "energy":
        share = problem.energy_frame
        return f"energy within {share:.0%} of {problem.kcal:.0f} kcal a batch"
    if group.kind == "supplements":
        return f"at most {problem.max_supplements} supplements"
    c = problem.candidates[group.candidate]
    name = c.food.name
    return {
        "fixed": f"{name} stays at {number(c.current_grams)} g",
        "excluded": f"{name} is left out: {c.excluded}",
        "most": f"{name} at most {number(c.high_grams)} g",
        "least": f"{name} at least {number(c.low_grams)} g",
        "tie": f"{name} follows another line",
    }[group.kind]


def per_1000_kcal(problem: Problem, key: str, grams: FloatArray) -> float:
    """Amount of a nutrient per 1000 kcal, or value of a ratio, at these grams."""
    if key in problem.catalogue:
        column = problem.catalogue.index(key)
        kcal = float(problem.contents.kcal @ grams)
        return float(problem.contents.low[:, column] @ grams) / kcal * 1000 if kcal > 0 else np.nan
    ratio = next(r for r in problem.catalogue.ratios if r.key == key)
    mass = {"g": 1.0, "mg": 1e-3, "ug": 1e-6}

    def total(parts: Sequence[str]) -> float:
        return sum(
            float(problem.contents.low[:, problem.catalogue.index(k)] @ grams)
            * mass[problem.catalogue.get(k).unit]
            for k in parts
        )

    bottom = total(ratio.bottom)
    return total(ratio.top) / bottom * ratio.scale if bottom else np.nan


def loosening_words(problem: Problem, way: Loosening) -> str:
    """What must give way, and by how much."""
    group = way.group
    if group.kind in {"min", "max"}:
        value, limit = _bound(problem, group)
        now = per_1000_kcal(problem, group.key, way.grams)
        verb = "Lower" if group.kind == "min" else "Raise"
        what = "minimum" if group.kind == "min" else "maximum"
        return (
            f"{verb} the {what} of {limit_name(problem, group.key)} from {number(value)} "
            f"to {number(now)} {_unit(limit)}"
        )
    if group.kind == "energy":
        kcal = float(problem.contents.kcal @ way.grams)
        return f"Let the batch bring {kcal:.0f} kcal, {kcal / problem.kcal:.0%} of the target"
    if group.kind == "supplements":
        count = sum(
            1
            for c, g in zip(problem.candidates, way.grams, strict=True)
            if c.is_supplement and g > 0
        )
        return f"Allow {count} supplements"
    c = problem.candidates[group.candidate]
    after = float(way.grams[group.candidate])
    if group.kind == "fixed":
        if after < 1e-6:
            return f"Take out {c.food.name}"
        return f"Change {c.food.name} from {number(c.current_grams)} g to {number(after)} g"
    return f"Let {c.food.name} be {number(after)} g"


def cost_words(problem: Problem, cost: LimitCost) -> str:
    """What a binding limit costs."""
    value, limit = _bound(problem, cost.group)
    side = "minimum" if cost.group.kind == "min" else "maximum"
    head = f"{limit_name(problem, cost.group.key)} lies at its {side} of {number(value)} {_unit(limit)}"
    if cost.candidate is None:
        return f"{head}; it costs nothing of the recipe."
    name = candidate_name(problem, cost.candidate)
    more = cost.without_grams > cost.with_grams
    amount = number(abs(cost.without_grams - cost.with_grams))
    verb = "costs" if more else "asks for"
    return f"{head}; it {verb} {amount} g of {name}."


def relief_words(problem: Problem, grams: FloatArray) -> list[str]:
    """Every limit that gives way at these grams, in words."""
    found = []
    for key, limit in problem.requirements.limits.items():
        value = per_1000_kcal(problem, key, grams)
        for kind, bound in (("min", limit.minimum), ("max", limit.ceiling)):
            if bound is None or not np.isfinite(value):
                continue
            broken = value < bound * (1 - 1e-5) if kind == "min" else value > bound * (1 + 1e-5)
            if broken:
                found.append(loosening_words(problem, Loosening(Group(kind, key), grams)))
    return found


def conflict_report(
    problem: Problem, conflict: Conflict, ways: Sequence[Loosening], relief: FloatArray | None
) -> dict[str, Any]:
    """A conflict with its members and the ways out."""
    members = [
        {"kind": g.kind, "key": g.key, "words": group_words(problem, g)} for g in conflict.members
    ]
    return {
        "kind": "formulation",
        "words": "These cannot hold together: " + "; ".join(m["words"] for m in members) + ".",
        "members": members,
        "minimal": conflict.minimal,
        "ways_out": [{"kind": w.group.kind, "key": w.group.key, "text": loosening_words(problem, w)} for w in ways],
        "together": [] if relief is None else relief_words(problem, relief),
    }  # fmt: skip


def change_report(change: Change, kcal_before: float, kcal_after: float) -> dict[str, Any]:
    """One change of the recipe."""
    return {
        "line": change.line,
        "food": change.food,
        "name": change.name,
        "kind": change.kind,
        "before_grams": clean(change.before_grams),
        "after_grams": clean(change.after_grams),
        "before": change.before,
        "after": change.after,
        "why": change.why,
        "kcal": clean(kcal_after - kcal_before),
    }


def proposal_report(proposal: Proposal, goals: dict[str, str]) -> dict[str, Any]:
    """State, changes, passes, binding limits, conflicts. `goals`: names by id."""
    problem = proposal.model.problem
    kcal = {
        (c.line, c.food.id): float(k)
        for c, k in zip(problem.candidates, problem.contents.kcal, strict=True)
    }
    words = _STATES[proposal.state]
    unproved = [goals[p.goal] for p in proposal.passes if not p.proved]
    if unproved and proposal.lines:
        words += (
            " The time ran out: this is the best found so far, not proved best for "
            + ", ".join(g.lower() for g in unproved)
            + "."
        )
    again = [goals[p.goal].lower() for p in proposal.passes if p.solved_again]
    if again:
        words += (
            f" The solver's first answer did not add up for {', '.join(again)}; that was solved"
            " again the slower, safer way."
        )
    return {
        "state": proposal.state,
        "words": words,
        "proved": not unproved,
        "changes": [
            change_report(
                c,
                kcal[(c.line, c.food)] * c.before_grams,
                kcal[(c.line, c.food)] * c.after_grams,
            )
            for c in proposal.changes
        ],
        "passes": [
            {
                "goal": p.goal, "name": goals[p.goal], "value": clean(p.value), "proved": p.proved,
                "seconds": clean(round(p.seconds, 3)), "solved_again": p.solved_again,
            }
            for p in proposal.passes
        ],
        "binding": [
            {
                "key": c.group.key, "bound": c.group.kind, "name": limit_name(problem, c.group.key),
                "words": cost_words(problem, c), "saving": clean(c.saving),
                "origin": limit_origins(problem.requirements.limits[c.group.key]),
            }
            for c in proposal.costs
        ],
        "conflicts": [conflict_report(problem, proposal.conflict, proposal.loosenings, proposal.relief)]
        if proposal.conflict
        else [],
    }  # fmt: skip


def help_report(found: Priced) -> dict[str, Any]:
    """A food that would help, if it were allowed."""
    return {
        "food": found.food.id,
        "name": found.food.name,
        "grams": clean(found.grams),
        "text": found.text,
        "shortfall_after": clean(found.shortfall),
    }
