"""Analyse a dossier's recipe, and open one nutrient of it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..bowl.marks import gravest
from ..checks import check
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import FoodLibrary
from ..figures import figure, rounded
from ..findings import gathered
from ..recipe.amount import whose, written
from ..recipe.household import household
from ..recipe.line import Line, LineError, sum_lines
from ..recipe.proportions import Gauge, gauges
from ..recipe.totals import Totals
from ..targets.requirements import LimitConflict
from ..targets.standards import Limit, RequirementSet, Strength
from ..units import Measures
from .adequacy import (
    BREAKS,
    RatioVerdict,
    Status,
    Verdict,
    against,
    judge,
    judge_ratios,
    near_bound,
    urgency,
)
from .food_energy_view import food_energy
from .insight import amino_pattern, macros, without_each
from .results import (
    Analysis,
    Cost,
    LimitsChecked,
    LineResult,
    LineShare,
    NutrientResult,
    NutrientWithSources,
    OnEveryBasis,
    RatioResult,
    RecipeAnalysis,
    RecipeResult,
    SecondLimit,
    SetBy,
    TypedAnalysis,
)


def analyse(dossier: Dossier) -> Analysis:
    """The analysis of a dossier's recipe."""
    library = dossier.library
    sums = sum_lines(library, dossier.lines, dossier.days)
    verdicts = judge(sums, dossier.requirements, dossier.policy)
    return Analysis(
        energy=dossier.energy,
        requirements=dossier.requirements.name,
        policy=dossier.policy,
        second=second_limits(dossier, sums),
        second_name=dossier.second.name if dossier.second else "",
        gauges=gauges_of(dossier),
        way_caution=dossier.way.caution if dossier.way else "",
        cost=cost_of(dossier),
        marks=tuple(
            mark
            for food in dict.fromkeys(x.food.id for x in dossier.lines)
            if (mark := gravest(dossier.marks, food)) is not None
        ),
        recipe=recipe_result(library, dossier.lines, sums, dossier.meals_per_day, dossier.measures),
        nutrients=tuple(
            NutrientResult(**nutrient_fields(library, sums, verdict, i, dossier.metabolic_kg))
            for i, verdict in enumerate(verdicts)
        ),
        macros=macros(sums),
        amino_pattern=amino_pattern(library.catalogue, verdicts),
        without=without_each(sums, verdicts),
        contributions=contribution_matrix(sums),
        ratios=tuple(ratio_result(r) for r in judge_ratios(sums, dossier.requirements)),
        flags=check(dossier, sums),
        limits_checked=limits_checked(dossier.requirements),
        food_energy=food_energy(library, dossier.reference.me, dossier.lines, sums),
    )


def analyse_typed(
    dossier: Dossier, positions: Sequence[int], errors: Sequence[LineError]
) -> TypedAnalysis:
    """The analysis of the lines that can be read, with what is wrong with the others."""
    found = analyse(dossier)
    return TypedAnalysis(
        **vars(found), positions=tuple(positions), line_errors=tuple(errors),
        cautions=gathered(found.flags),
    )  # fmt: skip


def limits_checked(requirements: RequirementSet) -> LimitsChecked:
    """Over every published value that a limit stands on; decisions are nobody's publication."""
    published = [
        origin.checked
        for limit in requirements.limits.values()
        for origin in limit.origins
        if origin.strength is not Strength.DECISION
    ]
    return LimitsChecked(checked=sum(published), of=len(published))


def bounds_fields(value: float | None, status: Status, limit: Limit | None) -> dict[str, Any]:
    """A limit and its verdict as the fields of Bounds."""
    bound = against(value, status, limit)
    return {
        "min": figure(limit.minimum) if limit else None,
        "recommended": figure(limit.recommended) if limit else None,
        "max": figure(limit.maximum) if limit else None,
        "safe_limit": figure(limit.safe) if limit else None,
        "advised_min": figure(limit.advised_min) if limit else None,
        "advised_max": figure(limit.advised_ceiling) if limit else None,
        "status": status,
        "breaks": status in BREAKS,
        "against": figure(bound),
        "set_by": set_by(bound, status, limit),
        "urgency": rounded(urgency(value, status, limit)),
    }


def set_by(bound: float | None, status: Status, limit: Limit | None) -> SetBy | None:
    """What set the bound that a status speaks of, a decision before what it decided about; else the
    limit's first origin, but for an advice, which only its own source gives."""
    if limit is None:
        return None
    found = [o for o in limit.origins if o.value == bound]
    if not found and status is not Status.OFF_ADVICE:
        found = list(limit.origins[:1])
    if not found:
        return None
    origin = next((o for o in found if o.decision), found[0])
    return SetBy(source=origin.source, citation=origin.citation)


