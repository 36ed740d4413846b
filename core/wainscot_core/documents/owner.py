"""The owner's sheet: what goes into the pot, what goes in when it is cool, what is given a meal, how it is kept, whom to
call. Two pages to cook from."""

from collections import Counter
from collections.abc import Iterator, Sequence

from ..analysis.results import LineResult
from ..conventions import (
    Conventions,
    FoodUnit,
    Temperature,
    both_weights,
    food_weight,
    grams,
    money,
    number,
    spelled,
    told,
)
from ..dog.as_it_is import Span
from ..errors import InputError
from ..facts.handling import Place
from ..figures import listed as cut_short
from ..figures import lowered
from ..kitchen.handling import Handling, LinePlace
from ..snapshot.snapshot import FrozenRecipe, Snapshot
from .paper import (
    CAUTION,
    Block,
    Column,
    Document,
    DocumentKind,
    Points,
    Section,
    Table,
    Tone,
    Words,
    listed,
    origin_of,
    sentence,
    table,
)
from .sheet import household_words
from .vital import MOST_LOST, vital_lead, vital_lines

# At most so many nutrients are named of what a line alone brings.

_PLAIN = {"amino": "protein", "fats": "essential fats"}
_TITLES = {
    Place.POT: "Into the pot",
    Place.READY: "Weighed as it is",
    Place.COOLED: "Into the cooled food",
    Place.BOWL: "In the bowl, at every meal",
}


def owner_sheet(snapshot: Snapshot, edition: str, approved: str = "") -> Document:
    """The sheet. Raises InputError for a snapshot that was never checked to go out."""
    recipe = snapshot.of_recipe
    handling = recipe.handling
    if handling is None:
        raise InputError("snapshot", "only a version that was checked has a sheet for its owner")
    c, dog = snapshot.parties.conventions, snapshot.case.dog.name
    return Document(
        kind=DocumentKind.OWNER,
        title=f"{dog}’s food",
        aside=snapshot.parties.aside(f"for {snapshot.parties.client}", edition),
        sections=(
            Section(title="", blocks=(_day(c, snapshot),)),
            *_span(c, recipe),
            *_amounts(c, recipe, handling),
            Section(title="How", blocks=(Points(items=tuple(_steps(c, recipe, handling)), numbered=True),)),
            Section(title="One meal", blocks=tuple(_meal(c, recipe, handling))),
            *_beside(c, recipe),
            Section(title="Never leave out, never swap", blocks=tuple(_never_out(c, recipe))),
            *_small(c, recipe, handling),
            Section(title="Keep", blocks=tuple(_keep(c, snapshot, handling, edition))),
            Section(title="Never in the bowl", blocks=(Words(text=sentence(handling.never)),)),
            Section(title="Call", blocks=tuple(_call(snapshot, handling)), tone=Tone.BOX),
            *_cost(c, snapshot),
        ),
        foot=(
            Words(
                lead=approved or "Do not feed this before the attending veterinarian has approved it.",
                text=CAUTION,
            ),
        ),
        fine=(
            f"Handling: {'; '.join(dict.fromkeys(handling.sources))}.",
            origin_of(snapshot),
        ),
    )  # fmt: skip


def _day(c: Conventions, snapshot: Snapshot) -> Words:
    whole = snapshot.of_recipe.analysis.recipe
    days = number(c, whole.covers_days, 0 if whole.covers_days % 1 == 0 else 1)
    meals = round(whole.covers_days * whole.meals_per_day)
    return Words(
        lead=f"For {days} {'day' if whole.covers_days == 1 else 'days'}, {meals} meals.",
        text=f"{number(c, whole.kcal_per_day)} kcal a day, in {whole.meals_per_day} meals: "
        f"{both_weights(c, _finished(snapshot.of_recipe) / max(meals, 1))} of the finished food each.",
    )


