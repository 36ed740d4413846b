"""Recipes in words: the corpus of phrases, whole recipes, and what must hold of any text."""

import csv
import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.preparations import methods_for
from wainscot_core.formats.brought import bring
from wainscot_core.formats.recipe_text import COLUMNS, RecipeForm, Written, write
from wainscot_core.recipe.line import LineText, read_all
from wainscot_core.transcribe.ingredients import LineKind
from wainscot_core.transcribe.reading import (
    Reading,
    ReadLine,
    RecipeRead,
    transcribe,
    understood,
)
from wainscot_core.transcribe.review import days_of
from wainscot_core.transcribe.sources import text_of
from wainscot_core.units import Measures

FIXTURES = Path(__file__).parents[1] / "fixtures"
with (FIXTURES / "recipe_phrases.csv").open(encoding="utf-8") as handle:
    PHRASES = list(csv.DictReader(handle))
RECIPES = yaml.safe_load((FIXTURES / "recipes.yaml").read_text(encoding="utf-8"))
INGREDIENTS = [row for row in PHRASES if row["kind"] == "ingredient"]
OTHERS = [row for row in PHRASES if row["kind"] != "ingredient"]


def read(facts: Reference, text: str) -> RecipeRead:
    return transcribe(facts.matcher, text)


def first(facts: Reference, text: str) -> ReadLine:
    return read(facts, text).lines[0]


def named(line: ReadLine, foods: str) -> bool:
    return line.food in foods.split() if foods else line.food is None


def weighs(line: ReadLine, low: Any, high: Any) -> bool:
    if low == "":
        return True
    return line.grams is not None and float(low) * 0.999 <= line.grams <= float(high) * 1.001


def amount_right(line: ReadLine, row: Mapping[str, str]) -> bool:
    wanted = float(row["amount"]) if row["amount"] else None
    high = float(row["high"]) if row["high"] else None
    if (line.unit or "") != row["unit"] or line.amount_high != high:
        return False
    return line.amount == (wanted and pytest.approx(wanted, rel=1e-3))


# The corpus


@pytest.mark.parametrize("row", INGREDIENTS, ids=lambda r: r["phrase"])
def test_an_ingredient_of_the_corpus(facts: Reference, row: dict[str, str]) -> None:
    """Each for itself: what was read once is not lost for something else."""
    line = first(facts, row["phrase"])
    assert line.kind is LineKind.INGREDIENT
    assert amount_right(line, row), (line.amount, line.amount_high, line.unit)
    assert named(line, row["foods"]), (line.food, line.candidates)
    assert weighs(line, row["grams_low"], row["grams_high"]), line.grams


@pytest.mark.parametrize("row", OTHERS, ids=lambda r: r["phrase"])
def test_what_is_no_ingredient_is_known_as_such(facts: Reference, row: dict[str, str]) -> None:
    assert {line.kind.value for line in read(facts, row["phrase"]).lines} == {row["kind"]}


def test_the_corpus_is_large(facts: Reference) -> None:
    assert len(PHRASES) >= 250 and len(RECIPES) >= 16


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda r: r["name"])
def test_a_whole_recipe(facts: Reference, recipe: dict[str, Any]) -> None:
    found = read(facts, recipe["text"])
    lines = [line for line in found.lines if line.kind is LineKind.INGREDIENT]
    assert len(lines) == len(recipe["lines"])
    for line, (foods, low, high) in zip(lines, recipe["lines"], strict=True):
        assert named(line, foods), line
        assert weighs(line, low, high), line
    if "yield" in recipe:
        assert found.makes is not None
        assert [found.makes.amount, found.makes.unit] == recipe["yield"]
    if "feeding" in recipe:
        amount, unit, per_kg = recipe["feeding"]
        rule = found.feeding_rule
        assert rule is not None and (rule.amount, rule.unit, rule.of) == (amount, unit, "dog")
        assert rule.per_kg == pytest.approx(per_kg, rel=1e-3)


# Rules, each by figures of its own


