"""What an owner is handed: the sheet to cook from, and the way from the old food to the new."""

import re
from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from wainscot_core.documents import document
from wainscot_core.documents.change import change_calendar, change_days
from wainscot_core.documents.paper import Document, DocumentKind, Points, Table, Words
from wainscot_core.dog.record import DietItem
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.change_over import read_change_rules
from wainscot_core.facts.handling import Place, Texture
from wainscot_core.formats.casefile import dossier_of, read_case_file, record_of
from wainscot_core.kitchen.change_over import ChangeBy, change_plan
from wainscot_core.release.decisions import weighed
from wainscot_core.release.freeze import Forward, concerns_now, freeze_plan
from wainscot_core.snapshot.snapshot import Parties, Snapshot

THIGH, DRY_RICE, OIL, ZINC, FISH_OIL = (
    "usda:05096", "usda:20444", "usda:04053", "supp:zinc-gluconate", "supp:fish-oil",
)  # fmt: skip
LINES: list[dict[str, Any]] = [
    {"food": THIGH, "grams": 600, "preparation": "poultry-simmered-kept"},
    {"food": DRY_RICE, "grams": 200}, {"food": OIL, "grams": 12},
    {"food": ZINC, "grams": 0.4}, {"food": FISH_OIL, "grams": 8},
]  # fmt: skip
START = date(2026, 12, 1)


def snapshot(
    facts: Reference, lines: Any = None, texture: Texture = Texture.CHUNKS, diet: Any = None
) -> Snapshot:
    file = read_case_file(
        {
            "format": "wainscot-case", "version": 1,
            "dog": {"name": "Fen", "weight_kg": 10, "age_months": 48},
            "energy": {"kcal_per_day": 500},
            "targets": {"standard": "nrc-2006", "life_stage": "adult"},
            "recipe": {"covers_days": 4, "name": "Stew", "lines": lines or LINES},
        }
    )  # fmt: skip
    record = record_of(file)
    intake = replace(record.intake, current_diet=tuple(diet or ()))
    record = replace(record, intake=intake)
    forward = Forward(dossier_of(facts, file), "Stew", ())
    found = weighed(concerns_now(forward, record), [])
    return freeze_plan(
        forward, record, Parties(practice="Larch Lane", client="Maren"), date(2026, 11, 28), found,
        texture,
    )  # fmt: skip


def section(made: Document, title: str) -> list[str]:
    found = next(s for s in made.sections if s.title.startswith(title))
    words: list[str] = []
    for block in found.blocks:
        if isinstance(block, Words):
            words.append(f"{block.lead} {block.text}".strip())
        elif isinstance(block, Points):
            words += [f"{w.lead} {w.text}".strip() for w in block.items]
        elif isinstance(block, Table):
            words += [" | ".join(row) for row in block.rows]
    return words


def test_every_line_stands_in_its_place(facts: Reference) -> None:
    """Dry rice is cooked though nobody chose how; oil and zinc go in cold, fish oil into the bowl."""
    handling = snapshot(facts).of_recipe.handling
    assert handling is not None
    assert [x.place for x in handling.lines] == [
        Place.POT, Place.POT, Place.COOLED, Place.COOLED, Place.BOWL
    ]  # fmt: skip
    assert handling.core_celsius == 74 and handling.raw == ()


def test_one_meal_is_a_share_of_what_the_food_weighs(facts: Reference) -> None:
    """600 g of thigh with its broth, 200 g of rice with 1.8 times its weight of water, 12 g of oil and 0.4 g of zinc are
    1172 g: 8 meals of 147 g; the oil of the bowl is not in it."""
    made = document(DocumentKind.OWNER, snapshot(facts), "v")
    rows = section(made, "One meal")
    meal = next(
        b for s in made.sections if s.title == "One meal" for b in s.blocks if isinstance(b, Table)
    )
    told = dict(zip([x.title for x in meal.columns], meal.rows[0], strict=True))
    assert told["1172 g, as planned"] == "147 g" and told["1266 g"] == "158 g"
    assert any("divided by 8" in r for r in rows)
    # With water that a table only guesses the bounds are wide: a fifth.
    assert any("938 g" in r and "1407 g" in r for r in rows)


