"""Amounts that hold in so many of a hundred batches: the mean of a proposal is held so far inside each limit that what a
batch is off by reaches the limit only so often, drawn, moved and drawn again.

A batch is off by measuring, purchases, tables, labels and cooking. What an owner forgets is not in it: no margin makes up
for a tablet that is left out, and the proposal says so beside.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..analysis.adequacy import HELD
from ..dossier.dossier import Dossier
from ..figures import rounded
from ..robust.chances import QUANTILES, Chance, Chances, chances
from ..robust.holding import holding_of
from ..robust.simulate import SEED, Runs
from .alternatives import Alternative, SureAim, as_good, told
from .bounds import OwnBound
from .formulate import formulate
from .model import build
from .nearest import nearby
from .passes import solve
from .problem import Aim
from .proposal import Proposal, proposal_at, reached
from .question import Settings, check_sure
from .rows import limit_rows
from .solution import Progress, usual
from .solver import Cancelled

MOST_ROUNDS = 6
# A drawing is off by so much of a share itself: a bound is set by so much more.
SPARE = 0.003
# What is looked at again is drawn anew, so that nothing is tuned to one drawing.
OTHER_SEED = SEED + 1
# The name of the pass, for who waits.
SURE = "room for the kitchen"
# Where a batch is off by more than lies between the limits, the mean is held in the middle, give or take so much.
MIDDLE = 0.01
# What the room for a limit weighs that is missed by its whole, against the shape of a recipe: both are looked at, for small
# moves do not always find the most room where it weighs most.
COSTS = (10.0, 50.0)


@dataclass(frozen=True, kw_only=True)
class Sure:
    """A proposal that aims at a share of batches. first: without that aim; proposal: with it, the surest that was found;
    before, after: how surely limits hold, both drawn with another seed than was aimed with; missed: the limits that hold
    in fewer batches all the same, by key; rounds: how often it was drawn and moved."""

    target: float
    first: Proposal
    proposal: Proposal
    before: Chances
    after: Chances
    missed: tuple[str, ...]
    rounds: int

    @property
    def moved(self) -> bool:
        """Whether it is another answer than the first."""
        return self.proposal is not self.first


def sure(
    dossier: Dossier,
    settings: Settings,
    target: float,
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
    first: Proposal | None = None,
) -> Sure | None:
    """Adjust a recipe so that each limit it meets holds in this share of its batches; None where nothing can be proposed.
    dossier: with the settings' bounds in it; first: what was proposed without that aim, None to have it proposed. Raises
    InputError for settings that make no sense."""
    check_sure(target)
    first = first or formulate(dossier, settings, progress, cancelled)
    if not first.lines:
        return None
    best, asked = first, dict[str, OwnBound]()
    found = _drawn(dossier, first, SEED)
    score = math.inf if found is None else _missing(found, target)
    rounds = 0
    while found is not None and rounds < MOST_ROUNDS and not (cancelled and cancelled()):
        wanted = asked | {
            c.key: further(c, asked.get(c.key, OwnBound()), target) for c in weak_of(found, target)
        }
        if wanted == asked:
            break
        rounds += 1
        if progress is not None:
            progress(rounds, MOST_ROUNDS, SURE)
        asked = wanted
        looked: list[tuple[float, Proposal, Chances]] = []
        for cost in COSTS:
            proposal = _aimed(dossier, first, asked, cost, cancelled)
            drawn = None if proposal is None else _drawn(dossier, proposal, SEED)
            if proposal is not None and drawn is not None:
                looked.append((_missing(drawn, target), proposal, drawn))
        if not looked:
            break
        missing, proposal, found = min(looked, key=lambda one: one[0])
        if missing < score:
            best, score = proposal, missing
    before, after = _drawn(dossier, first, OTHER_SEED), _drawn(dossier, best, OTHER_SEED)
    if before is None or after is None:
        return None
    return Sure(
        target=target, first=first, proposal=best, before=before, after=after,
        missed=tuple(c.key for c in weak_of(after, target - SPARE)), rounds=rounds,
    )  # fmt: skip


def sure_alternative(dossier: Dossier, found: Sure) -> Alternative:
    """The answer that holds in so many batches, beside the first."""
    rule = dossier.reference.formulation.sure
    first, one = (told(dossier, rule, p) for p in (found.first, found.proposal))
    names = dossier.library.catalogue
    priced = first.cost is not None and one.cost is not None and first.unpriced == one.unpriced == 0
    grams = [sum(x.amount.grams for x in p.lines) for p in (found.first, found.proposal)]
    aim = SureAim(
        target=found.target,
        missed=tuple(names.name_of(key) for key in found.missed),
        grams=rounded((grams[1] - grams[0]) / dossier.days),
        supplements=one.supplements - first.supplements,
        cost=round((one.cost or 0) - (first.cost or 0), 2) if priced else None,
    )
    after = dossier.built_on(found.proposal.lines)
    return replace(one, aim=aim, holds=holding_of(after, found.after))


def weak_of(found: Chances, target: float) -> list[Chance]:
    """The limits that are met by the tables and hold in fewer batches, the weakest first."""
    weak = [c for c in found.limits if c.status in HELD and c.batch.share < target]
    return sorted(weak, key=lambda c: (c.batch.share, c.key))


def further(of: Chance, asked: OwnBound, target: float) -> OwnBound:
    """The bound by which the mean is so far inside that the quantile that counts is at the limit itself; in the middle
    where both cannot be inside."""
    low, high = quantile(of, 1 - target), quantile(of, target)
    least, most, mean = asked.least, asked.most, of.by_table
    if mean is None or mean <= 0 or low <= 0:
        return asked
    if of.minimum and of.ceiling is not None and high / low > of.ceiling / of.minimum:
        middle = mean * math.sqrt(of.minimum * of.ceiling / (low * high))
        return OwnBound(
            least=max(least or 0.0, rounded(middle * (1 - MIDDLE))),
            most=min(math.inf if most is None else most, rounded(middle * (1 + MIDDLE))),
        )
    if of.minimum is not None and low < of.minimum:
        least = max(least or 0.0, rounded(of.minimum * mean / low * (1 + SPARE)))
    if of.ceiling is not None and high > of.ceiling:
        wanted = rounded(of.ceiling * mean / high * (1 - SPARE))
        most = wanted if most is None else min(most, wanted)
    return OwnBound(least=least, most=most)


def quantile(of: Chance, share: float) -> float:
    """What so many batches are below, between the quantiles that were drawn."""
    places = list(QUANTILES)
    if share <= places[0]:
        return of.spread[0]
    for i in range(1, len(places)):
        if share <= places[i]:
            part = (share - places[i - 1]) / (places[i] - places[i - 1])
            return of.spread[i - 1] + part * (of.spread[i] - of.spread[i - 1])
    return of.spread[-1]


def _missing(found: Chances, target: float) -> float:
    """By how much the limits that are met hold in fewer batches than asked, in all."""
    return sum(target - c.batch.share for c in weak_of(found, target))


def _aimed(
    dossier: Dossier,
    first: Proposal,
    wanted: Mapping[str, OwnBound],
    cost: float,
    cancelled: Cancelled | None,
) -> Proposal | None:
    """A proposal as good as the first that comes as near to these bounds as it can; None where there is none. cost: what a
    bound weighs that is missed by its whole."""
    problem = replace(first.model.problem, aim=Aim(first.model.problem.contents, cost))
    tighter = dict(problem.requirements.limits)
    for key, bound in wanted.items():
        limit = tighter[key]
        least = [x for x in (limit.minimum, bound.least) if x is not None]
        most = [x for x in (limit.maximum, bound.most) if x is not None]
        tighter[key] = replace(
            limit, minimum=max(least, default=None), maximum=min(most, default=None)
        )
    asked = replace(
        problem,
        requirements=replace(problem.requirements, limits={k: tighter[k] for k in wanted}),
        margin=0.0,
    )
    model = build(problem, replace(first.model.limits, aimed=tuple(limit_rows(asked))))
    solution = nearby(model, first.solution) if usual(model) else solve(model, cancelled=cancelled)
    if solution is None or solution.grams is None:
        return None
    if not as_good(solution.passes, first.passes, problem.room):
        return None
    state = reached(model.problem, solution)
    return proposal_at(dossier, model, solution, state)


def _drawn(dossier: Dossier, proposal: Proposal, seed: int) -> Chances | None:
    made = dossier.built_on(proposal.lines)
    return chances(made, Runs.of(made.days, seed=seed), slips=False)
