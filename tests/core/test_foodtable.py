"""Tables of foods that come in: headings, units, what a figure is for, and what is no figure."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.me_methods import FibreKind
from wainscot_core.facts.table_words import TableBasis
from wainscot_core.formats.columns import LEFT_OUT, ColumnUse, decimal_commas, figure_of, use_of
from wainscot_core.formats.foodtable import (
    TableFood,
    TableResult,
    read_json_foods,
    read_table,
    write_json_foods,
    write_table,
)


def read(facts: Reference, text: str, **more) -> TableResult:
    return read_table(text, facts.catalogue, facts.table_words, **more)


def table(rows: int, bad: dict[int, str] | None = None) -> str:
    lines = ["slug,name,class,form,ingredients,ENERC,PROCNT,CA"]
    for i in range(rows):
        lines.append((bad or {}).get(i, f"food-{i},Food {i},own,plain,,100,{i % 30},"))
    return "\n".join(lines)


def test_500_good_rows_and_3_bad_are_told_apart_by_row_and_column(facts: Reference) -> None:
    bad = {
        10: "food-10,Food 10,own,plain,,100,lots,",
        200: "Food 200,Food 200,own,plain,,100,1,",
        502: "food-502,Food 502,own,plain,,,1,",
    }
    found = read_table(table(503, bad), facts.catalogue, facts.table_words)
    assert len(found.foods) == 500
    assert [(e.row, e.column) for e in found.errors] == [
        (12, "PROCNT"),
        (202, "slug"),
        (504, "ENERC"),
    ]


def test_a_column_that_is_not_known_is_asked_for_and_brings_nothing(facts: Reference) -> None:
    found = read_table("slug,name,ENERC,GOLD\na,A,1,2", facts.catalogue, facts.table_words)
    assert [c.sure for c in found.columns] == [True, True, True, False]
    assert found.columns[3].use == LEFT_OUT and "not known" in found.columns[3].why
    assert found.columns[3].samples == ("2",)


def test_an_empty_cell_is_unknown(facts: Reference) -> None:
    assert "CA" not in read_table(table(1), facts.catalogue, facts.table_words).foods[0].values


NAMES = st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=20).map(
    str.strip
)


@settings(max_examples=50, deadline=None)
@given(
    name=NAMES.filter(bool),
    ingredients=NAMES,
    energy=st.floats(0, 900),
    calcium=st.floats(0, 5000),
    fibre=st.sampled_from(FibreKind),
    more=st.floats(0.001, 100),
)
def test_what_is_written_is_read_back(
    facts: Reference, name, ingredients, energy, calcium, fibre, more
) -> None:
    values = {"ENERC": energy, "CA": calcium}
    food = TableFood("a-food", name, "own", "plain", ingredients, values, fibre, {"CA": more})
    for back in (
        read_table(write_table([food], facts.catalogue), facts.catalogue, facts.table_words),
        read_json_foods(write_json_foods([food]), facts.catalogue),
    ):
        assert back.errors == ()
        assert (back.foods[0].name, back.foods[0].fibre) == (name, fibre)
        assert back.foods[0].values == pytest.approx(values, rel=1e-6)
        assert back.foods[0].may_exceed == pytest.approx({"CA": more}, rel=1e-6)


def test_an_unknown_kind_of_fibre_is_told(facts: Reference) -> None:
    found = read_table("slug,name,fibre,ENERC\na,A,wool,100", facts.catalogue, facts.table_words)
    assert found.foods == () and found.errors[0].column == "fibre"


@pytest.mark.parametrize(
    ("heading", "tag", "unit", "per"),
    [
        ("Protein (g)", "PROCNT", "g", None),
        ("Protein_g", "PROCNT", "g", None),
        ("Fat [g/100g]", "FAT", "g", "per-100-g"),
        ("Calcium (mg/kg)", "CA", "mg", "per-kg"),
        ("Copper, Cu (ppm)", "CU", "mg", "per-kg"),
        ("Fat (% DM)", "FAT", "%", "dry-matter"),
        ("Moisture % as fed", "WATER", "%", None),
        ("Vit. D3 IU per 100 g", "VITD", "IU", "per-100-g"),
        ("Energy kJ", "ENERC", "kJ", None),
        ("kcal/100g", "ENERC", "kcal", "per-100-g"),
        ("ME (kcal/kg)", "ENERC", "kcal", "per-kg"),
        ("Thiamin, B1 mg", "THIA", "mg", None),
        ("Zinc µg", "ZN", "ug", None),
        ("K (mg)", "K", "mg", None),
        ("Lys (g)", "LYS", "g", None),
        ("18:2 n-6 (g)", "F18D2N6", "g", None),
    ],
)
def test_a_heading_that_says_it_all(facts: Reference, heading, tag, unit, per) -> None:
    use, why = use_of(heading, facts.table_words, facts.catalogue, False)
    assert (use.tag, use.unit, use.per, why) == (tag, unit, per, "")


@pytest.mark.parametrize(
    ("heading", "tag", "why"),
    [
        ("Calcium", "CA", "names no unit"),
        ("Mg", "MG", "names no unit"),
        ("P", "P", "names no unit"),
        ("Calcium (IU)", "CA", "no unit of Calcium"),
        ("Vitamin A (IU)", "RETOL", "retinol alone"),
        ("Vitamin E (IU)", "TOCPHA", "natural form"),
        ("Vitamin K (ug)", "VITK1", "K1"),
        ("Fibre (g)", "FIBTG", "crude fibre of a pet food label"),
        ("Crude fiber %", "FIBTG", "less than dietary"),
        ("Carbohydrates (g)", "CHOCDF", "with its fibre"),
        ("Price/kg", "", "not known"),
        ("Iron, zinc (mg)", "", "not known"),
        ("Salt (g)", "", "not known"),
        ("AA (g)", "", "not known"),
        ("Chol (mg)", "", "not known"),
        ("Protein (g/100 kcal)", "", "not known"),
        ("Protein (% of energy)", "", "not known"),
        ("Vitamin D (ug/kg DM)", "", "not known"),
        ("Energy (kcal/kJ)", "", "not known"),
        ("Omega-3 (g)", "", "not known"),
    ],
)
def test_a_heading_that_leaves_something_open_is_asked_for(
    facts: Reference, heading, tag, why
) -> None:
    use, open_ = use_of(heading, facts.table_words, facts.catalogue, False)
    assert use.tag == tag and why in open_


def test_tagnames_are_taken_as_such_only_where_the_table_is_headed_by_them(
    facts: Reference,
) -> None:
    ours = read(facts, "slug,name,ENERC,P\na,A,100,50")
    assert all(c.sure for c in ours.columns) and ours.foods[0].values["P"] == 50
    foreign = read(facts, "Food,kcal,P\nA,100,0.5")
    assert [c.sure for c in foreign.columns] == [True, True, False]


@pytest.mark.parametrize(
    ("cell", "comma", "value"),
    [
        ("12.5", False, 12.5), ("12,5", True, 12.5), ("12,5", False, 12.5), ("0", False, 0),
        ("1.250", False, 1.25), ("1,250", True, 1.25), ("0,125", False, 0.125),
        ("1,234.5", False, 1234.5), ("1.234,5", True, 1234.5), ("1 234", False, 1234),
        ("1\N{NO-BREAK SPACE}234,5", True, 1234.5), ("1,234,567", False, 1234567),
        ("1.234.567", True, 1234567), ("2e-3", False, 0.002), ("-4", False, -4),
        ("\N{MINUS SIGN}4", False, -4), (".5", False, 0.5),
    ],
)  # fmt: skip
def test_a_figure_as_tables_write_it(cell, comma, value) -> None:
    assert figure_of(cell, comma) == pytest.approx(value)


@pytest.mark.parametrize(
    ("cell", "comma"),
    [("1,234", False), ("1.234", True), ("12 g", False), ("1,2,3", False), ("lots", False),
     ("3-4", False), ("1,234,5", False)],
)  # fmt: skip
def test_a_figure_that_can_be_two_or_is_none_is_not_guessed(cell, comma) -> None:
    with pytest.raises(InputError):
        figure_of(cell, comma)


def test_a_decimal_comma_is_seen_where_a_cell_can_be_nothing_else() -> None:
    assert decimal_commas(["a", "12,5"]) and decimal_commas(["0,125"])
    assert not decimal_commas(["1,234", "12.5", "a, b"])


SHEET = """Food;Moisture (%);Protein (% DM);Energy (kJ/100 g);Calcium (g/kg);Iron (mg);Copper (mg)
Stew, plain;72,0;35,5;500;1,1;<0,5;n/a
Mash;75;20;250;0,4;1,2;tr
"""


def test_a_sheet_of_a_laboratory(facts: Reference) -> None:
    """35.5 % of the dry matter, of which 28 %: 9.94 g; 500 kJ are 119.50 kcal; 1.1 g a kg are 110 mg per 100 g."""
    found = read(facts, SHEET)
    assert found.errors == () and all(c.sure for c in found.columns)
    stew, mash = found.foods
    assert (stew.slug, stew.name) == ("stew-plain", "Stew, plain")
    assert stew.values == pytest.approx(
        {"WATER": 72, "PROCNT": 9.94, "ENERC": 119.5029, "CA": 110}, rel=1e-5
    )
    assert mash.values == pytest.approx(
        {"WATER": 75, "PROCNT": 5, "ENERC": 59.75143, "CA": 40, "FE": 1.2}, rel=1e-5
    )
    # A bound and a trace are no figures; "n/a" says so itself.
    assert found.notes == (
        "Iron (mg): 1 cell gives only a bound or a trace, taken as unknown",
        "Copper (mg): 1 cell gives only a bound or a trace, taken as unknown",
    )


def test_a_table_of_dry_matter_needs_the_moisture(facts: Reference) -> None:
    """Of dry matter, with 8 % moisture: 30 x 0.92 = 27.6 g, 400 x 0.92 = 368 kcal; moisture is as fed."""
    dry = {"basis": TableBasis.DRY_MATTER}
    text = "Food,Moisture (%),kcal,Protein (g)\nKibble,8,400,30"
    assert read(facts, text, **dry).foods[0].values == pytest.approx(
        {"WATER": 8, "ENERC": 368, "PROCNT": 27.6}
    )
    found = read(facts, "Food,kcal,Protein (g)\nKibble,400,30", **dry)
    assert found.foods == () and "moisture" in found.errors[0].message


def test_a_table_per_kg(facts: Reference) -> None:
    """3650 kcal and 260 g a kg; 26 % is 26 g of 100 g whatever the rest is for."""
    found = read(
        facts, "Food,kcal,Protein (g),Fat (%)\nKibble,3650,260,15", basis=TableBasis.PER_KG
    )
    assert found.foods[0].values == pytest.approx({"ENERC": 365, "PROCNT": 26, "FAT": 15})


def test_a_person_says_what_a_column_holds(facts: Reference) -> None:
    text = "Food,kcal,Notes,P\nA,100,2,0.5"
    name, kcal = ColumnUse(field="name"), ColumnUse(tag="ENERC", unit="kcal")
    uses = [name, kcal, LEFT_OUT, ColumnUse(tag="P", unit="g")]
    assert read(facts, text, uses=uses).foods[0].values == {"ENERC": 100, "P": 500}
    for wrong, at in (
        (uses[:3], "columns"),
        ([*uses[:3], ColumnUse(tag="P", unit="IU")], "columns[3].unit"),
        ([*uses[:3], ColumnUse(tag="GOLD", unit="g")], "columns[3].tag"),
        ([*uses[:3], ColumnUse(field="price")], "columns[3].field"),
        ([*uses[:3], ColumnUse(field="name", tag="P", unit="g")], "columns[3]"),
        ([*uses[:3], kcal], "columns[3]"),
    ):
        with pytest.raises(InputError) as caught:
            read(facts, text, uses=wrong)
        assert caught.value.field == at


def test_what_two_columns_hold_is_taken_from_neither_unasked_twice(facts: Reference) -> None:
    found = read(facts, "Food,kcal,Energy (kJ)\nA,100,418.4")
    assert [c.sure for c in found.columns] == [True, True, False]
    assert "holds the same" in found.columns[2].why and found.foods[0].values["ENERC"] == 100


def test_crude_fibre_stays_crude_fibre(facts: Reference) -> None:
    found = read(facts, "Food,kcal,Crude fibre (%)\nA,100,4")
    assert found.foods[0].fibre is FibreKind.CRUDE
    assert read(facts, "Food,kcal,Dietary fibre (g)\nA,100,4").foods[0].fibre is FibreKind.DIETARY


def test_rows_that_do_not_fit_are_told(facts: Reference) -> None:
    found = read(facts, "Food,kcal\nZ,100,7\nA,100\n\n,5\nB,\nC,90\nC,95")
    assert [(e.row, e.column) for e in found.errors] == [
        (2, ""), (5, "name"), (6, "ENERC"), (8, "name"),
    ]  # fmt: skip
    assert [f.slug for f in found.foods] == ["a", "c"]


@pytest.mark.parametrize("text", ["", "\n \n", "PK\x03\x04", "a\x00b"])
def test_what_is_no_table_says_what_to_do(facts: Reference, text: str) -> None:
    with pytest.raises(InputError) as caught:
        read(facts, text)
    assert caught.value.field == "text"


def test_a_title_above_the_headings_is_told_and_not_taken_for_them(facts: Reference) -> None:
    found = read(facts, "Sheet of the laboratory;;\n\nFood;kcal;Protein (g)\nStew;100;9\nMash;;2")
    assert [f.name for f in found.foods] == ["Stew"]
    assert found.notes == ("Above the headings, and not read: “Sheet of the laboratory”",)
    # Rows are counted as they stand in the file.
    assert [e.row for e in found.errors] == [5]


def test_a_quotation_mark_that_is_left_open_is_told(facts: Reference) -> None:
    with pytest.raises(InputError, match="quotation mark"):
        read(facts, 'Food,kcal\n"Stew,100\n' + "x" * 200_000)


def test_a_table_without_a_name_or_energy_takes_nothing(facts: Reference) -> None:
    found = read(facts, "Protein (g),Fat (g)\n1,2")
    assert found.foods == () and [e.column for e in found.errors] == ["name", "ENERC"]
    assert len(found.columns) == 2


def test_a_spreadsheet_may_say_what_parts_its_cells(facts: Reference) -> None:
    assert read(facts, 'sep=;\nFood;kcal\n"Stew; plain, thick";12,5').foods[0].values == {
        "ENERC": 12.5
    }
    assert read(facts, "Food\tkcal\nStew\t100").foods[0].name == "Stew"
