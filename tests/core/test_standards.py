"""Published limits in catalogue units."""

import pytest
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.targets.standards import requirement_set
from wainscot_core.units import convert


@pytest.mark.parametrize(
    ("standard", "stage", "key", "minimum", "maximum"),
    [
        # Hand conversions of the printed figures.
        ("nrc-2006", "adult", "CA", 1000, None),
        ("nrc-2006", "adult", "NA", 200, 3750),
        ("nrc-2006", "adult", "PROCNT", 25, None),
        ("nrc-2006", "adult", "VITD", 3.4, 20),
        ("aafco-2016", "adult", "CA", 1250, 6250),
        ("aafco-2016", "adult", "VITD", 125 * 0.025, 750 * 0.025),
        ("aafco-2016", "adult", "VITA", 1250 * 0.3, None),
        ("aafco-2016", "adult", "RETOL", None, 62500 * 0.3),
        ("aafco-2016", "adult", "TOCPHA", 12.5 / 1.49, None),
        ("aafco-2016", "adult", "ID", 250, 2750),
        ("aafco-2016", "adult", "CA_P", 1, 2),
        ("aafco-2016", "growth-large", "CA", 3000, 4500),
        ("aafco-2016", "growth", "CA", 3000, 6250),
        ("fediaf-2021", "adult-mer110", "PROCNT", 45, None),
        ("fediaf-2021", "adult-mer95", "PROCNT", 52.1, None),
        ("fediaf-2021", "growth-late-large-under-6mo", "CA", 2500, 4500),
        ("fediaf-2021", "growth-late-large-under-6mo", "CA_P", 1, 1.6),
        ("fediaf-2021", "growth-late-large-under-6mo", "PROCNT", 50, None),
        ("fediaf-2021", "growth-late-large-over-6mo", "CA_P", 1, 1.8),
        ("fediaf-2021", "growth-late-small", "CA", 2000, 4500),
        # The legal maximums hold for added amounts only and are none of its own.
        ("fediaf-2021", "adult-mer110", "SE", 57.5, None),
        ("fediaf-2021", "adult-mer110", "CU", 1.8, None),
        ("fediaf-2021", "growth-early", "VITD", 138 * 0.025, 800 * 0.025),
        ("aafco-2016", "adult", "N6_N3", None, 30),
        ("aafco-2016", "growth", "N6_N3", None, 30),
        ("aafco-2016", "growth-large", "N6_N3", None, 30),
        # NRC 2006 table 15-8, a 22 kg bitch with 8 pups.
        ("nrc-2006", "gestation-lactation", "PROCNT", 50, None),
        ("nrc-2006", "gestation-lactation", "LYS", 2.25, None),
        ("nrc-2006", "gestation-lactation", "LEU", 5.0, None),
        ("nrc-2006", "gestation-lactation", "ZN", 24, None),
        ("nrc-2006", "gestation-lactation", "CU", 3.1, None),
        ("nrc-2006", "gestation-lactation", "FE", 17, None),
        ("nrc-2006", "gestation-lactation", "NA", 500, None),
        ("nrc-2006", "gestation-lactation", "CLD", 750, None),
        ("nrc-2006", "gestation-lactation", "FAT", 21.3, 82.5),
        ("nrc-2006", "growth-4-14wk", "ZN", 25, None),
        ("fediaf-2021", "growth-early", "F20D4N6", 0.075, None),
    ],
)
def test_limits(facts: Reference, standard, stage, key, minimum, maximum) -> None:
    limit = requirement_set(facts.catalogue, facts.standards[standard], stage).limits[key]
    assert limit.minimum == (None if minimum is None else pytest.approx(minimum))
    assert limit.maximum == (None if maximum is None else pytest.approx(maximum))


def test_every_limit_says_where_it_comes_from(facts: Reference) -> None:
    for standard in facts.standards.values():
        for stage, found in standard.life_stages.items():
            assert bool(found.limits) != bool(found.between), stage
            for limit in requirement_set(facts.catalogue, standard, stage).limits.values():
                assert limit.origins
                for origin in limit.origins:
                    assert origin.citation and origin.confidence in {"high", "medium", "low"}
                    assert origin.checked is False
                if limit.minimum is not None and limit.maximum is not None:
                    assert limit.minimum < limit.maximum


def test_vitamin_k_of_the_allowances_is_advice(facts: Reference) -> None:
    """The allowance is of menadione and gut bacteria supply it: food is not failed against it."""
    limit = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult").limits["VITK1"]
    assert (limit.minimum, limit.advised_min) == (None, pytest.approx(410))


def test_unknown_life_stage_lists_the_known(facts: Reference) -> None:
    with pytest.raises(InputError, match="growth-early"):
        requirement_set(facts.catalogue, facts.standards["fediaf-2021"], "retired")


@pytest.mark.parametrize(
    ("key", "value", "unit", "to", "expected"),
    [
        ("CA", 1, "g", "mg", 1000),
        ("ID", 0.25, "mg", "ug", 250),
        ("VITD", 10_000, "IU", "ug", 250),
        ("VITA", 3.3333, "IU", "ug", 1),
        ("TOCPHA", 1.49, "IU", "mg", 1),
        ("VITD", 1, "ug", "IU", 40),
    ],
)
def test_unit_conversions(key, value, unit, to, expected) -> None:
    assert convert(key, value, unit, to) == pytest.approx(expected, rel=1e-4)


def test_no_international_unit_for_calcium() -> None:
    with pytest.raises(ValueError, match="international unit"):
        convert("CA", 1, "IU", "mg")
