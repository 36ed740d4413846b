"""A text that somebody looks at: where every stretch stands, what it may stand for, and what hangs on that."""

import json
import re
from dataclasses import replace
from itertools import product
from pathlib import Path
from typing import Any

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.analysis.analyse import analyse
from wainscot_core.analysis.doubts import OpenLine, doubts_of, effects, ranges
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.brought import bring_to_review
from wainscot_core.formats.casefile import FORMAT, open_case
from wainscot_core.recipe.line import Line, LineText, read_all
from wainscot_core.transcribe.ingredients import LineKind
from wainscot_core.transcribe.review import Batch, Review, ReviewLine, questions_to_owner, review

RECIPES = yaml.safe_load(
    (Path(__file__).parents[1] / "fixtures" / "recipes.yaml").read_text(encoding="utf-8")
)
DAY = Batch(days=1, meals_per_day=2)


def looked_at(facts: Reference, text: str, batch: Batch = DAY) -> Review:
    return review(facts.matcher, text, batch, methods=facts.methods)


def ingredients(found: Review) -> list[ReviewLine]:
    return [line for line in found.lines if line.kind is LineKind.INGREDIENT]


def only(facts: Reference, text: str, batch: Batch = DAY) -> ReviewLine:
    (line,) = ingredients(looked_at(facts, text, batch))
    return line


def lines_of(facts: Reference, *amounts: tuple[str, str]) -> tuple[Line, ...]:
    texts = [LineText(food, quantity) for food, quantity in amounts]
    return read_all(facts.methods, facts.library, texts)


def dossier(facts: Reference, *amounts: tuple[str, str]) -> Dossier:
    case: dict[str, Any] = {
        "format": FORMAT, "version": 1, "dog": {"name": "Hazel", "weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": []},
    }  # fmt: skip
    return open_case(facts, case).dossier.with_lines(lines_of(facts, *amounts))


# How often an amount is given


@pytest.mark.parametrize(
    ("phrase", "batch", "grams"),
    [
        # A capsule of 1 g; a large egg of 50 g; a teaspoon of oil of 4.5 g.
        ("1 fish oil capsule a day", Batch(days=4, meals_per_day=2), 4),
        ("1 fish oil capsule daily", Batch(days=4, meals_per_day=2), 4),
        ("1 fish oil capsule, 3 times a day", Batch(days=4, meals_per_day=2), 12),
        ("one capsule of fish oil twice a day", Batch(days=7, meals_per_day=2), 14),
        ("1 egg every other day", Batch(days=4, meals_per_day=2), 100),
        ("1 egg every 3 days", Batch(days=3, meals_per_day=2), 50),
        ("2 eggs per week", Batch(days=7, meals_per_day=2), 100),
        ("a boiled egg every Sunday", Batch(days=14, meals_per_day=2), 100),
        ("1 egg 3x a week", Batch(days=14, meals_per_day=2), 300),
        ("1 tsp sunflower oil with each meal", Batch(days=2, meals_per_day=3), 27),
        ("Daily: 1 egg", Batch(days=3, meals_per_day=2), 150),
        ("Per day:\n1 egg", Batch(days=3, meals_per_day=2), 150),
        ("Give 1 egg a day.", Batch(days=3, meals_per_day=2), 150),
        ("1 egg", Batch(days=3, meals_per_day=2), 50),
    ],
)
def test_what_is_given_by_the_day_is_so_much_of_a_batch(
    facts: Reference, phrase: str, batch: Batch, grams: float
) -> None:
    line = only(facts, phrase, batch)
    assert line.choices[0].grams == pytest.approx(grams, rel=0.02)
    assert line.low_grams is not None and line.high_grams is not None
    assert line.low_grams <= grams * 1.001 and grams * 0.999 <= line.high_grams


def test_the_text_tells_for_how_many_days_unless_somebody_does(facts: Reference) -> None:
    text = "This does her about four days.\n\n1 egg a day\n500 g rice"
    told = looked_at(facts, text)
    assert (told.days, told.days_told) == (4, True)
    assert ingredients(told)[0].quantity == "200 g"
    settled = looked_at(facts, text, Batch(days=2, meals_per_day=2, settled=True))
    assert (settled.days, settled.days_told) == (2, False)
    assert ingredients(settled)[0].quantity == "100 g"
    assert [line.quantity for line in ingredients(settled)][1] == "500 g"