@pytest.mark.parametrize(
    ("text", "amount", "unit", "times"),
    [
        ("Give 300g morning and evening", 300, "g", 2),
        ("Feed 1 cup at breakfast, lunch and dinner.", 1, "cup", 3),
        ("Give half a cup with each meal", 0.5, "cup", 2),
        ("Makes about 12 cups; feed 1 1/2 cups twice daily.", 1.5, "cup", 2),
        ("Yield: 2.1 kg. Feed 420 g daily, divided.", 420, "g", 1),
        ("Feed 2-3% of body weight a day", 2, "%", 1),
    ],
)
def test_how_much_is_fed(
    facts: Reference, text: str, amount: float, unit: str, times: float
) -> None:
    rule = read(facts, text).feeding_rule
    assert rule is not None and (rule.amount, rule.unit) == (amount, unit)
    assert rule.times_a_day == times


@pytest.mark.parametrize(
    ("text", "days"),
    [
        ("200 g rice\nThis makes ten servings, give one twice a day.", 5),
        ("200 g rice\nMakes 12 cups. Feed 1 1/2 cups twice a day.", 4),
        ("200 g rice\nYield: 2.1 kg. Feed 420 g daily.", 5),
        ("200 g rice\nLasts Rolo (11 kilos) 4 days.", 4),
        ("200 g rice\nMakes 12 cups. Feed 1 to 2 cups twice a day.", None),
        ("200 g rice\nMakes 12 cups. Feed 300 g a day.", None),
    ],
)
def test_the_days_follow_from_what_is_made_and_fed(
    facts: Reference, text: str, days: float | None
) -> None:
    found = understood(facts.matcher, text, Measures.US, ())
    told = days_of(found)
    assert told == (days and pytest.approx(days))


def test_what_is_taken_back_counts_for_nothing(facts: Reference) -> None:
    """The last word counts, with its food where it names one; what it replaces is kept as a note."""
    for text, food, grams in (
        ("two cups of cooked rice, no wait, three cups", "usda:20445", 474),
        ("100 g carrots, sorry, 150 g parsnips", "usda:11298", 150),
        ("two tins of chopped tomatoes no wait sorry one tin", "usda:11531", 400),
    ):
        lines = read(facts, text).lines
        named_ = [line for line in lines if line.kind is LineKind.INGREDIENT]
        assert [(line.food, line.grams) for line in named_] == [(food, pytest.approx(grams))]
        assert any(line.kind is LineKind.NOTE for line in lines)


def test_what_is_added_in_the_same_sentence_is_a_line_of_its_own(facts: Reference) -> None:
    text = "I buy 1.5 lb of lean beef, trim it, and add 2 cups of barley that's cooked, then stir in 3 eggs."
    lines = [x for x in read(facts, text).lines if x.kind is LineKind.INGREDIENT]
    assert [(x.food, x.amount, x.unit) for x in lines] == [
        ("usda:23562", 1.5, "lb"), ("usda:20006", 2, "cup"), ("usda:01123", 3, None),
    ]  # fmt: skip


def test_the_same_again_is_the_amount_before(facts: Reference) -> None:
    lines = read(facts, "I add in maybe 50g of carrot and about the same of peas").lines
    assert [(line.food, line.grams) for line in lines] == [("usda:11124", 50), ("usda:11304", 50)]


def test_what_is_said_not_to_be_used_is_asked(facts: Reference) -> None:
    line = first(facts, "three leeks - oh I was told not to use those")
    assert any("not" in guess for guess in line.guessed)
    assert not any("not" in guess for guess in first(facts, "1 lb beef, do not drain").guessed)


@pytest.mark.parametrize("phrase", ["Copper gluconate 14 mg", "25 mg zinc citrate", "zinc 0.018 g"])
def test_a_strength_is_no_weight_of_a_tablet(facts: Reference, phrase: str) -> None:
    """Whether the salt or the metal is meant, and what the tablet weighs, is not told: it is asked."""
    line = first(facts, phrase)
    assert line.food and line.grams is None and line.ask


