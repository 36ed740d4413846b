"""Candidates of a formulation: the lines, what is allowed beside them, and measurable increments."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..bowl.exclusions import why_dangerous, why_ruled_out, why_unfit
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import Food, FoodLibrary
from ..facts.formulation_rules import FormulationRules
from ..facts.policy import Policy
from ..facts.preparations import Prepared
from ..recipe.amount import whose
from ..recipe.amounts import find_measure, is_volume
from ..recipe.line import sum_lines
from ..units import WEIGHT_G
from .most import CARRIERS, most_dose
from .problem import Candidate, Contents, Increment, ItemKind, Tie


@dataclass(frozen=True)
class LineRule:
    """What the consultant said of a line: role free, fixed or excluded; bounds; a tie."""

    role: str = ""
    low_grams: float | None = None
    high_grams: float | None = None
    tie_to: int | None = None
    tie_ratio: float = 1.0


def kind_of(food: Food) -> ItemKind:
    """What an item is."""
    return ItemKind.FOOD if food.handling is None else ItemKind(food.handling.kind)


def is_dose_food(rules: FormulationRules, food: Food) -> bool:
    """Whether a food is given by dose, not eaten as food."""
    return rules.dosed.holds(food.attributes) is True


def increment_of(
    rules: FormulationRules,
    food: Food,
    unit: str = "g",
    unit_grams: float = 1.0,
    batch_grams: float = 0.0,
) -> Increment:
    """The smallest amount of a food a person can give, from how its line is written: a spoon stays a
    spoon, a cup a cup, and what is weighed moves by what is worth weighing anew."""
    steps = rules.steps
    given = food.handling
    if given is not None and given.unit_g is not None:
        return Increment(given.step_g, given.form, given.step_g / given.unit_g)
    if unit in _SPOONED:
        return Increment(steps[unit] * unit_grams, unit, steps[unit])
    if given is not None:
        spoon = find_measure(food, "tsp")
        if spoon is None:
            return Increment(steps["powder_g"], "g", steps["powder_g"])
        return Increment(steps["tsp"] * spoon.grams, "tsp", steps["tsp"])
    piece = find_measure(food, "large") if rules.by_piece.holds(food.attributes) else None
    if piece is not None and not batch_grams:
        return Increment(piece.grams, piece.name, 1.0)
    if unit not in WEIGHT_G and not is_volume(unit):
        return Increment(unit_grams, unit, 1.0)
    grams = round_step(steps["noise"] * batch_grams)
    return Increment(grams, "g", grams)


# Steps that are written in reference/formulation.yaml by the unit itself.
_SPOONED = frozenset({"tsp", "tbsp", "cup"})


def round_step(grams: float) -> float:
    """The round number of grams (1, 2, 5, 10, 20, ...) that is not under a weight, at least 1."""
    if grams <= 1:
        return 1.0
    size = 10.0 ** math.floor(math.log10(grams))
    return float(next(m * size for m in (1, 2, 5, 10) if m * size >= grams * (1 - 1e-9)))


_COUNTED = frozenset({"cup", "tablet", "capsule", "drop", "pump"})
_EIGHTHS = {1: "1/8", 2: "1/4", 3: "3/8", 4: "1/2", 5: "5/8", 6: "3/4", 7: "7/8"}


def amount_text(increment: Increment, grams: float) -> str:
    """Grams as a person writes them in the increment's unit: "37 g", "1 1/2 tablets", "3/8 tsp"."""
    count = grams / increment.grams * increment.count
    if increment.unit == "g":
        return f"{round(count, 2):g} g"
    eighths = round(count * 8)
    whole, part = divmod(eighths, 8)
    if abs(count * 8 - eighths) > 1e-6:
        return f"{round(grams, 1):g} g"
    words = " ".join(x for x in (str(whole) if whole else "", _EIGHTHS.get(part, "")) if x) or "0"
    unit = increment.unit.removeprefix("each ")
    return f"{words} {unit}{plural(unit, count)}"


