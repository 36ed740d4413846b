"""Ask and answer: a case with settings in, a proposal in words out.

Nothing here writes: a proposal is a list of changes that someone accepts or leaves.
"""

from dataclasses import replace

from ..dossier.dossier import Dossier
from .apart import shut
from .costs import LimitCost, limit_costs
from .impasse import Impasse, impasses
from .main_foods import is_free, nearer_to_hers, within_caps
from .model import build
from .partners import with_partners
from .passes import solve
from .proposal import Proposal, State, proposal_at, reached
from .question import Settings, check_settings, problem_of
from .rows import SHORT
from .solution import Progress
from .solver import Cancelled


def formulate(
    dossier: Dossier,
    settings: Settings,
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
) -> Proposal:
    """Adjust a recipe. Raises InputError for settings that make no sense."""
    problem = problem_of(dossier, check_settings(dossier.reference, settings))
    model = build(problem)
    apart = shut(problem, dossier.reference.basis)
    solution = solve(model, progress, cancelled)
    impossible = solution.state == "impossible"
    short = solution.grams is not None and solution.shortfall > SHORT
    together: tuple[Impasse, ...] = ()
    stopped = solution.state in {"cancelled", "time-limit"}
    if (impossible or short) and not stopped:
        if progress is not None:
            progress(0, 1, "what cannot hold together")
        found = tuple(impasses(model, cancelled, elastic=impossible))
        together = with_partners(dossier, model, found, impossible) if found else ()
    together = (*apart, *together)
    state = State(solution.state) if stopped or impossible else reached(problem, solution)
    if solution.grams is None:
        return Proposal(state, model, solution, (), (), (), together)
    free = is_free(model) and not stopped
    if free:
        model, solution = within_caps(model, solution, cancelled)
    proposal = proposal_at(dossier, model, solution, state)
    if free:
        proposal = nearer_to_hers(dossier, proposal, cancelled)
    costs: tuple[LimitCost, ...] = ()
    if proposal.state in {State.MET, State.UNPROVEN} and proposal.solution.grams is not None:
        costs = limit_costs(proposal.model, proposal.solution.grams)
    return replace(proposal, costs=costs, impasses=together)