def _span(c: Conventions, recipe: FrozenRecipe) -> Iterator[Section]:
    """For how long, where it does not hold every limit: it went out all the same, and its owner must know."""
    span = recipe.span
    if span is None or span.span is Span.ON:
        return
    lead = (
        f"Feed this for at most {span.days} days: it is not complete."
        if span.span is Span.DAYS
        else "This is not complete: feed it only as long as the veterinarian said."
    )
    yield Section(
        title="", blocks=(Words(lead=lead, text=told(c, sentence(span.why))),), tone=Tone.DECIDE
    )


def _placed(
    recipe: FrozenRecipe, handling: Handling, place: Place
) -> list[tuple[LineResult, LinePlace]]:
    pairs = zip(recipe.analysis.recipe.lines, handling.lines, strict=True)
    return [(line, at) for line, at in pairs if at.place is place]


def _finished(recipe: FrozenRecipe) -> float:
    """What the whole food weighs, g, without what is given in the bowl; about, where dry food takes up water."""
    handling = recipe.handling
    if handling is None:
        return recipe.analysis.recipe.grams
    return sum(
        line.fed_grams + at.water_g
        for line, at in zip(recipe.analysis.recipe.lines, handling.lines, strict=True)
        if at.place is not Place.BOWL
    )


def _amounts(c: Conventions, recipe: FrozenRecipe, handling: Handling) -> Iterator[Section]:
    for place, title in _TITLES.items():
        found = _placed(recipe, handling, place)
        if not found:
            continue
        if place is Place.COOLED:
            title = f"{title}, below {_temperature(c, handling.cool_celsius)}"
        bowl = place is Place.BOWL
        rows = tuple(_row(c, line, at, bowl) for line, at in _in_turn(found))
        columns = (
            Column(title=""),
            Column(title="a meal" if bowl else "weigh", figures=True),
            Column(title="about"),
        )
        tone = Tone.BOX if place in {Place.COOLED, Place.BOWL} else Tone.PLAIN
        made = Table(columns=columns, rows=rows, ticks=not bowl)
        yield Section(title=title, blocks=(made,), tone=tone)


def _row(c: Conventions, line: LineResult, at: LinePlace, bowl: bool) -> tuple[str, ...]:
    name = spelled(c, line.name) + (f": {told(c, at.words)}" if at.words else "")
    if bowl:
        return (name, _weighed(c, line.grams_per_meal), at.measure)
    return (name, _weighed(c, line.grams), household_words(c, line))


def _weighed(c: Conventions, weight_g: float) -> str:
    return f"{grams(c, weight_g)} g" if c.food is FoodUnit.G else both_weights(c, weight_g)


def _temperature(c: Conventions, celsius: float) -> str:
    fahrenheit = f"{celsius * 9 / 5 + 32:.0f} °F"
    return f"{celsius:.0f} °C" if c.temperature is Temperature.CELSIUS else fahrenheit


def _both_temperatures(celsius: float) -> str:
    return f"{celsius:.0f} °C ({celsius * 9 / 5 + 32:.0f} °F)"


def _steps(c: Conventions, recipe: FrozenRecipe, handling: Handling) -> Iterator[Words]:
    pot = _placed(recipe, handling, Place.POT)
    ready = _placed(recipe, handling, Place.READY)
    cooled = _placed(recipe, handling, Place.COOLED)
    yield Words(
        text="Wash your hands. Put everything on the table: if one thing is missing, stop and call."
    )
    if cooled:
        yield Words(
            text="Weigh what goes in cold into a cup first, the smallest first. Label the cup."
        )
    if pot:
        yield from _cooking(c, recipe, pot)
    if handling.core_celsius is not None:
        hot = _both_temperatures(handling.core_celsius)
        yield Words(
            text=f"Cook meat, fish and eggs until the middle is {hot}, measured in two places."
        )
    if ready:
        yield Words(text="Add what is weighed as it is.")
    if handling.raw:
        names = listed(spelled(c, name) for name in handling.raw)
        yield Words(
            lead="Fed raw:",
            text=f"{names} Keep it apart from your own food, wash hands, board and bowl hot afterwards.",
        )
    yield Words(
        text="Weigh the whole food: pot with food, less the empty pot. Read one meal below."
    )
    cool = _both_temperatures(handling.cool_celsius)
    hours = number(c, handling.cool_hours)
    yield Words(
        text=f"Cool it within {hours} hours: spread it flat, or stand the pot in cold water."
    )
    if cooled:
        yield Words(
            text=f"Below {cool}, stir the cup into a bowl of the food and that into all of it, for 3 minutes: "
            "heat would harm what is in it."
        )
    meals = round(recipe.analysis.recipe.covers_days * recipe.analysis.recipe.meals_per_day)
    yield Words(text=f"Part it into {meals} portions by weight. Label them with the date.")


