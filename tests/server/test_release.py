"""A plan goes out only by the way of its states: no door of the API leads past what stands against it."""

from datetime import timedelta
from typing import Any

import pytest
from django.db import DatabaseError, connection, transaction
from django.test import Client as Browser
from django.utils import timezone
from events.models import Event
from outbox.models import Mail
from plans.models import Plan
from recipes.models import RecipeVersion
from records.models import ShareLink
from release.links import vet_path
from release.models import FindingDecision, Release, ReleaseMove, VetRequest
from releasing import (
    ASK,
    SIGNED,
    VET_WORD,
    checks,
    decide,
    do,
    give_address,
    issue,
    open_ones,
    reply,
    settle_all,
    to_vet,
)

CHICKEN, RICE, GARLIC, TUNA_CANNED = "usda:05062", "usda:20445", "usda:11215", "usda:15184"


def test_the_whole_way_out(office: Any) -> None:
    """Draft, checked, with the vet, approved, issued: each step once, with who and why kept."""
    issued = issue(office)["issued"]
    assert issued["state"] == "issued" and "Dr Example, licence V-12" in issued["approved"]
    steps = [(m["before"], m["after"]) for m in issued["history"]]
    assert steps == [
        ("draft", "checked"), ("checked", "with the vet"), ("with the vet", "approved"),
        ("approved", "issued"),
    ]  # fmt: skip
    assert issued["history"][2]["by"] == "Dr Example, licence V-12"
    to_owner = Mail.objects.filter(to_address="owner@example.org").get()
    page = Browser().get(to_owner.link)
    text = page.content.decode()
    assert page.status_code == 200 and "Approved by Dr Example" in text
    assert "Do not feed this before" not in text and "issued" in text
    kinds = set(Event.objects.values_list("kind", flat=True))
    assert {"release.moved", "vet.asked", "vet.opened", "vet.answered"} - kinds == {"vet.opened"}


@pytest.mark.parametrize("move", ["check", "send", "issue"])
def test_nothing_goes_out_past_an_open_point(office: Any, move: str) -> None:
    assert len(open_ones(office)) > 0
    answer = do(office, move, ASK if move == "send" else {})
    assert answer.status_code == 400 and answer.json()["error"]["field"] == "state"
    assert not RecipeVersion.objects.exists() and not Mail.objects.exists()


def test_a_block_needs_the_vets_word_and_no_reason_replaces_it(office: Any) -> None:
    """Garlic kept as a remedy: the consultant's own reason does not let it out; the vet's written word does, and only
    with a name, a licence and a day that was."""
    office.set_recipe([{"food": CHICKEN, "quantity": "180 g"}, {"food": GARLIC, "quantity": "2 g"}])
    blocks = [w for w in open_ones(office) if w["concern"]["level"] == "block"]
    assert [w["concern"]["food"] for w in blocks] == [GARLIC]
    assert decide(office, blocks, "an old remedy against worms").status_code == 400
    tomorrow = (timezone.localdate() + timedelta(days=1)).isoformat()
    for wrong in ({"licence": " "}, {"name": ""}, {"on": tomorrow}):
        assert decide(office, blocks, vet={**VET_WORD, **wrong}).status_code == 400, wrong
    assert not FindingDecision.objects.exists()
    rest = [w for w in open_ones(office) if w not in blocks]
    assert decide(office, rest).status_code == 200
    assert do(office, "check").status_code == 400
    assert decide(office, blocks, "two grams once, I know of it", VET_WORD).status_code == 200
    assert do(office, "check").status_code == 200


