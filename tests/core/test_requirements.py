"""Merging a standard with conditions: origins, conflicts, decisions."""

from typing import Any

import pytest
from wainscot_core.boundary import read
from wainscot_core.dog.record import TargetsRecord
from wainscot_core.dossier.dossier import merged_targets
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.targets.requirements import FeedingFacts, MergedSet
from wainscot_core.targets.standards import requirement_set

# 8.2 kg is 4.846 kg^0.75: 144 kcal each, more than any standard's reference dog eats.
FACTS = FeedingFacts(8.2, 8.2, 700)


def merged(facts: Reference, *conditions: tuple[str, str], **targets: Any) -> MergedSet:
    data = {
        "standard": "nrc-2006",
        "conditions": [{"id": c, "stage": s} for c, s in conditions],
        **targets,
    }
    return merged_targets(facts, read(TargetsRecord, data, "targets"), FACTS)


def test_without_conditions_the_standard_holds(facts: Reference) -> None:
    published = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    found = merged(facts).requirements.limits
    bounds = {k: (v.minimum, v.maximum) for k, v in found.items()}
    assert {k: b for k, b in bounds.items() if b != (None, None)} == {
        k: (v.minimum, v.maximum)
        for k, v in published.limits.items()
        if (v.minimum, v.maximum) != (None, None)
    }


def test_three_conditions_on_one_dog(facts: Reference) -> None:
    """Heart failure C wants 51.4 g protein, kidney stage 3 allows 45: listed, not resolved."""
    found = merged(facts, ("mmvd", "C"), ("ckd", "3"), ("pancreatitis", "recurrent"))
    limits = found.requirements.limits
    assert [c.key for c in found.conflicts] == ["PROCNT"]
    conflict = found.conflicts[0]
    assert conflict.kind == "two-conditions"
    assert conflict.decided is None
    assert "51.4 g" in conflict.words
    assert "45 g" in conflict.words
    assert len(conflict.options) == 2
    assert (limits["PROCNT"].minimum, limits["PROCNT"].maximum) == (51.4, 45)
    # The lowest sodium cap binds and the others are listed as overridden.
    assert limits["NA"].maximum == 800
    caps = [o for o in limits["NA"].origins if o.which == "max"]
    assert caps[0].source.startswith("Mitral")
    assert caps[0].overridden_by == ""
    assert all(o.overridden_by == caps[0].source for o in caps[1:])
    assert len(caps) == 3
    assert (limits["P"].minimum, limits["P"].maximum) == (750, 1000)
    assert limits["FAT"].maximum == 20
    assert limits["F18D2N6"].minimum == 2.8
    assert len(found.sign_off) == 3


def test_a_limit_per_kg_becomes_one_per_1000_kcal(facts: Reference) -> None:
    """EPA + DHA 65 mg/kg: 8.2 kg x 65 = 533 mg in 700 kcal, 0.761 g per 1000 kcal; it is advice."""
    found = merged(facts, ("mmvd", "C")).requirements.limits["EPADHA"]
    assert found.advised_min == pytest.approx(0.065 * 8.2 / 700 * 1000)
    assert found.minimum == pytest.approx(0.11)
    # 120 mg/kg^0.75: 8.2^0.75 = 4.846.
    other = merged(facts, ("hypertriglyceridaemia", "over-500")).requirements.limits["EPADHA"]
    assert other.advised_min == pytest.approx(0.12 * 4.846 / 700 * 1000, rel=1e-3)


def test_a_share_of_energy_becomes_grams(facts: Reference) -> None:
    """30 % of energy from fat at 9 kcal/g is 33.3 g per 1000 kcal."""
    fat = merged(facts, ("diabetes", "")).requirements.limits["FAT"]
    assert fat.advised_max == pytest.approx(33.33, abs=0.01)
    assert fat.maximum == 82.5


def test_a_copper_cap_under_the_standard(facts: Reference) -> None:
    found = merged(facts, ("copper-hepatopathy", ""))
    assert [(c.key, c.kind) for c in found.conflicts] == [("CU", "under-standard")]
    assert found.under_standard == ("CU",)
    assert "vet must sign" in found.conflicts[0].options[0].text
    decision = {"key": "CU", "bound": "min", "value": 1.2, "by": "Dr Elm", "reason": "chelation"}
    decided = merged(facts, ("copper-hepatopathy", ""), decisions=[decision])
    assert decided.requirements.limits["CU"].minimum == 1.2
    assert decided.conflicts[0].decided is not None
    assert decided.conflicts[0].decided.by == "Dr Elm"
    # Decided or not, it stays visible.
    assert decided.under_standard == ("CU",)
    assert any(o.source == "decided by Dr Elm" for o in decided.requirements.limits["CU"].origins)


def test_the_consultant_may_tighten_any_limit(facts: Reference) -> None:
    decision = {"key": "ZN", "bound": "min", "value": 25, "by": "consultant", "reason": "phytate"}
    assert merged(facts, decisions=[decision]).requirements.limits["ZN"].minimum == 25


