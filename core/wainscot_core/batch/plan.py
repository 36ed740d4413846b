"""Plan a batch: from a recipe and what is asked of it to what is weighed into which vessel, for whom, and what of it is
kept where."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..analysis.adequacy import BREAKS, HELD
from ..analysis.analyse import cost_of
from ..analysis.results import Analysis, NutrientResult, RatioResult
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.batches import BatchRules, Cover, Density, FreezeShape, Vessel
from ..facts.handling import Place
from ..figures import rounded
from ..kitchen.handling import Handling, LinePlace
from ..recipe.line import Line, sum_lines
from ..recipe.plan import scaled
from .ask import BatchAsk, PackIn, ScaleBy
from .eaters import Eater, EaterResult, day_of, eater_result, recipes_a_day
from .finished import Finished, finished, in_the_food, of_line
from .portions import Portions, portions, storage, volume
from .results import BatchLine, BatchPlan, BatchVessel, Moved
from .size import Rate, days_for_amount, most_days, opened, to_whole_packs
from .split import steps_of
from .told import findings_of
from .weighing import Tool, Weighed, counted, weighed

# A step that a scale may show, g, and water that may be put on.
_FINEST, _COARSEST, _MOST_WATER = 0.001, 100.0, 50_000.0
_MOST_MINUTES = 24 * 60.0


@dataclass(frozen=True)
class Pot:
    """What is cooked: the recipe's dossier, for the dog that it was made for, and how it is handled."""

    dossier: Dossier
    handling: Handling

    @property
    def places(self) -> list[Place]:
        """Where each line stands in the work."""
        return [at.place for at in self.handling.lines]


@dataclass(frozen=True)
class _Tools:
    """What was chosen, looked up."""

    vessels: tuple[Vessel, ...]
    names: tuple[str, ...]
    shares: tuple[float, ...]
    cover: Cover
    shape: FreezeShape
    density: Density | None


def served(pot: Pot) -> tuple[Line, ...]:
    """What the recipe gives in the bowl at every meal, a day."""
    lines = pot.dossier.lines
    return tuple(
        scaled(line, 1 / pot.dossier.days)
        for line, place in zip(lines, pot.places, strict=True)
        if place is Place.BOWL
    )


def plan_batch(pot: Pot, ask: BatchAsk, eaters: Sequence[Eater]) -> BatchPlan:
    """Plan a batch. eaters: the dogs of the pot, the one that the recipe was made for first, with what the pot's own
    recipe gives it in the bowl among its `own` (served). Raises InputError for what cannot be."""
    rules = pot.dossier.reference.batches
    tools = _tools(rules, ask, _swells(pot))
    inside = in_the_food(pot.places)
    if not inside:
        raise InputError("recipe", "has nothing that goes into a pot")
    lines = pot.dossier.lines
    in_pot = [lines[i] for i in inside]
    rates = [recipes_a_day(eater, in_pot) for eater in eaters]
    rate = Rate(
        recipes_per_day=sum(rates), meals_per_day=sum(e.dossier.meals_per_day for e in eaters)
    )
    asked_days = _days(pot, ask, rate, tools)
    line_grams = [line.amount.grams for line in lines]
    asked = asked_days * rate.recipes_per_day
    times = to_whole_packs(rules, ask.by, asked, ask.packs, line_grams)
    days = times / rate.recipes_per_day
    exact = [scaled(line, times) for line in in_pot]
    on_scale = [
        _weighed(rules, ask, tools, line, pack_of(ask, i))
        for i, line in zip(inside, exact, strict=True)
    ]
    real = [
        scaled(line, w.grams / line.amount.grams if line.amount.grams > 0 else 1.0)
        for line, w in zip(exact, on_scale, strict=True)
    ]
    done = _finished(pot, ask, tools, real, [pot.places[i] for i in inside])
    results = [
        eater_result(eater, real, r / rate.recipes_per_day / days, done.grams, lead=k == 0)
        for k, (eater, r) in enumerate(zip(eaters, rates, strict=True))
    ]
    batch_lines = tuple(
        _line(ask, i, line, w, at, kcal, _fed(pot, cooked, at.place))
        for i, line, w, at, kcal, cooked in zip(
            inside, exact, on_scale, [pot.handling.lines[i] for i in inside],
            _kcal(pot.dossier, real), real, strict=True,
        )
    )  # fmt: skip
    vessels = _vessels(tools, done)
    kept = storage(rules, done.grams, days, tools.shape, ask.fridge_litres, ask.freezer_litres)
    bowl = [scaled(line, days) for eater in eaters for line in eater.own]
    cost = cost_of(pot.dossier.with_lines((*real, *bowl), days))
    plan = BatchPlan(
        by=ask.by, days=rounded(days), asked_days=rounded(asked_days), times=rounded(times),
        lines=batch_lines, vessels=vessels, finished=done, eaters=tuple(results),
        portions=tuple(_portions(rules, ask, done, days, r) for r in results),
        volumes=tuple(volume(tools.density, r.grams_per_meal) for r in results)
        if tools.density
        else (),
        storage=kept, cost_per_day=cost.per_day, cost=cost.batch, unpriced=cost.unpriced,
        moved=_moved(eaters[0], exact, real, results[0].share), findings=(), source=rules.source,
    )  # fmt: skip
    return replace(plan, findings=findings_of(pot.dossier, rules, ask, plan))


