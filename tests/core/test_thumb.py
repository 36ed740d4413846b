"""Rules of thumb about one food: what they come to for a dog and its recipe."""

from typing import Any

import pytest
from wainscot_core.analysis.adequacy import Status
from wainscot_core.analysis.analyse import analyse
from wainscot_core.analysis.thumb import thumb
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import FORMAT, open_case
from wainscot_core.recipe.line import LineText, read_all
from wainscot_core.transcribe.doses import Of, dose_in
from wainscot_core.transcribe.phrases import join
from wainscot_core.transcribe.reading import transcribe
from wainscot_core.transcribe.review import Batch, review
from wainscot_core.transcribe.tokens import tokenise

CHICKEN, RICE = "usda:05062", "usda:20445"


def dossier(facts: Reference, days: float = 1, kg: float = 12) -> Dossier:
    """300 g of chicken breast and 400 g of boiled rice a day."""
    case: dict[str, Any] = {
        "format": FORMAT, "version": 1, "dog": {"name": "Hazel", "weight_kg": kg},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": days, "lines": []},
    }  # fmt: skip
    texts = [LineText(CHICKEN, f"{300 * days} g"), LineText(RICE, f"{400 * days} g")]
    lines = read_all(facts.methods, facts.library, texts)
    return open_case(facts, case).dossier.with_lines(lines)


@pytest.mark.parametrize(
    ("text", "of", "amount"),
    [
        ("1/2 tsp eggshell per pound of meat", Of.MEAT, 0.4536),
        ("a level teaspoon of eggshell a kilo", Of.FOOD, 1),
        ("800-1000 mg calcium per lb of food", Of.FOOD, 0.4536),
        ("1 tsp olive oil for every 450 g of beef", Of.MEAT, 0.45),
        ("1 egg per 10 kg", Of.DOG, 10),
        ("1 fish oil capsule for each 5 kg of body weight", Of.DOG, 5),
        ("a teaspoon of salmon oil per cup of food", Of.CUP, 1),
        ("1000 mg calcium per 1000 kcal", Of.KCAL, 1000),
        ("1 tsp/kg of food", Of.FOOD, 1),
    ],
)
def test_what_an_amount_is_told_for(facts: Reference, text: str, of: Of, amount: float) -> None:
    found = dose_in(facts.words, join(facts.words, tokenise(text)))
    assert found is not None
    assert (found.dose.of, found.dose.amount) == (of, pytest.approx(amount, rel=1e-3))


@pytest.mark.parametrize(
    "text",
    [
        "1 kg of lamb",
        "2 cups of rice",
        "a pound of beef",
        "100 g per portion",
        "per kg",
        "for a 10 kg dog",
    ],
)
def test_a_plain_amount_is_told_for_nothing(facts: Reference, text: str) -> None:
    assert dose_in(facts.words, join(facts.words, tokenise(text))) is None


@pytest.mark.parametrize(
    "text",
    ["1 egg per 10 kg", "one sardine can per 20 kg a week", "1 tsp salmon oil per cup of food", "1000 mg calcium per 1000 kcal",
     "1 fish oil capsule per 10 kg of body weight"],
)  # fmt: skip
def test_a_dose_is_never_taken_for_an_amount(facts: Reference, text: str) -> None:
    """ "1 egg per 10 kg" is no 10 kg of egg."""
    (line,) = transcribe(facts.matcher, text).lines
    assert (line.grams, line.grams_low, line.grams_high) == (None, None, None)
    assert line.food is not None and line.per and line.ask


