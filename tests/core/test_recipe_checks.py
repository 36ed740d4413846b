"""What the checks say of a recipe as a whole: phytate and zinc, copper, pulses, and what a slip would do."""

import re
from dataclasses import replace
from typing import Any

import pytest
from wainscot_core.checks import check
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.findings import Finding, Kind, Level
from wainscot_core.formats.casefile import open_case


def dossier(facts: Reference, *lines: dict[str, Any], age: int = 48, **more: Any) -> Dossier:
    case = {
        "format": "wainscot-case", "version": 1,
        "dog": {"weight_kg": 10, "age_months": age, "sex": "female", "neutered": True, **more},
        "energy": {"kcal_per_day": 500}, "targets": {"standard": "nrc-2006"},
        "recipe": {"days": 1, "lines": list(lines)},
    }  # fmt: skip
    return open_case(facts, case).dossier


def of_kind(kind: Kind, d: Dossier) -> list[Finding]:
    return [f for f in check(d) if f.kind is kind]


def test_phytate_over_zinc_by_moles(facts: Reference) -> None:
    """250 g of dry brown rice: about 88 % dry matter with 1.0 g phytate per 100 g, 2.2 g or 3.3 mmol; its own zinc is
    about 2 mg per 100 g, 5 mg or 0.077 mmol: 43 to 1. With 23 tablets of 10 mg it is 235 mg or 3.6 mmol: below 1."""
    rice = {"food": "usda:20036", "grams": 250}
    (alone,) = [
        f for f in of_kind(Kind.AVAILABILITY, dossier(facts, rice)) if "phytate to one" in f.what
    ]
    assert alone.level is Level.WARN and alone.nutrient == "ZN"
    ratio = float(alone.what.split(": ")[1].split()[0])
    assert ratio == pytest.approx(43, rel=0.15)
    zinc = {"food": "supp:zinc-tablet-10", "grams": 5.75}
    assert not [
        f
        for f in of_kind(Kind.AVAILABILITY, dossier(facts, rice, zinc))
        if "phytate to one" in f.what
    ]
    # In growth somebody must decide.
    pup = dossier(facts, rice, age=4, adult_weight_kg=20)
    assert [f.level for f in of_kind(Kind.AVAILABILITY, pup) if "phytate to one" in f.what] == [
        Level.DECIDE
    ]
    white = dossier(
        facts, {"food": "usda:23562", "grams": 300}, {"food": "usda:20445", "grams": 200}
    )
    assert not [f for f in of_kind(Kind.AVAILABILITY, white) if "phytate to one" in f.what]


def test_zinc_beside_copper(facts: Reference) -> None:
    """Liver has 9.8 mg of copper and 4 mg of zinc per 100 g; zinc tablets turn it round."""
    liver = {"food": "usda:13325", "grams": 100}
    said = {f.what.split(" : ")[0]: f for f in of_kind(Kind.AVAILABILITY, dossier(facts, liver))}
    assert "Zinc to copper 0" in said and said["Zinc to copper 0"].level is Level.NOTE
    chicken = {"food": "usda:05062", "grams": 200}
    tablets = {"food": "supp:zinc-tablet-10", "grams": 0.75}
    found = of_kind(Kind.AVAILABILITY, dossier(facts, chicken, tablets))
    (far,) = [f for f in found if f.what.startswith("Zinc to copper")]
    assert far.level is Level.WARN and far.nutrient == "CU"


def test_pulses_as_a_main_ingredient(facts: Reference) -> None:
    chicken = {"food": "usda:05062", "grams": 300}
    few, many = ({"food": "usda:16070", "grams": g} for g in (20, 150))
    assert of_kind(Kind.PATTERN, dossier(facts, chicken, few)) == []
    (told,) = of_kind(Kind.PATTERN, dossier(facts, chicken, many))
    # 150 g of boiled lentils are 45.5 g of dry matter, 300 g of chicken breast about 78: 37 %.
    assert "37%" in told.what and "not proven" in told.why