def pack_of(ask: BatchAsk, position: int) -> PackIn | None:
    """The packs that a line comes in; None where it comes in none."""
    return next((p for p in ask.packs if p.line == position), None)


def _tools(rules: BatchRules, ask: BatchAsk, swells: bool) -> _Tools:
    """Raises InputError for a choice there is none of and for figures that cannot be."""
    for name, value in (("coarse_g", ask.coarse_g), ("fine_g", ask.fine_g)):
        if value is not None and not _FINEST <= value <= _COARSEST:
            raise InputError(
                name,
                f"must be between {_FINEST:g} and {_COARSEST:g} g: the step that the scale shows",
            )
    if ask.fine_g is not None and ask.fine_g >= ask.coarse_g:
        raise InputError("fine_g", "must be finer than the step of the kitchen scale")
    if not 0 <= ask.water_g <= _MOST_WATER:
        raise InputError("water_g", f"must be between 0 and {_MOST_WATER:.0f} g")
    if not 0 <= ask.minutes <= _MOST_MINUTES:
        raise InputError("minutes", "must be between 0 and a day")
    for name, litres in (("fridge_litres", ask.fridge_litres), ("freezer_litres", ask.freezer_litres)):  # fmt: skip
        if litres is not None and not 0 <= litres <= 2000:
            raise InputError(name, "must be between 0 and 2000 l")
    if ask.cover not in rules.covers:
        raise InputError("cover", f"use one of: {', '.join(rules.covers)}")
    if ask.shape not in rules.keep.shapes:
        raise InputError("shape", f"use one of: {', '.join(rules.keep.shapes)}")
    if ask.density and ask.density not in rules.densities:
        raise InputError("density", f"use one of: {', '.join(rules.densities)}")
    chosen = []
    for i, entry in enumerate(ask.vessels):
        if entry.vessel not in rules.vessels:
            raise InputError(f"vessels[{i}].vessel", f"use one of: {', '.join(rules.vessels)}")
        if entry.share is not None and not 0 < entry.share <= 100:
            raise InputError(f"vessels[{i}].share", "must be above 0 and at most 100 %")
        chosen.append(rules.vessels[entry.vessel])
    shares = tuple(
        (v.with_dry_g if swells else v.holds_g) if entry.share is None else entry.share
        for v, entry in zip(chosen, ask.vessels, strict=True)
    )
    said = [entry.share is not None for entry in ask.vessels]
    if any(said) and not all(said):
        raise InputError("vessels", "give every vessel its share, or none")
    if all(said) and said and abs(sum(shares) - 100) > 0.01:
        raise InputError("vessels", f"the shares add up to {sum(shares):g} %, not to 100 %")
    return _Tools(
        tuple(chosen) if not swells else tuple(replace(v, holds_g=v.with_dry_g) for v in chosen),
        tuple(e.name or v.name for e, v in zip(ask.vessels, chosen, strict=True)),
        shares or (1.0,), rules.covers[ask.cover], rules.keep.shapes[ask.shape],
        rules.densities.get(ask.density),
    )  # fmt: skip


def _swells(pot: Pot) -> bool:
    """Whether dry food swells in the pot."""
    rules = pot.dossier.reference.handling
    return any(
        place is Place.POT
        and (rules.uptake_of(line.food.attributes) > 0 or (line.prepared is not None and line.prepared.yield_share > 1))
        for line, place in zip(pot.dossier.lines, pot.places, strict=True)
    )  # fmt: skip


def _days(pot: Pot, ask: BatchAsk, rate: Rate, tools: _Tools) -> float:
    lines = pot.dossier.lines
    if ask.by is not ScaleBy.VESSELS:
        return days_for_amount(ask, rate, [line.amount.grams for line in lines])
    if not tools.vessels:
        raise InputError("vessels", "choose what it is cooked in")
    inside = in_the_food(pot.places)
    places = [pot.places[i] for i in inside]
    rules, whole = pot.dossier.reference.batches, sum(tools.shares)
    # The vessel that is full first says how much; the brim stays free.
    holds = min(
        v.holds_g * rules.brim * whole / share
        for v, share in zip(tools.vessels, tools.shares, strict=True)
    )

    def fits(days: float) -> bool:
        of_days = [scaled(lines[i], days * rate.recipes_per_day) for i in inside]
        return _finished(pot, ask, tools, of_days, places).grams <= holds

    return most_days(fits, rate.meals_per_day)