def test_the_sheet_says_each_amount_once(facts: Reference) -> None:
    made = document(DocumentKind.OWNER, snapshot(facts), "Version 3")
    assert "600 g" in section(made, "Into the pot")[1], "what cooks longest stands first"
    assert section(made, "In the bowl")[0].split(" | ")[1:] == ["1.0 g", "1.1 ml by syringe"], (
        "8 g over 8 meals; 4.5 g a teaspoon of 4.93 ml"
    )
    cold = "\n".join(section(made, "Into the cooled food"))
    assert "0.40 g" in cold and "12 g" in cold and "Fish oil" not in cold
    assert made.aside[-1] == "Version 3"
    small = "\n".join(section(made, "Small amounts"))
    assert "shows 0.01 g" in small and "shows 0.1 g" in small


def test_temperatures_are_told_in_both_scales(facts: Reference) -> None:
    steps = "\n".join(section(document(DocumentKind.OWNER, snapshot(facts), "v"), "How"))
    assert "74 °C (165 °F)" in steps and "40 °C (104 °F)" in steps


def test_food_for_a_dog_without_teeth_is_smooth(facts: Reference) -> None:
    smooth = "\n".join(section(
        document(DocumentKind.OWNER, snapshot(facts, texture=Texture.SMOOTH), "v"), "How"
    ))  # fmt: skip
    assert "Chicken thigh: Mince, blend after cooking; simmer" in smooth


def test_each_food_of_the_pot_is_cooked_its_own_way(facts: Reference) -> None:
    """Rice first, which takes longest; the broth of the thigh is kept, the water of the vegetables is not; two that are
    cooked alike stand together."""
    greens = [
        {"food": food, "grams": 100, "preparation": "vegetable-boiled"}
        for food in ("usda:11124", "usda:11052")
    ]
    made = document(DocumentKind.OWNER, snapshot(facts, [*LINES, *greens]), "v")
    steps = section(made, "How")
    at = next(i for i, step in enumerate(steps) if "Each by itself" in step)
    assert steps[at + 1 : at + 4] == [
        "Rice: Rinse; cook until soft and all the water is taken up.",
        "Chicken thigh: Cut under 1.5 cm; simmer in a little water; keep the broth, it belongs to the food.",
        "Carrot, green beans: Wash, cut under 5 mm or grate; boil until soft; pour the water off.",
    ]
    assert "74 °C" in steps[at + 4]


@pytest.mark.parametrize(
    ("now", "prices", "words"),
    [
        # 150 g of thigh a day at 10 a kg, and every other line for nothing: 1.50.
        (1.0, True, "$1.50 a day at the prices noted. What was fed before came to $1.00 a day: this is $0.50 more."),
        (1.5, True, "came to $1.50 a day: the same."), (4.0, True, "this is $2.50 less."),
        (None, True, "$1.50 a day at the prices noted."),
        (4.0, False, "1 of 5 ingredients have a price; they come to $1.50 a day. The rest is not counted. "
         "What was fed before came to $4.00 a day."),
    ],
)  # fmt: skip
def test_what_it_costs_beside_what_was_fed_before(
    facts: Reference, now: float | None, prices: bool, words: str
) -> None:
    kept = snapshot(facts)
    cost = kept.of_recipe.analysis.cost
    cost = replace(cost, per_day=1.5, unpriced=0 if prices else 4)
    analysis = replace(kept.of_recipe.analysis, cost=cost)
    owner = replace(kept.case.intake.owner, costs_now=now)
    intake = replace(kept.case.intake, owner=owner)
    told = replace(
        kept, recipe=replace(kept.of_recipe, analysis=analysis),
        case=replace(kept.case, intake=intake),
    )  # fmt: skip
    (said,) = section(document(DocumentKind.OWNER, told, "v"), "Cost")
    assert words in said and ("before" in said) is (now is not None)


def test_a_child_of_twelve_can_read_it(facts: Reference) -> None:
    """Kincaid et al 1975: 0.39 words a sentence and 11.8 syllables a word less 15.59 is the school year, of which the
    sixth and seventh are twelve."""
    made = document(DocumentKind.OWNER, snapshot(facts), "v")
    said = " ".join(
        line for s in made.sections for line in section(made, s.title) if " | " not in line
    )
    said = re.sub(r"\d[\d.,]*( °[CF]| g| kcal)?|[A-Z]{2,}", "", said)
    sentences = len([x for x in re.split(r"[.!?:;]", said) if re.search("[a-z]", x)])
    words = re.findall(r"[A-Za-z]+", said)
    assert len(words) > 200
    syllables = sum(
        max(1, len(re.findall(r"[aeiouy]+", re.sub(r"e$", "", w.lower())))) for w in words
    )
    assert 0.39 * len(words) / sentences + 11.8 * syllables / len(words) - 15.59 <= 7