def plural(unit: str, count: float) -> str:
    """What makes a unit more than one of it: "s" for cups and pieces that are counted, "" for spoons and weights."""
    return "s" if count > 1 and unit.rpartition(" ")[2] in _COUNTED else ""


def nearest_amount(rules: FormulationRules, food: Food, grams: float) -> str:
    """The amount a person can give that is nearest to a weight, at least one increment."""
    increment = increment_of(rules, food)
    least = least_of(rules, food, increment)
    return amount_text(increment, max(round(grams / increment.grams) * increment.grams, least))


def first_amount(rules: FormulationRules, food: Food) -> str:
    """What a food starts with on the bench when no amount was typed: 100 g of a food, the smallest
    amount a person can give of a supplement."""
    if not food.is_supplement:
        return f"{rules.defaults['first_amount_g']:g} g"
    increment = increment_of(rules, food)
    return amount_text(increment, least_of(rules, food, increment))


def line_candidates(
    dossier: Dossier, mode: str, line_rules: Mapping[int, LineRule], kcal: float
) -> list[Candidate]:
    """The recipe's lines as candidates. Raises InputError for bounds or ties that make no sense."""
    rules, avoid, lines = dossier.reference.formulation, dossier.avoid, dossier.lines
    foods = rules.modes[mode].foods
    portion = _portion(dossier, line_rules, kcal)
    room = rules.defaults["line_room_g"] * kcal / 1000
    found = []
    for i, line in enumerate(lines):
        rule = line_rules.get(i, LineRule())
        grams = line.amount.grams
        unit_grams = grams / line.amount.count if line.amount.count else 1.0
        increment = increment_of(rules, line.food, line.amount.unit, unit_grams, grams)
        if increment.unit == line.amount.unit:
            spoon = whose(line.amount, dossier.measures) + increment.unit
            increment = replace(increment, unit=spoon)
        # What a condition rules out is taken out, unless the consultant or the mode leaves it in.
        stays = rule.role == "fixed" or (not rule.role and foods == "fixed")
        against = why_ruled_out(line.as_fed, avoid)
        why = why_dangerous(line.as_fed, avoid) or ("" if stays else against)
        why = why or avoid.marked.get(line.food.id, "")
        if rule.role == "excluded":
            why = "left out by the consultant"
        fixed = rule.role == "fixed" or (
            not rule.role and foods == "fixed" and not line.food.is_supplement
        )
        most = (
            most_dose(dossier, line.food, kcal)
            if line.food.is_supplement
            else _most(rules, foods, line.amount.grams, portion, room, kcal)
        )
        low = rule.low_grams if rule.low_grams is not None else 0.0
        high = rule.high_grams if rule.high_grams is not None else max(most, grams)
        if low > high:
            raise InputError(
                f"lines[{i}].low", f"at least {low:g} g is more than at most {high:g} g"
            )
        tie = None
        if rule.tie_to is not None:
            if not 0 <= rule.tie_to < len(lines) or rule.tie_to == i or rule.tie_ratio <= 0:
                raise InputError(f"lines[{i}].tie_to", "name another line, with a ratio above 0")
            tie = Tie(rule.tie_to, rule.tie_ratio)
        found.append(
            Candidate(
                line.food, i, kind_of(line.food), grams, low, high, increment,
                fixed and not why, why, tie, dossier.prices.get(line.food.id),
                min(least_of(rules, line.food, increment), grams) if line.food.is_supplement else 0.0,
                against="" if why else against, dose_food=is_dose_food(rules, line.food),
            )
        )  # fmt: skip
    return found


def _most(
    rules: FormulationRules, foods: str, grams: float, portion: float, room: float, kcal: float
) -> float:
    """The most of a line. portion: how many times the recipe feeds what is asked for."""
    if foods == "open":
        return max(grams, 5 * kcal)  # no food is thinner than 0.2 kcal/g and a whole diet
    whole = grams * max(portion, 1.0)
    return max(rules.defaults["line_most"] * whole, whole + room)


