"""Batches through the API: planned of what is out, kept, weighed, thrown away, and nobody else's."""

import json
from datetime import timedelta
from typing import Any

import pytest
from cases.models import Case, Dog
from cooking import all_entries, ask, keep, link, put
from django.db import DatabaseError, transaction
from django.test import Client as Browser
from django.utils import timezone
from events.models import Event
from kitchen.models import Batch, BatchEntry, CookLink
from kitchen.stands import MOST_STREAMS
from outbox.models import Mail
from releasing import issue

CHICKEN, RICE, CALCIUM = "usda:05062", "usda:20445", "supp:calcium-carbonate"


def look(office: Any, draft: bool = True, **more: Any) -> Any:
    body = {"ask": ask(**more), "draft": draft}
    return office.send("post", f"recipes/{office.recipe.pk}/batch-plan", body)


def kitchen(office: Any) -> Any:
    answer = office.get(f"cases/{office.case.pk}/kitchen")
    assert answer.status_code == 200, answer.content
    return answer.json()


def second_dog(office: Any, name: str = "Moss", **fields: Any) -> Case:
    dog = Dog.objects.create(
        practice=office.practice, client=office.case.dog.client, name=name, weight_kg=14, age_months=60
    )  # fmt: skip
    return Case.objects.create(practice=office.practice, dog=dog, **fields)


def test_a_draft_must_be_asked_for_by_name(office: Any) -> None:
    answer = look(office, draft=False)
    assert answer.status_code == 400 and answer.json()["error"]["field"] == "draft"
    assert look(office).status_code == 200
    [source] = kitchen(office)["sources"]
    assert source["draft"] and source["edition"] == "Draft, not issued"


def test_the_issued_version_is_cooked_whatever_the_bench_holds(office: Any) -> None:
    issue(office)
    before = look(office, draft=False).json()
    lines = [line["exact_g"] for line in before["lines"]]
    office.set_recipe([{"food": CHICKEN, "quantity": "900 g"}])
    after = look(office, draft=False).json()
    assert [line["exact_g"] for line in after["lines"]] == lines
    sources = kitchen(office)["sources"]
    assert [s["draft"] for s in sources] == [False, True] and all(s["changed"] for s in sources)
    assert "Dr Example" in sources[0]["approved"]


def test_a_batch_is_kept_and_has_a_code_of_its_own(office: Any) -> None:
    today = timezone.localdate()
    first, second = keep(office), keep(office)
    assert (first.status_code, second.status_code) == (201, 201), first.json()
    assert [first.json()["code"], second.json()["code"]] == [f"{today}-A", f"{today}-B"]
    assert first.json()["plan"] == {**look(office).json()}
    shown = kitchen(office)
    assert [b["code"] for b in shown["batches"]] == [f"{today}-B", f"{today}-A"]
    # The next one is planned with what the household used.
    assert [v["vessel"] for v in shown["tools"]["vessels"]] == ["pot-24", "pot-20"]
    assert Event.objects.filter(kind="batch.planned").count() == 2
    # What the bench holds later changes no batch.
    office.set_recipe([{"food": RICE, "quantity": "1 kg"}])
    same = office.get(f"batches/{first.json()['id']}").json()
    assert same["plan"] == first.json()["plan"]


@pytest.mark.parametrize("days", [-1, 61])
def test_the_day_it_is_cooked_can_be(office: Any, days: int) -> None:
    answer = keep(office, days=days)
    assert answer.status_code == 400 and answer.json()["error"]["field"] == "cook_on"
    assert not Batch.objects.exists()


def test_what_must_not_be_fed_is_not_cooked(office: Any) -> None:
    """It can be looked at, with the reason in front, and is not kept."""
    office.set_recipe(
        [{"food": "usda:11215", "quantity": "40 g"}, {"food": CHICKEN, "quantity": "300 g"}]
    )
    seen = look(office).json()
    assert seen["findings"][0]["level"] == "block"
    assert keep(office).status_code == 400 and not Batch.objects.exists()


