"""Sign-in, isolation between practices, headers."""

import re
from typing import Any

import pytest
from accounts.models import Practice, User, WorkRole
from config.api import urlpatterns
from config.papers import urlpatterns as papers
from desk.models import DeskFeed
from django.core.cache import cache
from django.test import Client as Browser
from django.urls.resolvers import URLPattern
from followup.models import DiaryLink, FollowEntry, FollowTrial, LabResult
from interview.models import SentSheet, SheetLink
from kitchen.models import Batch, CookLink
from library.models import OwnFood
from office.models import Appointment, Invoice, PracticeText
from people.actions import invite
from people.models import Seat
from people.setting_up import first_key
from recipes.actions import keep
from recipes.models import KeptRecipe
from records.actions import share
from release.models import FindingDecision
from wainscot_core.documents.paper import DocumentKind

ANALYSIS = {"lines": [], "covers_days": 1}


def test_every_endpoint_with_a_number_answers_404_to_another_practice(office, rival) -> None:
    """Walks the URL table, so that a new endpoint cannot be forgotten."""
    bodies = {
        "recipes/analysis": ANALYSIS,
        "recipes/explain": {**ANALYSIS, "key": "CA"},
        "recipes/robustness": ANALYSIS,
        "recipes": {"changes": [{"path": "name", "value": "x", "was": "Draft"}]},
        "recipes/archive": {"archived": True},
        "cases/recipes": {"name": "x"},
        "cases/volume": {"rule": "a cup a day per 10 kg", "recipe": office.recipe.pk},
        "cases/targets": {"key": "CA", "bound": "min", "value": 1, "by": "x", "reason": "x"},
        "cases/client-foods": {"foods": ["usda:05062"], "mark": "cannot-get"},
        "own-foods": {"name": "x", "values": {"ENERC": 1}},
        "cases": {"changes": [{"path": "notes", "value": "x", "was": ""}]},
        "cases/archive": {"archived": True},
        "cases/guide": {"guided": True},
        "clients/erasure": {"name": "x", "reason": "x y z"},
        "clients": {"changes": [{"path": "phone", "value": "1", "was": ""}]},
    }
    bodies |= {
        "recipes/decisions": {"concerns": [{"key": "x", "basis": "x"}], "reason": "x"},
        "recipes/check": {},
        "recipes/send": {"name": "x", "address": "x@example.org"},
        "recipes/take-back": {"reason": "x"},
        "recipes/issue": {},
        "recipes/withdraw": {"reason": "x"},
        "recipes/bring": {"text": "1 egg"},
        "recipes/doubts": {"lines": []},
        "recipes/questions": {"questions": ["x"]},
        "recipes/thumb": {**ANALYSIS, "rule": "1 egg per 10 kg"},
        "recipes/shopping": ANALYSIS,
        "cases/eaten": {"food": "usda:05062", "quantity": "100 g"},
        "recipes/brought": {"text": "1 egg", "taken": 1},
        "recipes/formulate": {**ANALYSIS, "settings": {"mode": "rebalance"}},
        "recipes/live": {**ANALYSIS, "settings": {"mode": "rebalance"}},
        "recipes/help": {**ANALYSIS, "key": "CA"},
        "recipes/template": {"lines": [], "way": "equal-parts"},
        "recipes/rescale": {**ANALYSIS, "way": "equal-parts"},
        "recipes/replacements": {**ANALYSIS, "line": 0},
        "recipes/substitute": {**ANALYSIS, "line": 0, "food": "usda:05062"},
        "recipes/versions": {"name": "x"},
        "versions": {"name": "x"},
        "versions/branch": {"name": "x"},
        "cases/plan": {"changes": [{"path": "turns.1", "value": 2, "was": 1}]},
    }
    ask = {"amount": 7}
    meeting = {"kind": "call", "on": "2026-01-02", "at": "9:00", "minutes": 20}
    bodies |= {
        "recipes/batch-plan": {"ask": ask, "draft": True},
        "recipes/batches": {"ask": ask, "draft": True, "cook_on": "2026-01-02"},
        "batches/weighed": {"weighed": {"finished_g": 900}, "version": 1},
        "batches/thrown": {"reason": "not mine", "version": 1},
        "batches/entries": {"entries": [{"key": "entry-keyed", "kind": "note", "text": "x"}]},
        "batches/cook-links": {"days": 3},
        "batches/boxes": {"feed_from": "2026-01-02", "version": 1},
        "cases/follow-entries": {
            "key": "day-keyed-1",
            "entry": {"date": "2026-01-02", "note": "x"},
        },
        "cases/diary-links": {"days": 3},
        "cases/sheet-links": {"days": 3},
        "sheets/settle": {"settled": {"stool": "left"}},
        "cases/lab-values": {
            "key": "lab-keyed-1",
            "value": {"date": "2026-01-02", "test": "potassium", "value": 4.2},
        },
        "lab-values/struck": {"struck": True, "version": 1},
        "cases/drift": {"items": [{"how": "left-out", "line": 0}]},
        "cases/reformulate": {"take": []},
        "people": {"role": "assistant"},
        "people/left": {"left": True},
        "cases/due-done": {"kind": "symptom", "on": "2026-01-02"},
        "cases/due-reminded": {"kind": "weigh"},
        "cases/due-taken-back": {"kind": "draft"},
        "cases/due-put-off": {"kind": "draft", "until": "2999-01-02", "reason": "x"},
        "cases/trials": {"plan": {"started": "2026-01-02", "diet": ["rabbit"]}},
        "trials/moves": {"move": {"kind": "stop", "date": "2026-01-02", "note": "x"}, "version": 1},
        "trials/taken-back": {"version": 1},
        "trials/verdicts": {"food": "beef", "version": 1},
        "follow-entries/struck": {"struck": True, "version": 1},
        "clients/invoices": {"to": "x", "lines": [{"what": "x", "price": "1"}]},
        "cases/appointments": meeting,
        "appointments": {**meeting, "version": 1},
        "appointments/off": {"off": True, "version": 1},
        "invoices/paid": {"on": None, "version": 1},
        "invoices/void": {"reason": "x", "version": 1},
        "texts": {"name": "x", "text": "x", "version": 1},
        "kept-recipes": {"name": "x", "version": 1},
        "recipes/begin": {**ANALYSIS, "kept": 1},
        "cases/plan/take": {"job": "00000000-0000-4000-8000-000000000000"},
        "recipes/swaps": {**ANALYSIS, "line": 0},
    }
    met = Appointment.objects.create(
        practice=office.practice, case=office.case, kind="call", begins="2026-01-02T09:00Z",
        minutes=20, by="x",
    )  # fmt: skip
    charged = Invoice.objects.create(
        practice=office.practice, number=1, on="2026-01-02", record={}, parties={}, by="x"
    )
    text = PracticeText.objects.create(practice=office.practice, name="x", text="x")
    begun = KeptRecipe.objects.create(
        practice=office.practice, name="x", covers_days=1, lines=[], by="x"
    )
    batch = Batch.objects.create(
        practice=office.practice, recipe=office.recipe, code="2026-01-02-A", cook_on="2026-01-02",
        covers_days=1, lines=[], ask={}, plan={}, by="x",
    )  # fmt: skip
    cook_link = CookLink.objects.create(
        practice=office.practice, batch=batch, key="x", by="x", expires="2030-01-01T00:00Z"
    )
    diary_link = DiaryLink.objects.create(
        practice=office.practice, case=office.case, key="y", by="x", expires="2030-01-01T00:00Z"
    )
    sheet_link = SheetLink.objects.create(
        practice=office.practice, case=office.case, key="v", by="x", expires="2030-01-01T00:00Z"
    )
    sheet = SentSheet.objects.create(
        practice=office.practice, case=office.case, key="x",
        answers=[{"id": "stool", "words": "soft", "chosen": ""}],
    )  # fmt: skip
    day = FollowEntry.objects.create(
        practice=office.practice, case=office.case, key="x", day="2026-01-02", data={}, by="x"
    )
    lab = LabResult.objects.create(
        practice=office.practice, case=office.case, key="x", day="2026-01-02", data={}, by="x"
    )
    feed = DeskFeed.objects.create(
        practice=office.practice, key="z", by="x", expires="2030-01-01T00:00Z"
    )
    trial = FollowTrial.objects.create(practice=office.practice, case=office.case, data={})
    version = keep(office.who, office.recipe, "x")
    assert version.snapshot is not None
    link = share(office.who, version.snapshot, DocumentKind.SHEET, "x", 1, "x", 1)
    bodies["versions/links"] = {"document": "sheet", "audience": "x"}
    person = User.objects.get(username="larch")
    seat = Seat.objects.get(user=person)
    asked = invite(office.who, "x@example.org", WorkRole.OWNER)
    own_food = OwnFood.objects.create(practice=office.practice, slug="x", name="x")
    decision = FindingDecision.objects.create(
        practice=office.practice, recipe=office.recipe, key="x", basis="x", what="x", by="x"
    )
    ids = {"cases": office.case.pk, "recipes": office.recipe.pk, "own-foods": own_food.pk, "spoilt": own_food.pk,
           "versions": version.pk, "links": link.pk, "decisions": decision.pk, "batches": batch.pk, "cook-links": cook_link.pk, "diary-links": diary_link.pk, "sheet-links": sheet_link.pk, "sheets": sheet.pk, "follow-entries": day.pk, "trials": trial.pk, "lab-values": lab.pk, "desk-feeds": feed.pk, "people": person.pk, "account": seat.pk, "invitations": asked.pk, "clients": office.case.dog.client_id,
           "appointments": met.pk, "invoices": charged.pk, "texts": text.pk, "kept-recipes": begun.pk}  # fmt: skip
    walked = 0
    for prefix, entry in [("api/", e) for e in urlpatterns] + [("papers/", e) for e in papers]:
        assert isinstance(entry, URLPattern)
        route = str(entry.pattern)
        if "<int:pk>" not in route:
            continue
        kind = route.split("/")[0]
        path = route.replace("<int:pk>", str(ids[kind])).replace("<str:kind>", "food")
        body = bodies.get(re.sub(r"/?<int:pk>/?", "/", route).strip("/"))
        for method in ("get", "post", "put", "patch", "delete"):
            if not hasattr(entry.callback.view_class, method):
                continue
            answer = (
                rival.browser.get(f"/{prefix}{path}")
                if method == "get"
                else rival.send(method, path, body)
            )
            assert answer.status_code == 404, (method, path)
            walked += 1
    assert walked >= 40
    assert office.get(f"cases/{office.case.pk}").status_code == 200


