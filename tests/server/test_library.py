"""Own foods, labels, import, prices, marks, strict policy, filters."""

import json

import pytest
from library.models import OwnFood
from library.spoilt import readable_excess
from wainscot_core.errors import InputError

LABEL = {"protein": 26, "fat": 16, "fibre": 4, "moisture": 10, "ash": 8}


def make_own(office, **changes):
    body = {"name": "Crunchy dry food", "label": LABEL, "ingredients": "Chicken meal, rice, peas"}
    return office.send("post", "own-foods", {**body, **changes})


def analyse(office, lines, **changes):
    body = {"lines": lines, "covers_days": 1, **changes}
    return office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()


def test_a_label_becomes_a_food_that_can_be_used(office, rival) -> None:
    made = make_own(office)
    assert made.status_code == 201
    food = made.json()
    assert food["allergens"] == {"chicken": "Chicken", "rice": "rice", "pea": "peas"}
    report = analyse(office, [{"food": food["food_id"], "quantity": "100 g"}])
    # On the recipe's own scale, not the pack's 353: 4 x 26 + 9 x 16 + 4 x (100 - 10 - 26 - 16 - 4 - 8).
    assert report["recipe"]["kcal"] == pytest.approx(392)
    assert "392 kcal per 100 g" in report["food_energy"]["notes"][0]
    assert "353" in report["food_energy"]["notes"][0]
    zinc = next(n for n in report["nutrients"] if n["key"] == "ZN")
    assert zinc["status"] == "unproven"
    assert office.get("foods?q=crunchy").json()[0]["id"] == food["food_id"]
    # Another practice neither finds nor uses it.
    assert food["food_id"] not in [f["id"] for f in rival.get("foods?q=crunchy").json()]
    assert rival.get(f"foods/{food['food_id']}").status_code == 404
    errors = analyse(rival, [{"food": food["food_id"], "quantity": "100 g"}])["line_errors"]
    assert errors[0]["field"] == "food"


def test_label_preview_shows_its_steps(office) -> None:
    found = office.send("post", "own-foods/label", LABEL).json()
    assert found["kcal_per_kg"] == pytest.approx(3530)
    assert found["dry_matter"]["protein"] == pytest.approx(26 / 0.9)
    assert found["steps"][0]["label"] == "Carbohydrate (NFE) by difference"
    cups = office.send("post", "own-foods/label", {**LABEL, "kcal_per_cup": 412, "cup_grams": 110})
    assert cups.json()["kcal_per_kg"] == pytest.approx(412 / 0.110)
    wrong = office.send("post", "own-foods/label", {**LABEL, "protein": 80})
    assert (wrong.status_code, wrong.json()["error"]["field"]) == (400, "protein")


def test_editing_makes_a_new_revision(office) -> None:
    food = make_own(office).json()
    edited = office.send(
        "put", f"own-foods/{food['id']}", {"name": "Crunchy", "values": {"ENERC": 400, "CA": 900}}
    ).json()
    assert (edited["revision"], [r["revision"] for r in edited["revisions"]]) == (2, [1])
    assert edited["food_id"] == food["food_id"]
    report = analyse(office, [{"food": food["food_id"], "quantity": "100 g"}])
    assert report["recipe"]["kcal"] == pytest.approx(400)


def test_an_edit_of_an_older_own_food_overwrites_nothing(office) -> None:
    food = make_own(office).json()
    path, body = f"own-foods/{food['id']}", {"name": "Crunchy", "values": {"ENERC": 400}}
    assert office.send("put", path, {**body, "version": food["version"]}).status_code == 200
    late = office.send("put", path, {**body, "name": "Late", "version": food["version"]})
    assert late.status_code == 409
    assert late.json()["current"]["name"] == "Crunchy"
    assert office.get(path).json()["revision"] == 2


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"label": None, "values": {"CA": 1}}, "values.ENERC"),
        ({"label": None, "values": {"ENERC": 100, "GOLD": 1}}, "values.GOLD"),
        ({"label": None, "values": {"ENERC": -1}}, "values.ENERC"),
        ({"label": {**LABEL, "fat": 90}}, "label.protein"),
        ({"name": ""}, "name"),
    ],
)
def test_own_foods_that_cannot_be(office, changes, field) -> None:
    answer = make_own(office, **changes)
    assert (answer.status_code, answer.json()["error"]["field"]) == (400, field)
    assert office.get("own-foods").json()["found"] == 0