def test_a_second_dog_eats_from_the_pot(office: Any) -> None:
    moss = second_dog(office)
    assert [m["name"] for m in kitchen(office)["mates"]] == ["Moss"]
    alone, both = look(office).json(), look(office, eaters=[{"case": moss.pk}]).json()
    assert [e["name"] for e in both["eaters"]][1] == "Moss"
    assert both["finished"]["grams"] > alone["finished"]["grams"] * 1.5
    assert both["eaters"][1]["kcal_per_day"] == pytest.approx(
        both["eaters"][1]["target_kcal"], rel=0.01
    )
    # A dog that reacts to what is in it is no guest.
    barred = second_dog(office, "Fern", reactions=[{"food": "chicken"}])
    seen = look(office, eaters=[{"case": barred.pk}]).json()
    assert any("Fern must not" in f["what"] for f in seen["findings"])
    refused = keep(office, eaters=[{"case": barred.pk}])
    assert refused.status_code == 400 and "Fern" in refused.json()["error"]["message"]


def test_only_the_other_dogs_of_the_household(office: Any, rival: Any) -> None:
    for case in (office.case.pk, rival.case.pk, 999_999):
        answer = look(office, eaters=[{"case": case}])
        assert answer.status_code == 400 and answer.json()["error"]["field"] == "eaters[0].case"
    moss = second_dog(office)
    twice = look(office, eaters=[{"case": moss.pk}, {"case": moss.pk}])
    assert twice.status_code == 400 and "already" in twice.json()["error"]["message"]


def test_the_finished_weight_is_kept_and_asked_about(office: Any) -> None:
    batch = keep(office).json()
    path, grams = f"batches/{batch['id']}/weighed", batch["plan"]["finished"]["grams"]
    body = {"weighed": {"finished_g": grams * 1.2}, "version": batch["version"]}
    answer = office.send("post", path, body)
    assert answer.status_code == 200 and "20% heavier" in answer.json()["weighed"]["ask"]
    # Somebody else's page is older now: it is told, and nothing is written.
    stale = office.send("post", path, body)
    assert stale.status_code == 409 and stale.json()["current"]["version"] == batch["version"] + 1
    again = {"weighed": {"finished_g": grams}, "version": batch["version"] + 1}
    mended = office.send("post", path, again).json()
    assert mended["weighed"]["ask"] == "" and mended["finished"]["finished_g"] == grams
    assert Event.objects.filter(kind="batch.weighed").count() == 2
    bad = {"weighed": {"finished_g": 0}, "version": mended["version"]}
    assert office.send("post", path, bad).status_code == 400


def test_what_was_thrown_away_stays_on_record(office: Any) -> None:
    batch = keep(office).json()
    path = f"batches/{batch['id']}/thrown"
    assert office.send("post", path, {"reason": " ", "version": 1}).status_code == 400
    gone = office.send("post", path, {"reason": "left out overnight", "version": 1})
    assert gone.status_code == 200 and gone.json()["thrown"] == "left out overnight"
    late = {"weighed": {"finished_g": 900}, "version": 2}
    assert office.send("post", f"batches/{batch['id']}/weighed", late).status_code == 400
    # Neither the recipe nor the case goes while a batch is on record.
    refused = office.browser.delete(f"/api/recipes/{office.recipe.pk}")
    assert refused.status_code == 400 and "batch" in refused.json()["error"]["message"]
    refused = office.browser.delete(f"/api/cases/{office.case.pk}")
    assert refused.status_code == 400 and "batch" in refused.json()["error"]["message"]


def test_batches_are_the_practices_own(office: Any, rival: Any) -> None:
    batch = keep(office).json()["id"]
    for path in (f"cases/{office.case.pk}/kitchen", f"batches/{batch}"):
        assert rival.get(path).status_code == 404
    for path in (f"recipes/{office.recipe.pk}/batch-plan", f"recipes/{office.recipe.pk}/batches"):
        body = {"ask": ask(), "draft": True, "cook_on": timezone.localdate().isoformat()}
        if path.endswith("plan"):
            body.pop("cook_on")
        assert rival.send("post", path, body).status_code == 404
    for path, body in (
        ("weighed", {"weighed": {"finished_g": 5}, "version": 1}),
        ("thrown", {"reason": "not mine", "version": 1}),
    ):  # fmt: skip
        assert rival.send("post", f"batches/{batch}/{path}", body).status_code == 404
    assert rival.browser.get(f"/papers/batches/{batch}").status_code == 404


