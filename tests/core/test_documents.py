"""Documents say what their snapshot holds, in figures a person can weigh by."""

from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from wainscot_core.analysis.adequacy import Status
from wainscot_core.confidence import Confidence
from wainscot_core.conventions import REGIONS, Conventions, FoodUnit, Region
from wainscot_core.documents import document
from wainscot_core.documents.paper import Document, DocumentKind, Points, Table, Tone, Words
from wainscot_core.dog.record import CaseRecord, Diagnosis
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.foods import Grade
from wainscot_core.findings import Finding, Kind, Level
from wainscot_core.formats.casefile import dossier_of, read_case_file, record_of
from wainscot_core.snapshot.freeze import freeze_recipe
from wainscot_core.snapshot.snapshot import FrozenSource, Parties, Snapshot

PARTIES = Parties(practice="Larch Lane", client="Maren Holt")


def frozen(facts: Reference, days: float = 4, parties: Parties = PARTIES, **more: Any) -> Snapshot:
    data = {
        "format": "wainscot-case",
        "version": 1,
        "dog": {"name": "Juniper", "weight_kg": 8.2, "age_months": 108, "body_condition": 5},
        "energy": {"method": "rer-multiplier", "multiplier": 1.6},
        "targets": {"standard": "nrc-2006", "life_stage": "adult"},
        "recipe": {
            "covers_days": days, "name": "Stew",
            "lines": [
                {"food": "usda:05062", "grams": 720},
                {"food": "usda:20045", "amount": 4, "unit": "cup"},
                {"food": "supp:zinc-gluconate", "grams": 0.25},
            ],
        },
        **more,
    }  # fmt: skip
    file = read_case_file(data)
    return freeze_recipe(
        dossier_of(facts, file), record_of(file), parties, "Stew", date(2026, 11, 26)
    )


def text_of(made: Document) -> str:
    said = [made.title, *made.aside]
    for section in made.sections:
        said.append(section.title)
        for block in section.blocks:
            said += words_of(block)
    said += [w for item in made.foot for w in words_of(item)] + list(made.fine)
    return "\n".join(said)


def words_of(block: Words | Points | Table) -> list[str]:
    if isinstance(block, Words):
        return [f"{block.lead} {block.text}".strip()]
    if isinstance(block, Points):
        return [w for item in block.items for w in words_of(item)]
    return [" | ".join(row) for row in (*block.rows, block.total) if row]


def lines_of(made: Document) -> Table:
    return next(b for s in made.sections for b in s.blocks if isinstance(b, Table))


def test_the_sheet_gives_batch_day_and_meal_in_grams(facts: Reference) -> None:
    made = document(DocumentKind.SHEET, frozen(facts), "Version 3, stew")
    assert made.title == "Juniper: Stew" and made.aside == ("Larch Lane", "Version 3, stew")
    rows = lines_of(made).rows
    # 720 g for four days in two meals a day.
    assert rows[0][1:4] == ("720", "180", "90")
    # Four cups of cooked rice at 158 g.
    assert rows[1][1:] == ("632", "158", "79", "4 cups")
    # A quarter of a gram is not a third of one, and a thirtieth is still there.
    assert rows[2][1:4] == ("0.25", "0.063", "0.031")
    # (720 + 632 + 0.25) g, a quarter of it a day.
    assert lines_of(made).total[1:4] == ("1352", "338", "169")
    assert "For Maren Holt. Juniper weighs 8.2 kg. This batch feeds 4 days: 338 g" in text_of(made)


@pytest.mark.parametrize(
    ("days", "said"), [(1, "feeds 1 day:"), (7.5, "feeds 7.5 days:"), (12, "feeds 12 days:")]
)
def test_days_are_said_as_they_are(facts: Reference, days: float, said: str) -> None:
    assert said in text_of(document(DocumentKind.SHEET, frozen(facts, days), "x"))


@pytest.mark.parametrize(
    ("error", "said"),
    [
        (0.04, "4 cups"), (-0.05, "4 cups"), (0.06, "4 cups (+6\u202f% off: weigh it)"),
        (-0.2, "4 cups (−20\u202f% off: weigh it)"), (None, "4 cups"),
    ],
)  # fmt: skip
def test_a_kitchen_measure_that_misses_says_by_how_much(
    facts: Reference, error: float | None, said: str
) -> None:
    rice = replace(frozen(facts).of_recipe.analysis.recipe.lines[1], household_error=error)
    assert sheet_with(facts, rice).rows[1][4] == said
    assert sheet_with(facts, replace(rice, household=None)).rows[1][4] == "weigh it"