def test_nothing_of_an_animal(facts: Reference) -> None:
    plants = ({"food": "usda:20445", "grams": 200}, {"food": "usda:11124", "grams": 100})
    words = "Nothing of an animal in the bowl"
    assert words in said(Kind.PATTERN, dossier(facts, *plants))
    egg = {"food": "usda:01123", "grams": 50}
    assert words not in said(Kind.PATTERN, dossier(facts, *plants, egg))


def test_what_a_slip_would_do(facts: Reference) -> None:
    """Fish liver oil brings 100 IU of vitamin D a gram, and 800 IU per 1000 kcal are safe: of 500 kcal 400 IU. A level
    teaspoon of 4.5 g stays far below, three quarters of the limit pass it when the spoon is heaped."""
    meal = ({"food": "usda:05062", "grams": 200}, {"food": "usda:20445", "grams": 130})
    base = dossier(facts, *meal)
    kcal = sum(x.amount.grams * e for x, e in zip(base.lines, (1.14, 1.30), strict=True))
    drops = [
        {"food": "usda:04589", "grams": share * 800 * kcal / 1000 / 100} for share in (0.3, 0.8)
    ]
    spoons = [{"food": "usda:04589", "amount": d["grams"] / 4.5, "unit": "tsp"} for d in drops]
    calm, near = (of_kind(Kind.SLIP, dossier(facts, *meal, x)) for x in spoons)
    assert calm == []
    (told,) = near
    assert told.level is Level.WARN and "heaped" in told.why and told.food == "usda:04589"
    (weighed,) = of_kind(Kind.SLIP, dossier(facts, *meal, drops[1]))
    assert weighed.level is Level.NOTE and "given twice" in weighed.why
    # What is over already is told by the wall.
    over = {"food": "usda:04589", "grams": drops[1]["grams"] * 3}
    assert not any("Vitamin D" in f.why for f in of_kind(Kind.SLIP, dossier(facts, *meal, over)))
    assert "Vitamin D" in told.why


def said(kind: Kind, d: Dossier) -> list[str]:
    return [f.what for f in of_kind(kind, d)]


def test_liver_every_day(facts: Reference) -> None:
    """20 g of liver in 300 g are 7 %; 10 g in 310 g are 3 %."""

    def bowl(grams: float) -> list[str]:
        lines = [{"food": "usda:05062", "grams": 280}, {"food": "usda:13325", "grams": grams}]
        return [w for w in said(Kind.PATTERN, dossier(facts, *lines)) if w.startswith("Liver")]

    assert bowl(20) == ["Liver: 7% of the food, every day"] and bowl(10) == []


def test_omega_3_of_plants_is_no_fish_oil(facts: Reference) -> None:
    """10 g of linseed oil hold 5.3 g of alpha-linolenic acid; with 8 g of fish oil EPA and DHA are there."""
    base = [{"food": "usda:05062", "grams": 300}, {"food": "usda:42231", "grams": 10}]
    words = "Omega-3 of plants is not fish oil"
    assert words in said(Kind.PATTERN, dossier(facts, *base))
    assert words not in said(
        Kind.PATTERN, dossier(facts, *base, {"food": "supp:fish-oil", "grams": 8})
    )


def test_rice_as_the_only_starch(facts: Reference) -> None:
    rice, potato = {"food": "usda:20444", "grams": 120}, {"food": "usda:11367", "grams": 100}
    meat = {"food": "usda:05062", "grams": 150}
    assert "Rice is the only starch" in said(Kind.PATTERN, dossier(facts, rice, meat))
    assert "Rice is the only starch" not in said(Kind.PATTERN, dossier(facts, rice, meat, potato))
    oats = {"food": "usda:20038", "grams": 40}
    assert "Rice is the only starch" not in said(Kind.PATTERN, dossier(facts, rice, meat, oats))


