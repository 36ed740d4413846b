"""What an owner writes on her sheet: taken as it stands only where it says plainly what it is."""

from dataclasses import replace

import pytest
from wainscot_core.conventions import DEFAULT
from wainscot_core.dog.record import (
    CaseRecord,
    Diagnosis,
    DogRecord,
    IntakeRecord,
    Medicine,
    ReactionRecord,
)
from wainscot_core.dog.told import (
    Chosen,
    OwnersAnswer,
    Piece,
    Takes,
    check_answers,
    choices_of,
    piece_of,
)
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError

RECORD = CaseRecord(dog=DogRecord(name="Rowan", weight_kg=9.0, age_months=100))


def _piece(
    facts: Reference, what: str, words: str = "", chosen: Chosen = Chosen.UNSAID, of: CaseRecord = RECORD
) -> Piece:  # fmt: skip
    asked = next(x for x in facts.owners_sheet if x.id == what)
    return piece_of(asked, OwnersAnswer(id=what, words=words, chosen=chosen), of, DEFAULT)


@pytest.mark.parametrize(
    ("what", "words", "path", "value"),
    [
        ("age", "9 years", "dog.age_months", "9 years"),
        ("weight", "18 lb 4 oz", "dog.weight_kg", "18 lb 4 oz"),
        ("stool", "soft since Sunday", "intake.noticed.stool", "soft since Sunday"),
        ("cook", "Sundays", "intake.owner.cook", "Sundays"),
    ],
)
def test_plain_words_are_taken_as_they_were_written(
    facts: Reference, what: str, words: str, path: str, value: str
) -> None:
    piece = _piece(facts, what, words)
    assert [(c.path, c.value) for c in piece.changes] == [(path, value)]
    assert piece.why_not == "" and piece.says == words


@pytest.mark.parametrize(
    ("what", "words"),
    [
        # Months or years, kilograms or pounds: a bare figure says neither.
        ("age", "9"),
        ("weight", "18"),
        ("weight", "8,2"),
        ("weight", "about 8 kg"),
        ("age", "born in spring"),
        # Lists that are matched by name are written by hand.
        ("eats", "two cups of kibble"),
        ("reactions", "chicken, she scratches"),
        ("diagnosed", "a murmur"),
        ("more", "she is afraid of thunder"),
        # Too long for the field.
        ("stool", "x" * 301),
        ("medicines", "y" * 121),
        ("medicines", "\n".join(f"pill {i}" for i in range(21))),
    ],
)
def test_what_is_not_plain_is_not_taken(facts: Reference, what: str, words: str) -> None:
    piece = _piece(facts, what, words)
    assert piece.changes == () and piece.why_not
    assert piece.says == words


def test_medicines_are_added_a_line_each_to_those_there_are(facts: Reference) -> None:
    given = replace(RECORD, intake=IntakeRecord(medicines=(Medicine(name="pimobendan"),)))
    piece = _piece(facts, "medicines", "furosemide 10 mg twice\n\n  salmon oil\n", of=given)
    assert piece.stands == "pimobendan"
    assert [m["name"] for m in piece.changes[0].value] == [
        "pimobendan", "furosemide 10 mg twice", "salmon oil"
    ]  # fmt: skip
    # What stood there when it was looked at: whoever changed it meanwhile is not overwritten.
    assert [m["name"] for m in piece.changes[0].was] == ["pimobendan"]


def test_none_is_taken_only_where_there_is_none(facts: Reference) -> None:
    piece = _piece(facts, "medicines", chosen=Chosen.NONE)
    assert [(c.path, c.value) for c in piece.changes] == [("intake.medicines_asked", True)]
    given = replace(RECORD, intake=IntakeRecord(medicines=(Medicine(name="pimobendan"),)))
    assert _piece(facts, "medicines", chosen=Chosen.NONE, of=given).changes == ()
    reacts = replace(RECORD, reactions=(ReactionRecord(food="beef"),))
    assert _piece(facts, "reactions", chosen=Chosen.NONE, of=reacts).changes == ()
    ill = replace(RECORD, conditions=(Diagnosis(id="mmvd", stage="C"),))
    assert _piece(facts, "diagnosed", chosen=Chosen.NONE, of=ill).changes == ()


def test_yes_and_no_are_taken_by_choice_alone(facts: Reference) -> None:
    piece = _piece(facts, "neutered", chosen=Chosen.NO)
    assert [(c.path, c.value) for c in piece.changes] == [("dog.neutered", False)]
    assert _piece(facts, "weak", chosen=Chosen.YES).changes[0].value is True
    assert _piece(facts, "weak", "no").changes == ()
    # Words beside the choice may take it back.
    assert _piece(facts, "weak", "but a baby comes in May", Chosen.NO).changes == ()


def test_an_age_is_not_taken_beside_a_day_of_birth(facts: Reference) -> None:
    from datetime import date

    born = replace(RECORD, dog=replace(RECORD.dog, birth_date=date(2018, 1, 3)))
    assert _piece(facts, "age", "9 years", of=born).changes == ()


def test_what_the_record_has_stands_beside_it(facts: Reference) -> None:
    assert _piece(facts, "age", "9 years").stands == "8 years 4 months"
    assert _piece(facts, "weight", "9 kg").stands == "9.0 kg"
    assert _piece(facts, "stool", "soft").stands == ""
    home = replace(RECORD, intake=IntakeRecord(vulnerable_home=False))
    assert _piece(facts, "weak", chosen=Chosen.YES, of=home).stands == "no"


@pytest.mark.parametrize(
    ("answers", "field"),
    [
        ((), "answers"),
        ((OwnersAnswer(id="age"),), "answers"),
        ((OwnersAnswer(id="made-up", words="x"),), "answers[0].id"),
        ((OwnersAnswer(id="age", words="x"), OwnersAnswer(id="age", words="y")), "answers[1].id"),
        ((OwnersAnswer(id="age", chosen=Chosen.YES),), "answers[0].chosen"),
        ((OwnersAnswer(id="weak", chosen=Chosen.NONE),), "answers[0].chosen"),
        ((OwnersAnswer(id="medicines", words="x", chosen=Chosen.NONE),), "answers[0].words"),
    ],
)
def test_answers_that_cannot_be_are_refused(
    facts: Reference, answers: tuple[OwnersAnswer, ...], field: str
) -> None:
    with pytest.raises(InputError) as refused:
        check_answers(facts.owners_sheet, answers)
    assert refused.value.field == field


def test_what_says_nothing_is_left_out(facts: Reference) -> None:
    kept = check_answers(
        facts.owners_sheet, (OwnersAnswer(id="age", words="  "), OwnersAnswer(id="vet", words="Dr Lind"))
    )  # fmt: skip
    assert [a.id for a in kept] == ["vet"]


def test_every_question_has_its_field_and_its_own_name(facts: Reference) -> None:
    sheet = facts.owners_sheet
    assert len({x.id for x in sheet}) == len(sheet)
    for asked in sheet:
        for path in filter(None, (asked.field, asked.none)):
            value: object = RECORD
            for part in path.split("."):
                value = getattr(value, part)
        assert Chosen.YES in choices_of(asked) or asked.takes is not Takes.YES_NO
        assert asked.at in facts.intake.places
        # Everything a fresh case says beside it is nothing, or what it has.
        assert piece_of(asked, OwnersAnswer(id=asked.id, words="x"), RECORD, DEFAULT).what