# Where it stands


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda r: r["name"])
def test_every_stretch_stands_where_it_says_and_none_is_left(
    facts: Reference, recipe: dict[str, Any]
) -> None:
    found = bring_to_review(facts, facts.matcher, recipe["text"].encode(), DAY)
    marked = [False] * len(found.text)
    for line in found.lines:
        assert 0 <= line.begin < line.end <= len(found.text)
        inside = found.text[line.begin : line.end]
        assert line.text in inside or inside.strip() == inside
        marked[line.begin : line.end] = [True] * (line.end - line.begin)
    left = "".join(" " if m else c for c, m in zip(found.text, marked, strict=True))
    # What joins two ingredients, and the number before a step.
    joins = {"and", "with", "plus", "then", "oh"}
    assert set(re.findall(r"[^\W\d_]+", left.lower())) <= joins


def test_the_same_words_twice_stand_in_two_places(facts: Reference) -> None:
    found = ingredients(looked_at(facts, "1 egg, 100 g rice, 1 egg"))
    assert len({line.begin for line in found}) == 3


# What it may stand for


def test_rice_by_the_cup_may_be_dry_or_cooked(facts: Reference) -> None:
    line = only(facts, "2 cups white rice")
    states = {facts.library.food(c.food).attributes.state for c in line.choices if c.credible}
    assert {"dry", "cooked"} <= states
    assert "weighed dry or cooked?" in line.doubts
    assert "raw" not in line.question and "dry or cooked" in line.question


def test_what_was_said_is_no_doubt(facts: Reference) -> None:
    assert only(facts, "300 g cooked white rice").doubts == ()


def test_what_cannot_be_known_is_not_made_up(facts: Reference) -> None:
    salt = only(facts, "salt to taste")
    assert (salt.named, salt.quantity, salt.choices[0].grams) == (True, "", None)
    assert salt.doubts == ("no amount is given",)
    jerky = only(facts, "300 g kangaroo mince")
    assert (jerky.named, jerky.quantity) == (False, "300 g")
    dose = only(facts, "1 tsp eggshell powder per pound of meat")
    assert dose.quantity == "" and all(c.grams is None for c in dose.choices)


def test_or_is_a_choice(facts: Reference) -> None:
    line = only(facts, "500 g chicken thigh or turkey thigh")
    assert "urkey" in line.choices[1].name
    named = [c for c in line.choices if c.credible and "urkey" in c.name]
    assert named and named[0].grams == 500
    assert "Which of them" in line.question


def test_a_case_file_has_nothing_to_guess(facts: Reference) -> None:
    case: dict[str, Any] = {
        "format": FORMAT, "version": 1, "dog": {"name": "Hazel", "weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": [{"food": "usda:11124", "grams": 61}]},
    }  # fmt: skip
    found = bring_to_review(facts, facts.matcher, json.dumps(case).encode(), DAY)
    (line,) = found.lines
    assert (line.quantity, line.doubts, line.low_grams, line.high_grams) == ("61 g", (), 61, 61)
    assert found.text[line.begin : line.end] == line.text


def test_everything_the_owner_is_asked_stands_in_one_message() -> None:
    text = questions_to_owner("Ada Rowan", "Hazel", ["“a tub”: how much?", "“salt”: how much?"])
    assert text.startswith("Hello Ada,")
    assert "1. “a tub”: how much?\n2. “salt”: how much?" in text
    assert questions_to_owner("", "Hazel", ["x"]).startswith("Hello,")


# What hangs on it

RECIPE = (
    ("usda:05096", "300 g"),
    ("usda:20444", "150 g"),
    ("usda:11124", "100 g"),
    ("usda:04053", "10 g"),
)