def test_forms_that_are_used_less(facts: Reference) -> None:
    oxide = dossier(
        facts, {"food": "usda:05062", "grams": 150}, {"food": "supp:zinc-oxide", "grams": 0.02}
    )
    (found,) = [f for f in of_kind(Kind.AVAILABILITY, oxide) if "used less" in f.what]
    assert found.food == "supp:zinc-oxide" and found.level is Level.WARN
    other = dossier(
        facts, {"food": "usda:05062", "grams": 150}, {"food": "supp:zinc-gluconate", "grams": 0.1}
    )
    assert not [f for f in of_kind(Kind.AVAILABILITY, other) if "used less" in f.what]


def test_calcium_of_spinach_is_told(facts: Reference) -> None:
    """100 g of boiled spinach bring 136 mg of calcium, nearly all there is beside chicken; kale's can be used."""
    meat = {"food": "usda:05062", "grams": 200}
    spinach = dossier(facts, meat, {"food": "usda:11458", "grams": 100})
    assert any("rich in oxalate" in w for w in said(Kind.AVAILABILITY, spinach))
    kale = dossier(facts, meat, {"food": "usda:11234", "grams": 100})
    assert not any("rich in oxalate" in w for w in said(Kind.AVAILABILITY, kale))


def test_a_breed_is_told_what_it_is_prone_to(facts: Reference) -> None:
    meat = {"food": "usda:05062", "grams": 200}
    assert of_kind(Kind.BREED, dossier(facts, meat)) == []
    cocker = of_kind(Kind.BREED, dossier(facts, meat, breed="American Cocker Spaniel"))
    assert {f.level for f in cocker} == {Level.NOTE} and len(cocker) >= 2
    assert any("dilated cardiomyopathy" in f.what for f in cocker)
    liver = {"food": "usda:13325", "grams": 5}
    stores = of_kind(Kind.BREED, dossier(facts, meat, liver, breed="american cocker spaniel"))
    assert [f.food for f in stores if f.level is Level.WARN] == ["usda:13325"]


def test_the_label_of_an_own_food_is_read(facts: Reference) -> None:
    """Onion powder among the ingredients blocks; so does chicken for a dog that reacts to it, and beef broth does not."""

    def bowl(ingredients: str, **more: Any) -> list[Finding]:
        case = {
            "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 10, "age_months": 48},
            "energy": {"kcal_per_day": 500}, "targets": {"standard": "nrc-2006"},
            "foods": [
                {"id": "own:mix", "name": "Mix", "ingredients": ingredients, "per_100_g": {"ENERC": 300}}
            ],
            "recipe": {"lines": [{"food": "own:mix", "grams": 100}]}, **more,
        }  # fmt: skip
        return [f for f in check(open_case(facts, case).dossier) if f.level is Level.BLOCK]

    (onion,) = bowl("rice, dried carrot, onion powder, salt")
    assert onion.kind is Kind.HAZARD and "among the ingredients of Mix" in onion.what
    assert bowl("rice, dried carrot, no onion") == []
    reacts = {"reactions": [{"food": "chicken", "what": "itch"}]}
    (chicken,) = bowl("rice, chicken fat and meal", **reacts)
    assert chicken.kind is Kind.REACTION
    assert bowl("rice, beef", **reacts) == []


@pytest.mark.parametrize(("said", "level"), [(True, Level.BLOCK), (None, None), (False, None)])
def test_raw_meat_and_who_lives_in_the_house(
    facts: Reference, said: bool | None, level: Any
) -> None:
    """Raw thigh in a house with a child is blocked; cooked it is not."""

    def levels(**line: Any) -> list[Level]:
        case = {
            "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 10, "age_months": 48},
            "energy": {"kcal_per_day": 500}, "targets": {"standard": "nrc-2006"},
            "intake": {"vulnerable_home": said},
            "recipe": {"lines": [{"food": "usda:05096", "grams": 200, **line}]},
        }  # fmt: skip
        found = check(open_case(facts, case).dossier)
        return [f.level for f in found if f.field == "intake.vulnerable_home"]

    assert levels() == ([] if level is None else [level])
    assert levels(preparation="poultry-simmered-kept") == []