def test_the_sheet_of_a_batch(office: Any) -> None:
    batch = keep(office).json()
    page = office.browser.get(f"/papers/batches/{batch['id']}")
    text = page.content.decode()
    assert page.status_code == 200 and batch["code"] in text
    assert "Weighed for each vessel" in text and "Do not feed this before" in text
    for line in batch["plan"]["lines"]:
        assert line["name"].split(",")[0] in text
    pdf = office.browser.get(f"/papers/batches/{batch['id']}.pdf")
    assert pdf["Content-Type"] == "application/pdf" and pdf.content.startswith(b"%PDF")


def test_a_stopped_case_cooks_nothing(office: Any) -> None:
    office.case.intake = {
        "red_flags": {"present": True, "what": "collapse", "told": "the vet", "on": "2026-01-02"}
    }
    office.case.save()
    answer = keep(office)
    assert answer.status_code == 400 and not Batch.objects.exists()


# Cooking.


def entry(batch: Any, line: Any, key: str = "", **more: Any) -> dict[str, Any]:
    """A line weighed as it is listed, into its first vessel or once for all."""
    once = line["once"]
    return {
        "key": key or f"entry-{line['position']}-first", "kind": "weighed",
        "line": line["position"], "vessel": None if once else 0,
        "grams": line["grams"] if once else line["vessels"][0], **more,
    }  # fmt: skip


def cook(office: Any, batch: Any) -> Any:
    answer = office.get(f"batches/{batch['id']}/cook")
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_what_is_put_down_is_kept_once(office: Any) -> None:
    batch = keep(office).json()
    fresh = cook(office, batch)
    assert fresh["cooked"]["unknown"] and fresh["state"]["weighed"] == []
    first = entry(batch, batch["plan"]["lines"][0])
    for _ in range(3):
        # The answer was lost on the way, and it is sent again.
        assert put(office, batch, [first]).status_code == 200
    seen = cook(office, batch)
    assert [e["entry"]["key"] for e in seen["entries"]] == [first["key"]]
    assert [w["grams"] for w in seen["state"]["weighed"]] == [first["grams"]]
    assert seen["number"] == fresh["number"] + 1


def test_all_of_what_is_sent_or_nothing(office: Any) -> None:
    batch = keep(office).json()
    good = entry(batch, batch["plan"]["lines"][0])
    answer = put(office, batch, [good, {**good, "key": "entry-bad-line", "line": 99}])
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == "entries[1].line"
    assert cook(office, batch)["entries"] == []


def test_the_record_cannot_be_rewritten(office: Any) -> None:
    batch = keep(office).json()
    put(office, batch, [entry(batch, batch["plan"]["lines"][0])])
    for change in (
        lambda: BatchEntry.objects.update(by="nobody"), lambda: BatchEntry.objects.all().delete(),
    ):  # fmt: skip
        with pytest.raises(DatabaseError), transaction.atomic():
            change()
    assert BatchEntry.objects.get().by == office.practice.name


def test_a_batch_cooked_as_listed(office: Any) -> None:
    batch = keep(office).json()
    put(office, batch, all_entries(batch))
    seen = cook(office, batch)
    assert seen["cooked"]["unknown"] == [] and "holds what was planned" in seen["cooked"]["words"]
    grams = batch["plan"]["finished"]["grams"]
    done = {"key": "finished-first", "kind": "finished", "grams": grams}
    assert put(office, batch, [done]).json()["weighed"]["finished_g"] == grams
    assert kitchen(office)["batches"][0]["weighed"]["ask"] == ""
    # A cup of it, weighed at the stove, sets what a meal fills.
    cup = {"key": "cup-of-it-1", "kind": "cup", "grams": 200, "ml": 250}
    weighed = put(office, batch, [cup]).json()["weighed"]
    assert weighed["g_per_ml"] == 0.8
    assert weighed["meals"][0]["cups"] == pytest.approx(weighed["meals"][0]["grams_per_meal"] / 200)


def test_a_cup_is_weighed_of_the_finished_food(office: Any) -> None:
    batch = keep(office).json()
    cup = {"key": "cup-of-it-1", "kind": "cup", "grams": 200, "ml": 250}
    answer = put(office, batch, [cup])
    assert answer.status_code == 400 and "all of the finished food first" in answer.text


