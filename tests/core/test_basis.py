"""How minimums move with what a dog eats: no step anywhere, and every printed column exact.

Figures by pocket calculator from the printed columns: NRC 2006 allowances are those of a dog of 15 kg
that eats 1000 kcal (131.22 per kg^0.75); FEDIAF 2021 prints columns at 95 and 110.
"""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from printed import analysed
from wainscot_core.boundary import read
from wainscot_core.dog.record import TargetsRecord
from wainscot_core.dossier.dossier import merged_targets
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import read_case
from wainscot_core.targets.basis import Basis, minimum_at
from wainscot_core.targets.per import FeedingFacts
from wainscot_core.targets.requirements import MergedSet
from wainscot_core.targets.standards import requirement_set, stages_of

STANDARDS = ("nrc-2006", "aafco-2016", "fediaf-2021")


def at(facts: Reference, intake: float, standard: str = "nrc-2006", **more: Any) -> MergedSet:
    """The targets of a dog of 16 kg (8 kg^0.75) that eats so much per kg^0.75."""
    targets = read(TargetsRecord, {"standard": standard, **more}, "targets")
    return merged_targets(facts, targets, FeedingFacts(16, 16, 8 * intake))


def minimum(facts: Reference, key: str, intake: float, standard: str, **more: Any) -> float:
    found = at(facts, intake, standard, **more).requirements.limits[key].minimum
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("standard", "key", "expected"),
    # At 60, 75, 95, 110, 130 and 160 kcal per kg^0.75.
    [
        ("nrc-2006", "PROCNT", (54.7, 43.7, 34.5, 29.8, 25.2, 25.0)),
        ("nrc-2006", "CA", (2187, 1750, 1381, 1193, 1009, 1000)),
        ("nrc-2006", "ZN", (32.8, 26.2, 20.7, 17.9, 15.1, 15.0)),
        ("nrc-2006", "SE", (191, 153, 121, 104, 88.3, 87.5)),
        ("nrc-2006", "FAT", (13.8,) * 6),
        ("fediaf-2021", "PROCNT", (82.5, 66.0, 52.1, 45.0, 45.0, 45.0)),
        ("fediaf-2021", "CA", (2296, 1837, 1450, 1250, 1250, 1250)),
        ("fediaf-2021", "ZN", (32.9, 26.3, 20.8, 18.0, 18.0, 18.0)),
        ("fediaf-2021", "CLD", (681, 545, 430, 380, 380, 380)),
        ("fediaf-2021", "FAT", (13.75,) * 6),
        ("aafco-2016", "ZN", (20.0,) * 6),
    ],
)
def test_worked_examples(
    facts: Reference, standard: str, key: str, expected: tuple[float, ...]
) -> None:
    found = [minimum(facts, key, e, standard) for e in (60, 75, 95, 110, 130, 160)]
    assert found == pytest.approx(expected, rel=0.004)


@pytest.mark.parametrize(("column", "intake"), [("adult-mer110", 110), ("adult-mer95", 95)])
def test_every_printed_cell_is_met_exactly(facts: Reference, column: str, intake: float) -> None:
    printed = requirement_set(facts.catalogue, facts.standards["fediaf-2021"], column).limits
    found = at(facts, intake, "fediaf-2021", life_stage="adult").requirements.limits
    for key, limit in printed.items():
        assert found[key].minimum == pytest.approx(limit.minimum), key
        assert found[key].maximum == pytest.approx(limit.maximum), key


@pytest.mark.once
@pytest.mark.parametrize("basis", list(Basis))
@pytest.mark.parametrize("standard", STANDARDS)
def test_no_minimum_jumps_anywhere_and_none_rises_with_the_energy(
    facts: Reference, standard: str, basis: Basis
) -> None:
    """From 40 to 200 kcal per kg^0.75 in steps of 0.1: no step over 0.3 %, and never upwards."""
    before: dict[str, float] = {}
    for intake in np.arange(40, 200, 0.1):
        limits = at(facts, float(intake), standard, basis=basis).requirements.limits
        now = {k: x.minimum for k, x in limits.items() if x.minimum is not None}
        for key, value in now.items():
            if key in before and limits[key].unit != "ratio":
                assert value <= before[key] * (1 + 1e-12), (key, intake)
                assert value >= before[key] * 0.997, (key, intake)
        before = now