def _portion(dossier: Dossier, line_rules: Mapping[int, LineRule], kcal: float) -> float:
    """How many times what stays of the recipe brings the energy asked for; 1 where it brings none."""
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    energy = sums.contributions[:, dossier.library.catalogue.index("ENERC")]
    brought = 0.0
    for i, (line, each) in enumerate(zip(dossier.lines, energy.tolist(), strict=True)):
        rule = line_rules.get(i, LineRule())
        ruled = rule.role != "fixed" and why_ruled_out(line.as_fed, dossier.avoid)
        out = rule.role == "excluded" or ruled or why_dangerous(line.as_fed, dossier.avoid)
        if not out and each > 0:
            brought += each
    most = dossier.reference.formulation.shape.scale_most
    return min(kcal / brought, most) if brought > 0 else 1.0


def added_candidates(
    dossier: Dossier, allowed: Sequence[str], kcal: float, lines: Sequence[Candidate] = ()
) -> list[Candidate]:
    """Foods and supplements that may be added; those that are excluded are left out. `lines`: the recipe's
    own candidates, whose place a food like them can take.

    Raises InputError for a food the library does not hold.
    """
    rules, library = dossier.reference.formulation, dossier.library
    present = {line.food.id for line in dossier.lines}
    found = []
    brought = energy_of(dossier)
    left_out = sum(brought[c.line] for c in lines if c.line is not None and c.excluded)
    for food_id in dict.fromkeys(allowed):
        if food_id in present:
            continue
        if food_id not in library:
            raise InputError("allowed", f"no food {food_id!r} in the library")
        food = library.food(food_id)
        if why_unfit(food, dossier.avoid) or why_not_given(dossier, food):
            continue
        place = _place_of(rules, food, lines, brought)
        share = rules.defaults["added_food_most"] + left_out
        if place is not None:
            share = max(share, rules.shape.kept_most * brought[place])
        found.append(replace(added_candidate(dossier, food, kcal, share), instead_of=place))
    return found


def added_candidate(
    dossier: Dossier, food: Food, kcal: float, share: float | None = None
) -> Candidate:
    """A food or supplement that could be added, up to its dose or a share of the energy (None: what any added food
    may bring), without asking whether it may."""
    rules, library = dossier.reference.formulation, dossier.library
    if food.is_supplement:
        most = most_dose(dossier, food, kcal)
    else:
        column = library.catalogue.index("ENERC")
        per_gram = float(np.nan_to_num(library.values[library.row(food.id), column])) / 100
        part = rules.defaults["added_food_most"] if share is None else share
        most = part * kcal / max(per_gram, 0.3)
    increment, least = _useful(rules, food, kcal, dossier.fine_scale)
    return Candidate(
        food, None, kind_of(food), 0.0, 0.0, most, increment, dose_food=is_dose_food(rules, food),
        price_per_kg=dossier.prices.get(food.id), least_grams=least,
    )  # fmt: skip


def measurable(c: Candidate, fine_scale: bool) -> bool:
    """Whether an amount of an item can be given within its dose: without a fine scale a powder for which no spoon is
    known cannot."""
    weighed = c.is_supplement and c.increment.unit == "g" and c.increment.grams < 1.0
    return (fine_scale or not weighed) and c.high_grams >= max(c.least_grams, c.increment.grams) * (
        1 - 1e-9
    )


def energy_of(dossier: Dossier) -> list[float]:
    """The share of each line in the recipe's energy; 0 for all of a recipe without any."""
    column = dossier.library.catalogue.index("ENERC")
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    if not sums.kcal > 0:
        return [0.0] * len(dossier.lines)
    shares: list[float] = (np.nan_to_num(sums.contributions[:, column]) / sums.kcal).tolist()
    return shares


def _place_of(
    rules: FormulationRules, food: Food, lines: Sequence[Candidate], brought: Sequence[float]
) -> int | None:
    """Whose place a food can take: of the lines like it that may move, the one with the most energy."""
    swap = next((s for s in rules.swaps if s.when.holds(food.attributes)), None)
    if swap is None or food.is_supplement:
        return None
    like = [
        i
        for i, c in enumerate(lines)
        if not c.fixed and not c.is_supplement and swap.when.holds(c.food.attributes)
    ]
    return max(like, key=lambda i: (brought[i], -i), default=None)


