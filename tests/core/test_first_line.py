"""The first line about a dog: what is taken of it, and what is given back."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.dog.first_chips import ChipKind, FirstLine, opened
from wainscot_core.dog.first_line import read_first_line
from wainscot_core.dog.intake import missing_facts, open_questions
from wainscot_core.dog.record import CaseRecord, following, read_record
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError


def read(facts: Reference, text: str) -> FirstLine:
    return read_first_line(facts.line_facts, text)


def told(first: FirstLine) -> list[str]:
    return [f"{c.kind}={c.value}" + (f"/{c.stage}" if c.stage else "") for c in first.chips]


def left(first: FirstLine) -> list[str]:
    return [n.text for n in first.not_taken]


def case(name: str = "T") -> CaseRecord:
    return read_record({"dog": {"name": name, "weight_kg": 8}})


@pytest.mark.parametrize(
    ("text", "facts_told"),
    [
        (
            "Pip, 9 y, 18 lb, mitral valve disease C, furosemide",
            ["name=Pip", "age=9 y", "weight=18 lb", "diagnosis=mmvd/C", "medicine=furosemide"],
        ),
        (
            "Bruno 4 yo MN Labrador 32.5 kg BCS 7/9 chronic pancreatitis and high triglycerides over 500",
            ["name=Bruno", "age=4 y", "sex=male", "neutered=neutered", "breed=Labrador Retriever", "weight=32.5 kg",
             "body-condition=7", "diagnosis=pancreatitis/recurrent", "diagnosis=hypertriglyceridaemia/over-500"],
        ),
        (
            "Juno, spayed female, 3 years 2 months, 12,5 kg, reacts to chicken, beef and dairy",
            ["name=Juno", "sex=female", "neutered=neutered", "age=3 years 2 months", "weight=12,5 kg",
             "reaction=chicken", "reaction=beef", "reaction=dairy"],
        ),
        ("Maren Holt's Pip, MMVD, stage B2", ["owner=Maren Holt", "name=Pip", "diagnosis=mmvd/B2"]),
        ("Iris, 4.1kg, IRIS stage 2 CKD", ["name=Iris", "weight=4.1kg", "diagnosis=ckd/2"]),
        ("Mo, stage 3 kidney disease, ideal weight 8 kg", ["name=Mo", "diagnosis=ckd/3", "ideal-weight=8 kg"]),
        ("Rex, not neutered, no known allergies", ["name=Rex", "neutered=entire", "no-reactions=none"]),
        ("9 y Cavalier, chicken allergy", ["age=9 y", "breed=Cavalier King Charles Spaniel", "reaction=chicken"]),
        ("Mo, hypothyroid", ["name=Mo", "diagnosis=hypothyroidism/treated"]),
    ],
)  # fmt: skip
def test_a_line_is_read(facts: Reference, text: str, facts_told: list[str]) -> None:
    first = read(facts, text)
    assert told(first) == facts_told
    assert left(first) == []


@pytest.mark.parametrize(
    "text",
    [
        "no pancreatitis", "suspected DCM", "mother had DCM", "history of pancreatitis", "DCM?", "MMVD ruled out",
        "off furosemide", "was on prednisolone", "never neutered", "not spayed female", "pancreatitis resolved",
        "no diabetes, epilepsy or pancreatitis", "no diabetes, epilepsy, arthritis or pancreatitis", "without chicken allergy", "never had MMVD C", "was 20 lb in May",
        "screening for CKD stage 2", "diabetes free",
        "lost 2 kg", "gained 1 kg since May", "2 kg over",
    ],
)  # fmt: skip
def test_what_is_denied_or_not_of_today_is_not_taken(facts: Reference, text: str) -> None:
    first = read(facts, f"Pip, {text}")
    wrong = {ChipKind.DIAGNOSIS, ChipKind.MEDICINE, ChipKind.REACTION, ChipKind.WEIGHT}
    assert not wrong & {c.kind for c in first.chips}
    assert all(c.value != "neutered" for c in first.chips)
    assert first.not_taken or "not spayed" in text


@pytest.mark.parametrize(
    ("text", "kept"),
    [
        ("Mo, 9, 18", ["9", "18"]),
        ("Mo, 8 kg, 9 kg", ["9 kg"]),
        ("Mo, 8 kg, lost 2 kg", ["lost", "2 kg"]),
        ("Mo, furosemide for 2 years", ["for", "2 years"]),
        ("Mo, BCS 4/5", ["BCS 4/5"]),
        ("Mo, 300 kg", ["300 kg"]),
        ("Mo, 45 years", ["45 years"]),
        ("Mo, Cavalier x poodle", ["Cavalier x", "poodle"]),
        ("Mo, eats 2 cups kibble", ["eats 2 cups kibble"]),
        ("Mo, allergic to kangaroo", ["kangaroo"]),
        ("Mo, furosemide 10 mg, furosemide 20 mg", ["furosemide 20 mg"]),
    ],
)
def test_what_is_not_sure_is_given_back(facts: Reference, text: str, kept: list[str]) -> None:
    assert left(read(facts, text)) == kept


@pytest.mark.parametrize("text", ["Mo, MMVD", "Mo, MMVD B1, MMVD C", "Mo, mmvd a few years"])
def test_no_stage_is_taken_for_granted(facts: Reference, text: str) -> None:
    first = read(facts, text)
    chip = next(c for c in first.chips if c.kind is ChipKind.DIAGNOSIS)
    assert (chip.value, chip.stage) == ("mmvd", "")
    assert [s.id for s in chip.stages] == ["A", "B1", "B2", "C", "D"]
    unsaid = opened(facts.conditions, first, case(), frozenset(), {})
    assert unsaid.conditions == ()
    # It is asked, and counts for nothing before.
    assert [(c.id, c.stage) for c in unsaid.intake.unstaged] == [("mmvd", "")]
    asked = open_questions(facts.intake, unsaid, growing=False)
    assert "Mitral valve disease, heart failure: which stage?" in [q.ask for q in asked]
    assert any("stage of Mitral" in m.what for m in missing_facts(facts.intake, unsaid, False))
    said = opened(facts.conditions, first, case(), frozenset(), {chip.id: "B2"})
    assert [(c.id, c.stage) for c in said.conditions] == [("mmvd", "B2")]
    assert said.intake.unstaged == ()
    # Once a condition stands with its stage, it is not one without.
    both = replace(unsaid, conditions=said.conditions)
    assert following(unsaid.intake.red_flags, both).intake.unstaged == ()
    assert following(unsaid.intake.red_flags, unsaid).intake.unstaged == unsaid.intake.unstaged


def test_a_record_is_opened_with_what_was_confirmed(facts: Reference) -> None:
    line = "Pip, 9 y 3 m, 18 lb, FS, BCS 6, MMVD C, furosemide 10 mg twice daily, pimobendan, chicken allergy, limps"
    record = opened(
        facts.conditions, read(facts, line), case("Pip"), frozenset({"medicine:pimobendan"}), {}
    )
    assert (record.dog.age_months, record.dog.body_condition) == (111, 6)
    assert (record.dog.sex.value, record.dog.neutered) == ("female", True)
    assert [(c.id, c.name, c.stage) for c in record.conditions] == [
        ("mmvd", "Mitral valve disease, heart failure", "C")
    ]
    assert [(m.name, m.dose) for m in record.intake.medicines] == [
        ("furosemide", "10 mg twice daily")
    ]
    assert [r.food for r in record.reactions] == ["chicken"]
    assert "limps" in record.notes
    # Nobody said that these are all.
    assert not record.intake.medicines_asked
    assert not record.intake.reactions_asked
    # The weight is told in its own box, and stays.
    assert record.dog.weight_kg == 8


def test_a_line_is_no_letter(facts: Reference) -> None:
    with pytest.raises(InputError, match="longer than a line"):
        read(facts, "x" * 401)


PIECES = ["Pip", "9 y", "18 lb", "MMVD C", "no pancreatitis", "Cavalier", "furosemide 10 mg", "reacts to beef", "MN", "?", "é(", "9", "x x", "''s"]  # fmt: skip


@given(st.lists(st.sampled_from(PIECES), max_size=8), st.sampled_from([", ", " ", "; ", "\n"]))
def test_no_word_vanishes(facts: Reference, pieces: list[str], join: str) -> None:
    """Every word is in a fact, in what is left, or says nothing by itself."""
    text = join.join(pieces)
    first = read(facts, text)
    seen = " ".join([*(c.text for c in first.chips), *left(first)]).lower()
    filler = facts.first_words.filler
    for word in text.replace(",", " ").replace(";", " ").replace("(", " ").split():
        known = word.lower().strip(".:'\"!")
        # "reacts to" stands in what the fact says.
        assert (
            known in filler | {"reacts", "to"}
            or not any(c.isalnum() for c in word)
            or known in seen
        )
    assert len({c.id for c in first.chips}) == len(first.chips) or "10 mg" in text