def sheet_with(facts: Reference, line: Any) -> Table:
    """The sheet's lines with another second line."""
    kept = frozen(facts)
    recipe = kept.of_recipe
    whole = recipe.analysis.recipe
    lines = (whole.lines[0], line, *whole.lines[2:])
    analysis = replace(recipe.analysis, recipe=replace(whole, lines=lines))
    changed = replace(kept, recipe=replace(recipe, analysis=analysis))
    return lines_of(document(DocumentKind.SHEET, changed, "x"))


def test_a_cooked_line_says_what_is_left_of_it(facts: Reference) -> None:
    rice = replace(
        frozen(facts).of_recipe.analysis.recipe.lines[1],
        preparation_label="simmered, broth kept", fed_grams=505.4,
    )  # fmt: skip
    assert sheet_with(facts, rice).rows[1][0].endswith(", simmered, broth kept (gives 505 g)")


def test_what_rests_mostly_on_estimates_is_said(facts: Reference) -> None:
    kept = frozen(facts)
    recipe = kept.of_recipe
    shares = {"CA": 0.5, "P": 0.51, "K": 1.0}
    nutrients = tuple(
        replace(n, status=Status.MET, estimated_share=shares.get(n.key, 0.0))
        for n in recipe.analysis.nutrients
    )
    analysis = replace(recipe.analysis, nutrients=nutrients)
    changed = replace(kept, recipe=replace(recipe, analysis=analysis))
    said = text_of(document(DocumentKind.SHEET, changed, "x"))
    line = next(w for w in said.splitlines() if w.startswith("Rests mostly on estimates"))
    assert line.endswith(": Phosphorus, Potassium.")


def test_every_limit_that_is_not_met_is_named_once(facts: Reference) -> None:
    kept = frozen(facts)
    said = text_of(document(DocumentKind.SHEET, kept, "x"))
    analysis = kept.of_recipe.analysis
    assert "Every limit is met" not in said
    for status, lead in ((Status.SHORT, "Short: "), (Status.UNPROVEN, "Unproven, because")):
        line = next((w for w in said.splitlines() if w.startswith(lead)), "")
        named = [x.name for x in (*analysis.nutrients, *analysis.ratios) if x.status is status]
        assert named and all(name in line for name in named), status


def test_every_limit_is_met_is_said_only_when_it_is(facts: Reference) -> None:
    kept = frozen(facts)
    recipe = kept.of_recipe
    met = tuple(replace(n, status=Status.MET) for n in recipe.analysis.nutrients)
    fine = tuple(replace(r, status=Status.NO_LIMIT) for r in recipe.analysis.ratios)

    def said(**changes: Any) -> str:
        analysis = replace(recipe.analysis, **{"nutrients": met, "ratios": fine, **changes})
        changed = replace(kept, recipe=replace(recipe, analysis=analysis))
        return text_of(document(DocumentKind.SHEET, changed, "x"))

    assert "Every limit is met." in said()
    for bad in (Status.SHORT, Status.OVER, Status.ABOVE_SAFE, Status.UNPROVEN):
        off_board = replace(met[-1], status=bad, board=False)
        assert "Every limit is met." not in said(nutrients=(*met[:-1], off_board)), bad
        assert "Every limit is met." not in said(ratios=(replace(fine[0], status=bad), *fine[1:]))


def test_a_block_stands_before_a_warning_and_a_note_is_left_out(facts: Reference) -> None:
    kept = frozen(facts)
    recipe = kept.of_recipe
    flags = tuple(
        Finding(kind=Kind.HAZARD, level=level, what=f"{level} of it", why="because", do="do that")
        for level in (Level.NOTE, Level.WARN, Level.BLOCK)
    )
    changed = replace(kept, recipe=replace(recipe, analysis=replace(recipe.analysis, flags=flags)))
    said = text_of(document(DocumentKind.SHEET, changed, "x"))
    assert said.index("Block of it. Because. Do that.") < said.index("Warn of it.")
    assert "Note of it" not in said


def test_what_the_vet_must_decide_stands_apart(facts: Reference) -> None:
    chelation = {"id": "copper-hepatopathy", "stage": "chelation"}
    targets = {"standard": "nrc-2006", "life_stage": "adult", "conditions": [chelation]}
    made = document(DocumentKind.SHEET, frozen(facts, targets=targets), "x")
    loud = [s for s in made.sections if s.tone is Tone.DECIDE]
    assert [s.title for s in loud] == ["For the vet to sign off"]
    said = [w for block in loud[0].blocks for w in words_of(block)]
    assert said[0] == "Limits under the standard's minimum, on purpose: Copper."
    assert "at least 1.5 mg" in said[1] and said[1].endswith("Not decided yet.")
    # And without such a condition there is nothing to decide.
    plain = document(DocumentKind.SHEET, frozen(facts), "x")
    assert all(s.tone is Tone.PLAIN for s in plain.sections)