def test_a_tolerated_form_is_an_exception_with_who_said_so(facts: Reference) -> None:
    """Boiled chicken fat for a dog that reacts to chicken: let in with a name, to be decided without, blocked where it is
    not tolerated."""

    def reaction(**more: str) -> list[Level]:
        fat = next(f.id for f in facts.library.foods if f.name == "Chicken fat")
        case = {
            "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 10, "age_months": 48},
            "energy": {"kcal_per_day": 500}, "targets": {"standard": "nrc-2006"},
            "reactions": [{"food": "chicken", **more}],
            "recipe": {"lines": [{"food": fat, "grams": 10}]},
        }  # fmt: skip
        return [f.level for f in check(open_case(facts, case).dossier) if f.kind is Kind.REACTION]

    assert reaction() == [Level.BLOCK]
    assert reaction(tolerates="chicken fat") == [Level.DECIDE]
    assert reaction(tolerates="chicken fat", tolerates_said="Dr Moor, 3 Oct") == [Level.NOTE]


def test_vitamin_d_of_mushrooms_is_told(facts: Reference) -> None:
    """30 g of maitake bring 8.4 ug, two eggs of 50 g 2.5: three quarters; 100 g of white mushrooms 0.2 of 2.7."""
    eggs = {"food": "usda:01123", "grams": 100}
    told = "77% of the vitamin D is of mushrooms"
    assert told in said(
        Kind.AVAILABILITY, dossier(facts, eggs, {"food": "usda:11993", "grams": 30})
    )
    few = said(Kind.AVAILABILITY, dossier(facts, eggs, {"food": "usda:11260", "grams": 100}))
    assert not [x for x in few if "mushrooms" in x]


def test_vitamin_a_of_carrots_is_told_and_warned_of_without_fat(facts: Reference) -> None:
    """Chicken breast and rice with carrots hold 6 g of fat per 1000 kcal; with 20 g of oil far more. 5 g of liver bring
    250 ug of retinol beside 1250 of 50 g of carrots: no longer nearly all of it."""
    bowl = ({"food": "usda:05062", "grams": 200}, {"food": "usda:20445", "grams": 300})
    carrot, oil = {"food": "usda:11124", "grams": 50}, {"food": "usda:04053", "grams": 20}
    liver = {"food": "usda:13325", "grams": 8}

    def level(*lines: dict[str, Any]) -> list[Level]:
        found = of_kind(Kind.AVAILABILITY, dossier(facts, *bowl, *lines))
        return [f.level for f in found if f.what == "Vitamin A comes from carotene"]

    assert level(carrot) == [Level.WARN] and level(carrot, oil) == [Level.NOTE]
    assert level(carrot, liver) == []


@pytest.mark.parametrize(
    ("weight", "breed", "lines", "told"),
    [
        # Chicken and rice: 18 mg of taurine and 0.9 g of Met + Cys in 112 kcal of breast are 160 mg and 8 g per 1000 kcal.
        (40, "", [("usda:05062", 300)], set()),
        # Lentils hold no taurine, 8 g of fibre in 30 g of dry matter, and are pulses; eggs hold no taurine.
        # With oil their 0.58 g of Met + Cys stand in twice the energy.
        (8, "", [("usda:16070", 300)], {"little taurine in the food", "much fibre", "pulses"}),
        (8, "", [("usda:16070", 300), ("usda:04053", 30)],
         {"little taurine in the food", "little methionine and cystine", "much fibre", "pulses"}),
        (40, "", [("usda:01123", 200)], {"a large dog", "little taurine in the food"}),
        (8, "", [("usda:01123", 200)], set()),
        (12, "American Cocker Spaniel", [("usda:01123", 200)], {"a breed prone to it", "little taurine in the food"}),
    ],
)  # fmt: skip
def test_several_signs_of_little_taurine_are_told_together(
    facts: Reference, weight: float, breed: str, lines: Any, told: set[str]
) -> None:
    fed = [{"food": food, "grams": grams} for food, grams in lines]
    asked = dossier(facts, *fed, weight_kg=weight, breed=breed)
    found = [f for f in of_kind(Kind.PATTERN, asked) if f.what == "Taurine may run low"]
    assert [set(f.why.split("; ")[0].split(", ")) for f in found] == ([told] if told else [])