def test_a_decision_is_opened_again_when_what_it_rests_on_changes(office: Any) -> None:
    """More of the food, another weight of the dog, another condition: each opens it; going back settles it again."""

    def recipe(grams: int) -> None:
        lines = [{"food": CHICKEN, "quantity": "180 g"}, {"food": GARLIC, "quantity": f"{grams} g"}]
        assert office.set_recipe(lines).status_code == 200

    def garlic() -> Any:
        return next(w for w in checks(office)["concerns"] if w["concern"]["food"] == GARLIC)

    recipe(2)
    assert decide(office, [garlic()], "two grams once", VET_WORD).status_code == 200
    assert garlic()["state"] == "settled" and garlic()["decision"]["vet"]["name"] == "Dr Example"
    recipe(20)
    assert garlic()["state"] == "reopened" and garlic()["decision"]["reason"] == "two grams once"
    recipe(2)
    assert garlic()["state"] == "settled"
    office.change(dog__weight_kg=4)
    assert garlic()["state"] == "reopened"
    office.change(dog__weight_kg=10)
    assert garlic()["state"] == "settled"
    office.change(
        conditions=[
            {"id": "mmvd", "name": "Mitral valve disease", "stage": "C", "since": "", "by": ""}
        ]
    )
    assert garlic()["state"] == "reopened"


def test_a_gap_is_opened_again_when_it_grows(office: Any) -> None:
    def zinc() -> Any:
        return next(w for w in checks(office)["concerns"] if w["concern"]["nutrient"] == "ZN")

    assert decide(office, [zinc()]).status_code == 200 and zinc()["state"] == "settled"
    office.set_recipe([{"food": CHICKEN, "quantity": "60 g"}, {"food": RICE, "quantity": "2 cups"}])
    assert zinc()["state"] == "reopened"


def test_a_decision_can_be_taken_back_and_stays_known(office: Any) -> None:
    first = open_ones(office)[0]
    answer = decide(office, [first], "for the time being")
    made = next(w["decision"] for w in answer.json()["concerns"] if w["decision"])
    answer = office.send("delete", f"decisions/{made['id']}")
    assert answer.status_code == 200
    assert first["concern"]["key"] in {w["concern"]["key"] for w in open_ones(office)}
    assert [d["reason"] for d in answer.json()["decided_before"]] == ["for the time being"]


def test_what_was_not_seen_is_not_decided(office: Any) -> None:
    """A decision on figures of before is refused, whole."""
    found = [w for w in open_ones(office) if w["concern"]["nutrient"] in ("ZN", "CA", "ID")]
    office.set_recipe([{"food": CHICKEN, "quantity": "20 g"}, {"food": RICE, "quantity": "3 cups"}])
    answer = decide(office, found)
    assert answer.status_code == 400 and "changed since" in answer.json()["error"]["message"]
    assert not FindingDecision.objects.exists()


def test_the_label_of_a_can_is_read_first(office: Any) -> None:
    lines = [{"food": TUNA_CANNED, "quantity": "100 g"}, {"food": RICE, "quantity": "1 cup"}]
    office.set_recipe(lines)
    ticks = [w for w in open_ones(office) if w["concern"]["settle"] == "tick"]
    assert [w["concern"]["food"] for w in ticks] == [TUNA_CANNED]
    rest = [w for w in open_ones(office) if w["concern"]["settle"] == "reason"]
    assert decide(office, rest).status_code == 200
    assert do(office, "check").status_code == 400
    assert decide(office, ticks, "").status_code == 200
    assert do(office, "check").status_code == 200