def test_the_sheet_says_how_the_energy_of_food_is_found(facts: Reference) -> None:
    """And what the other methods would have said; a sheet kept before there was a choice says nothing."""
    kept = frozen(facts, me_method="3.5-8.5-3.5")
    said = text_of(document(DocumentKind.SHEET, kept, "x"))
    assert (
        "Energy of the food: 3.5/8.5/3.5 with available carbohydrate (NRC 1985; AAFCO 2014)" in said
    )
    assert "4/9/4 with available carbohydrate +1" in said  # 10 to 14 % more, as everywhere
    assert ", the default" in text_of(document(DocumentKind.SHEET, frozen(facts), "x"))
    recipe = kept.of_recipe
    before = replace(
        kept, recipe=replace(recipe, analysis=replace(recipe.analysis, food_energy=None))
    )
    assert "Energy of the food" not in text_of(document(DocumentKind.SHEET, before, "x"))


def test_the_sheet_defers_to_the_vet_and_says_what_is_unchecked(facts: Reference) -> None:
    kept = frozen(facts)
    said = text_of(document(DocumentKind.SHEET, kept, "x"))
    assert "before the attending veterinarian has approved it" in said
    checked = kept.of_recipe.analysis.limits_checked
    assert f"{checked.of - checked.checked} of {checked.of} values are not yet checked" in said
    assert f"26 November 2026 with Wainscot {kept.program}, facts {kept.reference[:12]}" in said


def intake(facts: Reference, **changes: Any) -> str:
    kept = frozen(facts)
    record: CaseRecord = replace(kept.case, **changes)
    return text_of(document(DocumentKind.INTAKE, replace(kept, case=record), "x"))


def test_the_intake_sheet_tells_asked_from_not_asked(facts: Reference) -> None:
    kept = frozen(facts)
    silent = intake(facts)
    assert silent.count("Not asked yet.") == 7
    asked = replace(kept.case.intake, medicines_asked=True, reactions_asked=True)
    assert intake(facts, intake=asked).count("None; asked.") == 2


def test_the_intake_sheet_holds_what_was_said(facts: Reference) -> None:
    said = intake(facts)
    assert "Age | 9 years" in said and "Weight | 8.2 kg" in said
    # 70 x 8.2^0.75 = 339.2; x 1.6 = 542.7 kcal a day.
    assert "70 x kg^0.75 | 339" in said and "multiplier x RER | 543" in said
    assert "Sex | not known" in said


def test_the_intake_sheet_prints_every_fact_that_was_recorded(facts: Reference) -> None:
    dog = {
        "name": "Juniper", "breed": "Toy spaniel", "sex": "female", "neutered": False,
        "age_months": 30, "weight_kg": 8.25, "ideal_weight_kg": 7.5, "adult_weight_kg": 9,
        "body_condition": 6, "activity": "low", "litter_size": 4, "gestation_week": 5,
        "lactation_week": 2,
    }  # fmt: skip
    intake = {
        "muscle_condition": "mild", "housing": "indoors", "way_of_feeding": "cooked",
        "life_stage_confirmed": True, "medicines_asked": True, "reactions_asked": False,
        "medicines": [{"name": "pimobendan", "dose": "1.25 mg twice a day"}, {"name": "benazepril"}],
        "weights": [{"on": "2026-08-02", "kg": 8.5}],
        "vet_team": [{"name": "Dr Linde", "role": "attending", "clinic": "Harbour"}],
        "current_diet": [
            {"name": "Dry food", "amount": 1.5, "unit": "cup", "kcal_per_unit": 200},
            {"name": "Table scraps", "amount": 1},
        ],
        "owner": {"source": "a butcher", "cook": "once a week"},
        "noticed": {"stool": "soft since Sunday", "pills_in": "liver sausage"},
        "unstaged": [{"id": "ckd", "name": "Kidney disease"}],
    }  # fmt: skip
    reactions = [{"food": "chicken", "form": "meat", "tolerates": "liver", "what": "itch",
                  "certainty": "likely"}]  # fmt: skip
    kept = frozen(facts, dog=dog, intake=intake, reactions=reactions, meals_per_day=3,
                  conditions=[{"id": "mmvd", "name": "x", "stage": "C", "since": "2025", "by": "Dr Linde"}])  # fmt: skip
    said = text_of(document(DocumentKind.INTAKE, kept, "As it stood")).splitlines()
    for line in (
        "Stools | soft since Sunday", "Medicines are given in | liver sausage",
        "Kidney disease: named without its stage; it does not count before that is said.",
        "Breed | Toy spaniel", "Age | 2 years 6 months", "Sex | female, entire", "Weight | 8.3 kg",
        "Ideal weight | 7.5 kg", "Adult weight | 9.0 kg", "Body condition | 6 of 9",
        "Muscle condition | mild loss", "Activity | low", "Gestation | week 5",
        "Lactation | week 2", "Pups in the litter | 4", "Housing | indoors",
        "Way of feeding wanted | cooked", "Meals a day | 3",
        "chicken | meat | liver | itch | likely", "Not yet asked whether that is all.",
        "pimobendan | 1.25 mg twice a day", "benazepril | dose not recorded",
        "2 Aug 2026 | 8.50", "Dr Linde | attending | Harbour | –",
        "Dry food | 1.5 cup | 200.0 | 300", "Table scraps | 1 | – | –",
        "Source: A butcher.", "Cook: Once a week.", "Store: Not asked yet.",
    ):  # fmt: skip
        assert line in said, line
    assert "300 kcal a day: without 1 of unknown energy." in said
    assert any(w.startswith("Counts as | ") and w.endswith(", confirmed") for w in said)


