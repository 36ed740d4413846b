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
        ("nrc-2006", "adult", "VITK1", 410, None),
        ("aafco-2016", "adult", "CA", 1250, 6250),
        ("aafco-2016", "adult", "VITD", 125 * 0.025, 750 * 0.025),
        ("aafco-2016", "adult", "VITA", 1250 * 0.3, None),
        ("aafco-2016", "adult", "RETOL", None, 62500 * 0.3),
        ("aafco-2016", "adult", "TOCPHA", 12.5 / 1.49, None),
        ("aafco-2016", "adult", "ID", 250, 2750),
        ("aafco-2016", "adult", "CA_P", 1, 2),
        ("aafco-2016", "growth-large", "CA", 3000, 4500),
        ("aafco-2016", "growth", "CA", 3000, 6250),
        ("fediaf-2021", "adult", "PROCNT", 45, None),
        ("fediaf-2021", "growth-early", "F20D4N6", 0.075, None),
    ],
)
def test_limits(facts: Reference, standard, stage, key, minimum, maximum) -> None:
    limit = requirement_set(facts.catalogue, facts.standards[standard], stage).limits[key]
    assert limit.minimum == (None if minimum is None else pytest.approx(minimum))
    assert limit.maximum == (None if maximum is None else pytest.approx(maximum))


def test_every_limit_says_where_it_comes_from(facts: Reference) -> None:
    for standard in facts.standards.values():
        for stage in standard.life_stages:
            for limit in requirement_set(facts.catalogue, standard, stage).limits.values():
                assert limit.origins
                for origin in limit.origins:
                    assert origin.citation and origin.confidence in {"high", "medium", "low"}
                    assert origin.checked is False
                if limit.minimum is not None and limit.maximum is not None:
                    assert limit.minimum < limit.maximum


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
