"""Formulate a case file: the report of the adjusted recipe with changes, binding, conflicts."""

from typing import Any

from ..casefile import Case, as_list, as_number, as_object, read_case
from ..errors import InputError
from ..hazards import FoodHazard
from ..reference import Reference
from ..report import case_report, exclusion_flags
from .helpful import would_help
from .proposal import Bench, Proposal, formulate
from .request import avoidance_of, read_reactions, read_settings
from .words import help_report, proposal_report


def bench_of(reference: Reference, case: Case, data: dict[str, Any]) -> Bench:
    """The bench of a case file: reactions, foods that cannot be used and prices from the file."""
    marked = {}
    for food_id, why in as_object(data.get("cannot_use", {}), "cannot_use").items():
        marked[food_id] = str(why) or "cannot be used"
    prices = {
        food_id: as_number(price, f"prices_per_kg.{food_id}")
        for food_id, price in as_object(data.get("prices_per_kg", {}), "prices_per_kg").items()
    }
    avoid = avoidance_of(
        reference, case.library, case.lines, read_reactions(data.get("reactions", [])),
        case.conditions, marked, medicines_of(data),
    )  # fmt: skip
    return Bench(
        reference, case.library, case.lines, case.days, case.energy.target_kcal,
        case.requirements, case.policy, avoid, prices,
    )  # fmt: skip


def medicines_of(data: dict[str, Any]) -> list[str]:
    """Names of the medicines in a case file's intake."""
    intake = as_object(data.get("intake") or {}, "intake")
    found = []
    for i, entry in enumerate(as_list(intake.get("medicines", []), "intake.medicines")):
        found.append(str(as_object(entry, f"intake.medicines[{i}]").get("name", "")))
    return found


def goal_names(reference: Reference) -> dict[str, str]:
    """Names of the goals by id."""
    return {key: name for key, (name, _) in reference.formulation.goals.items()}


def helps_of(bench: Bench, proposal: Proposal) -> list[dict[str, Any]]:
    """What would help, when the limits cannot all be held."""
    if proposal.state not in {"short", "impossible"}:
        return []
    present = [c.food.id for c in proposal.model.problem.candidates]
    found = would_help(
        proposal.model, bench.library, bench.avoid, bench.reference.supplements, present
    )
    return [help_report(x) for x in found]


def analyse_case(
    reference: Reference, data: dict[str, Any], hazards: tuple[FoodHazard, ...]
) -> dict[str, Any]:
    """Read a case file and analyse its recipe, its reactions included. Raises InputError."""
    case = read_case(reference, data)
    bench = bench_of(reference, case, data)
    report = case_report(case, hazards)
    flags = exclusion_flags(case.lines, bench.avoid, reference.supplements)
    report["flags"] = [*flags, *report["flags"]]
    return report


def formulate_case(
    reference: Reference, data: dict[str, Any], hazards: tuple[FoodHazard, ...]
) -> dict[str, Any]:
    """Read a case file, adjust its recipe, report. Raises InputError naming the field."""
    case = read_case(reference, data)
    bench = bench_of(reference, case, data)
    try:
        settings = read_settings(as_object(data.get("formulate", {}), "formulate"))
        proposal = formulate(bench, settings)
    except InputError as error:
        raise InputError(
            error.field if error.field.startswith("recipe") else f"formulate.{error.field}",
            error.message,
        ) from None
    adjusted = case if not proposal.lines else case.with_lines(proposal.lines)
    report = case_report(adjusted, hazards)
    found = proposal_report(proposal, goal_names(reference))
    report["conflicts"] = [*report["conflicts"], *found.pop("conflicts")]
    report.update(found, help=helps_of(bench, proposal))
    return report