@pytest.mark.parametrize(
    ("rule", "days", "grams"),
    [
        # A teaspoon of eggshell is 5.5 g, of oil 4.5 g; a capsule 1 g; a large egg 50 g.
        ("1/2 tsp eggshell powder per pound of meat", 1, 2.75 * 300 / 453.6),
        ("1/2 tsp eggshell powder per pound of meat", 4, 4 * 2.75 * 300 / 453.6),
        ("1 tsp eggshell powder a kilo", 1, 5.5 * 0.7),
        ("1 fish oil capsule per 10 kg", 2, 2 * 1.2),
        ("1 fish oil capsule per 10 kg twice a day", 1, 2.4),
        ("1 tsp sunflower oil per 10 kg at each meal", 1, 4.5 * 1.2 * 2),
        ("1 egg per 12 kg a week", 7, 50),
        ("no more than one teaspoon of fish oil per meal", 1, 9),
        ("1 egg every other day", 2, 50),
    ],
)
def test_what_a_rule_comes_to(facts: Reference, rule: str, days: float, grams: float) -> None:
    found = thumb(dossier(facts, days), facts.matcher, rule)
    assert found is not None
    assert found.grams_per_day * days == pytest.approx(grams, rel=0.02)
    assert float(found.quantity.removesuffix(" g")) == pytest.approx(grams, rel=0.03)
    assert found.most is rule.startswith("no more")


@pytest.mark.parametrize(
    ("rule", "grams", "most"),
    [
        # Of 700 g a day: x / (700 + x) is the share. Of 300 g of chicken: x / (300 + x).
        ("5 % liver", 700 * 0.05 / 0.95, False),
        ("10-15 % beef liver", 700 * 0.125 / 0.875, False),
        ("beef liver 5 % of the food", 700 * 0.05 / 0.95, False),
        ("5% of the diet as liver", 700 * 0.05 / 0.95, False),
        ("beef heart, up to 20 % of the meat", 300 * 0.2 / 0.8, True),
        ("at most 10 per cent liver", 700 * 0.1 / 0.9, True),
        # 400 of 700 g are rice, and 80 % of 1500 g would be.
        ("80 % of the food is boiled white rice", 800, False),
    ],
)
def test_a_share_of_what_is_cooked(facts: Reference, rule: str, grams: float, most: bool) -> None:
    found = thumb(dossier(facts), facts.matcher, rule)
    assert found is not None
    assert found.grams_per_day == pytest.approx(grams, rel=1e-3)
    assert found.most is most


@pytest.mark.parametrize(
    "rule", ["5 % boiled white rice", "100 % liver", "0 % liver", "10 % organ, half of it liver"]
)
def test_a_share_that_cannot_be_made_is_refused(facts: Reference, rule: str) -> None:
    with pytest.raises(InputError) as error:
        thumb(dossier(facts), facts.matcher, rule)
    assert error.value.field == "rule"


@pytest.mark.parametrize(
    ("rule", "said"),
    [("at most 20 % boiled white rice", "that is more"), ("20 % boiled white rice", "no more is")],
)
def test_what_is_in_it_already_is_held_against_the_rule(
    facts: Reference, rule: str, said: str
) -> None:
    """400 of 700 g are rice; 20 % beside 300 g of chicken are 75 g."""
    with pytest.raises(InputError, match=f"75 g a day of it; 400 g are in the recipe.*{said}"):
        thumb(dossier(facts), facts.matcher, rule)


def test_a_share_of_meat_needs_other_meat(facts: Reference) -> None:
    with pytest.raises(InputError, match="no other"):
        thumb(dossier(facts).with_lines([]), facts.matcher, "20 % heart of the meat")


def test_what_comes_behind_an_amount_is_no_cap_on_it(facts: Reference) -> None:
    found = thumb(dossier(facts), facts.matcher, "pumpkin: 1 tbsp per 10 kg, max 2 tbsp")
    assert found is None or not found.most


@pytest.mark.parametrize(
    ("rule", "grams"),
    [
        # 300 mg of EPA and DHA in a gram of an 18:12 oil; the dog weighs 12 kg.
        ("100 mg EPA and DHA per kg body weight", 12 * 100 / 300),
        ("100 mg of EPA+DHA per kg", 12 * 100 / 300),
        # 400 mg of calcium in a gram of the carbonate; 0.7 kg of food.
        ("1000 mg calcium a kilo", 0.7 * 1000 / 400),
        ("a drained can of sardines per 12 kg a week", 90 / 7),
        ("one sardine can per 24 kg a week", 45 / 7),
    ],
)
def test_doses_of_a_nutrient_and_of_a_can(facts: Reference, rule: str, grams: float) -> None:
    found = thumb(dossier(facts), facts.matcher, rule)
    assert found is not None and found.grams_per_day == pytest.approx(grams, rel=0.03)