def test_boxes_of_a_batch_that_is_fed_longer(office: Any) -> None:
    """7 days become 8.4 with everything 1.2 times: two meals a day, 17 boxes of what a meal was."""
    batch = keep(office).json()
    lines = batch["plan"]["lines"]
    more = [
        {"key": f"more-keyed-{x['position']}", "kind": "more", "line": x["position"], "grams": x["grams"] * 0.2}
        for x in lines
    ]  # fmt: skip
    before = office.get(f"batches/{batch['id']}/boxes").json()["boxes"]
    longer = {"key": "feeds-longer", "kind": "feeds", "days": 8.4}
    put(office, batch, [*all_entries(batch), *more, longer])
    boxes = office.get(f"batches/{batch['id']}/boxes").json()["boxes"]
    assert (len(before), len(boxes)) == (14, 17)
    assert boxes[0]["grams"] == pytest.approx(before[0]["grams"], rel=0.01)


def test_the_verdict_stays_with_the_batch(office: Any) -> None:
    """The dog reacts to chicken next month: what was said of what was cooked stays what was said."""
    batch = keep(office).json()
    put(office, batch, all_entries(batch))
    before = cook(office, batch)["cooked"]
    office.case.reactions = [{"food": "chicken"}]
    office.case.save()
    assert cook(office, batch)["cooked"] == before and before["days"][0]["must_not"] == []
    assert look(office).json()["eaters"][0]["must_not"]


def test_what_was_left_out_and_its_correction(office: Any) -> None:
    batch = keep(office).json()
    first = batch["plan"]["lines"][0]
    entries = [e for e in all_entries(batch) if e["line"] != first["position"]]
    out = {"key": "left-out-first", "kind": "left-out", "line": first["position"]}
    put(office, batch, [*entries, out])
    seen = cook(office, batch)["cooked"]
    assert seen["days"][0]["kcal_most"] < seen["days"][0]["kcal_planned"]
    found = office.get(f"batches/{batch['id']}/corrections").json()
    missing = next(w for w in found["ways"] if w["way"] == "missing")
    assert [a["position"] for a in missing["add"]] == [first["position"]] and missing["holds"]
    more = [
        {"key": f"corrected-{i}", "kind": "more", "line": a["position"], "grams": a["grams"]}
        for i, a in enumerate(missing["add"])
    ]
    assert put(office, batch, more).status_code == 200
    assert "holds what was planned" in cook(office, batch)["cooked"]["words"]


def test_a_swap_is_a_food_of_the_library(office: Any) -> None:
    batch = keep(office).json()
    line = batch["plan"]["lines"][0]["position"]
    swap = {
        "key": "swap-keyed-1",
        "kind": "swapped",
        "line": line,
        "food": "usda:00000",
        "grams": 90,
    }
    answer = put(office, batch, [swap])
    assert answer.status_code == 400 and answer.json()["error"]["field"] == "entries[0].food"
    onion = {**swap, "food": "usda:11282"}
    seen = put(office, batch, [onion]).json()
    assert seen["cooked"]["days"][0]["must_not"]


def owners(path: str) -> str:
    return f"/api{path}"


def test_the_owner_cooks_by_a_signed_address(office: Any, rival: Any) -> None:
    draft = keep(office).json()
    assert link(office, draft).status_code == 400
    issue(office)
    batch = keep(office, draft=False).json()
    assert link(office, batch, days=400).status_code == 400
    made = link(office, batch, days=3, send=True)
    assert made.status_code == 201, made.json()
    assert Mail.objects.latest("pk").link == made.json()["path"]
    path, stranger = owners(made.json()["path"]), Browser(enforce_csrf_checks=True)
    seen = stranger.get(path)
    assert seen.status_code == 200 and seen.json()["owner"] and seen.json()["case"] is None
    body = {"entries": all_entries(batch)}
    answer = stranger.post(path, body, content_type="application/json")
    assert answer.status_code == 200
    assert "holds what was planned" in answer.json()["cooked"]["words"]
    assert cook(office, batch)["entries"][0]["by"] == "the owner, by a link"
    # Who works for the practice is not told to whoever holds the address.
    assert {e["by"] for e in answer.json()["entries"]} == {""}
    # It opens this batch and nothing else, and no longer than it is open.
    assert stranger.get(f"/api/batches/{batch['id']}/cook").status_code == 403
    forged = path[:-2] + ("B" if path[-2] == "A" else "A") + path[-1]
    assert stranger.get(forged).status_code == 404
    swap = {"key": "swap-keyed-1", "kind": "extra", "food": RICE, "grams": 9}
    refused = stranger.post(path, {"entries": [swap]}, content_type="application/json")
    assert refused.status_code == 400 and "ask" in refused.json()["error"]["message"]
    pk = made.json()["id"]
    assert rival.browser.delete(f"/api/cook-links/{pk}").status_code == 404
    assert office.browser.delete(f"/api/cook-links/{pk}").json()["open"] is False
    assert stranger.get(path).status_code == 400
    assert stranger.post(path, body, content_type="application/json").status_code == 400