GOOD = "slug,name,ENERC,CA\n" + "\n".join(f"food-{i},Food {i},100,5" for i in range(500))
BAD = GOOD + "\nfood-x,X,much,5\nFood Y,Y,100,5\nfood-z,Z,,5"


def test_import_shows_bad_rows_and_writes_nothing_until_accepted(office) -> None:
    preview = office.send("post", "own-foods/import", {"text": BAD}).json()
    assert (preview["good"], preview["imported"]) == (500, 0)
    assert [(e["row"], e["column"]) for e in preview["errors"]] == [
        (502, "ENERC"), (503, "slug"), (504, "ENERC"),
    ]  # fmt: skip
    refused = office.send("post", "own-foods/import", {"text": BAD, "accept": True})
    assert refused.status_code == 400
    assert "Nothing was imported" in refused.json()["error"]["message"]
    assert office.get("own-foods").json()["found"] == 0
    taken = office.send("post", "own-foods/import", {"text": BAD, "accept": True, "skip_bad": True})
    assert taken.json()["imported"] == 500
    pages = [office.get(f"own-foods?page={n}").json() for n in range(1, 12)]
    assert {(p["found"], p["pages"]) for p in pages} == {(500, 10)}
    # The last page again where there is none of that number; each food stands on one page.
    assert pages[10] == pages[9] and [p["page"] for p in pages[:10]] == list(range(1, 11))
    assert len({row["slug"] for page in pages for row in page["rows"]}) == 500
    assert office.get("own-foods?page=zwei").status_code == 400


def test_export_can_be_imported_again(office, rival) -> None:
    make_own(office)
    csv_text = office.browser.get("/api/own-foods/export?as=csv").content.decode()
    json_text = office.browser.get("/api/own-foods/export?as=json").content.decode()
    assert json.loads(json_text)["foods"][0]["per_100_g"]["PROCNT"] == 26
    for text, kind in ((csv_text, "csv"), (json_text, "json")):
        body = {"text": text, "format": kind, "accept": True}
        assert rival.send("post", "own-foods/import", body).json()["imported"] == 1
    assert rival.get("own-foods").json()["found"] == 1
    broken = rival.send("post", "own-foods/import", {"text": "{", "format": "json"})
    assert broken.json()["error"]["field"] == "text"


def test_price_is_shown_and_what_has_none_is_not_free(office) -> None:
    saved = office.note("usda:05062", price=6.4, price_grams=800, shop="Market")
    assert saved.status_code == 200
    report = analyse(
        office,
        [{"food": "usda:05062", "quantity": "250 g"}, {"food": "usda:20445", "quantity": "1 cup"}],
    )
    # 6.40 for 800 g is 8.00 a kg; 250 g cost 2.00.
    assert report["cost"] == {"lines": [2.0, None], "batch": 2.0, "per_day": 2.0, "unpriced": 1}
    half = office.note("usda:05062", price_grams=None)
    assert half.json()["error"]["field"] == "price_grams"


def test_marks_are_shown_and_suggested_last(office) -> None:
    before = [f["id"] for f in office.get(f"foods?q=chicken breast&case={office.case.pk}").json()]
    assert before[0] == "usda:05062"
    marked = office.send(
        "post",
        f"cases/{office.case.pk}/client-foods",
        {"foods": ["usda:05062"], "mark": "will-not-use"},
    )
    [mark] = marked.json()
    assert (mark["food"], mark["mark"], mark["days"]) == ("usda:05062", "will-not-use", None)
    office.note("usda:05064", unavailable=True)
    after = office.get(f"foods?q=chicken breast&case={office.case.pk}").json()
    assert {f["id"]: f["mark"] for f in after if f["mark"]} == {
        "usda:05062": "will-not-use",
        "usda:05064": "unavailable",
    }
    assert [bool(f["mark"]) for f in after] == sorted(bool(f["mark"]) for f in after)
    report = analyse(office, [{"food": "usda:05062", "quantity": "100 g"}])
    assert report["marks"] == [
        {"food": "usda:05062", "mark": "will-not-use", "words": "", "days": None}
    ]
    listed = office.get("library?q=chicken breast&available=true").json()["foods"]
    assert "usda:05064" not in [f["id"] for f in listed]
    office.send(
        "post",
        f"cases/{office.case.pk}/client-foods",
        {"foods": ["usda:05062"], "mark": "not-asked"},
    )
    assert office.get(f"cases/{office.case.pk}/client-foods").json() == []