def _useful(
    rules: FormulationRules, food: Food, kcal: float, fine_scale: bool
) -> tuple[Increment, float]:
    """In what steps a food or supplement is added, and the least of it that is worth adding, g."""
    increment = increment_of(rules, food)
    if fine_scale and food.handling is not None and food.handling.unit_g is None:
        step = rules.steps["powder_g"]
        return Increment(step, "g", step), rules.useful["powder_g"]
    if food.is_supplement or increment.unit != "g":
        return increment, least_of(rules, food, increment)
    pure = food.attributes.group == "fat"
    each = rules.useful["fat_g_per_mcal" if pure else "food_g_per_mcal"] * kcal / 1000
    step = round_step(each)
    return Increment(step, "g", step), step


def least_of(rules: FormulationRules, food: Food, increment: Increment) -> float:
    """The least of an item that is given, g: a spoon is not filled to less than a quarter."""
    if not food.is_supplement or increment.unit != "tsp":
        return increment.grams
    return increment.grams / increment.count * rules.useful["powder_tsp"]


def why_not_given(dossier: Dossier, food: Food) -> str:
    """Why a supplement is not given to this dog, or an amount of it cannot be told to this owner; "" when it can."""
    if open_questions(dossier.library, food):
        return "its strength must be read from the pack first"
    if _only_what_is_kept_low(dossier, food):
        return "it brings only what a condition keeps under the standard"
    if food.handling is None or food.handling.unit_g is not None or dossier.fine_scale:
        return ""
    spooned = find_measure(food, "tsp") is not None
    return (
        ""
        if spooned
        else "no spoon of it is known: weigh a level teaspoon of it, or note a fine scale at intake"
    )


def _only_what_is_kept_low(dossier: Dossier, food: Food) -> bool:
    """Whether a supplement brings nothing but nutrients that may go under the standard's minimum: whatever floor is left
    is for foods to reach. What carries the active part, and what nothing is asked of, is not counted."""
    low = dossier.targets.under_standard
    if not low or not food.is_supplement:
        return False
    library = dossier.library
    values = library.values[library.row(food.id)]
    brings = [k for k, v in zip(library.catalogue.keys, values, strict=True) if v > 0]
    active = [k for k in brings if k in dossier.requirements.limits and k not in CARRIERS]
    return bool(active) and all(key in low for key in active)


def open_questions(library: FoodLibrary, food: Food) -> list[str]:
    """Strengths that still have to be read from the supplement's pack."""
    if food.handling is None:
        return []
    row = library.row(food.id)
    return [
        q.tag
        for q in food.handling.label
        if np.isnan(library.values[row, library.catalogue.index(q.tag)])
    ]


def contents_of(
    library: FoodLibrary,
    candidates: Sequence[Candidate],
    prepared: Sequence[Prepared | None],
    policy: Policy,
) -> Contents:
    """What a gram of each candidate brings under a data policy (see adequacy.judge).

    `prepared`: how each line of the recipe is cooked, by its position.
    """
    width = len(library.catalogue.nutrients)
    picked = library.stacked()[[library.row(c.food.id) for c in candidates]]
    known, soft = picked[:, :width].copy(), picked[:, width : 2 * width].copy()
    missing = picked[:, 2 * width : 3 * width] > 0
    upper = picked[:, 5 * width : 6 * width].copy()
    fed = np.ones(len(candidates))
    for j, c in enumerate(candidates):
        cooked = prepared[c.line] if c.line is not None else None
        if cooked is not None:
            changed = (cooked.retention != 1.0) & ~missing[j]
            known[j] *= cooked.retention
            soft[j] = np.where(changed, known[j], soft[j])
            upper[j] *= np.maximum(cooked.retention, 1.0)
            fed[j] = cooked.yield_share
    firm = known - soft
    return Contents(
        firm if policy in {Policy.STRICT, Policy.CAUTIOUS} else known,
        known + upper,
        known[:, library.catalogue.index("ENERC")],
        fed,
    )