def _cooking(
    c: Conventions, recipe: FrozenRecipe, pot: Sequence[tuple[LineResult, LinePlace]]
) -> Iterator[Words]:
    """How each food of the pot is cooked, those that are cooked alike together."""
    steps: dict[str, list[str]] = {}
    names = _short_names(recipe)
    for line, at in _in_turn(pot):
        steps.setdefault(at.step, []).append(spelled(c, names[line.food]))
    if "" in steps:
        # What was kept before there were steps says it in its list.
        yield Words(text="Prepare and weigh what goes into the pot, as the list says, and cook it.")
        return
    apart = " Each by itself, then all together." if len(steps) > 1 else ""
    yield Words(text=f"Weigh what goes into the pot as you bought it, then cook it.{apart}")
    for step, foods in steps.items():
        first, *others = foods
        yield Words(
            lead=f"{', '.join([first, *map(lowered, others)])}:", text=told(c, sentence(step))
        )


def _in_turn(
    found: Sequence[tuple[LineResult, LinePlace]],
) -> list[tuple[LineResult, LinePlace]]:
    return sorted(found, key=lambda pair: pair[1].turn)


def _short_names(recipe: FrozenRecipe) -> dict[str, str]:
    """What each food is called behind the list that names it in full: up to its first comma, where that is one food."""
    names = {line.food: line.name for line in recipe.analysis.recipe.lines}
    short = {food: name.partition(",")[0] for food, name in names.items()}
    often = Counter(short.values())
    return {food: short[food] if often[short[food]] == 1 else names[food] for food in names}


def _meal(c: Conventions, recipe: FrozenRecipe, handling: Handling) -> Iterator[Block]:
    whole, finished = recipe.analysis.recipe, _finished(recipe)
    meals = max(whole.covers_days * whole.meals_per_day, 1e-9)
    weights = [
        food_weight(c, finished * (1 + share)) + (", as planned" if share == 0 else "")
        for share in handling.meal_shares
    ]
    of_a_meal = [food_weight(c, finished * (1 + share) / meals) for share in handling.meal_shares]
    count = round(meals)
    yield Words(
        lead=f"The whole food, divided by {count}, is one meal.",
        text="What is added in the bowl comes on top."
        if _placed(recipe, handling, Place.BOWL)
        else "",
    )
    columns = ("the whole food weighs", *weights)
    yield table(columns, [("one meal", *of_a_meal)], figures=range(1, len(columns)))
    low, high = (finished * (1 + s * handling.ask_beyond) for s in (-1, 1))
    yield Words(
        text=f"Lighter than {food_weight(c, low)} or heavier than {food_weight(c, high)}: something was left out or "
        "boiled away. Call before you feed it."
    )


def _beside(c: Conventions, recipe: FrozenRecipe) -> Iterator[Section]:
    if recipe.beside:
        rows = [(f"{spelled(c, b.name)} ({b.kind})", _weighed(c, b.grams)) for b in recipe.beside]
        made = table(("", "a day"), rows, figures=(1,))
        more = Words(text="Nothing else: no titbits from the table.")
        yield Section(title="Beside it, every day", blocks=(made, more))