def test_kelp_needs_its_label_and_then_brings_iodine(office) -> None:
    kelp = next(f for f in office.get("foods?q=kelp").json() if f["id"] == "supp:kelp-powder")
    assert kelp["questions"] == [{"tag": "ID", "unit": "ug", "per": "g"}]
    lines = [
        {"food": "usda:05062", "quantity": "500 g"},
        {"food": "supp:kelp-powder", "quantity": "1 g"},
    ]
    iodine = next(n for n in analyse(office, lines)["nutrients"] if n["key"] == "ID")
    assert iodine["unknown_lines"] == 1
    office.note("supp:kelp-powder", strengths={"ID": 650})
    known = next(n for n in analyse(office, lines)["nutrients"] if n["key"] == "ID")
    assert known["total"] == pytest.approx(iodine["total"] + 650)
    bad = office.note("supp:kelp-powder", strengths={"ZN": 1})
    assert bad.json()["error"]["field"] == "strengths.ZN"


def test_a_measure_of_the_practice_replaces_the_table(office, rival) -> None:
    lines = [{"food": "usda:02047", "quantity": "1 tsp"}]
    assert analyse(office, lines)["recipe"]["grams"] == 6
    assert office.note("usda:02047", measures={"tsp": 2.1}).status_code == 200
    assert analyse(office, lines)["recipe"]["grams"] == 2.1
    assert analyse(rival, lines)["recipe"]["grams"] == 6
    bad = office.note("usda:02047", measures={"tsp": -1})
    assert bad.json()["error"]["field"] == "measures.tsp"


def test_a_note_is_changed_field_by_field(office) -> None:
    path = "foods/usda:02047"
    assert office.note("usda:02047", shop="the mill").status_code == 200
    # As people write it; a price goes with its pack, and knows its day.
    saved = office.note("usda:02047", price="12,50", price_grams="500", measures={"scoop": "1 oz"})
    noted = saved.json()["practice"]
    assert (noted["price"], noted["price_grams"], noted["shop"]) == (12.5, 500, "the mill")
    assert noted["price_date"] and noted["measures"]["scoop"] == pytest.approx(28.3495, abs=1e-3)
    alone = office.note("usda:11124", price=3)
    assert (alone.status_code, alone.json()["error"]["field"]) == (400, "price_grams")
    stale = {"path": "shop", "was": "", "value": "the market"}
    answer = office.send("patch", path, {"changes": [stale]})
    assert answer.status_code == 409 and answer.json()["collisions"][0]["stored"] == "the mill"
    bad = office.note("usda:02047", measures={"cup": "plenty"})
    assert (bad.status_code, bad.json()["error"]["field"]) == (400, "measures.cup")
    assert office.get(path).json()["practice"] == noted


def test_strict_wants_a_reason_for_an_incomplete_food(office) -> None:
    assert office.change(data_policy="strict", strict_groups=["amino"]).status_code == 200
    found = office.get(f"foods?q=chicken breast&case={office.case.pk}").json()[0]
    assert found["incomplete"] == ["amino"]
    line = {"food": "usda:05062", "quantity": "100 g"}
    refused = office.set_recipe([line])
    assert refused.json()["error"]["field"] == "lines.line-0.override"
    line["override"] = "the pattern of chicken is well known"
    taken = office.set_recipe([line])
    assert taken.json()["lines"][0]["override"] == line["override"]
    lysine = next(n for n in analyse(office, [line])["nutrients"] if n["key"] == "LYS")
    assert lysine["status"] == "unproven"
    graded = analyse(office, [line], data_policy="graded")
    assert next(n for n in graded["nutrients"] if n["key"] == "LYS")["status"] == "met"


def test_preparation_is_saved_and_computed(office) -> None:
    line = {"food": "usda:05096", "quantity": "500 g", "preparation": "poultry-simmered-discarded"}
    saved = office.set_recipe([line]).json()
    assert saved["lines"][0]["preparation"] == line["preparation"]
    assert "poultry-roasted" in [m["id"] for m in saved["lines"][0]["methods"]]
    assert analyse(office, [line])["recipe"]["lines"][0]["fed_grams"] == pytest.approx(360)
    bad = {**line, "preparation": "fish-baked"}
    assert analyse(office, [bad])["line_errors"][0]["field"] == "preparation"