COLUMNS = st.tuples(st.floats(50, 100), st.floats(1.0, 1.3), st.floats(101, 150), st.floats(1, 100))


@given(columns=COLUMNS, intakes=st.lists(st.floats(30, 250), min_size=2, max_size=2))
def test_less_energy_never_asks_less_and_never_starves_the_dog(
    columns: tuple[float, float, float, float], intakes: list[float]
) -> None:
    """Per 1000 kcal the stricter basis falls with the energy; per day it never falls below what the
    reference dog gets, and never below what the food brings per 1000 kcal."""
    low_intake, more, top_intake, top = columns
    low = top * more
    few, many = sorted(intakes)
    held = [
        minimum_at([(top_intake, top), (low_intake, low)], e, Basis.STRICTER, True, True)
        for e in (few, many)
    ]
    assert held[0] >= held[1] * (1 - 1e-9)
    assert min(held) >= top * (1 - 1e-9)
    if few <= low_intake:
        assert held[0] * few == pytest.approx(low * low_intake)


def test_the_three_bases(facts: Reference) -> None:
    """Zinc of NRC 2006, 15 mg: 60 and 160 kcal per kg^0.75."""

    def zinc(intake: float, basis: str) -> float:
        return minimum(facts, "ZN", intake, "nrc-2006", basis=basis)

    assert zinc(60, "per-1000-kcal") == 15
    assert zinc(160, "per-1000-kcal") == 15
    assert zinc(60, "per-kg75") == pytest.approx(15 * 131.22 / 60)
    assert zinc(160, "per-kg75") == pytest.approx(15 * 131.22 / 160)
    assert zinc(160, "stricter") == 15
    # FEDIAF prints no column per kg^0.75, so nothing is lowered by it.
    assert minimum(facts, "ZN", 160, "fediaf-2021", basis="per-kg75") == 18


def test_maximums_stay_and_ratios_too(facts: Reference) -> None:
    for standard in STANDARDS:
        little, much = (
            at(facts, e, standard, basis="stricter").requirements.limits for e in (55, 131)
        )
        for key, limit in much.items():
            assert little[key].maximum == limit.maximum, (standard, key)
            if limit.unit == "ratio":
                assert little[key].minimum == limit.minimum


def test_under_fifty_nothing_is_raised_further_and_it_is_said(facts: Reference) -> None:
    assert minimum(facts, "ZN", 45, "nrc-2006") == pytest.approx(15 * 131.22 / 50)
    assert "not raised further" in at(facts, 45).basis.words
    assert "not raised further" not in at(facts, 51).basis.words


def test_what_is_held_is_told_with_its_reason(facts: Reference) -> None:
    words = at(facts, 100).basis.words
    assert "whichever asks more (the default)" in words
    assert "fed 100 kcal per kg^0.75; NRC 2006 assumes 131" in words
    assert "raised up to x 1.31" in words and "maximums stay" in words
    assert "The printed minimums hold." in at(facts, 140).basis.words
    assert (
        "Held per kg^0.75 they would be x 1.31" in at(facts, 100, basis="per-1000-kcal").basis.words
    )
    assert "per 1000 kcal only" in at(facts, 100, "aafco-2016").basis.words
    origin = at(facts, 100).requirements.limits["ZN"].origins[0]
    assert origin.moved == pytest.approx(1.3122)
    assert "x 1.31" in origin.note


def test_the_two_columns_of_epa_and_dha_that_do_not_agree(facts: Reference) -> None:
    """0.11 g per 1000 kcal against 0.03 g per kg^0.75, which is 0.3 g per 1000 kcal at 100."""
    found = at(facts, 100).requirements.limits["EPADHA"]
    assert found.minimum == pytest.approx(0.11 * 1.3122)
    assert found.advised_min == pytest.approx(0.3)
    assert minimum(facts, "EPADHA", 100, "nrc-2006", basis="per-kg75") == pytest.approx(0.3)


