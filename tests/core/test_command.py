"""The command line of a case: what is taken as an end of a window, and what is not."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.case.command import read_command
from wainscot_core.case.targets_view import Targets, targets_view
from wainscot_core.dog.record import read_record
from wainscot_core.dossier.dossier import energy_of, feeding_facts, merged_targets
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import targets_of


@pytest.fixture(scope="module")
def targets(facts: Reference) -> Targets:
    """Of a dog of 16 kg at 500 kcal a day."""
    record = read_record(
        {
            "dog": {"name": "T", "weight_kg": 16}, "energy_method": "kcal_per_day",
            "kcal_per_day": 500, "standard": "aafco-2016", "life_stage": "adult",
        }
    )  # fmt: skip
    energy = energy_of(
        facts, record.dog, record.energy_method, record.multiplier, record.kcal_per_day
    )
    feeding = feeding_facts(facts, record.dog, energy, record.me_method)
    merged = merged_targets(facts, targets_of(record), feeding)
    return targets_view(facts, record, merged, energy.target_kcal)


@pytest.mark.parametrize(
    ("text", "key", "bound", "value"),
    [
        ("sodium below 600", "NA", "max", 600),
        ("Sodium BELOW 600 mg", "NA", "max", 600),
        ("sodium <= 0.6 g", "NA", "max", 600),
        ("sodium < 600mg per 1000 kcal", "NA", "max", 600),
        ("fat under 25g per 1000kcal", "FAT", "max", 25),
        ("keep sodium under 600 mg/Mcal", "NA", "max", 600),
        # At 500 kcal a day, 300 mg a day are 600 mg per 1000 kcal.
        ("sodium at most 300 mg a day", "NA", "max", 600),
        ("sodium at most 300 mg/day", "NA", "max", 600),
        ("protein at least 60 g", "PROCNT", "min", 60),
        ("at least 60 g of protein", "PROCNT", "min", 60),
        ("at least 60 protein", "PROCNT", "min", 60),
        ("min protein 60", "PROCNT", "min", 60),
        ("max fat 25 g", "FAT", "max", 25),
        ("fat no more than 25 g", "FAT", "max", 25),
        ("fat not over 25", "FAT", "max", 25),
        ("protein not under 60", "PROCNT", "min", 60),
        ("iodine over 0.3 mg", "ID", "min", 300),
        # 1 IU of cholecalciferol is 0.025 µg.
        ("vitamin D below 800 IU", "VITD", "max", 20),
        ("B12 above 10", "VITB12", "min", 10),
        ("vitamin b12 above 10 mcg", "VITB12", "min", 10),
        ("calcium to phosphorus below 1.8", "CA_P", "max", 1.8),
        ("Ca:P at least 1.2:1", "CA_P", "min", 1.2),
        ("potassium > 1 1/2 g", "K", "min", 1500),
        ("phosphorus max 1 200 mg", "P", "max", 1200),
    ],
)
def test_an_end_is_read(
    facts: Reference, targets: Targets, text: str, key: str, bound: str, value: float
) -> None:
    found = read_command(facts, targets, text)
    assert found.problem == ""
    assert found.limit is not None
    assert (found.limit.key, found.limit.bound) == (key, bound)
    assert found.limit.value == pytest.approx(value)


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("sodium below 600 kcal", "held in mg, not in kcal"),
        ("sodium below 600 IU", "held in mg, not in IU"),
        ("sodium below 30 %", "held in mg, not in %"),
        ("sodium below 1,200 mg", "can be 1200 or 1.200"),
        ("sodium below 500-600 mg", "two figures"),
        ("sodium between 500 and 600, max", "one figure"),
        ("sodium at least 300 and at most 600", "two sides"),
        ("salt below 2 g", "names no window"),
        ("sodium and potassium below 600", "names no window"),
        ("sodium below 600 mg per kg", "names no window"),
        ("sodium below 600 mg dry matter", "names no window"),
        ("Ca:P below 2 mg", "is a ratio"),
        ("Ca:P below 2 a day", "is a ratio"),
        ("Ca:P below 150 %", "is a ratio"),
        ("below 600", "say a nutrient"),
        ("sodium below -600", "above zero"),
        ("sodium below 0", "above zero"),
        ("sodium below 600 mg per 100 kcal", "one figure"),
        ("fat below 20 % of energy", "“fat energy” names no window"),
        # Nothing is cut off: what stands at the end may say what the figure is held against.
        ("sodium below 600 mg" + " " * 200 + "per kg", "longer than"),
    ],
)
def test_what_is_not_understood_is_said_and_not_taken(
    facts: Reference, targets: Targets, text: str, why: str
) -> None:
    found = read_command(facts, targets, text)
    assert found.limit is None
    assert why in found.problem


@pytest.mark.parametrize(
    "text", ["", "turkey 200 g", "Juniper plan", "sodium", "max", "200 g turkey"]
)
def test_what_moves_no_end_is_no_problem(facts: Reference, targets: Targets, text: str) -> None:
    found = read_command(facts, targets, text)
    assert (found.limit, found.problem) == (None, "")
    assert found.adds is ("200 g" in text)


def test_windows_are_found_by_their_first_letters(facts: Reference, targets: Targets) -> None:
    def names(text: str) -> list[str]:
        return [w.key for w in read_command(facts, targets, text).windows]

    assert names("sod") == ["NA"]
    assert "FAT" in names("fat")
    assert names("epa+dha") != []
    assert names("nothing of the kind") == [] == names("")


def test_where_the_end_is_now_is_told(facts: Reference, targets: Targets) -> None:
    protein = next(x for x in targets.limits if x.key == "PROCNT")
    found = read_command(facts, targets, "protein at least 60").limit
    assert found is not None and found.now == protein.min
    assert (found.unit, found.typed) == ("g", "60")
    day = read_command(facts, targets, "sodium below 300 mg a day").limit
    assert day is not None and day.typed == "300 mg a day"


@pytest.mark.parametrize(
    ("text", "value"),
    # At 500 kcal a day: 246.914 and 61.73 are written with four figures, never looser than they were asked for.
    [
        ("sodium below 123.457 mg a day", 246.9),
        ("protein at least 30.863 g a day", 61.73),
        ("protein at least 30.861 g a day", 61.73),
        ("sodium below 300 mg a day", 600),
    ],
)
def test_what_is_worked_out_is_never_looser(
    facts: Reference, targets: Targets, text: str, value: float
) -> None:
    found = read_command(facts, targets, text).limit
    assert found is not None and found.value == value


@given(st.text(max_size=60))
def test_no_text_breaks_it(facts: Reference, targets: Targets, text: str) -> None:
    found = read_command(facts, targets, text)
    assert found.limit is None or found.limit.value > 0