def test_bone_is_not_counted_as_meat(facts: Reference) -> None:
    """Meat that is not there would make a diet look better than it is."""
    boned, bone_in = (
        first(facts, "1 kg chicken thighs"),
        first(facts, "1 kg bone-in chicken thighs"),
    )
    assert boned.grams == 1000
    assert bone_in.grams is not None and bone_in.grams_low is not None
    assert bone_in.grams_low < bone_in.grams < 850 and bone_in.grams_high == 1000
    assert first(facts, "1 kg bone-in chicken wings").grams == 1000


def test_a_step_that_does_two_things_cooks_each_its_way(facts: Reference) -> None:
    text = "250 g turkey mince\n200 g potato\nBrown the turkey, drain the fat and bake the potato."
    ways = {u.line.food: u.how for u in _understood(facts, text).parts if u.how is not None}
    assert ways["usda:05305"].way == "fried" and ways["usda:05305"].fat_off
    assert ways["usda:11352"].way == "roasted" and not ways["usda:11352"].fat_off
    for told in ("keep the fat", "do not drain", "don't pour the fat off"):
        kept = _understood(facts, f"700 g pork mince\nFry the mince, {told}.").parts[0]
        assert kept.how is not None and kept.how.fat_kept and not kept.how.fat_off
        assert kept.line.preparation == ""


def _understood(facts: Reference, text: str) -> Reading:
    return understood(facts.matcher, text, Measures.US, facts.methods)


@pytest.mark.parametrize(
    ("phrase", "grams"),
    [
        # A tablet of 0.25 g holds 10 mg zinc; carbonate is 40.04 % calcium; the salt itself is the salt.
        ("30 mg zinc", 0.75),
        ("800 mg calcium", 2.0),
        ("800 mg calcium carbonate", 0.8),
        # 60 % of a can of pulses is left when it is drained.
        ("1 x 400 g tin chickpeas, drained", 240),
        ("2 tins of kidney beans (400 g), drained", 480),
        # Avoirdupois: 453.592 g and 28.3495 g.
        ("1 lb 4 oz beef liver", 566.99),
        ("1 cup + 2 tbsp olive oil", 216 * 1.125),
        # Ten drops of 1000 IU are a hundred of 100 IU, of 0.03 g each; five tablets of 200 ug twenty of 50, of 0.25 g.
        ("10 drops vitamin D 1000 IU per drop", 3.0),
        ("10 drops vitamin D3, 1000 IU a drop", 3.0),
        ("vitamin D drops 1000 IU per drop, 10 drops", 3.0),
        ("selenium 200 mcg tablet x 5", 5.0),
        ("1000 mg fish oil capsule (x2)", 2.0),
        ("500 g chicken mince x 2", 1000),
        ("chicken thighs x 4", 360),
    ],
)
def test_what_an_amount_weighs(facts: Reference, phrase: str, grams: float) -> None:
    assert first(facts, phrase).grams == pytest.approx(grams, rel=2e-3)


def test_a_weight_beats_a_count_and_stands_beside_a_cup(facts: Reference) -> None:
    potatoes = first(facts, "2 sweet potatoes (about 400 g)")
    assert (potatoes.amount, potatoes.unit, potatoes.grams) == (400, "g", 400)
    rice = first(facts, "1 cup (158 g) cooked rice")
    assert (rice.amount, rice.unit, rice.grams) == (1, "cup", 158)
    carrots = first(facts, "3 carrots (60 g each)")
    assert carrots.grams == 180


def test_whose_cup_it_is_counts(facts: Reference) -> None:
    """A metric cup of water is 250 ml, a US one 236.6."""
    cups = [
        transcribe(facts.matcher, "1 cup water", m).lines[0].grams
        for m in (Measures.US, Measures.METRIC)
    ]
    assert cups[0] and cups[1] and cups[1] / cups[0] == pytest.approx(250 / 236.588, rel=1e-3)


@pytest.mark.parametrize(
    ("phrase", "food"),
    [
        ("200 g chicken thigh, skin on", "usda:05091"),
        ("200 g chicken thigh, skinless", "usda:05096"),
        ("1 lb ground beef, 95% lean", "usda:23557"),
        ("1 lb ground beef 70/30", "usda:13498"),
        ("500 g cooked brown rice", "usda:20037"),
        ("500 g brown rice", "usda:20036"),
        ("1 tin sardines in oil", "usda:15088"),
        ("1 tin sardines in water", "der:sardine-water"),
        ("100 g frozen spinach", "usda:11463"),
    ],
)
def test_what_was_said_chooses_between_rows(facts: Reference, phrase: str, food: str) -> None:
    assert first(facts, phrase).food == food


