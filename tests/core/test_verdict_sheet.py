"""For how long a recipe may be fed as it is, and the page that says so."""

from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from wainscot_core.analysis.adequacy import Status
from wainscot_core.conventions import Conventions
from wainscot_core.documents.paper import Document, Table
from wainscot_core.documents.verdict import MOST_NAMED, Taking, answer_of, verdict_sheet
from wainscot_core.dog.as_it_is import Lacks, Span, as_it_is
from wainscot_core.dog.life_stage import Stage
from wainscot_core.dog.record import CaseRecord, as_plain_adult, read_record
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import FORMAT, open_case
from wainscot_core.recipe.line import LineText, read_all
from wainscot_core.snapshot.freeze import freeze_recipe
from wainscot_core.snapshot.snapshot import Parties, Snapshot

SOON, LATER = {"CA": "Calcium"}, {"ID": "Iodine"}


@pytest.mark.parametrize(
    ("stage", "ill", "unsafe", "off", "span", "days"),
    [
        (Stage.ADULT, (), (), {}, Span.ON, None),
        (Stage.ADULT, (), (), LATER, Span.DAYS, 56),
        (Stage.SENIOR, (), (), {**LATER, **SOON}, Span.DAYS, 5),
        (Stage.GROWTH, (), (), LATER, Span.NOT, None),
        (Stage.LACTATION, (), (), SOON, Span.NOT, None),
        (Stage.ADULT, ("Pancreatitis",), (), LATER, Span.NOT, None),
        (Stage.ADULT, (), ("Onion",), {}, Span.NOT, None),
        # Nobody knows how old it is: it may be growing.
        (None, (), (), LATER, Span.NOT, None),
        (None, (), (), {}, Span.ON, None),
    ],
)
def test_for_how_long(
    facts: Reference, stage: Stage | None, ill: Any, unsafe: Any, off: Any, span: Span, days: Any
) -> None:
    found = as_it_is(facts.as_it_is, stage, ill, Lacks(unsafe, off))
    assert (found.span, found.days) == (span, days)
    for name in (*ill, *unsafe, *off.values()):
        assert name in found.why or span is Span.DAYS


def test_what_is_missed_within_weeks_is_of_the_catalogue(facts: Reference) -> None:
    known = {n.key for n in facts.catalogue.nutrients} | {r.key for r in facts.catalogue.ratios}
    assert facts.as_it_is.soon <= known
    assert all(source for source, _ in facts.as_it_is.sources.values())


def snapshot(facts: Reference, *amounts: tuple[str, str], months: int | None = 60) -> Snapshot:
    dog: dict[str, Any] = {"name": "Hazel", "weight_kg": 12}
    if months is not None:
        dog["age_months"] = months
    case = {
        "format": FORMAT, "version": 1, "dog": dog, "energy": {"kcal_per_day": 700},
        "targets": {"standard": "nrc-2006"}, "recipe": {"covers_days": 1, "lines": []},
    }  # fmt: skip
    record: CaseRecord = read_record({"dog": dog})
    texts = [LineText(food, quantity) for food, quantity in amounts]
    lines = read_all(facts.methods, facts.library, texts)
    dossier = open_case(facts, case).dossier.with_lines(lines)
    parties = Parties(practice="Larch Lane", client="Ada Rowan", conventions=Conventions())
    return freeze_recipe(dossier, record, parties, "Chicken and rice", date(2026, 11, 27))


def sheet(facts: Reference, kept: Snapshot, taking: Taking) -> Document:
    return verdict_sheet(kept, facts.as_it_is, taking, "Hazel", "As it stood")


def words_of(made: Document) -> str:
    said = []
    for section in made.sections:
        said.append(section.title)
        for block in section.blocks:
            if isinstance(block, Table):
                said += [" ".join(row) for row in block.rows]
            else:
                items = block.items if block.form == "points" else (block,)
                said += [f"{item.lead} {item.text}" for item in items]
    return "\n".join(said)


def test_chicken_and_rice_is_for_days(facts: Reference) -> None:
    kept = snapshot(facts, ("usda:05062", "300 g"), ("usda:20445", "400 g"))
    said = words_of(sheet(facts, kept, Taking([("Eggshell powder", "1 tsp")], ["Iodine"])))
    assert "For at most 5 days" in said
    # 300 g of breast hold 15 mg calcium and 400 g of boiled rice 40 mg: some 6 % of 1000 mg per 1000 kcal.
    assert "Calcium" in said and "Eggshell powder 1 tsp" in said
    assert "Still not right with them: Iodine." in said


def test_every_lack_is_named_on_the_page(facts: Reference) -> None:
    kept = snapshot(facts, ("usda:04053", "80 g"))
    analysis = kept.of_recipe.analysis
    short = [n.name for n in analysis.nutrients if n.status in {"short", "unproven"}]
    assert len(short) > MOST_NAMED
    said = words_of(sheet(facts, kept, Taking([], [])))
    assert [name for name in short if name not in said] == []
    assert "its foods themselves have to change" in said
    assert "veterinarian decides" in words_of(sheet(facts, kept, Taking([], [], undecided=True)))


def test_onion_is_not_for_a_day(facts: Reference) -> None:
    kept = snapshot(facts, ("usda:05062", "300 g"), ("usda:11282", "100 g"))
    answer = answer_of(kept, facts.as_it_is)
    assert answer.span is Span.NOT and "nion" in answer.why


def test_an_unknown_age_is_not_taken_for_grown_up(facts: Reference) -> None:
    grown = snapshot(facts, ("usda:05062", "300 g"))
    unknown = snapshot(facts, ("usda:05062", "300 g"), months=None)
    assert answer_of(grown, facts.as_it_is).span is Span.DAYS
    assert answer_of(unknown, facts.as_it_is).span is Span.NOT


def test_what_is_not_known_counts_as_missing(facts: Reference) -> None:
    kept = snapshot(facts, ("usda:05062", "300 g"))
    recipe = kept.of_recipe

    def standing(calcium: Status) -> Snapshot:
        nutrients = tuple(
            replace(n, status=calcium if n.key == "CA" else Status.MET)
            for n in recipe.analysis.nutrients
        )
        ratios = tuple(replace(r, status=Status.MET) for r in recipe.analysis.ratios)
        told = replace(recipe.analysis, nutrients=nutrients, ratios=ratios, flags=())
        return replace(kept, recipe=replace(recipe, analysis=told))

    assert answer_of(standing(Status.MET), facts.as_it_is).span is Span.ON
    assert answer_of(standing(Status.UNPROVEN), facts.as_it_is).days == 5


def test_a_plain_adult_has_nothing_against_it(facts: Reference) -> None:
    record = read_record(
        {"dog": {"name": "Hazel", "weight_kg": 3, "age_months": 4, "gestation_week": 5},
         "conditions": [{"id": "ckd", "stage": "2"}], "life_stage": "growth", "kcal_per_day": 400,
         "reactions": [{"food": "chicken"}]}
    )  # fmt: skip
    plain = as_plain_adult(record)
    assert (plain.conditions, plain.reactions, plain.life_stage) == ((), (), "adult")
    assert plain.dog.age_months == 48 and plain.dog.gestation_week is None
    assert replace(plain.dog, age_months=4, gestation_week=5) == record.dog
    assert plain.kcal_per_day == 400