def test_a_window_that_raised_floors_close_is_a_conflict_with_the_printed_floor_as_a_way(
    facts: Reference,
) -> None:
    """Protein: kidney disease stage 4 caps at 40 g; NRC asks 25 g, raised to 54.7 g at 60."""
    condition = [{"id": "ckd", "stage": "4"}]
    found = at(facts, 60, conditions=condition)
    conflict = next(c for c in found.conflicts if c.key == "PROCNT")
    way = next(o for o in conflict.options if o.id == "floor-as-printed")
    assert (way.bound, way.value) == ("min", pytest.approx(25))
    decided = at(
        facts, 60, conditions=condition,
        decisions=[{"key": "PROCNT", "bound": "min", "value": 25, "by": "Dr Elm", "reason": "kidneys"}],
    )  # fmt: skip
    assert decided.requirements.limits["PROCNT"].minimum == 25
    assert "PROCNT" not in decided.under_standard
    # Where nothing was raised there is no such way out.
    plain = at(facts, 140, conditions=[{"id": "mmvd", "stage": "C"}, {"id": "ckd", "stage": "4"}])
    assert all(o.id != "floor-as-printed" for c in plain.conflicts for o in c.options)


def test_a_window_that_is_nearly_closed_is_shown(facts: Reference) -> None:
    """Protein in kidney disease stage 3: at most 45 g, the NRC floor raised to 43.7 g at 75."""
    ckd = [{"id": "ckd", "stage": "3"}]
    found = at(facts, 75, conditions=ckd)
    assert [n.key for n in found.narrow] == ["PROCNT"]
    assert "x 1.75" in found.narrow[0].words and "3% of room" in found.narrow[0].words
    assert at(facts, 140, conditions=ckd).narrow == ()


def test_poisons_do_not_grow_with_the_appetite(facts: Reference) -> None:
    """Vitamin D: 20 ug per 1000 kcal is 2.62 ug per kg^0.75 in the reference dog; at 160 kcal that is
    16.4 per 1000 kcal. Calcium is no poison of that kind, and pups are not adults."""
    much, fed = (at(facts, e).requirements.limits for e in (160, 131.22))
    assert fed["VITD"].safe == pytest.approx(20)
    assert much["VITD"].safe == pytest.approx(20 * 131.22 / 160)
    assert much["CU"].safe == pytest.approx(7.1 * 131.22 / 160)
    assert much["CA"].safe == 6250
    pup = at(facts, 250, life_stage="growth-14wk-plus").requirements.limits
    assert pup["VITD"].safe == 20


@pytest.mark.parametrize(
    ("standard", "name", "age", "adult", "stages", "asks"),
    [
        ("nrc-2006", "growth", 3, None, ["growth-4-14wk"], ()),
        ("nrc-2006", "growth", 4, None, ["growth-14wk-plus"], ()),
        ("nrc-2006", "growth", None, 30, ["growth-4-14wk", "growth-14wk-plus"], ("the dog's age",)),
        ("fediaf-2021", "growth", 3, 40, ["growth-early"], ()),
        ("fediaf-2021", "growth", 5, 10, ["growth-late-small"], ()),
        ("fediaf-2021", "growth", 5, 40, ["growth-late-large-under-6mo"], ()),
        ("fediaf-2021", "growth", 7, 40, ["growth-late-large-over-6mo"], ()),
        ("fediaf-2021", "growth", 7, None, ["growth-late-small", "growth-late-large-over-6mo"],
         ("its expected adult weight",)),
        ("fediaf-2021", "growth-late", 5, 40, ["growth-late-large-under-6mo"], ()),
        ("fediaf-2021", "growth-large", 5, None, ["growth-late-large-under-6mo"], ()),
        ("fediaf-2021", "reproduction", None, None, ["growth-early"], ()),
        ("nrc-2006", "lactation", None, None, ["gestation-lactation"], ()),
    ],
)  # fmt: skip
def test_an_older_name_finds_its_stage_by_the_dog(
    facts: Reference, standard: str, name: str, age: Any, adult: Any, stages: list[str], asks: Any
) -> None:
    found = stages_of(facts.standards[standard], name, age, adult)
    assert ([s.id for s in found.stages], found.asks) == (stages, asks)