def test_what_was_guessed_is_said(facts: Reference) -> None:
    assert "20 % fat" in first(facts, "1 lb ground beef").guessed
    assert not any("fat" in g for g in first(facts, "1 lb ground beef 85/15").guessed)
    carrot = first(facts, "2 carrots")
    assert "a medium one" in carrot.guessed
    assert carrot.grams_low and carrot.grams_high and carrot.grams_low < carrot.grams_high
    assert any("chiken" in g for g in first(facts, "200 g chiken breast").guessed)


def test_nothing_is_taken_for_given(facts: Reference) -> None:
    """Broth has no row of its own; salt without an amount is asked for; a word nobody knows stays."""
    broth = first(facts, "2 cups chicken broth")
    assert broth.kind is LineKind.INGREDIENT and broth.food is None and broth.ask
    salt = first(facts, "salt to taste")
    assert salt.food and salt.grams is None and salt.ask == ("How much is “salt to taste”?",)
    strange = first(facts, "3 tbsp zorblax")
    assert strange.kind is LineKind.INGREDIENT and strange.food is None and strange.amount == 3


@pytest.mark.parametrize(
    "phrase", ["200 g kangaroo mince", "1/2 lb bison liver", "100 g yak heart"]
)
def test_another_animal_is_never_meant(facts: Reference, phrase: str) -> None:
    """What nobody has a row for is asked: a dog may react to the animal that would stand in."""
    line = first(facts, phrase)
    assert line.kind is LineKind.INGREDIENT and line.food is None and line.ask


@pytest.mark.parametrize(
    "phrase",
    ["1 tsp eggshell per pound of meat", "a level teaspoon of eggshell a kilo",
     "800 mg calcium per kg of food"],
)  # fmt: skip
def test_a_dose_by_weight_is_no_amount(facts: Reference, phrase: str) -> None:
    line = first(facts, phrase)
    assert line.kind is LineKind.INGREDIENT and line.food and line.grams is None
    assert line.per and line.per.endswith(("kg of meat", "kg of food"))


def test_what_stands_in_brackets_is_not_passed_over(facts: Reference) -> None:
    line = first(facts, "3 capsules of salmon oil (1000 mg each)")
    assert (line.food, line.grams) == ("usda:04593", 3)


def test_a_line_of_two_gives_two(facts: Reference) -> None:
    lines = read(facts, "1 cup carrots and green beans").lines
    assert [line.food for line in lines] == ["usda:11124", "usda:11052"]
    assert [line.amount for line in lines] == [0.5, 0.5]
    assert {line.source for line in lines} == {"1 cup carrots and green beans"}
    each = read(facts, "100 g each of carrots, peas and green beans").lines
    assert [line.grams for line in each] == [100, 100, 100]


# What the steps do


