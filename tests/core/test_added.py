"""Limits on what is added: ceilings that stop, a day's doses, cautions, and what a law says."""

from typing import Any

import pytest
from printed import analysed, formulated
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.question import Settings, check_settings, problem_of

CHICKEN, RICE = "usda:05062", "usda:20445"
BASE = [{"food": CHICKEN, "grams": 250}, {"food": RICE, "grams": 300}]


def file(lines: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    return {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": lines}, **more,
    }  # fmt: skip


def safety(facts: Reference, *supplements: tuple[str, float], **more: Any) -> list[tuple[str, str]]:
    lines = [*BASE, *({"food": f, "grams": g} for f, g in supplements)]
    found = analysed(facts, file(lines, **more))["flags"]
    return [(f["level"], f["nutrient"]) for f in found if f["kind"] == "safety"]


@pytest.mark.parametrize(
    ("supplement", "grams", "level", "key"),
    [
        # 275 + 390 = 665 kcal of food; 1.25 g of free methionine per 1000 kcal is 0.83 g.
        ("supp:methionine", 0.9, "block", "MET"),
        # 2 g of added potassium per 1000 kcal is 1.33 g; potassium chloride is 52.4 % potassium.
        ("supp:potassium-chloride", 2.7, "warn", "K"),
        # Choline bitartrate is 41.1 % choline: 1275 mg per 1000 kcal is 848 mg here, 2.06 g.
        ("supp:choline-bitartrate", 2.2, "warn", "CHOLN"),
        # 0.4 g of sodium per kg a day: 12 kg x 0.4 = 4.8 g, salt is 39.3 % sodium.
        ("supp:sodium-chloride", 12.5, "block", "NA"),
    ],
)
def test_what_is_added_is_counted_by_itself(
    facts: Reference, supplement: str, grams: float, level: str, key: str
) -> None:
    assert (level, key) in safety(facts, (supplement, grams))
    assert safety(facts, (supplement, grams * 0.8)) == []
    assert safety(facts) == []


def test_a_law_about_added_amounts_is_advice(facts: Reference) -> None:
    """Zinc: 227.3 mg per kg dry matter where some is added. Meat and rice by themselves never say it."""
    dry = 250 * 0.2516 + 300 * 0.3156  # g of dry matter, about 158
    over = 0.2273 * dry / 10 * 0.25  # tablets of 0.25 g with 10 mg each
    assert safety(facts, ("supp:zinc-tablet-10", over * 1.02)) == [("note", "ZN")]
    assert safety(facts, ("supp:zinc-tablet-10", over * 0.8)) == []


def test_bound_phosphates_are_not_counted_as_soluble(facts: Reference) -> None:
    """13 g of dicalcium phosphate bring 3 g of phosphorus, none of it soluble."""
    assert ("warn", "P") not in safety(facts, ("supp:dicalcium-phosphate", 13))
    soluble = {
        "id": "shelf:sodium-phosphate", "name": "Sodium phosphate", "per_100_g": {"P": 20000},
        "rest_is_zero": True,
    }  # fmt: skip
    assert ("warn", "P") in safety(facts, ("shelf:sodium-phosphate", 4), shelf=[soluble])


@pytest.mark.parametrize(
    "salt",
    ["zinc-gluconate", "zinc-sulfate", "zinc-oxide", "copper-gluconate", "manganese-gluconate",
     "ferrous-fumarate", "potassium-iodide"],
)  # fmt: skip
def test_pure_trace_salts_are_refused_in_words(facts: Reference, salt: str) -> None:
    lines = [*BASE, {"food": f"supp:{salt}", "grams": 0.1}]
    found = analysed(facts, file(lines))["flags"]
    assert any(f["level"] == "block" and f["food"] == f"supp:{salt}" for f in found)
    handling = facts.supplements[f"supp:{salt}"].food.handling
    assert handling is not None and "% of the safe limit" in handling.block


def test_what_a_kitchen_can_measure_is_not_refused(facts: Reference) -> None:
    refused = {i for i, s in facts.supplements.items() if s.food.handling and s.food.handling.block}
    assert refused == {
        f"supp:{s}" for s in ("zinc-gluconate", "zinc-sulfate", "zinc-oxide", "copper-gluconate",
                              "manganese-gluconate", "ferrous-fumarate", "potassium-iodide")
    }  # fmt: skip


def test_a_product_of_the_shelf_is_looked_at_too(facts: Reference) -> None:
    """Vitamin D drops of 1000 IU: one drop is 25 ug, more than 20 ug per 1000 kcal."""
    strong = {
        "id": "shelf:d-strong", "name": "Vitamin D, 1000 IU a drop", "unit": "drop", "unit_g": 0.03,
        "per_100_g": {"VITD": 25 / 0.03 * 100}, "rest_is_zero": True,
    }  # fmt: skip
    lines = [*BASE, {"food": "shelf:d-strong", "amount": 1, "unit": "drop"}]
    found = analysed(facts, file(lines, shelf=[strong]))["flags"]
    assert any(f["level"] == "block" and f["food"] == "shelf:d-strong" for f in found)


def test_no_proposal_adds_more_than_may_be_added(facts: Reference) -> None:
    """Short of methionine and cheap in energy: the powder stays under 1.25 g per 1000 kcal."""
    lines = [{"food": "usda:20445", "grams": 450}, {"food": "usda:11352", "grams": 200}]
    data = file(lines, formulate={"allowed": ["supp:methionine"], "mode": "rebalance"})
    report = formulated(facts, data)
    added = sum(x["grams"] for x in report["recipe"]["lines"] if x["food"] == "supp:methionine")
    assert added <= 1.25 * report["recipe"]["kcal"] / 1000 * 1.0001
    asked = check_settings(facts, Settings(allowed=("supp:methionine",)))
    problem = problem_of(read_case(facts, file(lines)), asked)
    assert problem.added_most["MET"] == pytest.approx(1.25)
    # 20 mg of iron per kg a day at 12 kg and 700 kcal.
    assert problem.added_most["FE"] == pytest.approx(20 * 12 / 0.7)


def test_cautions_are_off_advice_and_never_over(facts: Reference) -> None:
    """Iodine of an adult: NRC's own maximum is 1000 ug; AAFCO prints 2750 and 1000 is care."""
    lines = [*BASE, {"food": "supp:iodine-tablet-150", "amount": 8, "unit": "tablet"}]
    by = {
        standard: next(
            n for n in analysed(facts, file(lines, targets={"standard": standard}))["nutrients"]
            if n["key"] == "ID"
        )
        for standard in ("nrc-2006", "aafco-2016")
    }  # fmt: skip
    assert by["nrc-2006"]["status"] == "over"
    assert by["aafco-2016"]["status"] == "off advice" and not by["aafco-2016"]["breaks"]
    assert by["aafco-2016"]["advised_max"] == 1000


def test_a_breed_at_risk_has_its_own_caution(facts: Reference) -> None:
    """2.5 mg of copper per 1000 kcal for a Labrador, 5 for a dog of no such breed."""

    def copper(breed: str) -> float:
        data = file(BASE, dog={"name": "T", "weight_kg": 12, "breed": breed})
        return next(n for n in analysed(facts, data)["nutrients"] if n["key"] == "CU")[
            "advised_max"
        ]

    assert (copper("Labrador Retriever"), copper("Greyhound"), copper("")) == (2.5, 5.0, 5.0)


def test_amino_acid_powders_bring_protein_energy_and_chloride(facts: Reference) -> None:
    """Lysine hydrochloride is 80.0 % lysine and 19.4 % chloride; methionine is all amino acid."""
    library = facts.library

    def holds(food: str, key: str) -> float:
        return float(library.values[library.row(food), facts.catalogue.index(key)])

    assert holds("supp:lysine-hcl", "LYS") == pytest.approx(80.0, abs=0.1)
    assert holds("supp:lysine-hcl", "CLD") == pytest.approx(19400, abs=30)
    assert holds("supp:lysine-hcl", "PROCNT") == pytest.approx(80.0, abs=0.1)
    assert holds("supp:methionine", "ENERC") == pytest.approx(400)
    # Fish oil: polyunsaturated fat is at least what is named of it.
    named = sum(
        holds("supp:fish-oil", k) for k in ("F18D2N6", "F18D3N3", "F20D4N6", "F20D5N3", "F22D6N3")
    )
    assert named == pytest.approx(33.3)
    assert holds("supp:fish-oil", "FAPU") >= named