def test_an_effect_is_what_the_analysis_says_of_the_other_recipe(facts: Reference) -> None:
    before = dossier(facts, *RECIPE)
    (salt,) = lines_of(facts, ("usda:02047", "6 g"))
    (found,) = effects(before, None, [salt])
    now, then = analyse(before), analyse(before.with_lines([*before.lines, salt]))
    turned = {
        a.key: (a.status, b.status)
        for a, b in zip(now.nutrients, then.nutrients, strict=True)
        if a.status is not b.status
    }
    turned |= {
        a.key: (a.status, b.status)
        for a, b in zip(now.ratios, then.ratios, strict=True)
        if a.status is not b.status
    }
    assert turned and {t.key: (t.was, t.now) for t in found.turned} == turned
    factors = {
        b.name: b.per_1000_kcal / a.per_1000_kcal
        for a, b in zip(now.nutrients, then.nutrients, strict=True)
        if a.per_1000_kcal and b.per_1000_kcal and a.status != "no limit"
    }
    assert found.factor == pytest.approx(factors[found.moved])
    assert found.factor == pytest.approx(max(factors.values()))
    (same,) = effects(before, 0, [before.lines[0]])
    assert (same.turned, same.weight, same.words) == ((), 0, "changes little")


@given(
    spans=st.lists(
        st.tuples(st.floats(0.1, 1), st.floats(1, 4)), min_size=len(RECIPE), max_size=len(RECIPE)
    )
)
def test_open_weights_reach_what_their_ends_reach(
    facts: Reference, spans: list[tuple[float, float]]
) -> None:
    standing = dossier(facts, *RECIPE)
    grams = [line.amount.grams for line in standing.lines]
    open_grams = {
        i: (g * low, g * high) for i, (g, (low, high)) in enumerate(zip(grams, spans, strict=True))
    }
    found = ranges(standing, open_grams)
    values = standing.library.values[[line.row for line in standing.lines]]
    energy = standing.library.catalogue.index("ENERC")
    for key in ("CA", "NA", "FAT", "PROCNT"):
        column = standing.library.catalogue.index(key)
        reached = []
        for ends in product((0, 1), repeat=len(grams)):
            at = [open_grams[i][end] for i, end in enumerate(ends)]
            amount = sum(g * v for g, v in zip(at, values[:, column], strict=True))
            kcal = sum(g * v for g, v in zip(at, values[:, energy], strict=True))
            reached.append(amount / kcal * 1000)
        if key in found:
            assert found[key] == pytest.approx((min(reached), max(reached)), rel=1e-6)
        else:
            assert max(reached) <= min(reached) * 1.06


def test_a_weight_that_is_known_opens_nothing(facts: Reference) -> None:
    assert ranges(dossier(facts, *RECIPE), {}) == {}


def test_the_weightiest_doubt_comes_first_and_the_sure_last(facts: Reference) -> None:
    rice, carrot, salt = lines_of(
        facts, ("usda:20444", "150 g"), ("usda:11124", "100 g"), ("usda:02047", "1 g")
    )
    heavy = replace(salt, amount=replace(salt.amount, grams=12.0))
    found = doubts_of(
        dossier(facts),
        [
            OpenLine(now=rice, choices=((rice, True),)),
            OpenLine(now=salt, choices=((salt, True), (heavy, True)), grams=(1, 12)),
            OpenLine(now=None, choices=((carrot, False),)),
            OpenLine(now=carrot, choices=((carrot, True), (heavy, False))),
        ],
    )
    assert found.order == (2, 1, 0, 3)
    assert [line.sure for line in found.lines] == [True, False, False, True]
    # What is hardly meant is told all the same, and makes nothing unsure.
    assert found.lines[3].effects[1] is not None and found.lines[3].effects[1].turned
    low, high = found.ranges["NA"]
    assert high > 5 * low


def test_a_choice_that_nobody_can_weigh_is_not_sure(facts: Reference) -> None:
    (rice,) = lines_of(facts, ("usda:20444", "150 g"))
    found = doubts_of(dossier(facts), [OpenLine(now=rice, choices=((rice, True), (None, True)))])
    assert found.lines[0].sure is False and found.lines[0].effects[1] is None


def test_hazards_in_the_text_are_told_before_anything_is_taken(facts: Reference) -> None:
    """In lines without a food, in notes and in steps too; what is said not to be there is none."""
    text = """200 g cooked rice
1 beef stock cube
Simmer with the onion, then take it out.
Never grapes!"""
    warnings = bring_to_review(facts, facts.matcher, text.encode(), DAY).warnings
    assert ["stock" in w.split(":")[0] for w in warnings] == [True, False]
    assert "“onion”: Onion family" in warnings[1]