COOKED = [
    # Boiled with everything, nothing poured off but the fat of the mince.
    ("1 lb ground turkey\n1 cup brown rice\n3 cups water\nBrown the turkey and drain off the fat.\n"
     "Add the rice and water and simmer until absorbed.",
     ["poultry-crumbles-drained", "grain-boiled", ""]),
    ("500 g potatoes\n300 g carrots\nBoil the potatoes and carrots, then drain.",
     ["potato-boiled", "vegetable-boiled"]),
    # The broth is fed: meat keeps what is in it; steam stands in for vegetables.
    ("400 g beef heart\n200 g carrots\nSimmer everything and keep the broth.",
     ["simmered-kept", "vegetable-steamed"]),
    ("2 chicken thighs\n1 sweet potato\nRoast the chicken. Bake the sweet potato.",
     ["poultry-roasted", "potato-baked"]),
    ("200 g cod\n1 tsp fish oil\nSteam the cod. Let it cool. Stir in the fish oil.", ["fish-steamed", ""]),
    ("200 g cod\n50 g carrots\nSteam the cod. Let it cool. Grate in the carrots, do not boil them.",
     ["fish-steamed", ""]),
    # Bought cooked, or raw and left raw.
    ("2 cups cooked rice\n100 g beef liver\nMix the rice and liver.", ["", ""]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted"), COOKED)
def test_the_steps_tell_how_it_is_cooked(facts: Reference, text: str, wanted: list[str]) -> None:
    lines = transcribe(facts.matcher, text, methods=facts.methods).lines
    assert [x.preparation for x in lines if x.kind is LineKind.INGREDIENT] == wanted


# What else it comes in


PAGE = """<!doctype html><html><head><script>alert("500 g script")</script>
<script type="application/ld+json">{"@context": "https://schema.org", "@graph": [{"@type": ["Recipe"],
"name": "Stew", "recipeYield": "8 cups", "recipeIngredient": ["1 lb ground beef", "2 cups cooked white rice"],
"recipeInstructions": [{"@type": "HowToStep", "text": "Brown the beef."}]}]}</script></head>
<body><p>2 cups of chatter</p></body></html>"""
MICRODATA = """<div itemscope itemtype="https://schema.org/Recipe"><h2 itemprop="name">Pot</h2><ul>
<li itemprop="recipeIngredient">200 g cod</li><li itemprop="recipeIngredient">1 cup peas</li></ul></div>"""
PLAIN = "<html><body><script>1 cup script</script><h1>Pot</h1><ul><li>200 g cod</li><li>2 eggs</li></ul></body></html>"
TABLE = 'Ingredient,Amount,Unit,Note\nchicken thigh,200,g,"raw, skinless"\nbrown rice,1 1/2,cups,cooked\n'
SHEET = "cod\t200 g\npeas\t1 cup\n"


@pytest.mark.parametrize(
    ("content", "foods"),
    [
        (PAGE, ["usda:23572", "usda:20445"]),
        (MICRODATA, ["usda:15015", "usda:11304"]),
        (PLAIN, ["usda:15015", "usda:01123"]),
        (TABLE, ["usda:05096", "usda:20037"]),
        (SHEET, ["usda:15015", "usda:11304"]),
    ],
    ids=["linked data", "microdata", "page", "table", "sheet"],
)
def test_pages_and_tables(facts: Reference, content: str, foods: list[str]) -> None:
    found = bring(facts, content.encode())
    lines = [line for line in found.lines if line.kind is LineKind.INGREDIENT]
    assert [line.food for line in lines] == foods
    if content in {TABLE, SHEET}:
        assert all(line.source in content.splitlines() for line in found.lines)


def test_a_case_file_of_our_own(facts: Reference) -> None:
    case = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "Juniper", "weight_kg": 8.2},
        "energy": {"kcal_per_day": 400}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": [{"food": "usda:05062", "grams": 180}]},
    }  # fmt: skip
    (line,) = bring(facts, json.dumps(case).encode()).lines
    assert (line.food, line.grams, line.guessed) == ("usda:05062", 180, ())
    for broken in ("1 cup,Carrot", "1 cup,Carrot,,none,usda:11124", "1 cup,Carrot,,nan,usda:11124"):
        with pytest.raises(InputError, match="column grams"):
            bring(facts, f"{','.join(COLUMNS)}\n{broken}\n".encode())
    with pytest.raises(InputError, match="without a recipe"):
        bring(facts, b'{"name": "no recipe"}')


# Out and in again


