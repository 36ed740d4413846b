"""What is given up for what: the answers nearest to the recipe, and the cheapest, with ever fewer supplements; of these the
ones that no other answer beats in distance, supplements and cost at once."""

from collections.abc import Sequence
from dataclasses import replace

from ..dossier.dossier import Dossier
from .alternatives import CHEAPEST, NEAREST, Alternative, estimated, proposed, told
from .proposal import Proposal, State
from .question import Settings
from .solution import Progress
from .solver import Cancelled

# Between the nearest and the fewest supplements so many counts are asked at most; under the fewest so many more.
STEPS = 3
UNDER = 6
# Of the energy from other foods, and of the price, so much is no reason to choose by.
LITTLE = 0.01
LITTLE_PAID = 0.03
# The name of the pass, for who waits.
FRONTIER = "steps to fewer supplements"


def frontier(
    dossier: Dossier,
    settings: Settings,
    first: Proposal,
    shown: Sequence[Alternative],
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
) -> tuple[Alternative, ...]:
    """More answers beside those that are shown, the most supplements first; () where minimums stay short. Each meets what
    the first meets."""
    good = [a for a in shown if a.proposal.state in {State.MET, State.UNPROVEN}]
    if first.state not in {State.MET, State.UNPROVEN} or not good:
        return ()
    rules = {r.id: r for r in dossier.reference.formulation.alternatives}
    counts = counts_of(good[0].supplements, min(a.supplements for a in good))
    found: list[Alternative] = []
    for i, count in enumerate(counts):
        if cancelled is not None and cancelled():
            break
        if progress is not None:
            progress(i, len(counts), FRONTIER)
        before = len(found)
        for key in (NEAREST, CHEAPEST):
            proposal = proposed(dossier, settings, rules[key], first, most_supplements=count)
            if proposal is None or proposal.state not in {State.MET, State.UNPROVEN}:
                continue
            one = told(dossier, rules[key], proposal)
            with_so_many = f"With {one.supplements} supplement{'' if one.supplements == 1 else 's'}"
            name = with_so_many if key == NEAREST else f"{with_so_many}, cheapest"
            rule = replace(rules[key], id=f"{key}-{one.supplements}", name=name)
            found.append(replace(one, rule=rule, name=name))
        if len(found) == before:
            # Fewer cannot do what so many cannot.
            break
    kept: list[Alternative] = []
    for one in sorted(found, key=lambda a: (-a.supplements, a.distance)):
        if any(no_worse(a, one) for a in (*good, *kept)) or any(beats(a, one) for a in found):
            continue
        kept.append(estimated(dossier, one))
    return tuple(kept)


def marked(answers: Sequence[Alternative]) -> tuple[Alternative, ...]:
    """The answers with whether no other beats them."""
    return tuple(replace(a, unbeaten=not any(beats(b, a) for b in answers)) for a in answers)


def counts_of(most: int, fewest: int) -> list[int]:
    """The counts of supplements to ask for, from one fewer than the most down to under the fewest."""
    span = most - fewest
    between = {round(most - span * i / STEPS) for i in range(1, STEPS + 1)}
    under = range(max(0, fewest - UNDER), fewest)
    return sorted({c for c in (*between, *under) if c < most}, reverse=True)


def beats(one: Alternative, other: Alternative) -> bool:
    """Whether an answer is nowhere worse than another, and somewhere better."""
    return _counted(one) != _counted(other) and all(
        mine <= theirs for mine, theirs in zip(_counted(one), _counted(other), strict=True)
    )


def no_worse(one: Alternative, other: Alternative) -> bool:
    """Whether an answer is worse than another by no more than anybody would choose by."""
    (far, many, paid), (far_too, many_too, paid_too) = _counted(one), _counted(other)
    return (
        far <= far_too + LITTLE and many <= many_too and paid <= paid_too * (1 + LITTLE_PAID)
    )  # fmt: skip


def _counted(of: Alternative) -> tuple[float, int, float]:
    return round(of.distance, 6), of.supplements, round(of.cost_at_most, 6)