def _never_out(c: Conventions, recipe: FrozenRecipe) -> Iterator[Block]:
    analysis = recipe.analysis
    names = {n.key: n.name for n in analysis.nutrients} | {r.key: r.name for r in analysis.ratios}
    # An owner does not know an amino or fatty acid by name.
    names |= {n.key: _PLAIN[n.group] for n in analysis.nutrients if n.group in _PLAIN}
    short = _short_names(recipe)
    vital = vital_lines(c, recipe, names, short)
    if vital:
        yield Words(lead=vital_lead(vital), text="")
        yield Points(items=tuple(vital.values()))
    items = []
    for without in analysis.without:
        lost = dict.fromkeys(
            spelled(c, lowered(names[key])) for key in without.lost if key in names
        )
        if lost and without.line not in vital:
            line = analysis.recipe.lines[without.line]
            items.append(
                Words(
                    lead=f"{spelled(c, short[line.food])}:",
                    text=f"without it too little {cut_short(tuple(lost), MOST_LOST)}.",
                )
            )
    if items:
        yield Points(items=tuple(items))
    yield Words(
        text="Another food, another brand or another strength is another amount: ask before you swap."
    )


def _small(c: Conventions, recipe: FrozenRecipe, handling: Handling) -> Iterator[Section]:
    said: dict[str, list[str]] = {}
    names = _short_names(recipe)
    for line, at in zip(recipe.analysis.recipe.lines, handling.lines, strict=True):
        words = next(
            (w for under, w in handling.small if line.grams < under and not at.counted), ""
        )
        if words:
            said.setdefault(words, []).append(spelled(c, names[line.food]))
    if said:
        items = tuple(
            Words(lead=f"{', '.join(names)}.", text=words) for words, names in said.items()
        )
        yield Section(title="Small amounts", blocks=(Points(items=items),))


def _keep(c: Conventions, snapshot: Snapshot, handling: Handling, edition: str) -> Iterator[Block]:
    places = [told(c, k.what) for k in handling.keep]
    yield table(places, [[k.how_long for k in handling.keep]])
    yield Words(text=told(c, handling.keep_words))
    if handling.tub:
        recipe = snapshot.of_recipe
        meals = max(recipe.analysis.recipe.covers_days * recipe.analysis.recipe.meals_per_day, 1e-9)
        one = food_weight(c, _finished(recipe) / meals)
        yield Words(
            lead="Write on every tub:",
            text=f"{snapshot.case.dog.name}; {edition.partition(',')[0].lower()}; one meal of {one}; {handling.tub}.",
        )


def _call(snapshot: Snapshot, handling: Handling) -> Iterator[Block]:
    team = snapshot.case.intake.vet_team
    vet = next((v for v in team if v.role == "attending"), team[0] if team else None)
    who = "your veterinarian"
    if vet is not None:
        who = ", ".join(x for x in (vet.name, vet.clinic, vet.contact) if x)
    yield Words(lead=f"The same day, {who}:", text=sentence(handling.same_day))
    yield Words(lead=f"{snapshot.parties.practice}:", text=sentence(handling.ask))


def _cost(c: Conventions, snapshot: Snapshot) -> Iterator[Section]:
    cost, owner = snapshot.of_recipe.analysis.cost, snapshot.case.intake.owner
    if cost.per_day <= 0:
        return
    lines = len(cost.lines)
    said = f"About {money(c, cost.per_day)} a day at the prices noted."
    if cost.unpriced:
        priced = lines - cost.unpriced
        said = f"{priced} of {lines} ingredients have a price; they come to {money(c, cost.per_day)} a day. The rest is not counted."
    if owner.costs_now is not None:
        said += f" What was fed before came to {money(c, owner.costs_now)} a day"
        apart = cost.per_day - owner.costs_now
        # Without every price nobody knows which is dearer.
        if cost.unpriced:
            said += "."
        elif abs(apart) < 0.005:
            said += ": the same."
        else:
            said += f": this is {money(c, abs(apart))} {'more' if apart > 0 else 'less'}."
    if owner.spend:
        said += f" You said you can spend: {owner.spend}."
    yield Section(title="Cost", blocks=(Words(text=said),))