def test_present_energy_is_told_with_its_split(facts: Reference) -> None:
    """2 cups of 250 kcal: 60 g protein and 40 g carbohydrate at 3.5, 15 g fat at 8.5 kcal/g."""
    item = {"name": "Stew", "amount": 2, "unit": "cup", "kcal_per_unit": 250}
    plain = frozen(facts, intake={"current_diet": [item]})
    assert "500 kcal a day." in text_of(document(DocumentKind.INTAKE, plain, "x"))
    macros = {"protein_g": 30, "fat_g": 7.5, "carbohydrate_g": 20}
    split = frozen(facts, intake={"current_diet": [{**item, **macros}]})
    # 210 + 127.5 + 140 = 477.5 kcal.
    said = text_of(document(DocumentKind.INTAKE, split, "x")).replace("\u202f", " ")
    assert "500 kcal a day: from protein 44 %, fat 27 %, carbohydrate 29 %." in said


@pytest.mark.parametrize(
    ("months", "said"), [(23, "23 months"), (24, "2 years"), (25, "2 years 1 month"), (None, "not known")]
)  # fmt: skip
def test_an_age_is_said_in_months_until_two_years(
    facts: Reference, months: int | None, said: str
) -> None:
    kept = frozen(facts)
    assert f"Age | {said}" in intake(facts, dog=replace(kept.case.dog, age_months=months))


def test_a_red_flag_is_loud_and_says_that_nobody_cleared_it(facts: Reference) -> None:
    kept = frozen(facts)
    flags = replace(kept.case.intake.red_flags, present="collapse", told="Dr Berg", on="1 March")
    told = replace(kept.case, intake=replace(kept.case.intake, red_flags=flags))
    made = document(DocumentKind.INTAKE, replace(kept, case=told), "x")
    loud = next(s for s in made.sections if s.title == "Red flags")
    assert loud.tone is Tone.DECIDE
    assert "Seen: Collapse. Told: Dr Berg, 1 March. Not cleared" in text_of(made)


def sections(facts: Reference, kept: Snapshot) -> dict[str, tuple[Any, ...]]:
    made = document(DocumentKind.INTAKE, kept, "x")
    return {s.title: s.blocks for s in made.sections}


def test_notes_and_missing_facts_have_a_section_only_where_there_are_any(facts: Reference) -> None:
    kept = frozen(facts)
    found = sections(facts, kept)
    assert "Notes" not in found and found["Still missing for a sound plan"]
    complete = replace(kept, intake=replace(kept.intake, missing=()))
    noted = replace(complete, case=replace(kept.case, notes="likes carrots"))
    found = sections(facts, noted)
    assert "Still missing for a sound plan" not in found
    assert words_of(found["Notes"][0]) == ["likes carrots"]


