"""For how long a plan that does not hold every limit may be fed."""

from ..analysis.adequacy import BREAKS, Status
from ..analysis.results import NutrientResult, RatioResult
from ..dog.as_it_is import AsItIs, AsItIsRules, Lacks, as_it_is
from ..findings import Level, gathered
from ..snapshot.snapshot import Snapshot

Judged = NutrientResult | RatioResult


def answer_of(snapshot: Snapshot, rules: AsItIsRules) -> AsItIs:
    """For how long the recipe of a snapshot may be fed to its dog as it is."""
    analysis = snapshot.of_recipe.as_fed
    judged: list[Judged] = [*analysis.nutrients, *analysis.ratios]
    grave = [f.what for f in gathered(analysis.flags) if f.level is Level.BLOCK]
    above = [f"too much {x.name}" for x in judged if x.status is Status.ABOVE_SAFE]
    off = {x.key: x.name for x in judged if x.status in {Status.UNPROVEN, *BREAKS}}
    ill = [d.name for d in snapshot.targets.conditions]
    # A dog of unknown age is not taken for grown up.
    stage = snapshot.intake.life_stage if snapshot.case.dog.age_months is not None else None
    return as_it_is(rules, stage, ill, Lacks(tuple(dict.fromkeys([*grave, *above])), off))