def test_what_is_fed_raw_is_said_to_be(facts: Reference) -> None:
    raw = snapshot(facts, [{"food": THIGH, "grams": 600}, {"food": DRY_RICE, "grams": 200}])
    made = document(DocumentKind.OWNER, raw, "v")
    steps = "\n".join(section(made, "How"))
    assert "Fed raw: Chicken thigh" in steps and "74 °C" not in steps


def test_oily_fish_keeps_shorter(facts: Reference) -> None:
    fish = snapshot(facts, [{"food": "usda:15088", "grams": 200}, *LINES[1:]])
    keep = "\n".join(section(document(DocumentKind.OWNER, fish, "v"), "Keep"))
    assert "4 weeks" in keep and "8 weeks" not in keep


def test_only_what_was_checked_has_a_sheet_for_its_owner(facts: Reference) -> None:
    kept = snapshot(facts)
    never = replace(kept, recipe=replace(kept.of_recipe, handling=None))
    with pytest.raises(InputError, match="checked"):
        document(DocumentKind.OWNER, never, "v")


@pytest.mark.parametrize("count", [3, 40])
def test_small_and_large_plans_have_every_line_on_the_sheet(facts: Reference, count: int) -> None:
    foods = [f.id for f in facts.library.foods if f.attributes.kind == "muscle"][:count]
    many = snapshot(facts, [{"food": food, "grams": 20 + i} for i, food in enumerate(foods)])
    made = document(DocumentKind.OWNER, many, "v")
    rows = [
        row
        for s in made.sections
        for b in s.blocks
        if isinstance(b, Table) and b.ticks
        for row in b.rows
    ]
    assert len(rows) == count


def test_the_report_tells_what_is_not_known(facts: Reference) -> None:
    made = document(DocumentKind.REPORT, snapshot(facts), "v")
    found = {n.key: n for n in snapshot(facts).of_recipe.analysis.nutrients}
    rows = {
        row[0].rpartition(",")[0]: row for s in made.sections for b in s.blocks
        if isinstance(b, Table) for row in b.rows if len(row) == 8
    }  # fmt: skip
    assert len(rows) == len(found)
    unknown = [n for n in found.values() if n.known_share == 0]
    assert all(rows[n.name][1:4] == ("unknown",) * 3 for n in unknown)
    zinc = found["ZN"]
    assert rows["Zinc"][2] == f"{zinc.per_1000_kcal:.2f}"


DIET = {"name": "dry food", "amount": 120, "unit": "g", "kcal_per_unit": 4.0}


def diet(facts: Reference, **more: Any) -> Snapshot:
    return snapshot(facts, diet=[DietItem(**{**DIET, **more})])


@pytest.mark.parametrize("days", [7, 10, 14, 21])
def test_a_change_over_ends_with_the_new_food_alone(facts: Reference, days: int) -> None:
    for by in ChangeBy:
        plan = change_plan(facts.change_over, days, START, by)
        found = change_days(diet(facts), plan)
        shares = [x.share for x in found]
        assert len(found) == days and found[0].on == START and found[-1].on == date(2026, 12, days)
        assert shares == sorted(shares) and shares[-1] == 1 and found[-1].old == "none"
        assert shares[0] < 1


def test_grams_of_old_and_new_for_this_dog(facts: Reference) -> None:
    """Of 1180 g of food in 8 meals a quarter is 37 g; three quarters of 120 g of dry food in two meals are 45 g."""
    found = change_days(diet(facts), change_plan(facts.change_over, 7, START, ChangeBy.SHARE))
    assert (found[0].new, found[0].old) == ("37 g", "45 g dry food")
    assert (found[-1].new, found[-1].old) == ("148 g", "none")
    cups = change_days(
        diet(facts, amount=1.5, unit="cup"),
        change_plan(facts.change_over, 7, START, ChangeBy.SHARE),
    )
    assert cups[0].old == "0.56 cup dry food"
    nothing = change_days(snapshot(facts), change_plan(facts.change_over, 7, START, ChangeBy.SHARE))
    assert nothing[0].old.startswith("75")