def test_the_vets_page_opens_one_plan_and_nothing_else(office: Any) -> None:
    request = to_vet(office)
    visitor = Browser()
    text = visitor.get(vet_path(request)).content.decode()
    assert "larch dog" in text and "Decided, for you to agree with" in text and "Zinc" in text
    assert "Agreed with the vet" in text, "decisions are shown with their reasons"
    assert visitor.get(f"{vet_path(request)}.pdf")["Content-Type"] == "application/pdf"
    for other in (f"/papers/versions/{request.frozen_id}/letter", "/api/outbox", "/api/issued"):
        assert visitor.get(other).status_code == 403, other
    # An address of one kind never opens the other.
    token = vet_path(request).removeprefix("/v/")
    assert visitor.get(f"/s/{token}").status_code == 404
    assert visitor.get(f"/v/{request.key}").status_code == 404
    assert visitor.get(f"/v/{token[:-1]}{'A' if token[-1] != 'A' else 'B'}").status_code == 404
    request.refresh_from_db()
    # The page and the PDF; told once a minute.
    assert request.visits == 2 and Event.objects.filter(kind="vet.opened").count() == 1


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ({"answer": "", **SIGNED}, "choose approve"),
        ({"answer": "approve", "signer": "", "licence": "V-12"}, "give your name"),
        ({"answer": "approve", "signer": "Dr E", "licence": " "}, "give your licence number"),
        ({"answer": "decline", **SIGNED, "comment": ""}, "why you decline"),
    ],
)
def test_an_answer_without_a_name_a_licence_or_a_reason_is_not_taken(
    office: Any, said: dict[str, str], words: str
) -> None:
    request = to_vet(office)
    answer = Browser().post(vet_path(request), said)
    assert answer.status_code == 400 and words in answer.content.decode()
    assert Release.objects.get().state == "with the vet"
    # What was typed stays in the form.
    assert said.get("signer", "") in answer.content.decode()


@pytest.mark.parametrize("answer", ["changes", "decline"])
def test_a_plan_that_is_sent_back_is_a_draft_again(office: Any, answer: str) -> None:
    request = to_vet(office)
    assert reply(request, answer, comment="less oil, please").status_code == 200
    release = Release.objects.get()
    assert release.state == "draft" and release.approved == ""
    give_address(office)
    assert do(office, "issue").status_code == 400
    assert do(office, "send", ASK).status_code == 400
    # The old page cannot sign it any more.
    assert reply(request).status_code == 400
    assert Release.objects.get().state == "draft"
    assert "less oil" in str(checks(office)["at_work"]["history"][-1])
    # Nor when another version is with the vet: what was seen there is not what would be signed.
    office.set_recipe([{"food": CHICKEN, "quantity": "190 g"}, {"food": RICE, "quantity": "1 cup"}])
    second = to_vet(office)
    assert second.frozen_id != request.frozen_id
    assert reply(request).status_code == 400
    assert Release.objects.get().state == "with the vet"
    assert "Send my answer" not in Browser().get(vet_path(request)).content.decode()
    assert reply(second).status_code == 200 and Release.objects.get().state == "approved"


def test_the_answer_must_come_from_the_page(office: Any) -> None:
    request = to_vet(office)
    strict = Browser(enforce_csrf_checks=True)
    assert reply(request, browser=strict).status_code == 400
    assert Release.objects.get().state == "with the vet"
    text = strict.get(vet_path(request)).content.decode()
    token = text.split('name="csrfmiddlewaretoken" value="')[1].split('"')[0]
    assert reply(request, browser=strict, csrfmiddlewaretoken=token).status_code == 200
    assert Release.objects.get().state == "approved"


def test_the_vets_link_runs_out(office: Any) -> None:
    request = to_vet(office)
    VetRequest.objects.update(expires=timezone.now() - timedelta(seconds=1))
    for answer in (Browser().get(vet_path(request)), reply(request)):
        assert answer.status_code == 410 and "has run out" in answer.content.decode()
    assert Release.objects.get().state == "with the vet"


def test_what_is_taken_back_is_not_signed(office: Any) -> None:
    request = to_vet(office)
    assert do(office, "take-back", {"reason": ""}).status_code == 400
    assert do(office, "take-back", {"reason": "the owner has no oven"}).status_code == 200
    answer = reply(request)
    assert answer.status_code == 410 and "took this plan back" in answer.content.decode()


def test_a_dog_that_changed_since_is_not_issued_on_an_old_signature(office: Any) -> None:
    request = to_vet(office)
    assert reply(request).status_code == 200
    give_address(office)
    office.change(dog__weight_kg=12)
    answer = do(office, "issue")
    assert answer.status_code == 400
    assert "weight: 10 kg, now 12 kg" in answer.json()["error"]["message"]
    assert "weight: 10 kg, now 12 kg" in checks(office)["at_work"]["since"]["dog"]
    office.change(dog__weight_kg=10)
    assert do(office, "issue").status_code == 200