def test_library_filters(office) -> None:
    everything = office.get("library").json()
    assert len(everything["foods"]) > 229
    assert len(office.get("library?all=true").json()["foods"]) > 2900
    zinc = office.get("library?richest=ZN&klass=fish").json()["foods"]
    assert zinc[0]["name"].startswith("Oyster")
    assert [f["value"] for f in zinc] == sorted((f["value"] for f in zinc), reverse=True)
    free = office.get("library?without=chicken&q=chicken").json()["foods"]
    assert all("hicken" not in f["name"] for f in free)
    whole = office.get("library?complete=amino").json()["foods"]
    assert 0 < len(whole) < len(everything["foods"])
    bad = office.get("library?richest=GOLD")
    assert (bad.status_code, bad.json()["error"]["field"]) == (400, "richest")


def test_profile_carries_provenance_forms_and_handling(office) -> None:
    profile = office.get("foods/usda:05096").json()
    lysine = next(v for v in profile["values"] if v["key"] == "LYS")
    assert (lysine["grade"], bool(lysine["citation"])) == ("pattern", True)
    assert "usda:05098" in [f["id"] for f in profile["forms"]]
    tablet = office.get("foods/supp:b-complex-tablet").json()
    assert "after cooking" in tablet["handling"]["add"]
    assert office.get("foods/usda:99999").status_code == 404


@pytest.mark.parametrize(
    ("values", "field"),
    [
        ({"ENERC": 1e308}, "values.ENERC"),
        ({"ENERC": 400, "PROCNT": 500, "FAT": 500}, "values.PROCNT"),
        ({"ENERC": 400, "PROCNT": 60, "FAT": 60}, "values.PROCNT"),
        ({"ENERC": 100, "CA": 200_000}, "values.CA"),
    ],
)
def test_a_food_that_cannot_be_is_refused_by_hand_as_from_a_table(office, values, field) -> None:
    answer = office.send("post", "own-foods", {"name": "Stew", "values": values})
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == field
    assert office.get("own-foods").json()["found"] == 0


def test_how_sure_the_numbers_are(office) -> None:
    """Every check with how many foods it looked at; a compared value counts at once."""
    found = office.get("evidence").json()
    assert found["table"]["foods"] > 2900 and found["table"]["derived_foods"] >= 40
    assert all(c["looked_at"] > 20 and c["failures"] == [] for c in found["table"]["checks"])
    nrc = next(f for f in found["facts"] if f["id"] == "nrc-2006")
    assert nrc["checked"] == 0 and nrc["values"] == nrc["high"] + nrc["medium"] + nrc["low"]
    read = {"min": 15, "base": 15}
    body = {"stage": "adult", "key": "ZN", "by": "Ada", "checked": True, "read": read}
    assert office.send("post", "standards/nrc-2006/check", body).status_code == 200
    again = office.get("evidence").json()
    assert next(f for f in again["facts"] if f["id"] == "nrc-2006")["checked"] == 1


def test_the_words_are_told_to_whoever_is_signed_in(office, client) -> None:
    found = office.get("glossary").json()
    rer = next(term for term in found["terms"] if term["id"] == "rer")
    assert "70 kcal" in rer["says"] and rer["source"] == "Kleiber 1961; NRC 2006"
    assert client.get("/api/glossary").status_code == 403


def test_the_text_of_a_bag_is_read_and_nothing_stored(office) -> None:
    text = "crude protein (min) 26 %, crude fat (min) 15 %, 3650 kcal/kg. Ingredients: beef, rice."
    found = office.send("post", "own-foods/bag", {"text": text}).json()
    assert [(f["name"], f["printed"], f["usual"]) for f in found["figures"]] == [
        ("protein", 26, 27.5), ("fat", 15, 16),
    ]  # fmt: skip
    assert (found["kcal_per_kg"], found["ingredient_list"]) == (3650, ["beef", "rice"])
    assert office.get("own-foods").json()["found"] == 0
    assert office.send("post", "own-foods/bag", {"text": ""}).json()["error"]["field"] == "text"


def test_what_an_own_food_is_made_of_is_translated(office, rival) -> None:
    body = {"name": "Dry", "values": {"ENERC": 365}, "ingredients": "Chicken meal, stardust"}
    assert office.send("post", "own-foods", body).status_code == 201
    food = OwnFood.objects.get(practice=office.practice).food_id
    first, second = office.get(f"foods/{food}/terms").json()
    assert (first["term"]["group"], first["stand_ins"][0]["food"]) == ("meat meal", "usda:05096")
    assert (second["text"], second["term"], second["stand_ins"]) == ("stardust", None, [])
    assert rival.get(f"foods/{food}/terms").status_code == 404
    assert office.get("foods/usda:05062/terms").json() == []


