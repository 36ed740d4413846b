"""A recipe where there is none: from a way of feeding, from a list of foods, for a trial."""

from typing import Any

import pytest
from printed import analysed, formulated
from shelf import SHELF
from wainscot_core.bowl.exclusions import why_unfit
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.draft import draft_of, drafted, trial_sources

RABBIT, POTATO, CARROT, OIL = "usda:17178", "usda:11367", "usda:11124", "usda:04506"
CHICKEN, RICE = "usda:05064", "usda:20445"
TRIAL: dict[str, Any] = {
    "standard": "fediaf-2021",
    "conditions": [{"id": "food-reaction", "stage": "trial"}],
}
BAD = {"short", "over", "above safe limit", "unproven"}


def file(lines: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    return {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 582}, "targets": {"standard": "nrc-2006"}, "shelf": SHELF,
        "recipe": {"covers_days": 1, "lines": lines}, **more,
    }  # fmt: skip


def empty(facts: Reference, **more: Any) -> Dossier:
    return read_case(facts, file([], **more))


CASES: list[dict[str, Any]] = [
    {},
    {"targets": {"standard": "nrc-2006", "conditions": [{"id": "pancreatitis", "stage": "recurrent"}]}},
    {"targets": {"standard": "nrc-2006", "conditions": [{"id": "mmvd", "stage": "C"}]}},
    {"reactions": [{"food": "chicken"}, {"food": "rice"}]},
    {"reactions": [{"food": f} for f in ("chicken", "turkey", "beef", "fish", "lamb")]},
]  # fmt: skip


@pytest.mark.parametrize("more", CASES)
def test_a_draft_feeds_the_dog_in_the_usual_proportions(
    facts: Reference, more: dict[str, Any]
) -> None:
    case = empty(facts, **more)
    found = draft_of(case)
    assert len(found) == 3
    kcal = sum(
        case.library.values[case.library.row(f.id), case.library.catalogue.index("ENERC")] * g / 100
        for f, g in found
    )
    assert kcal == pytest.approx(582)
    whole = sum(g for _, g in found)
    assert [g / whole for _, g in found] == pytest.approx([0.5, 0.25, 0.25])
    assert not [f.name for f, _ in found if why_unfit(f, case.avoid)]


@pytest.mark.parametrize("more", CASES[:3])
def test_an_empty_recipe_is_made_and_holds(facts: Reference, more: dict[str, Any]) -> None:
    report = formulated(facts, file([], **more))
    assert report["state"] == "met"
    assert {(c["kind"], c["line"], c["before"]) for c in report["changes"]} == {("added", None, "")}
    assert all(c["why"] for c in report["changes"])
    assert not [n["key"] for n in report["nutrients"] if n["status"] in BAD]
    assert report["recipe"]["kcal_per_day"] == pytest.approx(582, rel=0.02)
    assert report["kcal_before"] == 0
    for one in report["alternatives"]:
        assert {c["line"] for c in one["changes"]} == {None}


def test_an_empty_recipe_cannot_be_analysed(facts: Reference) -> None:
    with pytest.raises(InputError, match="at least one ingredient") as refused:
        analysed(facts, file([]))
    assert refused.value.field == "recipe.lines"


def test_a_short_list_is_used_whole(facts: Reference) -> None:
    case = empty(facts)
    found = dict(draft_of(case, [CHICKEN, RICE, CARROT, OIL, "supp:calcium-carbonate"]))
    grams = {f.id: g for f, g in found.items()}
    assert set(grams) == {CHICKEN, RICE, CARROT, OIL}
    # A part that is not there leaves its place to the starch; an oil is no part of the bowl's three.
    assert grams[CHICKEN] / grams[RICE] == pytest.approx(2)
    assert grams[OIL] / grams[CHICKEN] == pytest.approx(0.03)
    pair = {f.id: g for f, g in draft_of(case, [CHICKEN, RICE])}
    assert pair[CHICKEN] == pytest.approx(pair[RICE])


