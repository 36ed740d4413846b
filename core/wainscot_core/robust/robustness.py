"""Whether a recipe survives a real kitchen, for the view beside the wall, the owner's sheet and the vet's letter."""

from dataclasses import dataclass

from ..analysis.adequacy import BREAKS, HELD, Status
from ..confidence import Confidence
from ..dossier.dossier import Dossier
from ..figures import listed, lowered
from .chances import Chance, Chances, chances
from .shares import NutrientDoubt, doubt
from .simulate import Runs
from .uncertain import uncertain
from .without import Carried, Carrying, LineChange, carrying

# A limit that holds in fewer batches, or over fewer months, is doubtful.
DOUBTFUL = 0.95
MOST_DOUBTS = 8


@dataclass(frozen=True, kw_only=True)
class MixingWay:
    """A way of stirring supplements in, for a choice."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class Robustness:
    """How a recipe does in a kitchen. mixed: how its supplements are stirred in, of `ways`. doubtful: the limits it meets by its tables that hold in less than 95 of 100
    batches, the weakest first; doubts: what that comes from; words: all of it in a sentence or two."""

    chances: Chances
    carrying: Carrying
    doubtful: tuple[str, ...]
    doubts: tuple[NutrientDoubt, ...]
    mixed: str
    ways: tuple[MixingWay, ...]
    words: str
    not_in_it: str
    source: str
    confidence: Confidence


NOT_IN_IT = (
    "Swapped foods are any of their class, each as often. Not in it: supplements of another strength, what is eaten beside "
    "the bowl; uneven mixing evens out over a batch and shows in single meals; what no table knows counts as nothing"
)


def robustness(dossier: Dossier, runs: Runs | None = None, mixed: str = "") -> Robustness | None:
    """How a dossier's recipe does; None for one without energy. mixed: how supplements are stirred in, "" where nobody
    says. Raises InputError (mixed)."""
    found = chances(dossier, runs, mixed=mixed)
    if found is None:
        return None
    of = uncertain(dossier, mixed=mixed)
    weak = sorted(
        (c for c in found.limits if c.status in HELD and c.batch.share < DOUBTFUL),
        key=lambda c: (c.batch.share, c.key),
    )
    nutrients = [c.key for c in weak if c.key in dossier.library.catalogue]
    carried = carrying(dossier)
    errors = dossier.reference.kitchen_errors
    return Robustness(
        chances=found,
        carrying=carried,
        doubtful=tuple(c.key for c in weak),
        doubts=tuple(doubt(of, key) for key in nutrients[:MOST_DOUBTS]),
        mixed=errors.mixing_of(mixed).id,
        ways=tuple(MixingWay(id=m.id, name=m.name) for m in errors.mixing),
        words=" ".join(_words(found, weak, carried)),
        not_in_it=NOT_IN_IT,
        source=f"{errors.source}; {dossier.reference.variation.source}",
        confidence=errors.confidence,
    )


@dataclass(frozen=True, kw_only=True)
class KeptLoss:
    """What breaks without a line: the nutrient or ratio, and the share of its bound that is missing, or too much."""

    key: str
    depth: float
    missing: bool


@dataclass(frozen=True, kw_only=True)
class KeptLine:
    """A line the diet cannot live without, by its place in the recipe, with what breaks, the worst first."""

    line: int
    lost: tuple[KeptLoss, ...]


@dataclass(frozen=True, kw_only=True)
class KeptRobustness:
    """How a plan that went out does in a kitchen, as it is kept with it: a paragraph for the vet."""

    words: str
    not_in_it: str
    source: str
    confidence: Confidence


def kept_robustness(dossier: Dossier) -> KeptRobustness | None:
    """What is kept of it; None for a recipe without energy."""
    found = robustness(dossier)
    if found is None:
        return None
    return KeptRobustness(
        words=found.words, not_in_it=found.not_in_it, source=found.source, confidence=found.confidence
    )  # fmt: skip


def vital(dossier: Dossier) -> tuple[KeptLine, ...]:
    """The lines that a dossier's recipe cannot live without, the heaviest first."""
    return tuple(
        KeptLine(
            line=c.line,
            lost=tuple(
                KeptLoss(key=b.key, depth=b.depth, missing=b.status is Status.SHORT)
                for b in c.of(LineChange.WITHOUT)
            ),
        )
        for c in carrying(dossier, (LineChange.WITHOUT,)).most
    )


def _words(found: Chances, weak: list[Chance], carried: Carrying) -> list[str]:
    met = sum(1 for c in found.limits if c.status in HELD)
    broken = sum(1 for c in found.limits if c.status in BREAKS)
    said = []
    if broken:
        # What does not hold on paper is no matter of kitchens, and is not to be read over.
        said.append(f"By its tables {broken} {'limit is' if broken == 1 else 'limits are'} broken.")
    said += [
        f"Of the {met} limits that it meets by its tables, all hold at once in {_of_100(found.together.share)} batches "
        f"and over {_of_100(found.together_month.share)} months."
    ]
    if weak:
        names = listed([lowered(c.name) for c in weak])
        said.append(f"Doubtful in a single batch: {names}.")
    uneven = [c for c in found.limits if c.status in HELD and c.day and c.day.share < DOUBTFUL]
    if uneven:
        names = listed([lowered(c.name) for c in uneven])
        said.append(f"Stirred in unevenly, over its ceiling on some days: {names}.")
    if carried.most:
        said.append(f"{without_words(carried)}.")
    return said


def _of_100(share: float) -> str:
    # A share that was drawn is never told as all of them unless it was.
    figure = 100 if share == 1 else min(99, round(share * 100))
    return f"{figure} of 100"


def without_words(carried: Carrying) -> str:
    """The lines the diet cannot live without, with what each carries."""
    return "It cannot live without " + "; ".join(
        f"{lowered(c.name)} ({carries(c)})" for c in carried.most
    )


def carries(of: Carried) -> str:
    """What a line carries: what breaks most without it."""
    return listed([lowered(b.name) for b in of.of(LineChange.WITHOUT)], 3)