def test_a_new_reaction_stops_a_plan_that_is_with_the_vet(office: Any) -> None:
    request = to_vet(office)
    reaction = {
        "food": "chicken",
        "what": "itch",
        "form": "",
        "tolerates": "",
        "certainty": "proven",
    }
    assert office.change(reactions=[reaction]).status_code == 200
    assert reply(request).status_code == 400
    assert Release.objects.get().state == "with the vet"


def test_the_recipe_on_the_bench_may_change_and_the_frozen_version_goes_out(office: Any) -> None:
    request = to_vet(office)
    office.set_recipe([{"food": CHICKEN, "quantity": "999 g"}])
    assert reply(request).status_code == 200
    give_address(office)
    answer = do(office, "issue").json()
    assert answer["issued"]["same"] is False
    lines = {x["name"]: (x["before_g"], x["after_g"]) for x in answer["changes"]["lines"]}
    assert any(
        before == pytest.approx(180) and after == pytest.approx(999)
        for before, after in lines.values()
    )
    owner = ShareLink.objects.get(document="owner")
    assert "999" not in Browser().get(Mail.objects.latest("pk").link).content.decode()
    assert owner.snapshot == RecipeVersion.objects.get(held=True).snapshot


def test_a_new_version_takes_the_place_of_the_old_one(office: Any) -> None:
    issue(office)
    old = Mail.objects.filter(to_address="owner@example.org").get().link
    office.set_recipe([{"food": CHICKEN, "quantity": "190 g"}, {"food": RICE, "quantity": "1 cup"}])
    request = to_vet(office)
    page = Browser().get(vet_path(request)).content.decode()
    assert "Changed since the issued version" in page and "190 g" in page
    assert Browser().get(old).status_code == 200, "until the new one is issued the old one stands"
    assert reply(request).status_code == 200
    assert do(office, "issue").status_code == 200
    gone = Browser().get(old)
    assert gone.status_code == 410 and "was replaced" in gone.content.decode()
    assert sorted(Release.objects.values_list("state", flat=True)) == ["issued", "superseded"]


def test_a_withdrawn_plan_says_so_at_once_on_every_page(office: Any) -> None:
    issue(office)
    request = VetRequest.objects.get()
    links = [Mail.objects.filter(to_address="owner@example.org").get().link, vet_path(request)]
    assert do(office, "withdraw", {"reason": " "}).status_code == 400
    assert do(office, "withdraw", {"reason": "the premix was recalled"}).status_code == 200
    for link in links:
        for form in ("", ".pdf"):
            answer = Browser().get(link + form)
            text = answer.content.decode()
            assert answer.status_code == 410 and "Do not feed this any more" in text, link
            assert "the premix was recalled" in text
    told = Mail.objects.filter(subject__startswith="Stop").values_list("to_address", flat=True)
    assert set(told) == {"owner@example.org", "vet@example.org"}
    version = RecipeVersion.objects.get(held=True)
    made = office.send(
        "post", f"versions/{version.pk}/links", {"document": "sheet", "audience": "x"}
    )
    assert made.status_code == 400 and "withdrew" in made.json()["error"]["message"]
    assert do(office, "withdraw", {"reason": "again"}).status_code == 400


def test_a_plan_can_be_withdrawn_while_a_red_flag_stops_the_case(office: Any) -> None:
    issue(office)
    office.change(intake__red_flags__present="collapsed")
    assert do(office, "check").status_code == 400
    assert do(office, "withdraw", {"reason": "the dog collapsed"}).status_code == 200