def test_weight_loss_holds_floors_per_kg75(facts: Reference) -> None:
    """Calcium 1.0 g per 1000 kcal x 131.22 x 10.53 / 737 when fed RER at 23.08 kg (10.53 kg^0.75)."""
    slim = FeedingFacts(30, 23.0769, 737.0)
    data = {"standard": "nrc-2006", "conditions": [{"id": "overweight", "stage": "loss"}]}
    found = merged_targets(facts, read(TargetsRecord, data), slim).requirements.limits["CA"]
    assert found.minimum == pytest.approx(1000 * 131.22 * 23.0769**0.75 / 737, rel=1e-6)
    assert "held per kg^0.75" in found.origins[0].note
    assert found.origins[0].printed == "1 g per 1000 kcal (1875 held per kg^0.75)"


@pytest.mark.parametrize(
    ("targets", "field"),
    [
        ({"conditions": [{"id": "gout"}]}, "targets.conditions[0].id"),
        ({"conditions": [{"id": "ckd", "stage": "9"}]}, "targets.conditions[0].stage"),
        ({"conditions": [{"id": "ckd"}]}, "targets.conditions[0].stage"),
        ({"conditions": "ckd"}, "targets.conditions"),
        ({"decisions": [{"key": "CU", "bound": "min", "value": 1}]}, "targets.decisions[0].reason"),
        ({"decisions": [{"key": "AU", "bound": "min", "value": 1}]}, "targets.decisions[0].key"),
    ],
)
def test_targets_that_cannot_be(facts: Reference, targets: dict, field: str) -> None:
    with pytest.raises(InputError) as caught:
        merged_targets(
            facts, read(TargetsRecord, {"standard": "nrc-2006", **targets}, "targets"), FACTS
        )
    assert caught.value.field == field


def test_every_condition_and_stage_can_be_merged(facts: Reference) -> None:
    assert len(facts.conditions) >= 22
    for condition in facts.conditions.values():
        assert set(condition.recheck_days) == set(condition.stages) == set(condition.sign_off)
        for stage in condition.stages:
            found = merged(facts, (condition.id, stage))
            assert found.requirements.limits
            for item in condition.limits_at(stage):
                assert item.source
                assert item.confidence in {"high", "medium", "low"}


def test_aafco_columns_agree(facts: Reference) -> None:
    """The dry-matter column / 4 is the per-1000-kcal column within printed rounding."""
    import re

    rows = 0
    for stage in ("adult", "growth"):
        for limit in facts.standards["aafco-2016"].life_stages[stage].limits:
            match = re.match(r"DM ([\d.]+)", limit.note)
            if (
                not match
                or limit.minimum is None
                or "PRINTED DIFFERS" in limit.note
                or limit.key == "EPADHA"
            ):
                continue
            share = float(match[1])
            # Amounts of g are printed as % of dry matter: 1 % is 10 g/kg, at 4000 kcal/kg 2.5 g.
            expected = share * 2.5 if limit.unit == "g" else share / 4
            decimals = len(f"{limit.minimum}".partition(".")[2])
            assert limit.minimum == pytest.approx(expected, abs=0.51 * 10**-decimals + 1e-9), (
                limit.key
            )
            rows += 1
    assert rows >= 60


METABOLIC = {  # NRC 2006 adult RA per kg^0.75
    "PROCNT": 3.28, "ARG": 0.11, "HIS": 0.062, "ILE": 0.12, "LEU": 0.22, "LYS": 0.11, "MET": 0.11,
    "AAS": 0.21, "PHE": 0.15, "AAA": 0.24, "THR": 0.14, "TRP": 0.046, "VAL": 0.16, "FAT": 1.8,
    "F18D2N6": 0.36, "F18D3N3": 0.014, "CA": 130, "P": 100, "NA": 26.2, "CLD": 40, "MG": 19.7,
    "FE": 1.0, "CU": 0.2, "MN": 0.16, "ZN": 2.0, "ID": 29.6, "SE": 11.8, "VITA": 50, "VITD": 0.45,
    "TOCPHA": 1.0, "VITK1": 54, "THIA": 0.074, "RIBF": 0.171, "PANTAC": 0.49, "NIA": 0.57,
    "VITB6A": 0.049, "FOL": 8.9, "VITB12": 1.15, "CHOLN": 56,
}  # fmt: skip


@pytest.mark.parametrize(("key", "per_kg75"), METABOLIC.items())
def test_nrc_columns_agree(facts: Reference, key: str, per_kg75: float) -> None:
    """RA per 1000 kcal x 0.130 is RA per kg^0.75 within 4 %; EPA + DHA and potassium are known not to."""
    limits = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult").limits
    minimum = limits[key].minimum or limits[key].advised_min
    assert minimum * 0.130 == pytest.approx(per_kg75, rel=0.04, abs=0.0045)