def test_from_a_list_the_amounts_that_stand_there_do_not_matter(facts: Reference) -> None:
    def after(amounts: tuple[int, ...]) -> dict[str, Any]:
        lines = [
            {"food": f, "grams": g}
            for f, g in zip((CHICKEN, RICE, CARROT, OIL), amounts, strict=True)
        ]
        report = formulated(facts, file(lines, formulate={"mode": "scratch"}))
        assert report["state"] == "met"
        for change in report["changes"]:
            if change["line"] is not None:
                assert change["before_grams"] == amounts[change["line"]]
        return {c["food"]: c["after_grams"] for c in report["changes"]}

    assert after((100, 100, 100, 100)) == after((20, 300, 10, 3))


def test_a_trial_is_chosen_before_it_is_drafted(facts: Reference) -> None:
    diet = {"current_diet": [{"name": "Kibble with lamb and rice", "amount": 1}]}
    case = empty(facts, targets=TRIAL, reactions=[{"food": "chicken"}], intake=diet)
    with pytest.raises(InputError, match="name them first") as refused:
        drafted(case)
    assert "Chicken" not in refused.value.message and "Lamb" not in refused.value.message
    found = trial_sources(case)
    assert found is not None
    proteins = {s.group: s for s in found.proteins}
    assert "chicken" not in proteins and "egg" in proteins
    # What it ate comes last; what may cross-react says so (chicken and egg, chicken and fish).
    assert (
        found.proteins[-1].group == "lamb"
        and proteins["lamb"].eaten == diet["current_diet"][0]["name"]
    )
    assert proteins["egg"].crosses == "chicken" and not proteins["rabbit"].crosses
    assert [s.group for s in found.starches if s.eaten] == ["rice"]
    # What another condition avoids is no food to build on.
    stones = {**TRIAL, "conditions": [*TRIAL["conditions"], {"id": "urate"}]}
    with_stones = trial_sources(empty(facts, targets=stones))
    assert with_stones is not None
    assert "mollusc" in proteins
    assert "mollusc" not in {s.group for s in with_stones.proteins}


def test_a_trial_of_what_was_chosen_holds_nothing_else(facts: Reference) -> None:
    allowed = [RABBIT, POTATO, *facts.formulation.supplements]
    data = file([], targets=TRIAL, reactions=[{"food": "chicken"}], formulate={"allowed": allowed})
    report = formulated(facts, data)
    foods = {c["food"] for c in report["changes"] if not c["food"].startswith("supp:")}
    assert foods == {RABBIT, POTATO}
    assert report["recipe"]["kcal_per_day"] == pytest.approx(582, rel=0.02)


BAG = {
    "id": "own:bag", "name": "Dry food, made up",
    "per_100_g": {"ENERC": 380, "PROCNT": 26, "FAT": 15, "CHOCDF": 46, "FIBTG": 3, "CA": 1200},
}  # fmt: skip


def test_a_food_is_matched_and_what_it_holds_stands_beside(facts: Reference) -> None:
    ask = {"mode": "match", "match_food": "own:bag"}
    report = formulated(facts, file([], foods=[BAG], formulate=ask))
    assert report["state"] == "met"
    wanted = {w["key"]: w["wanted"] for w in report["matched"]["wanted"]}
    held = {"PROCNT": 26, "FAT": 15, "CHOCDF": 46, "FIBTG": 3, "CA": 1200}
    # 4, 9 and 4 kcal per g: 411 kcal, whatever the bag prints.
    assert wanted == {k: pytest.approx(v / 0.411) for k, v in held.items()}
    # 26 g protein, 15 g fat and 43 g carbohydrate without fibre: 104, 135 and 172 of 411 kcal.
    got = report["alternatives"][0]["levels"]
    protein, fat = 4 * got["PROCNT"], 9 * got["FAT"]
    assert protein / 1000 == pytest.approx(104 / 411, abs=0.03)
    assert fat / 1000 == pytest.approx(135 / 411, abs=0.03)


def test_a_food_whose_split_is_not_known_cannot_be_matched(facts: Reference) -> None:
    bag = {**BAG, "per_100_g": {"ENERC": 380, "PROCNT": 26, "CHOCDF": 46}}
    ask = {"mode": "match", "match_food": "own:bag"}
    with pytest.raises(InputError, match="Fat of Dry food, made up is not known") as refused:
        formulated(facts, file([], foods=[bag], formulate=ask))
    assert refused.value.field == "formulate.match_food"