def test_issued_plans_that_data_would_change_are_listed_with_how_much(office: Any) -> None:
    issue(office)
    [plan] = office.get("issued").json()
    assert plan["changed"] is None and plan["number"] == 1
    assert office.get(f"issued?before={plan['release']}").json() == []
    assert office.get(f"issued?before={plan['release'] + 1}").json() == [plan]
    assert office.get("issued?before=x").status_code == 400
    office.note(RICE, measures={"cup": 100})
    [other] = office.get("issued").json()
    [line] = other["changed"]["lines"]
    assert line["food"] == RICE and line["after_g"] == pytest.approx(100) and line["before_g"] > 150
    office.note(RICE, measures={"cup": None})
    assert office.get("issued").json()[0]["changed"] is None
    assert office.change(standard="fediaf-2021").status_code == 200
    [plan] = office.get("issued").json()
    assert "standard: nrc-2006, now fediaf-2021" in plan["changed"]["dog"]
    zinc = next(x for x in plan["changed"]["nutrients"] if x["key"] == "ZN")
    assert zinc["before"] == zinc["after"] and zinc["least_before"] != zinc["least_after"]


def test_what_is_given_beside_the_recipe_is_judged_with_it(office: Any) -> None:
    """A treat the dog reacts to blocks the plan, though the recipe holds none of it."""
    reaction = {"food": "milk", "what": "itch", "form": "", "tolerates": "", "certainty": "proven"}
    assert office.change(reactions=[reaction]).status_code == 200
    assert [w for w in open_ones(office) if w["concern"]["level"] == "block"] == []
    item = {"kind": "treat", "food": "usda:01009", "quantity": "10 g"}
    assert office.set_plan(items=[item]).status_code == 200
    blocks = [w["concern"]["food"] for w in open_ones(office) if w["concern"]["level"] == "block"]
    assert blocks == ["usda:01009"] and checks(office)["beside"] is True
    assert Plan.objects.get().items[0]["food"] == "usda:01009"


def test_a_version_that_was_put_forward_stays_on_record(office: Any) -> None:
    to_vet(office)
    version = RecipeVersion.objects.get(held=True)
    for path in (
        f"versions/{version.pk}",
        f"recipes/{office.recipe.pk}",
        f"cases/{office.case.pk}",
    ):
        answer = office.send("delete", path)
        assert answer.status_code == 400 and "record" in answer.json()["error"]["message"], path
    assert VetRequest.objects.count() == 1


def test_the_history_of_a_release_is_never_rewritten(office: Any) -> None:
    to_vet(office)
    with pytest.raises(DatabaseError, match="never"), transaction.atomic():
        connection.cursor().execute("UPDATE release_releasemove SET after = 'issued'")
    assert ReleaseMove.objects.filter(after="issued").count() == 0


def test_nobody_elses_plans_can_be_reached(office: Any, rival: Any) -> None:
    to_vet(office)
    pk = office.recipe.pk
    assert rival.get(f"recipes/{pk}/checks").status_code == 404
    decision = FindingDecision.objects.first()
    assert decision is not None
    assert rival.send("delete", f"decisions/{decision.pk}").status_code == 404
    for move, body in (
        ("decisions", {"concerns": [{"key": "x", "basis": "y"}], "reason": "because of it"}),
        ("check", {}), ("send", ASK), ("take-back", {"reason": "x"}), ("issue", {}),
        ("withdraw", {"reason": "x"}),
    ):  # fmt: skip
        assert rival.send("post", f"recipes/{pk}/{move}", body).status_code == 404, move
    assert rival.get("outbox").json() == [] and rival.get("issued").json() == []
    version = RecipeVersion.objects.get(held=True)
    assert rival.browser.get(f"/papers/versions/{version.pk}/letter").status_code == 404


def test_a_recipe_that_cannot_be_computed_says_so(office: Any) -> None:
    office.recipe.lines.update(food="own:gone")
    found = checks(office)
    assert found["concerns"] == [] and "own:gone" in found["problem"]
    assert do(office, "check").status_code == 400


def test_an_address_that_is_none_is_named(office: Any) -> None:
    settle_all(office)
    assert do(office, "check").status_code == 200
    answer = do(office, "send", {**ASK, "address": "nowhere"})
    assert answer.status_code == 400 and answer.json()["error"]["field"] == "address"
    assert Release.objects.get().state == "checked" and not VetRequest.objects.exists()