def test_a_recipe_cannot_be_copied_out_of_another_practice(office, rival) -> None:
    body = {"name": "Mine now", "copy_of": office.recipe.pk}
    answer = rival.send("post", f"cases/{rival.case.pk}/recipes", body)
    assert answer.status_code == 404
    assert len(rival.get(f"cases/{rival.case.pk}").json()["recipes"]) == 1


def test_lists_hold_only_the_own_practice(office, rival) -> None:
    assert [c["id"] for c in rival.get("cases").json()["rows"]] == [rival.case.pk]


@pytest.mark.django_db
@pytest.mark.parametrize("path", ["cases", "cases/1", "recipes/1", "foods?q=rice", "standards"])
def test_nothing_without_signing_in(path: str) -> None:
    answer = Browser().get(f"/api/{path}")
    assert answer.status_code == 403
    assert answer.json()["error"]["message"]


@pytest.fixture
def visitor(db: None) -> Browser:
    user = User(username="maren", practice=Practice.objects.create(name="P"), role=WorkRole.OWNER)
    user.set_password("a-long-password-1")
    user.save()
    return Browser(enforce_csrf_checks=True)


def sign_in(visitor: Browser, password: str, token: str | None = None):
    visitor.get("/api/session")
    return visitor.post(
        "/api/session/sign-in",
        {"username": "maren", "password": password},
        content_type="application/json",
        headers={"X-CSRFToken": token or visitor.cookies["csrftoken"].value},
    )