@pytest.mark.parametrize(
    ("medicine", "line", "levels"),
    [
        # About what is in the bowl: told where it is there, and not where it is not.
        ("Prednisolone 5 mg", {"food": "usda:05062", "grams": 100}, {"usda:05062": Level.BLOCK}),
        ("Prednisolone 5 mg", {"food": "usda:05064", "grams": 100}, {}),
        ("ciclosporin", {"food": "usda:09111", "grams": 20}, {"usda:09111": Level.BLOCK}),
        ("allopurinol", {"food": "usda:05028", "grams": 50}, {"usda:05028": Level.BLOCK}),
        ("warfarin", {"food": "usda:11457", "grams": 20}, {"usda:11457": Level.WARN}),
        ("warfarin", {"food": "usda:20445", "grams": 100}, {}),
        ("levothyroxine", {"food": "usda:11445", "grams": 5}, {"usda:11445": Level.WARN}),
        ("levothyroxine", {"food": "supp:kelp-powder", "grams": 1}, {"supp:kelp-powder": Level.WARN}),
        ("enalapril", {"food": "supp:potassium-chloride", "grams": 1}, {"supp:potassium-chloride": Level.WARN, "NA": Level.WARN}),
        # Butter is nearly all fat: far above 40 g per 1000 kcal; cooked rice brings 2, and 8 mg of sodium.
        ("Prednisolone 5 mg", {"food": "usda:01145", "grams": 20}, {"FAT": Level.WARN}),
        ("benazepril", {"food": "usda:20445", "grams": 300}, {"NA": Level.WARN}),
        ("benazepril", {"food": "supp:iodised-salt", "grams": 3}, {}),
        # About the medicine itself: always told.
        ("insulin", {"food": "usda:20445", "grams": 300}, {"intake.medicines": Level.DECIDE}),
        ("potassium bromide", {"food": "usda:20445", "grams": 300}, {"intake.medicines": Level.DECIDE}),
        ("furosemide", {"food": "usda:20445", "grams": 300}, {"intake.medicines": Level.WARN}),
        ("vitamin tablets", {"food": "usda:05062", "grams": 100}, {}),
    ],
)  # fmt: skip
def test_what_a_medicine_means_for_the_bowl(
    facts: Reference, medicine: str, line: dict[str, Any], levels: dict[str, Level]
) -> None:
    asked = dossier(facts, line, {"food": "usda:20445", "grams": 1})
    asked = replace(asked, medicines=(medicine,))
    found: dict[str, Level] = {}
    for f in of_kind(Kind.MEDICINE, asked):
        assert f.why and f.do and f.source and f.named == medicine
        # The gravest comes first.
        found.setdefault(f.food or f.nutrient or f.field, f.level)
    always = {k: v for k, v in found.items() if k != "intake.medicines" or k in levels}
    assert always == levels


def test_a_medicine_is_told_in_plain_words(facts: Reference) -> None:
    """No short forms of the laboratory: Na, TG, GFR."""
    for x in facts.interactions:
        told = f"{x.food_or_nutrient} {x.effect} {x.do} {x.why}"
        assert x.effect and len(x.do) > 10 and x.do.endswith((".", "?")) and len(x.why) > 5
        short = set(re.findall(r"\b(?:Na|Ca|Mg|Zn|Fe|Al|Cl|Br|Cu|TG|[A-Z]{3,})\b", told))
        assert not short - {"EPA", "DHA", "ACE"}, (x.medicine, short)