@given(data=st.data())
def test_what_is_written_is_read_back(facts: Reference, data: st.DataObject) -> None:
    """Text, table and schema.org: the same foods, weights and cooking, in order."""
    texts = []
    for _ in range(data.draw(st.integers(1, 5))):
        food = data.draw(st.sampled_from(facts.library.foods))
        cups = [m for m in food.measures if m.name in {"cup", "tbsp", "tsp"}]
        unit = data.draw(st.sampled_from(["g", *(m.name for m in cups)]))
        amount = data.draw(st.sampled_from(["1/2", "1 1/2", "3"])) if unit != "g" else "12.5"
        methods = [m.id for m in methods_for(facts.methods, food)]
        how = data.draw(st.sampled_from(["", *methods]))
        texts.append(LineText(food.id, f"{amount} {unit}", preparation=how))
    lines = read_all(facts.methods, facts.library, texts)
    recipe = Written("Pot", lines, 2)
    wanted = [(x.food.id, x.prepared.method.label if x.prepared else "") for x in lines]
    labels = {m.id: m.label for m in facts.methods}
    for form in RecipeForm:
        read_back = [
            x
            for x in bring(facts, write(recipe, form).encode()).lines
            if x.kind is LineKind.INGREDIENT
        ]
        names = [(x.food, labels.get(x.preparation, "")) for x in read_back]
        assert names == wanted
        grams = [x.amount.grams for x in lines]
        assert [x.grams for x in read_back] == pytest.approx(grams, rel=1e-6)


# What holds of any text


@pytest.mark.parametrize("text", ["0[", "200 g rice ()", "(", "2 eggs (x)", "x 2", "(x 2)"])
def test_brackets_that_hold_nothing_are_read(facts: Reference, text: str) -> None:
    assert transcribe(facts.matcher, text).lines


@given(st.text(alphabet=st.characters(blacklist_categories=["Cs"]), max_size=120))
def test_any_text_is_read(facts: Reference, text: str) -> None:
    if not text.strip() or "\0" in text or text.startswith("%PDF"):
        return
    lines = read(facts, text).lines
    wanted = [line for line in text.splitlines() if line.strip()]
    # Every line is there, in order and as it stood.
    assert list(dict.fromkeys(line.source for line in lines)) == list(dict.fromkeys(wanted))
    for line in lines:
        assert line.text in line.source or line.text.strip() in line.source
        if line.grams is not None:
            assert line.grams_low is not None and line.grams_high is not None
            assert 0 <= line.grams_low <= line.grams * 1.000001 <= line.grams_high * 1.000002


@given(
    st.integers(1, 900), st.sampled_from(["g", "kg", "lb", "oz"]),
    st.sampled_from(["beef liver", "white rice", "carrots", "cod"]),
)  # fmt: skip
def test_a_weight_is_what_it_says(facts: Reference, count: int, unit: str, food: str) -> None:
    """However it is written: before, behind, glued to its unit."""
    grams = count * {"g": 1, "kg": 1000, "lb": 453.59237, "oz": 28.349523125}[unit]
    for phrase in (f"{count} {unit} {food}", f"{food}: {count}{unit}", f"{count}{unit} of {food}"):
        line = first(facts, phrase)
        assert line.grams == pytest.approx(grams, rel=1e-6), phrase
        assert line.grams_low == line.grams_high == line.grams


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "is empty"),
        (b"%PDF-1.7 ...", "is a PDF"),
        (b"\0\1\2\3", "is no text"),
        (b"1 cup rice\n" * 40_000, "at most"),
        (b"x" * 2_100_000, "at most 2"),
    ],
)
def test_what_is_no_recipe_says_what_to_do(facts: Reference, content: bytes, words: str) -> None:
    with pytest.raises(InputError, match=words):
        read(facts, text_of(content))


def test_a_line_without_end_is_kept_and_not_searched(facts: Reference) -> None:
    line = "1 cup rice and " * 200
    (found,) = read(facts, line).lines
    assert found.kind is LineKind.NOTE and found.source == line


def test_another_language_is_said(facts: Reference) -> None:
    found = read(facts, "500 g Hühnerbrust\nzwei Karotten gewürfelt\nKochen und abkühlen lassen")
    assert any("only English" in w for w in found.warnings)
    assert found.lines[0].source == "500 g Hühnerbrust"
    assert not read(facts, "500 g chicken breast\n2 carrots, diced").warnings


def test_every_name_is_of_a_food(facts: Reference) -> None:
    for name, entry in facts.words.called.items():
        for food in entry.foods:
            assert food in facts.library, (name, food)
        if entry.nutrient:
            assert facts.library.food(entry.foods[0]).is_supplement, name
    for food in facts.words.piece_g:
        assert food in facts.library, food