def on_every_basis(per_1000_kcal: float | None, sums: Totals, metabolic_kg: float) -> OnEveryBasis:
    """An amount per 1000 kcal of this recipe on every other basis."""
    batch = None if per_1000_kcal is None else per_1000_kcal * sums.kcal / 1000
    dry, fed = sums.dry_matter_grams, sums.total_grams

    def share(of: float) -> float | None:
        return None if batch is None or of <= 0 else figure(batch / of)

    return OnEveryBasis(
        per_1000_kcal=figure(per_1000_kcal),
        per_day=share(sums.days),
        per_100g_dry_matter=share(dry / 100),
        per_100g_as_fed=share(fed / 100),
        per_kg75=share(sums.days * metabolic_kg),
    )


def nutrient_fields(
    library: FoodLibrary, sums: Totals, verdict: Verdict, column: int, metabolic_kg: float
) -> dict[str, Any]:
    """One nutrient as the fields of NutrientResult. `metabolic_kg` is the dog's kg^0.75."""
    nutrient = library.catalogue.nutrients[column]
    known = float(sums.known[column])
    estimated = float(sums.estimated[column])
    dry, fed = sums.dry_matter_grams, sums.total_grams
    bound = against(verdict.value, verdict.status, verdict.limit)
    return {
        **bounds_fields(verdict.value, verdict.status, verdict.limit),
        "key": nutrient.key,
        "name": nutrient.name,
        "short": nutrient.short,
        "unit": nutrient.unit,
        "group": nutrient.group,
        "decimals": nutrient.decimals,
        "board": nutrient.board,
        "total": rounded(known),
        "per_day": rounded(known / sums.days),
        "per_1000_kcal": figure(verdict.value),
        "per_100g_dry_matter": figure(known / dry * 100) if dry > 0 else None,
        "per_100g_as_fed": figure(known / fed * 100) if fed > 0 else None,
        "per_kg75": figure(known / sums.days / metabolic_kg),
        "against_on": on_every_basis(bound, sums, metabolic_kg),
        "why": verdict.why,
        "maximum_unproven": verdict.maximum_unproven,
        "most": figure(verdict.most),
        "least_likely": figure(verdict.least_likely),
        "most_likely": figure(verdict.most_likely),
        "rises": verdict.rises,
        "known_share": rounded(float(sums.known_share[column])),
        "estimated_share": rounded(estimated / known if known > 0 else 0.0),
        "unknown_lines": verdict.unknown_lines,
        "near": near_bound(verdict.value, verdict.status, verdict.limit),
    }


def ratio_result(verdict: RatioVerdict) -> RatioResult:
    """One ratio with what it is compared with."""
    ratio, limit = verdict.ratio, verdict.limit
    value = verdict.value if verdict.value is not None else verdict.least
    floor, ceiling = (limit.minimum, limit.ceiling) if limit else (None, None)
    # A side that nothing limits is compared with what is usual.
    low = ratio.window_min if floor is None else floor
    high = ratio.window_max if ceiling is None else ceiling
    usual = (floor is None and low is not None) or (ceiling is None and high is not None)
    sources = [o.source for o in limit.origins] if limit else []
    outside = value is not None and (
        (low is not None and value < low) or (high is not None and value > high)
    )
    return RatioResult(
        **bounds_fields(value, verdict.status, verdict.limit),
        origin=limit.origins if limit else (),
        key=ratio.key,
        name=ratio.name,
        short=ratio.short,
        value=figure(verdict.value),
        least=figure(verdict.least),
        most=figure(verdict.most),
        unknown_lines=verdict.unknown_lines,
        formula=f"({' + '.join(ratio.top)}) / ({' + '.join(ratio.bottom)})",
        low=figure(low),
        high=figure(high),
        share=ratio.share,
        outside=outside,
        bounds_source="; ".join([*sources, *([ratio.window_source] if usual else [])]),
    )


def recipe_result(
    library: FoodLibrary,
    lines: Sequence[Line],
    sums: Totals,
    meals: int,
    measures: Measures = Measures.US,
) -> RecipeResult:
    """The recipe and each line with its grams, household measure and energy."""
    column = library.catalogue.index("ENERC")
    results = []
    for i, line in enumerate(lines):
        kitchen = household(line.food, line.amount.grams, measures)
        method = line.prepared.method if line.prepared else None
        results.append(
            LineResult(
                food=line.food.id,
                name=line.food.name,
                supplement=line.food.is_supplement,
                grams=rounded(line.amount.grams),
                grams_per_day=rounded(line.amount.grams / sums.days),
                grams_per_meal=rounded(line.amount.grams / sums.days / meals),
                kcal=figure(float(sums.contributions[i, column])),
                basis=line.amount.basis,
                sure=line.amount.sure,
                other_cup=(written(line.amount, measures) if whose(line.amount, measures) else ""),
                preparation=method.id if method else None,
                preparation_label=method.label if method else None,
                fed_grams=rounded(line.fed_grams),
                household=kitchen.text if kitchen else None,
                household_error=figure(kitchen.error) if kitchen else None,
            )
        )
    grams, kcal = sums.total_grams, sums.kcal
    return RecipeResult(
        grams=rounded(grams),
        grams_per_day=rounded(grams / sums.days),
        grams_per_meal=rounded(grams / sums.days / meals),
        dry_matter_grams=rounded(sums.dry_matter_grams),
        kcal=rounded(kcal),
        kcal_per_gram=figure(kcal / grams) if grams > 0 else None,
        kcal_per_day=rounded(kcal / sums.days),
        covers_days=rounded(sums.days),
        meals_per_day=meals,
        lines=tuple(results),
    )