def test_one_ingredient_after_the_other(facts: Reference) -> None:
    """What brings most energy first; zinc, which goes in cold, and the oil of the bowl last."""
    plan = change_plan(facts.change_over, 7, START, ChangeBy.INGREDIENT)
    found = change_days(diet(facts), plan)
    assert found[0].new.startswith(("Chicken thigh", "Rice")) and "," not in found[0].new.replace(
        ", meat only, raw", ""
    ).replace(", white, long-grain, raw, unenriched", "")
    assert "Fish oil" in found[-1].new and "Fish oil" not in found[-3].new
    assert 0 < found[0].share < 1


def test_a_length_there_is_none_of_is_refused(facts: Reference) -> None:
    with pytest.raises(InputError, match="7, 10, 14, 21"):
        change_plan(facts.change_over, 5, START, ChangeBy.SHARE)


@pytest.mark.parametrize(
    "steps",
    [
        [[1, 2, 0.5], [4, 7, 1]],
        [[1, 6, 0.5], [7, 7, 0.4]],
        [[1, 6, 0.5]],
        [[1, 7, 0.9]],
        [[1, 3, 0.5], [4, 6, 0.4], [7, 7, 1]],
    ],
)
def test_a_schedule_with_a_gap_is_refused(steps: Any) -> None:
    entry = {"days": 7, "name": "x", "steps": steps, "source": "x"}
    with pytest.raises(ValueError, match="change-over"):
        read_change_rules({"schedules": [entry], "slow_for": "", "hold": "", "stop": "", "ill": ""})


def test_the_calendar_says_when_to_stop(facts: Reference) -> None:
    plan = change_plan(facts.change_over, 14, START, ChangeBy.SHARE)
    made = change_calendar(diet(facts), "Version 3", "Approved by X.", plan)
    rules = "\n".join(section(made, "If it does not go well"))
    assert "call the vet" in rules and "go back one step" in rules
    assert made.foot[0].lead == "Approved by X."


def test_a_plan_that_is_not_complete_says_for_how_long(facts: Reference) -> None:
    """Short of calcium: five days for a grown, healthy dog. For one that is ill only what the vet says."""
    kept = snapshot(facts, LINES[:3])
    made = document(DocumentKind.OWNER, kept, "v")
    first = "\n".join(section(made, "")) + "\n".join(
        f"{w.lead} {w.text}" for s in made.sections[:2] for w in s.blocks if isinstance(w, Words)
    )
    assert "Feed this for at most 5 days: it is not complete." in first and "Calcium" in first
    assert kept.of_recipe.span is not None and kept.of_recipe.span.days == 5


def test_what_was_kept_before_there_were_spans_stays_readable(facts: Reference) -> None:
    kept = snapshot(facts)
    old = replace(kept, recipe=replace(kept.of_recipe, span=None))
    assert "at most" not in str(document(DocumentKind.OWNER, old, "v").sections[0])


def test_the_lines_it_cannot_live_without_stand_first_each_with_why(facts: Reference) -> None:
    """Of thigh, rice, oil, zinc and fish oil: zinc is brought by its gluconate, or it is short."""
    kept = snapshot(facts)
    made = document(DocumentKind.OWNER, kept, "v")
    title = next(
        s.title
        for s in made.sections
        if any(isinstance(b, Words) and "no longer this diet" in b.lead for b in s.blocks)
    )
    words = section(made, title)
    at = next(i for i, w in enumerate(words) if "no longer this diet" in w)
    vital = words[at + 1 : at + 1 + len(kept.of_recipe.vital)]
    assert len(vital) == 3 and all("without it too little" in w for w in vital)
    assert all(re.search(r"at \d+ % of what is needed", w) for w in vital)
    # Whoever reads on finds no line a second time.
    names = [w.partition(":")[0] for w in vital]
    assert all(sum(w.startswith(f"{n}:") for w in words) == 1 for n in names)
    older = replace(kept, recipe=replace(kept.of_recipe, vital=()))
    assert "no longer this diet" not in str(document(DocumentKind.OWNER, older, "v"))
    # The sheet of a draft says the same of the same lines.
    draft = document(DocumentKind.SHEET, kept, "v")
    assert len(section(draft, "Never leave out")) == 4
