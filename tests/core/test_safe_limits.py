"""Poison is never "met", whatever the standard prints."""

from typing import Any

import pytest
from printed import analysed, formulated
from wainscot_core.analysis.adequacy import Status, status_of, urgency
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.helpful import for_all, shop_of
from wainscot_core.formulation.most import most_dose
from wainscot_core.recipe.line import sum_lines
from wainscot_core.targets.safe_limits import SafeStage, limits_for
from wainscot_core.targets.standards import Limit

CHICKEN, RICE = "usda:05062", "usda:20445"
STANDARDS = ("nrc-2006", "aafco-2016", "fediaf-2021")


def file(lines: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    return {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": lines}, **more,
    }  # fmt: skip


def nutrients(facts: Reference, data: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {n["key"]: n for n in analysed(facts, data)["nutrients"]}


BASE = [{"food": CHICKEN, "grams": 250}, {"food": RICE, "grams": 300}]


@pytest.mark.parametrize("standard", STANDARDS)
@pytest.mark.parametrize(
    ("key", "supplement", "grams", "ceiling"),
    [
        # EU feed law over 0.25 of dry matter per 1000 kcal: copper 25 mg/kg, zinc 200 mg/kg; AAFCO
        # selenium 2 mg/kg and calcium 2.5 %, phosphorus 1.6 % of dry matter at 4000 kcal/kg.
        ("CU", "supp:copper-gluconate", 0.2, 7.1),
        ("ZN", "supp:zinc-gluconate", 3.0, 56.8),
        ("CA", "supp:bone-meal", 60.0, 6250.0),
        ("P", "supp:bone-meal", 60.0, 4000.0),
        ("FE", "supp:ferrous-fumarate", 1.5, 170.0),
        ("MN", "supp:manganese-gluconate", 1.0, 42.6),
    ],
)
def test_what_harms_is_above_the_safe_limit_by_every_standard(
    facts: Reference, standard: str, key: str, supplement: str, grams: float, ceiling: float
) -> None:
    data = file([*BASE, {"food": supplement, "grams": grams}], targets={"standard": standard})
    found = nutrients(facts, data)[key]
    assert found["safe_limit"] == pytest.approx(ceiling)
    assert found["per_1000_kcal"] > ceiling
    assert found["status"] == "above safe limit" and found["breaks"]
    assert any(o["which"] == "safe" and o["citation"] for o in found["origin"])
    # The same recipe without it is not.
    assert (
        nutrients(facts, file(BASE, targets={"standard": standard}))[key]["status"]
        != "above safe limit"
    )


@pytest.mark.parametrize("standard", STANDARDS)
def test_every_life_stage_has_its_safe_limits(facts: Reference, standard: str) -> None:
    for stage in facts.standards[standard].life_stages.values():
        of_stage = frozenset({SafeStage(stage.safe_stage)})
        held = {x.key for x in limits_for(facts.safety.limits, of_stage, frozenset()) if x.value}
        assert {"CA", "P", "CU", "ZN", "SE", "ID", "FE", "MN", "VITD", "RETOL", "NA", "MG"} <= held
    puppy = {"standard": standard, "life_stage": next(
        s for s in facts.standards[standard].life_stages if s.startswith("growth")
    )}  # fmt: skip
    grown = nutrients(facts, file(BASE, targets={"standard": standard}))["CA"]["safe_limit"]
    assert nutrients(facts, file(BASE, targets=puppy))["CA"]["safe_limit"] < grown


def test_a_safe_limit_per_kg_follows_the_dog(facts: Reference) -> None:
    # 370 mg of EPA + DHA per kg^0.75: 12^0.75 = 6.447; at 350 kcal that is 6.816 g per 1000 kcal,
    # at 1200 kcal 1.988 g, which lies under the 2.8 g per 1000 kcal and under what is left of it for
    # the dose of a dog that eats more than the reference dog, 2.8 x 131.22 x 6.447 / 1200 = 1.974 g.
    little = nutrients(facts, file(BASE, energy={"kcal_per_day": 350}))["EPADHA"]
    much = nutrients(facts, file(BASE, energy={"kcal_per_day": 1200}))["EPADHA"]
    assert little["safe_limit"] == pytest.approx(2.8)
    assert much["safe_limit"] == pytest.approx(2.8 * 131.22 * 12**0.75 / 1200, rel=1e-4)


def test_statuses_at_the_bounds() -> None:
    limit = Limit("CA", "mg", 1000, None, 3000, (), 6250)
    cases = {
        999.0: Status.SHORT, 1000.0: Status.MET, 3000.0: Status.MET, 3001.0: Status.OVER,
        6250.0: Status.OVER, 6251.0: Status.ABOVE_SAFE,
    }  # fmt: skip
    assert {v: status_of(v, v, limit) for v in cases} == cases
    only_safe = Limit("CA", "mg", None, None, None, (), 6250)
    assert status_of(100.0, 6250.0, only_safe) is Status.MET
    assert status_of(100.0, 6251.0, only_safe) is Status.UNPROVEN
    assert status_of(7000.0, 9000.0, only_safe) is Status.ABOVE_SAFE


def test_what_harms_comes_before_what_is_over_before_what_is_short() -> None:
    limit = Limit("CA", "mg", 1000, None, 3000, (), 6250)

    def wants(value: float, unknown: bool = False) -> float:
        return urgency(value, status_of(value, 1500.0 if unknown else value, limit), limit)

    assert wants(7000) > wants(6400) > wants(6000) > wants(3100) > wants(10) > wants(900)
    assert wants(900) > wants(10, True) > wants(900, True) > wants(2000) == 0


def test_no_proposal_passes_a_safe_limit(facts: Reference) -> None:
    data = file(
        [*BASE, {"food": "supp:copper-tablet-2", "amount": 6, "unit": "tablet"}],
        formulate={"lines": [{"line": 2, "role": "fixed"}]},
    )
    report = formulated(facts, data)
    assert report["state"] == "impossible"
    assert {(m["kind"], m["key"]) for c in report["conflicts"] for m in c["members"]} >= {
        ("max", "CU")
    }
    assert "Safe upper limit" in report["conflicts"][0]["words"]
    free = formulated(facts, file([*BASE, {"food": "supp:copper-gluconate", "grams": 0.2}]))
    statuses = {n["key"]: n["status"] for n in free["nutrients"]}
    assert "above safe limit" not in statuses.values()


def nothing_allowed(facts: Reference) -> Dossier:
    return read_case(facts, file(BASE))


@pytest.mark.parametrize(("kg", "kcal"), [(1.2, 110), (12, 700), (60, 2600)])
def test_help_never_brings_more_than_is_safe(facts: Reference, kg: float, kcal: int) -> None:
    """A toy dog, a middling one and a giant: whatever is short, no row passes a limit or its dose."""
    lines = [{**line, "grams": line["grams"] * kcal / 700} for line in BASE]
    dog = {"name": "T", "weight_kg": kg}
    dossier = read_case(facts, {**file(lines), "dog": dog, "energy": {"kcal_per_day": kcal}})
    seen = 0
    batch = sum_lines(dossier.library, dossier.lines, 1).kcal
    for of in for_all(dossier, ()):
        for found in of.help:
            seen += 1
            food = dossier.library.food(found.food)
            values = dossier.library.values[dossier.library.row(found.food)]
            for key, limit in dossier.requirements.limits.items():
                if key in facts.catalogue and limit.ceiling is not None:
                    brought = values[facts.catalogue.index(key)] / 100 * found.grams
                    assert not brought > limit.ceiling * batch / 1000 * 1.0001, (food.name, key)
            if food.is_supplement:
                assert found.grams <= most_dose(dossier, food, batch) * 1.0001
                pieces = food.handling is not None and food.handling.unit_g
                assert pieces or "tsp" in found.text
    assert seen > 20


def test_pure_trace_salts_are_not_for_a_kitchen_scale(facts: Reference) -> None:
    shop = shop_of(nothing_allowed(facts))
    most = {c.food.id: m for c, m in zip(shop.candidates, shop.most, strict=True)}
    # A tenth of a gram of copper gluconate holds 14 mg of copper; 700 kcal may hold 5.0 mg.
    assert "supp:copper-gluconate" not in most
    # 567 kcal may hold 4.03 mg (NRC 2006 prints no maximum; AAFCO's of 7.1 mg per 1000 kcal is held):
    # two tablets of 2 mg.
    assert most["supp:copper-tablet-2"] == pytest.approx(2 * 0.25)
