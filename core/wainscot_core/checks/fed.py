"""A recipe that is fed already: for how long, and for which stage of life it was made."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals

_STAGES = {
    "adult": "grown dogs",
    "growth-early": "young pups",
    "growth-late": "older pups",
    "growth-large": "pups of large breeds",
    "gestation-lactation": "gestation and lactation",
}


def made_for_another_stage(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """A recipe made for one stage of life that is fed in another, be every limit held or not."""
    made, now = dossier.fed.made_for, {s.safe_stage for s in dossier.targets.stages.stages}
    if made and not made & now:
        yield Finding(
            kind=Kind.PATTERN, level=Level.DECIDE, what="Made for another stage of life",
            why=f"it was made for {_told(made)} and is for {_told(now)} now: calcium, phosphorus and energy were set for the "
            "other; too little or too much calcium harms the bones of a pup for good",
            do="Formulate it anew for this stage, or say why it may stay as it is.", field="life_stage",
            source="NRC 2006; FEDIAF 2021",
        )  # fmt: skip


def past_its_days(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """A recipe that does not hold every limit and is fed for longer than was said."""
    most = dossier.fed.most_days
    if most is not None and dossier.fed.days > most:
        yield Finding(
            kind=Kind.PATTERN, level=Level.DECIDE, what="Fed for longer than it may be",
            why=f"it does not hold every limit and was to be fed for at most {most} days",
            do="Complete it, or change to another one; say why if it must go on.",
            source="what was told when it was given out",
        )  # fmt: skip


def one_recipe_for_months(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """The same recipe for months, with nothing that takes turns with it."""
    rules = dossier.reference.availability
    if dossier.fed.days > rules.one_recipe_days:
        yield Finding(
            kind=Kind.PATTERN, level=Level.WARN,
            what=f"One recipe for more than {rules.one_recipe_days} days",
            why="what the tables have wrong of one food is then wrong every day, and kitchens drift: amounts, brands, steps",
            do="Let a second recipe take turns, read this one again with the owner, and ask the vet for the next check of "
            "weight and blood.",
            source=rules.one_recipe_source,
        )  # fmt: skip


def _told(stages: frozenset[str] | set[str]) -> str:
    return " or ".join(words for stage, words in _STAGES.items() if stage in stages)