def test_a_diagnosis_is_named_as_its_condition_or_as_it_was_written(facts: Reference) -> None:
    kept = frozen(facts)
    targets = replace(kept.targets, conditions=())
    diagnosed = tuple(
        Diagnosis(id=i, name=n, stage=s, since=d, by=b)
        for i, n, s, d, b in (("mmvd", "A murmur", "C", "2025", "Dr Elm"), ("x", "", "", "", ""))
    )
    case = replace(kept.case, conditions=diagnosed)
    (table,) = sections(facts, replace(kept, targets=targets, case=case))["Diagnoses"]
    assert table.rows == (("A murmur", "C", "2025", "Dr Elm"), ("x", "", "–", "–"))
    known = frozen(
        facts, targets={"standard": "nrc-2006", "conditions": [{"id": "mmvd", "stage": "C"}]}
    )
    (table,) = sections(facts, replace(known, case=case))["Diagnoses"]
    assert table.rows[0][0] == "Mitral valve disease, heart failure"
    flags = sections(facts, known)["Red flags"]
    assert words_of(flags[0])[0].startswith("Mitral valve disease, heart failure: call the vet at")
    # A condition without red flags of its own says none.
    silent = replace(known.targets.conditions[0], words={})
    quiet = replace(known, targets=replace(known.targets, conditions=(silent,)))
    assert "Red flags" not in sections(facts, quiet)


def test_figures_stand_at_the_right_and_names_at_the_left(facts: Reference) -> None:
    made = document(DocumentKind.SHEET, frozen(facts), "x")
    assert [c.figures for c in lines_of(made).columns] == [False, True, True, True, False]
    diet = {"current_diet": [{"name": "Dry food", "amount": 1, "kcal_per_unit": 100}]}
    found = sections(facts, frozen(facts, intake=diet))
    assert [c.figures for c in found["Eats now, a day"][0].columns] == [False, False, True, True]
    assert [c.figures for c in found["Energy"][0].columns] == [False, False, True]
    assert not found["The dog"][0].titled and found["Energy"][0].titled


def test_a_table_gives_each_cell_with_its_column(facts: Reference) -> None:
    lines = lines_of(document(DocumentKind.SHEET, frozen(facts), "x"))
    assert [column.title for column, _ in lines.cells[0]] == [c.title for c in lines.columns]
    assert [cell for _, cell in lines.cells[2]] == list(lines.rows[2])
    assert [cell for _, cell in lines.total_cells] == list(lines.total)
    assert replace(lines, total=()).total_cells == ()
    with pytest.raises(ValueError, match="shorter"):
        _ = replace(lines, rows=(("one cell",),)).cells
    with pytest.raises(ValueError, match="shorter"):
        _ = replace(lines, total=("one cell",)).total_cells


def test_the_sheet_cites_analyses_and_not_what_was_recalled(facts: Reference) -> None:
    kept = frozen(facts)
    recipe = kept.of_recipe
    sources = tuple(
        FrozenSource(grade=grade, text="t", citation=cited, confidence=Confidence.LOW)
        for grade, cited in (
            (Grade.ANALYSED, "Table B"), (Grade.LABEL, "Label A"), (Grade.BORROWED, "Recalled"),
            (Grade.ANALYSED, ""),
        )
    )  # fmt: skip
    changed = replace(kept, recipe=replace(recipe, sources=sources))
    said = document(DocumentKind.SHEET, changed, "x").fine[0]
    assert said.startswith("Food values: Label A; Table B; estimates, marked as such on the bench.")


def test_the_papers_are_written_as_the_client_reads(facts: Reference) -> None:
    american = replace(PARTIES, conventions=REGIONS[Region.UNITED_STATES])
    intake = {"weights": [{"on": "2026-08-02", "kg": 8.5}], "typed": {"weight_kg": "8.2 kg"}}
    kept = frozen(facts, parties=american, intake=intake)
    sheet = document(DocumentKind.SHEET, kept, "x")
    said = text_of(sheet)
    assert "Juniper weighs 18.1 lb." in said
    # 74 Celsius; the raw chicken of this recipe.
    assert "165 °F" in said and "°C" not in said
    assert "Computed on November 26, 2026" in said
    told = text_of(document(DocumentKind.INTAKE, kept, "x"))
    assert "Weight | 18.1 lb, told as 8.2 kg" in told
    # 8.5 kg are 18.74 lb.
    assert "Aug 2, 2026 | 18.74" in told


def test_ounces_on_paper_never_stand_without_grams(facts: Reference) -> None:
    ounces = replace(PARTIES, conventions=Conventions(food=FoodUnit.OZ))
    table = lines_of(document(DocumentKind.SHEET, frozen(facts, parties=ounces), "x"))
    assert [c.title for c in table.columns[1:4]] == ["Batch", "A day", "A meal"]
    # 720 g are 25.4 oz, a quarter of it 6.35 oz; a powder stays in grams.
    assert table.rows[0][1:4] == ("1 lb 9.4 oz (720 g)", "6.3 oz", "3.17 oz")
    assert table.rows[2][1:4] == ("0.25 g", "0.063 g", "0.031 g")