FOREIGN = "Food;Energie;Protein (%);Calcium (mg/kg);Notes\nStew;110;8,5;1200;nice\nMash;90;3;400;\n"


def test_a_table_of_other_headings_is_taken_once_every_column_is_said(office) -> None:
    """1200 mg a kg are 120 mg of 100 g."""
    preview = office.send("post", "own-foods/import", {"text": FOREIGN}).json()
    assert [c["sure"] for c in preview["columns"]] == [True, False, True, True, False]
    assert [e["column"] for e in preview["errors"]] == ["ENERC"] and preview["good"] == 0
    units = {n["tag"]: n["units"] for n in preview["nutrients"]}
    assert units["CA"] == ["g", "mg", "ug", "%"] and units["ENERC"] == ["kcal", "kJ"]
    assert "IU" in units["VITD"]
    uses = [c["use"] for c in preview["columns"]]
    uses[1] = {"tag": "ENERC", "unit": "kcal"}
    asked = {"text": FOREIGN, "columns": uses}
    said = office.send("post", "own-foods/import", asked).json()
    assert (said["good"], said["imported"], said["replaced"]) == (2, 0, 0)
    assert [(r["slug"], r["kcal"], r["protein_g"], r["fat_g"]) for r in said["rows"]] == [
        ("stew", 110, 8.5, None), ("mash", 90, 3, None),
    ]  # fmt: skip
    assert office.get("own-foods").json()["found"] == 0
    taken = office.send("post", "own-foods/import", {**asked, "accept": True}).json()
    assert taken["imported"] == 2
    stew = next(f for f in office.get("own-foods").json()["rows"] if f["slug"] == "stew")
    assert stew["values"] == {"ENERC": 110, "PROCNT": 8.5, "CA": 120}
    # The same again makes earlier revisions of both, which is said before.
    again = office.send("post", "own-foods/import", asked).json()
    assert again["replaced"] == 2 and all(r["replaces"] for r in again["rows"])


def test_a_table_is_not_taken_while_a_heading_leaves_something_open(office) -> None:
    text = "Food,kcal,Vitamin A (IU)\nStew,110,500\n"
    refused = office.send("post", "own-foods/import", {"text": text, "accept": True})
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "columns[2]")
    assert "retinol" in refused.json()["error"]["message"]
    assert office.get("own-foods").json()["found"] == 0


def test_what_a_label_guarantees_as_a_least_stays_one_wherever_the_food_goes(office, rival) -> None:
    """Twice the margin makers leave: 3 points of protein and 2 of fat in dry food."""
    made = make_own(office).json()
    assert made["origin"]["may_exceed"] == {"PROCNT": 3, "FAT": 2}
    averages = {**LABEL, "guarantees": {"protein": "average", "fat": "average"}}
    body = {"name": "Averages", "label": averages}
    assert office.send("post", "own-foods", body).json()["origin"]["may_exceed"] == {}
    # A figure of its own takes the place of the guarantee.
    known = office.send(
        "post", "own-foods", {"name": "Known", "label": LABEL, "values": {"FAT": 16}}
    )
    assert known.json()["origin"]["may_exceed"] == {"PROCNT": 3}
    for kind in ("csv", "json"):
        text = office.browser.get(f"/api/own-foods/export?as={kind}").content.decode()
        rival.send("post", "own-foods/import", {"text": text, "format": kind, "accept": True})
        found = {
            f["name"]: f["origin"]["may_exceed"] for f in rival.get("own-foods").json()["rows"]
        }
        assert found[made["name"]] == {"PROCNT": 3, "FAT": 2} and found["Averages"] == {}


def test_a_profile_says_what_is_promised_as_a_least(office) -> None:
    made = make_own(office).json()
    values = office.get(f"foods/{made['food_id']}").json()["values"]
    assert {v["key"] for v in values if v["at_least"]} == {"PROCNT", "FAT"}


def test_a_label_that_was_kept_before_guarantees_were_counts_as_one(office) -> None:
    food = OwnFood.objects.get(pk=make_own(office).json()["id"])
    assert readable_excess(food) == {"PROCNT": 3, "FAT": 2}
    del food.origin["may_exceed"], food.origin["guarantees"]
    assert readable_excess(food) == {"PROCNT": 3, "FAT": 2}
    food.origin["protein"] = "much"
    with pytest.raises(InputError):
        readable_excess(food)
    food.origin = {"by": "values"}
    assert readable_excess(food) == {}