def test_an_address_runs_out(office: Any) -> None:
    issue(office)
    batch = keep(office, draft=False).json()
    path = owners(link(office, batch, days=3).json()["path"])
    CookLink.objects.update(expires=timezone.now() - timedelta(seconds=1))
    answer = Browser().get(path)
    assert answer.status_code == 400 and "run out" in answer.json()["error"]["message"]


def test_cooking_is_the_practices_own(office: Any, rival: Any) -> None:
    batch = keep(office).json()
    for path in ("cook", "corrections", "cook-links"):
        assert rival.get(f"batches/{batch['id']}/{path}").status_code == 404
    assert put(rival, batch, all_entries(batch)).status_code == 404
    assert link(rival, batch).status_code == 404


def test_what_was_thrown_away_is_not_cooked_on(office: Any) -> None:
    batch = keep(office).json()
    first = entry(batch, batch["plan"]["lines"][0])
    put(office, batch, [first])
    reason = {"reason": "onion went in", "version": batch["version"] + 1}
    assert office.send("post", f"batches/{batch['id']}/thrown", reason).status_code == 200
    # What was sent before may be sent again; nothing new is taken.
    assert put(office, batch, [first]).status_code == 200
    assert put(office, batch, [{**first, "key": "another-key"}]).status_code == 400


# Scales.


def readings(answer: Any, count: int) -> list[dict[str, Any]]:
    """The first readings of a stream, which is closed then."""
    found = []
    for part in answer.streaming_content:
        text = part.decode()
        if text.startswith("id: "):
            found.append(json.loads(text.partition("data: ")[2]))
        if len(found) == count:
            break
    answer.close()
    return found


def test_a_scale_is_streamed_and_goes_on_where_it_broke(office: Any) -> None:
    answer = office.get("scales/kitchen")
    assert answer["Content-Type"] == "text/event-stream"
    first = readings(answer, 2)
    again = office.browser.get(
        "/api/scales/kitchen", headers={"Last-Event-ID": str(first[-1]["sequence"])}
    )
    later = readings(again, 1)
    assert later[0]["sequence"] > first[-1]["sequence"] > first[0]["sequence"]
    # A number of before a restart is of no use: it shows what it shows.
    lost = office.browser.get("/api/scales/kitchen", headers={"Last-Event-ID": "999999"})
    assert readings(lost, 1)


def test_each_practice_has_its_own_scale(office: Any, rival: Any) -> None:
    assert office.send("post", "scales/kitchen", {"do": "put", "grams": 900}).status_code == 200
    assert office.send("post", "scales/kitchen", {"do": "tare"}).json()["tare_g"] >= 0
    assert rival.send("post", "scales/kitchen", {"do": "put", "grams": 0}).json()["tare_g"] == 0
    assert Browser().get("/api/scales/kitchen").status_code == 403


@pytest.mark.parametrize(
    "body",
    [
        {"do": "put"}, {"do": "put", "grams": -1}, {"do": "fault"}, {"do": "dance"},
        {"do": "fault", "fault": "fire"},
    ],
)  # fmt: skip
def test_what_a_scale_cannot_do_is_told(office: Any, body: Any) -> None:
    assert office.send("post", "scales/kitchen", body).status_code == 400
    assert office.send("post", "scales/bathroom", {"do": "tare"}).status_code == 400


def test_too_many_screens_are_told(office: Any) -> None:
    held = [office.get("scales/fine") for _ in range(MOST_STREAMS)]
    for answer in held:
        next(iter(answer.streaming_content))
    refused = office.get("scales/fine")
    assert refused.status_code == 400 and "too many" in refused.json()["error"]["message"]
    for answer in held:
        answer.close()
    free = office.get("scales/fine")
    assert free.status_code == 200
    free.close()
