"""What a batch weighs when it is done: from yields, the water that goes in and what boils away."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..facts.batches import BatchRules, Cover
from ..facts.handling import HandlingRules, Place
from ..figures import figure, rounded
from ..recipe.line import Line
from ..trace import Quantity, Step

Span = tuple[float, float, float]


@dataclass(frozen=True, kw_only=True)
class Finished:
    """The finished batch. low, grams, high: what it weighs; raw_g: what goes into it; taken_up_g: water that dry food
    takes up; water_g: water that stays beside that; evaporates_g: what of it boils away; kcal_per_gram: None for nothing
    to eat."""

    raw_g: float
    taken_up_g: float
    water_g: float
    evaporates_g: float
    low: float
    grams: float
    high: float
    kcal: float
    kcal_per_gram: float | None
    steps: tuple[Step, ...]


def in_the_food(places: Sequence[Place]) -> list[int]:
    """Positions of the lines that are part of the finished food: all but what is given in the bowl."""
    return [i for i, place in enumerate(places) if place is not Place.BOWL]


def of_line(rules: BatchRules, handling: HandlingRules, line: Line, place: Place) -> Span:
    """Finished weight of a line, g: low, usual, high. Its yield is that of its cooking, taken once; dry food without one
    takes up water by its kind."""
    grams = line.amount.grams
    if line.prepared is not None:
        done = line.prepared
        return grams * done.yield_low, grams * done.yield_share, grams * done.yield_high
    if place is not Place.POT:
        return grams, grams, grams
    took = handling.uptake_of(line.food.attributes) * grams
    off = took * rules.uptake_off
    return grams + took - off, grams + took, grams + took + off


def boils_away(
    rules: BatchRules, cover: Cover, minutes: float, vessels: int, free_g: float, in_it_g: float
) -> Span:
    """Water that boils away, g: low, usual, high. free_g: what can; in_it_g: all that is in the vessels."""
    hours = minutes / 60
    low = vessels * hours * cover.g_per_hour[0] + in_it_g * 2 * hours * cover.share_per_half_hour[0]
    high = vessels * hours * cover.g_per_hour[1] + in_it_g * 2 * hours * cover.share_per_half_hour[1]  # fmt: skip
    low, high = min(low, free_g), min(high, free_g)
    return low, (low + high) / 2, high


def free_water(
    rules: BatchRules, lines: Sequence[Line], places: Sequence[Place], water_g: float
) -> float:
    """Water that can boil away, g: what was added, and juice of what is cooked with its broth kept. What is poured off
    or roasted is in its yield already."""
    kept = sum(
        line.amount.grams
        for line, place in zip(lines, places, strict=True)
        if place is Place.POT and line.prepared is not None and line.prepared.method.liquid_kept
    )
    return water_g + rules.juice * kept


def finished(
    rules: BatchRules,
    handling: HandlingRules,
    lines: Sequence[Line],
    places: Sequence[Place],
    kcal: float,
    water_g: float,
    cover: Cover,
    minutes: float,
    vessels: int,
) -> Finished:
    """The finished weight of the lines that are in the food, and its kcal per g. kcal: what they bring."""
    inside = in_the_food(places)
    spans = [of_line(rules, handling, lines[i], places[i]) for i in inside]
    low, usual, high = (sum(s[k] for s in spans) for k in range(3))
    raw = sum(lines[i].amount.grams for i in inside)
    took = sum(max(0.0, s[1] - lines[i].amount.grams) for s, i in zip(spans, inside, strict=True))
    free = free_water(rules, lines, places, water_g)
    least, away, most = boils_away(rules, cover, minutes, vessels, free, usual + water_g)
    grams = usual + water_g - away
    per_gram = figure(kcal / grams) if grams > 0 else None
    steps = (
        Step(
            "Finished weight", "raw weights x yields + water added - boiled away",
            (
                Quantity("raw weights x yields", rounded(usual), "g", "yields of each line"),
                Quantity("water added", rounded(water_g), "g"),
                Quantity("boiled away", rounded(away), "g", f"{cover.name}, {minutes:g} minutes; {rules.source}"),
            ),
            rounded(grams), "g",
        ),
        Step(
            "Energy of a gram", "kcal of the batch / finished weight",
            (Quantity("kcal of the batch", rounded(kcal), "kcal"), Quantity("finished weight", rounded(grams), "g")),
            per_gram or 0.0, "kcal/g",
        ),
    )  # fmt: skip
    return Finished(
        raw_g=rounded(raw), taken_up_g=rounded(took), water_g=rounded(water_g),
        evaporates_g=rounded(away), low=rounded(low + water_g - most), grams=rounded(grams),
        high=rounded(high + water_g - least), kcal=rounded(kcal), kcal_per_gram=per_gram, steps=steps,
    )  # fmt: skip