def test_where_the_dog_s_facts_leave_several_the_strictest_holds(facts: Reference) -> None:
    """FEDIAF growth without a fact: early growth's protein, the tightest calcium window of all."""
    found = at(facts, 200, "fediaf-2021", life_stage="growth")
    limits = found.requirements.limits
    assert limits["PROCNT"].minimum == 62.5
    assert (limits["CA"].minimum, limits["CA"].maximum) == (2500, 4000)
    assert limits["CA_P"].maximum == 1.6
    assert limits["CA"].safe == 4000
    assert found.stages.asks == ("the dog's age", "its expected adult weight")


def case(facts: Reference, dog: dict[str, Any], targets: dict[str, Any]) -> list[tuple[str, str]]:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 10, **dog},
        "energy": {"kcal_per_day": 900}, "targets": targets,
        "recipe": {"lines": [{"food": "usda:05062", "grams": 300}]},
    }  # fmt: skip
    return [
        (f["level"], f["what"]) for f in analysed(facts, data)["flags"] if "Life stage" in f["what"]
    ]


def test_a_life_stage_in_doubt_is_asked_about(facts: Reference) -> None:
    growth = {"standard": "fediaf-2021", "life_stage": "growth"}
    assert case(facts, {}, growth) == [("decide", "Life stage: several may hold")]
    assert case(facts, {"age_months": 5, "adult_weight_kg": 30}, growth) == []
    large = {"standard": "aafco-2016", "life_stage": "growth"}
    assert case(facts, {"age_months": 5, "adult_weight_kg": 40}, large) == [
        ("decide", "Life stage: its figures are for other dogs")
    ]
    adult = {"standard": "nrc-2006", "life_stage": "adult"}
    assert case(facts, {"age_months": 5}, adult) == [
        ("decide", "Life stage: an adult's targets for a growing dog")
    ]
    assert case(facts, {"age_months": 40}, adult) == []


def test_a_basis_that_is_none_is_refused_by_name(facts: Reference) -> None:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 10}, "energy": {"kcal_per_day": 500},
        "targets": {"standard": "nrc-2006", "basis": "per-cup"},
        "recipe": {"lines": [{"food": "usda:05062", "grams": 300}]},
    }  # fmt: skip
    with pytest.raises(InputError) as caught:
        read_case(facts, data)
    assert caught.value.field == "targets.basis"
    data["targets"]["basis"] = None
    assert read_case(facts, data).targets.basis.basis is Basis.STRICTER


def test_arginine_rises_with_protein(facts: Reference) -> None:
    """NRC 2006: 0.88 g and 0.01 g for every g of protein above 25 g: 1.63 g at 100 g. AAFCO has no
    such rule."""
    limits = at(facts, 140).requirements.limits
    assert limits["ARG"].beside({"PROCNT": 100.0}).minimum == pytest.approx(0.88 + 0.75)
    assert limits["ARG"].beside({"PROCNT": 20.0}).minimum == pytest.approx(0.88)
    aafco = at(facts, 140, "aafco-2016").requirements.limits["ARG"]
    assert aafco.beside({"PROCNT": 100.0}).minimum == pytest.approx(1.28)
    fediaf = at(facts, 140, "fediaf-2021").requirements.limits["ARG"]
    assert fediaf.beside({"PROCNT": 100.0}).minimum == pytest.approx(1.3 + 0.55)


def test_vitamin_e_rises_with_polyunsaturated_fat(facts: Reference) -> None:
    """AAFCO: 0.6 IU a gram (0.4027 mg) once that is more than 12.5 IU (8.39 mg); NRC as advice."""
    aafco = at(facts, 140, "aafco-2016").requirements.limits["TOCPHA"]
    assert aafco.beside({"FAPU": 10.0}).minimum == pytest.approx(12.5 / 1.49)
    assert aafco.beside({"FAPU": 40.0}).minimum == pytest.approx(24 / 1.49)
    nrc = at(facts, 140).requirements.limits["TOCPHA"].beside({"FAPU": 40.0})
    assert (nrc.minimum, nrc.advised_min) == (7.5, pytest.approx(16))