def _finished(
    pot: Pot, ask: BatchAsk, tools: _Tools, lines: Sequence[Line], places: Sequence[Place]
) -> Finished:
    reference = pot.dossier.reference
    kcal = sum_lines(pot.dossier.library, lines, 1.0).kcal
    return finished(
        reference.batches, reference.handling, lines, places, kcal, ask.water_g, tools.cover,
        ask.minutes, max(1, len(tools.vessels)),
    )  # fmt: skip


def _weighed(
    rules: BatchRules, ask: BatchAsk, tools: _Tools, line: Line, pack: PackIn | None
) -> Weighed:
    grams, handling = line.amount.grams, line.food.handling
    if handling is not None and handling.unit_g is not None:
        return counted(grams, handling.unit_g, handling.step_g)
    small = line.food.is_supplement
    if pack is not None and pack.whole:
        pieces = steps_of(grams, pack.grams)
        if pieces == 0:
            raise InputError("packs", f"{line.food.name}: {grams:.0f} g is less than half a pack")
        grams = pieces * pack.grams
    return weighed(rules, grams, tools.shares, ask.coarse_g, ask.fine_g, small)


def _line(
    ask: BatchAsk, position: int, line: Line, w: Weighed, at: LinePlace, kcal: float, fed_g: float
) -> BatchLine:
    handling, pack = line.food.handling, pack_of(ask, position)
    unit = handling.unit_g if handling is not None and w.tool is Tool.COUNT else None
    return BatchLine(
        position=position, food=line.food.id, name=line.food.name, place=at.place,
        supplement=line.food.is_supplement, step=at.step or at.words, tool=w.tool, step_g=w.step_g,
        exact_g=rounded(line.amount.grams), grams=rounded(w.grams), fed_g=rounded(fed_g), once=w.once, vessels=w.vessels,
        off=rounded(w.off), pieces=rounded(w.grams / unit) if unit else None,
        piece=handling.form if handling is not None and unit else "", kcal=rounded(kcal),
        pack=opened(pack, w.grams) if pack is not None else None,
    )  # fmt: skip


def _fed(pot: Pot, line: Line, place: Place) -> float:
    reference = pot.dossier.reference
    return of_line(reference.batches, reference.handling, line, place)[1]


def _kcal(dossier: Dossier, lines: Sequence[Line]) -> list[float]:
    sums = sum_lines(dossier.library, lines, 1.0)
    column = dossier.library.catalogue.index("ENERC")
    return [float(x) for x in sums.contributions[:, column]]


def _vessels(tools: _Tools, done: Finished) -> tuple[BatchVessel, ...]:
    whole = sum(tools.shares)
    start = done.raw_g + done.taken_up_g + done.water_g
    return tuple(
        BatchVessel(
            vessel=v.id, name=name, share=rounded(share / whole),
            food_g=rounded(done.grams * share / whole), start_g=rounded(start * share / whole),
            holds_g=v.holds_g, water_g=rounded(done.water_g * share / whole),
        )
        for v, name, share in zip(tools.vessels, tools.names, tools.shares, strict=False)
    )  # fmt: skip


def _portions(
    rules: BatchRules, ask: BatchAsk, done: Finished, days: float, eater: EaterResult
) -> Portions:
    return portions(rules, eater.grams_per_day * days, eater.grams_per_meal, ask.coarse_g)


def _moved(
    eater: Eater, exact: Sequence[Line], real: Sequence[Line], share: float
) -> tuple[Moved, ...]:
    """Verdicts that are others with what is weighed than with what the recipe asks for."""
    before, after = (_judged(day_of(eater, lines, share)) for lines in (exact, real))
    return tuple(
        Moved(
            key=key, name=was.name, unit=was.unit if isinstance(was, NutrientResult) else "",
            status_before=was.status, status_after=now.status, before=_value(was), after=_value(now),
        )
        for (key, was), now in zip(before.items(), after.values(), strict=True)
        if was.status is not now.status and (now.status in BREAKS or now.status not in HELD or was.status not in HELD)
    )  # fmt: skip


def _judged(day: Analysis) -> dict[str, NutrientResult | RatioResult]:
    judged: tuple[NutrientResult | RatioResult, ...] = (*day.nutrients, *day.ratios)
    return {x.key: x for x in judged}


def _value(of: NutrientResult | RatioResult) -> float | None:
    return of.per_1000_kcal if isinstance(of, NutrientResult) else of.value