@pytest.mark.parametrize(
    "rule", ["2-3 % of body weight a day", "30 kcal per lb", "RER x 1.6", "1.6 x RER"]
)
def test_how_much_is_fed_is_no_rule_of_one_food(facts: Reference, rule: str) -> None:
    assert thumb(dossier(facts), facts.matcher, rule) is None


def test_what_it_reaches_is_what_the_wall_says(facts: Reference) -> None:
    before = dossier(facts)
    found = thumb(before, facts.matcher, "2 tsp fish oil a day")
    assert found is not None
    (line,) = read_all(facts.methods, facts.library, [LineText(found.food, found.quantity)])
    after = {n.key: n for n in analyse(before.with_lines([*before.lines, line])).nutrients}
    told = next(r for r in found.reaches if r.key == "EPADHA")
    wall = after["EPADHA"]
    assert wall.per_1000_kcal is not None and wall.min is not None and wall.safe_limit is not None
    assert told.with_need == pytest.approx(wall.per_1000_kcal / wall.min, rel=0.02)
    most = min(x for x in (wall.max, wall.safe_limit) if x is not None)
    assert told.with_limit == pytest.approx(wall.per_1000_kcal / most, rel=0.02)
    over = told.with_limit is not None and told.with_limit > 1
    assert over is (wall.status in {Status.OVER, Status.ABOVE_SAFE})


def test_what_is_not_on_the_pack_is_said(facts: Reference) -> None:
    found = thumb(dossier(facts), facts.matcher, "1/4 tsp kelp per 10 kg dog a day")
    assert found is not None and "Iodine" in found.unknown


def test_what_a_kilo_is_of_is_asked_where_nobody_says(facts: Reference) -> None:
    found = thumb(dossier(facts), facts.matcher, "100 mg zinc per kg")
    assert found is not None and any("body weight" in g for g in found.guessed)


def test_a_rule_of_what_is_cooked_names_no_food(facts: Reference) -> None:
    assert thumb(dossier(facts), facts.matcher, "a third of a cup per 5 kg at each meal") is None


@pytest.mark.parametrize("rule", ["1 tsp salt", "2 tsp oil and 1 egg a day", "some parsley a day"])
def test_a_rule_that_cannot_be_computed_says_how(facts: Reference, rule: str) -> None:
    with pytest.raises(InputError) as error:
        thumb(dossier(facts), facts.matcher, rule)
    assert error.value.field == "rule"


def test_a_rule_of_meat_needs_meat(facts: Reference) -> None:
    with pytest.raises(InputError, match="none of it"):
        thumb(dossier(facts).with_lines([]), facts.matcher, "1 tsp eggshell powder per kg of meat")


def test_a_dose_in_a_recipe_is_worked_out_of_its_other_lines(facts: Reference) -> None:
    text = "900 g chicken breast\n300 g cooked rice\n1/2 tsp eggshell powder per pound of meat\n1 fish oil capsule per 10 kg"
    found = review(
        facts.matcher, text, Batch(days=3, meals_per_day=2, weight_kg=20), methods=facts.methods
    )
    eggshell, capsule = found.lines[2:]
    # 900 g are 1.984 pounds of 2.75 g each; 20 kg are two capsules a day.
    assert eggshell.choices[0].grams == pytest.approx(5.46, abs=0.02)
    assert capsule.choices[0].grams == pytest.approx(6)
    assert any("pound" in d or "meat" in d for d in eggshell.doubts)
    unweighed = review(facts.matcher, text, Batch(days=3, meals_per_day=2), methods=facts.methods)
    assert unweighed.lines[3].quantity == ""