def test_sign_in_and_out(visitor: Browser) -> None:
    assert sign_in(visitor, "wrong").status_code == 400
    assert sign_in(visitor, "a-long-password-1").json()["username"] == "maren"
    assert visitor.get("/api/cases").status_code == 200
    out = visitor.post(
        "/api/session/sign-out",
        content_type="application/json",
        headers={"X-CSRFToken": visitor.cookies["csrftoken"].value},
    )
    assert out.json()["username"] is None
    assert visitor.get("/api/cases").status_code == 403


def test_csrf_is_required(visitor: Browser) -> None:
    assert sign_in(visitor, "a-long-password-1", token="x" * 32).status_code == 403
    assert sign_in(visitor, "a-long-password-1").status_code == 200
    assert visitor.post("/api/cases", {}, content_type="application/json").status_code == 403


def test_wrong_passwords_lock_the_name(visitor: Browser) -> None:
    codes = [sign_in(visitor, "wrong").status_code for _ in range(9)]
    assert codes[0] == 400
    assert codes[-1] == 429
    locked = sign_in(visitor, "a-long-password-1")
    assert locked.status_code == 429
    assert "15 minutes" in locked.json()["error"]["message"]


@pytest.mark.django_db
def test_first_start_makes_the_first_user_once() -> None:
    visitor = Browser()
    assert visitor.get("/api/session").json()["needs_setup"] is True
    form = {"practice": "New", "username": "ida", "password": "short"}
    weak = visitor.post("/api/setup", form, content_type="application/json")
    assert (weak.status_code, weak.json()["error"]["field"]) == (400, "password")
    assert not Practice.objects.exists()
    form["password"] = "oak-linen-rail-7"
    made = visitor.post("/api/setup", form, content_type="application/json")
    assert made.json()["practice"] == "New"
    again = Browser().post("/api/setup", form, content_type="application/json")
    assert again.status_code == 400
    assert User.objects.count() == 1


