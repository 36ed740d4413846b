"""What the checks say of a recipe as a whole: phytate and zinc, copper, pulses, and what a slip would do."""

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
    (told,) = of_kind(Kind.PATTERN, dossier(facts, *plants))
    assert "Nothing of an animal" in told.what
    assert of_kind(Kind.PATTERN, dossier(facts, *plants, {"food": "usda:01123", "grams": 50})) == []


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