def contribution_matrix(sums: Totals) -> tuple[tuple[float | None, ...], ...]:
    """(lines, nutrients) amounts to six significant figures, None where unknown."""
    values = sums.contributions
    with np.errstate(divide="ignore", invalid="ignore"):
        digits = 5 - np.floor(np.log10(np.abs(values)))
    scale = 10.0 ** np.where(np.isfinite(digits), digits, 0.0)
    rows: list[list[float]] = (np.round(values * scale) / scale).tolist()
    return tuple(tuple(None if math.isnan(v) else v for v in row) for row in rows)


def second_limits(dossier: Dossier, sums: Totals) -> dict[str, SecondLimit]:
    """Another requirement set's limits and verdicts beside the first, per 1000 kcal."""
    if dossier.second is None:
        return {}
    return {
        v.key: SecondLimit(
            min=figure(v.limit.minimum), max=figure(v.limit.maximum), status=v.status
        )
        for v in judge(sums, dossier.second, dossier.policy)
        if v.limit is not None
    }


def gauges_of(dossier: Dossier) -> tuple[Gauge, ...]:
    """The proportions of the way of feeding, when one is watched."""
    if dossier.way is None:
        return ()
    lines = dossier.lines
    foods, fed = [x.food for x in lines], [x.fed_grams for x in lines]
    return gauges(dossier.reference.feeding, dossier.way, foods, fed)


def cost_of(dossier: Dossier) -> Cost:
    """Cost of a batch and a day by prices per kg; a line without a price is counted, not free."""
    prices = dossier.prices
    costs = [
        None if line.food.id not in prices else prices[line.food.id] * line.amount.grams / 1000
        for line in dossier.lines
    ]
    total = sum(c for c in costs if c is not None)
    return Cost(
        lines=tuple(None if c is None else round(c, 3) for c in costs),
        batch=round(total, 2),
        per_day=round(total / dossier.days, 2),
        unpriced=sum(c is None for c in costs),
    )


def nutrient_shares(
    library: FoodLibrary, lines: Sequence[Line], sums: Totals, column: int
) -> tuple[LineShare, ...]:
    """What every line brings of one nutrient, amount None when unknown."""
    known = float(sums.known[column])
    found = []
    for i, line in enumerate(lines):
        amount = float(sums.contributions[i, column])
        missing = math.isnan(amount)
        found.append(
            LineShare(
                line=i,
                food=line.food.id,
                name=line.food.name,
                amount=figure(amount),
                share=None if missing else rounded(amount / known if known > 0 else 0.0),
                grade=library.provenance[int(library.codes[line.row, column])].grade,
            )
        )
    return tuple(found)


@dataclass(frozen=True, kw_only=True)
class CaseAnalysis(RecipeAnalysis):
    """What `./wainscot analyse` prints: a recipe with every nutrient's sources, and what the
    targets leave to decide."""

    nutrients: tuple[NutrientWithSources, ...]
    conflicts: tuple[LimitConflict, ...]
    sign_off: tuple[str, ...]
    under_standard: tuple[str, ...]
    warnings: tuple[str, ...]


def analyse_case(dossier: Dossier, warnings: Sequence[str] = ()) -> CaseAnalysis:
    """The analysis of a case file. warnings: what of the file was passed over."""
    if not dossier.lines:
        raise InputError("recipe.lines", "must be a list with at least one ingredient")
    found = analyse(dossier)
    library, lines = dossier.library, dossier.lines
    sums = sum_lines(library, lines, dossier.days)
    return CaseAnalysis(
        **{name: getattr(found, name) for name in RecipeAnalysis.__dataclass_fields__},
        nutrients=tuple(
            NutrientWithSources(
                **vars(n),
                origin=dossier.requirements.origins_of(n.key),
                sources=nutrient_shares(library, lines, sums, i),
            )
            for i, n in enumerate(found.nutrients)
        ),
        conflicts=dossier.targets.conflicts,
        sign_off=dossier.targets.sign_off,
        under_standard=dossier.targets.under_standard,
        warnings=tuple(warnings),
    )