@pytest.mark.django_db
@pytest.mark.parametrize(
    "way",
    [
        {"REMOTE_ADDR": "192.0.2.7"},
        {"HTTP_X_FORWARDED_FOR": "127.0.0.1"},
        {"HTTP_X_REAL_IP": "127.0.0.1"},
        {"HTTP_FORWARDED": "for=127.0.0.1"},
    ],
    ids=lambda way: next(iter(way)),
)
def test_who_comes_first_from_elsewhere_does_not_own_the_installation(way: dict[str, str]) -> None:
    cache.clear()
    visitor = Browser(**way)
    assert visitor.get("/api/session").json()["needs_key"] is True
    form = {"practice": "New", "username": "ida", "password": "oak-linen-rail-7", "key": "0" * 16}
    said = visitor.post("/api/setup", form, content_type="application/json")
    assert (said.status_code, said.json()["error"]["field"]) == (400, "key")
    assert not User.objects.exists()
    form["key"] = f" {first_key().upper()} "
    assert visitor.post("/api/setup", form, content_type="application/json").status_code == 200
    cache.clear()


@pytest.mark.django_db
def test_behind_a_proxy_of_ours_nobody_is_taken_for_being_here(settings: Any) -> None:
    """A proxy may tell nothing of whom it passes on."""
    assert Browser().get("/api/session").json()["needs_key"] is False
    settings.PROXIES = 1
    assert Browser().get("/api/session").json()["needs_key"] is True


@pytest.mark.django_db
def test_headers_forbid_inline_script_and_framing() -> None:
    answer = Browser().get("/api/session")
    policy = answer.headers["Content-Security-Policy"]
    assert "script-src 'self';" in policy + ";"
    assert "frame-ancestors 'none'" in policy
    assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_unknown_addresses_answer_in_the_one_shape(office) -> None:
    answer = office.get("nothing/here")
    assert answer.status_code == 404
    assert answer.json()["error"]["message"]


def test_numbers_of_another_practice_inside_a_body(office, rival) -> None:
    """What is asked of one's own record may name nobody else's."""
    mine, theirs = rival.recipe.pk, office.recipe.pk
    case = rival.case.pk
    volume = {"recipe": theirs, "rule": "1 cup per 10 lb"}
    eater = {"ask": {"amount": 7, "eaters": [{"case": office.case.pk, "share": 1}]}, "draft": True}
    for method, path, body in (
        ("post", f"cases/{case}/recipes", {"name": "x", "copy_of": theirs}),
        ("post", f"cases/{case}/volume", volume),
        ("post", f"recipes/{mine}/batch-plan", eater),
        (
            "post",
            "cases",
            {"client_id": office.case.dog.client_id, "dog_name": "x", "weight_kg": 9},
        ),
        (
            "patch",
            f"cases/{case}/plan",
            {"changes": [{"path": f"turns.{theirs}", "value": 2, "was": None}]},
        ),
        ("get", f"cases/{case}/file?recipe={theirs}", None),
    ):
        answer = rival.get(path) if method == "get" else rival.send(method, path, body)
        assert answer.status_code in (400, 404), (path, answer.status_code, answer.content[:200])
        assert b"larch" not in answer.content
    assert rival.get(f"cases/{case}/plan").json()["turns"] == [] or all(
        t["recipe"] == mine for t in rival.get(f"cases/{case}/plan").json()["turns"]
    )
