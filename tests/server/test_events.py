"""Nothing is written without a line of who did it: every kind of event comes from the API itself."""

import json
import sqlite3
from dataclasses import replace
from datetime import timedelta
from io import StringIO
from pathlib import Path
from string import Formatter
from typing import Any

import pytest
from cases.models import Case, Client
from desk.models import DeskItem
from django.core.management import call_command
from django.test import Client as Browser
from django.utils import timezone
from django_otp.oath import totp
from django_otp.plugins.otp_totp.models import TOTPDevice
from events.models import Event, EventKind
from events.words import WORDS, words_of
from keeping.folder import DATABASE
from people.management.commands.practices import KEEPER
from people.models import Reset
from recipes.models import Recipe
from release.links import vet_path
from release.models import FindingDecision
from releasing import reply, to_vet
from wainscot_core.conventions import Conventions, Dates

CHICKEN = "usda:05062"


def test_every_kind_has_words_and_no_other() -> None:
    assert set(WORDS) == set(EventKind)


def going_out(office: Any, made: Any) -> None:
    """What is written on the way of another case's recipe to its owner."""
    recipe = Recipe.objects.filter(case=made["id"]).get()
    other = replace(office, recipe=recipe, case=recipe.case)
    request = to_vet(other)
    assert Browser().get(vet_path(request)).status_code == 200
    assert reply(request).status_code == 200
    decided = FindingDecision.objects.first()
    assert decided is not None
    assert other.send("delete", f"decisions/{decided.pk}").status_code == 200
    cooked(other)
    followed(other)


def people_come_and_go(office: Any) -> None:
    """What is written of who works here."""
    (asked,) = office.send(
        "post", "invitations", {"email": "n@example.org", "role": "owner"}
    ).json()["invitations"]
    (other,) = office.send(
        "post", "invitations", {"email": "o@example.org", "role": "owner"}
    ).json()["invitations"][:1]
    assert office.send("delete", f"invitations/{other['id']}").status_code == 200
    browser, password = Browser(), "oak-linen-rail-7"

    def send(method: str, path: str, body: Any = None, of: Browser = browser) -> Any:
        answer = getattr(of, method)(f"/api/{path}", body, content_type="application/json")
        assert answer.status_code < 300, (path, answer.content)
        return answer.json()

    who = {"username": "nova", "password": password}
    send("post", f"session/invitation/{asked['path'].rpartition('/')[2]}", who)
    send("post", "session/sign-in", who, Browser())
    send("post", "account/end-others")
    send("put", "account", {"email": "n@example.org", "password": password})
    send("post", "account/password", {"old": password, "password": f"{password}-8"})
    send("post", "account/second-factor")
    device = TOTPDevice.objects.get()
    code = f"{totp(device.bin_key):06d}"
    send("post", "account/second-factor/confirm", {"code": code})
    send("put", "account/second-factor", {"old": f"{password}-8"})
    send("post", "session/forgot", {"username": "nova"})
    made = Reset.objects.get()
    send("post", f"session/reset/{made.token}", {"password": password})
    refused = Browser().post(
        "/api/session/sign-in", {**who, "password": "x"}, content_type="application/json"
    )
    assert refused.status_code == 400
    send("post", "session/sign-in", who)
    send("post", "session/sign-out")
    nova = made.user_id
    assert office.send("put", f"people/{nova}", {"role": "assistant"}).status_code == 200
    for left in (True, False):
        assert office.send("post", f"people/{nova}/left", {"left": left}).status_code == 200


def followed(office: Any) -> None:
    """What is written of days that are put down."""
    at = f"cases/{office.case.pk}"
    Case.objects.filter(pk=office.case.pk).update(conditions=["spoilt"])
    assert office.send("delete", f"{at}/faults").status_code == 200
    entry = {"date": timezone.localdate().isoformat(), "weight_kg": 20}
    seen = office.send("post", f"{at}/follow-entries", {"key": "day-keyed-1", "entry": entry})
    assert seen.status_code == 201, seen.content
    row = seen.json()["entries"][0]
    for n, struck in enumerate((True, False)):
        body = {"struck": struck, "version": row["version"] + n}
        assert office.send("post", f"follow-entries/{row['id']}/struck", body).status_code == 200
    value = {"date": entry["date"], "test": "potassium", "value": 4.2}
    seen = office.send("post", f"{at}/lab-values", {"key": "lab-keyed-1", "value": value})
    assert seen.status_code == 201, seen.content
    lab = seen.json()["labs"][0]
    for n, struck in enumerate((True, False)):
        body = {"struck": struck, "version": lab["version"] + n}
        assert office.send("post", f"lab-values/{lab['id']}/struck", body).status_code == 200
    begun = office.send(
        "post", f"{at}/trials", {"plan": {"started": entry["date"], "diet": ["rabbit"]}}
    )
    assert begun.status_code == 201, begun.content
    trial = begun.json()["trials"][0]
    move = {"kind": "stop", "date": entry["date"], "note": "moved away"}
    path, version = f"trials/{trial['id']}", trial["version"]
    assert (
        office.send("post", f"{path}/moves", {"move": move, "version": version}).status_code == 200
    )
    assert office.send("post", f"{path}/taken-back", {"version": version + 1}).status_code == 200
    seen = {"key": "day-keyed-2", "entry": {"date": entry["date"], "signs": ["blood"]}}
    assert office.send("post", f"{at}/follow-entries", seen).status_code == 201
    assert office.get("desk").status_code == 200
    assert office.send("post", f"{at}/reformulate", {"take": []}).status_code == 200
    done = office.send("post", f"{at}/due-done", {"kind": "symptom", "on": entry["date"]})
    assert done.status_code == 200, done.content
    later = (timezone.localdate() + timedelta(days=9)).isoformat()
    due = DeskItem.objects.filter(case=office.case).first()
    assert due is not None
    body = {"kind": due.kind, "until": later, "reason": "away"}
    assert office.send("post", f"{at}/due-put-off", body).status_code == 200
    assert office.send("post", f"{at}/due-taken-back", {"kind": due.kind}).status_code == 200
    DeskItem.objects.create(
        practice=office.practice, case=office.case, kind="weigh", holder="owner", on=entry["date"],
        shown_on=entry["date"], what="Weigh it", why="x", place="follow",
    )  # fmt: skip
    Client.objects.update(email="owner@example.org")
    assert office.send("post", f"{at}/due-reminded", {"kind": "weigh"}).status_code == 200
    feed = office.send("post", "desk-feeds").json()
    assert office.send("delete", f"desk-feeds/{feed['id']}").status_code == 200
    sheet = office.send("post", f"{at}/sheet-links", {"days": 3}).json()
    answers = {"key": "sheet-keyed-1", "answers": [{"id": "stool", "words": "soft"}]}
    sent = Browser().post(f"/api{sheet['path']}", answers, content_type="application/json")
    assert sent.status_code == 201, sent.content
    waits = office.get(f"{at}/sheets").json()[0]["id"]
    left = {"settled": {"stool": "left"}}
    assert office.send("post", f"sheets/{waits}/settle", left).status_code == 200
    assert office.send("delete", f"sheet-links/{sheet['id']}").status_code == 200
    link = office.send("post", f"{at}/diary-links", {"days": 3})
    assert link.status_code == 201, link.content
    assert office.send("delete", f"diary-links/{link.json()['id']}").status_code == 200


def cooked(office: Any) -> None:
    """What is written of a batch."""
    body = {"ask": {"amount": 7}, "draft": True, "cook_on": timezone.localdate().isoformat()}
    answer = office.send("post", f"recipes/{office.recipe.pk}/batches", body)
    assert answer.status_code == 201, answer.content
    batch = answer.json()
    path = f"batches/{batch['id']}"
    weighed = {"weighed": {"finished_g": 900}, "version": batch["version"]}
    assert office.send("post", f"{path}/weighed", weighed).status_code == 200
    fed = {"feed_from": timezone.localdate().isoformat(), "version": batch["version"] + 1}
    assert office.send("post", f"{path}/boxes", fed).status_code == 200
    thrown = {"reason": "left out overnight", "version": batch["version"] + 2}
    assert office.send("post", f"{path}/thrown", thrown).status_code == 200


def kept_around(office: Any) -> None:
    """What is written of appointments, invoices, texts and recipes to begin with."""

    def ok(method: str, path: str, body: Any = None) -> Any:
        answer = office.send(method, path, body)
        assert answer.status_code < 300, (path, answer.content)
        return answer.json()

    day = timezone.localdate().isoformat()
    meeting = {"kind": "call", "on": day, "at": "9:00", "minutes": 20}
    met = ok("post", f"cases/{office.case.pk}/appointments", meeting)
    ok("put", f"appointments/{met['id']}", {**meeting, "at": "10", "version": 1})
    for n, off in enumerate((True, False)):
        ok("post", f"appointments/{met['id']}/off", {"off": off, "version": n + 2})
    charge = {"to": "x", "lines": [{"what": "x", "price": "1"}]}
    invoice = ok("post", f"clients/{office.case.dog.client_id}/invoices", charge)
    for n, on in enumerate((day, None)):
        ok("post", f"invoices/{invoice['id']}/paid", {"on": on, "version": n + 1})
    ok("post", f"invoices/{invoice['id']}/void", {"reason": "a slip", "version": 3})
    (text,) = ok("post", "texts", {"name": "x", "text": "x"})
    ok("delete", f"texts/{text['id']}")
    (begun,) = ok("post", "kept-recipes", {"recipe": office.recipe.pk, "name": "x"})
    ok("put", f"kept-recipes/{begun['id']}", {"name": "y", "version": 1})
    ok("delete", f"kept-recipes/{begun['id']}")


def carried_elsewhere(office: Any, to: Path) -> set[str]:
    """What is written by the practice that the records of this one become."""
    call_command("take_out", str(to), "--practice", office.practice.name, stdout=StringIO())
    call_command(
        "bring_in", str(to), "--owner", "o@example.org", "--name", "Elsewhere", stdout=StringIO()
    )
    written = Event.objects.filter(practice__name="Elsewhere", by=KEEPER)
    return set(written.values_list("kind", flat=True))


def test_every_write_of_the_api_leaves_its_event(
    settings: Any, tmp_path: Path, office: Any
) -> None:
    """Each write once, in an order a person could do it; what is said of it holds no empty place."""
    send, case, recipe = office.send, office.case.pk, office.recipe.pk

    def ok(answer: Any) -> Any:
        assert answer.status_code < 300, answer.content
        return answer.json() if answer.content else None

    ida = ok(
        send("post", "cases", {"client_name": "Ida", "dog_name": "Fen", "weight_kg": "18 lb"})
    )["client"]["id"]
    office.change(dog__weight_kg=12, notes="a note that is longer than what the log repeats " * 2)
    owner = f"clients/{office.case.dog.client_id}"
    ok(send("patch", owner, {"changes": [{"path": "phone", "value": "123", "was": ""}]}))
    metric = {"path": "conventions.measures", "value": "metric", "was": "us"}
    ok(send("patch", "practice", {"changes": [metric]}))
    decision = {"key": "CA", "bound": "min", "value": 1200, "by": "Dr Elm", "reason": "growth"}
    ok(send("post", f"cases/{case}/targets", decision))
    ok(send("post", f"cases/{case}/targets", {**decision, "undo": True}))
    ok(send("post", f"cases/{case}/client-foods", {"foods": [CHICKEN], "mark": "will-not-use"}))
    ok(office.note(CHICKEN, shop="the butcher"))
    food = ok(send("post", "own-foods", {"name": "Stock", "values": {"ENERC": 10}}))
    ok(send("put", f"own-foods/{food['id']}", {"name": "Stock", "values": {"ENERC": 12}}))
    zinc = {"name": "Zinc", "unit": "tablet", "rest": "nothing", "lines": [{"text": "Zinc 15 mg"}]}
    shelved = ok(send("post", "shelf", {"label": zinc}))
    ok(send("patch", f"shelf/{shelved['id']}", {"stocked": False}))
    table = office.browser.get("/api/own-foods/export").content.decode()
    ok(send("post", "own-foods/import", {"text": table, "accept": True}))
    house = ok(send("post", "standards", {"base": "nrc-2006", "name": "House"}))
    fields = ("stage", "key", "unit", "min", "base", "max", "confidence", "note")
    rows = [{k: row[k] for k in fields} for row in house["rows"]]
    ok(send("put", f"standards/{house['id']}", {"rows": rows}))
    read = {"min": 1.0, "base": 0.5}
    value = {"stage": "adult", "key": "CA", "by": "Ida", "checked": True, "read": read}
    ok(send("post", "standards/nrc-2006/check", value))
    ok(send("post", "standards/nrc-2006/check", {**value, "checked": False}))
    kept_around(office)
    fresh = ok(send("post", f"cases/{case}/recipes", {"name": "Second"}))
    ok(send("post", f"cases/{case}/recipes", {"name": "Copy", "copy_of": recipe}))
    lines = [{"food": CHICKEN, "quantity": "100 g"}]
    ok(office.set_recipe(lines, pk=fresh["id"], name="Second"))
    ok(send("post", f"recipes/{fresh['id']}/formulate", {"lines": lines, "settings": {}}))
    ok(send("post", f"recipes/{fresh['id']}/brought", {"text": "1 egg", "taken": 1}))
    kept = ok(send("post", f"recipes/{fresh['id']}/versions", {"name": "v"}))
    ok(send("patch", f"versions/{kept['id']}", {"name": "w"}))
    ok(send("post", f"versions/{kept['id']}/restore"))
    ok(send("post", f"versions/{kept['id']}/branch", {"name": "Third"}))
    link = ok(send("post", f"versions/{kept['id']}/links", {"document": "sheet", "audience": "x"}))
    assert Browser().get(link["path"]).status_code == 200
    ok(send("delete", f"links/{link['id']}"))
    ok(send("delete", f"versions/{kept['id']}"))
    ok(office.set_plan({recipe: 2}))
    ok(send("post", f"cases/{case}/plan/adjust", {}))
    file = json.loads(office.browser.get(f"/api/cases/{case}/file?recipe={recipe}").content)
    going_out(office, ok(send("post", "cases/file", file)))
    ok(send("post", f"recipes/{fresh['id']}/archive", {"archived": True}))
    ok(send("post", f"recipes/{fresh['id']}/archive", {"archived": False}))
    ok(send("delete", f"recipes/{fresh['id']}"))
    ok(send("post", f"cases/{case}/archive", {"archived": True}))
    ok(send("post", f"cases/{case}/archive", {"archived": False}))
    ok(send("delete", f"cases/{case}"))
    people_come_and_go(office)
    sqlite3.connect(tmp_path / DATABASE).execute("CREATE TABLE dogs (name TEXT)").connection.close()
    settings.DATA_DIR = tmp_path
    ok(send("post", "installation/backup"))

    ok(send("post", f"clients/{ida}/erasure", {"name": "Ida", "reason": "asked for"}))
    elsewhere = carried_elsewhere(office, tmp_path / "records.zip")

    seen = {event.kind for event in Event.objects.for_practice(office.practice)}
    assert seen | elsewhere == set(EventKind)
    for event in Event.objects.all():
        words = words_of(event)
        assert words and "{" not in words and "None" not in words, words
        assert event.by in {
            "larch",
            "nova",
            KEEPER,
            "somebody outside",
            "link for x",
            "the owner, by a link",
            "link for Dr Example",
            "Dr Example, licence V-12",
        }


@pytest.mark.parametrize("kind", list(EventKind))
def test_words_name_only_what_an_event_can_hold(kind: EventKind) -> None:
    """Every place in the words is filled from the event's data by name."""
    places = [name for _, name, _, _ in Formatter().parse(WORDS[kind]) if name is not None]
    assert all(place.isidentifier() for place in places)


def test_the_log_repeats_short_values_and_only_names_long_ones(office: Any) -> None:
    office.change(title="Heart", notes="so long that nobody wants to read it twice in a list " * 3)
    told = office.get(f"cases/{office.case.pk}/events").json()["events"][0]["what"]
    assert told == "Changed the title of the case from nothing to Heart; notes"


def test_events_of_one_practice_are_not_those_of_another(office: Any, rival: Any) -> None:
    office.change(dog__weight_kg=12)
    mine = office.get(f"cases/{office.case.pk}/events").json()["events"]
    theirs = rival.get(f"cases/{rival.case.pk}/events").json()["events"]
    assert {e["by"] for e in mine} == {"larch"} and {e["by"] for e in theirs} == {"alder"}
    assert rival.get(f"cases/{office.case.pk}/events").status_code == 404


def test_a_change_is_told_in_words_not_by_its_field() -> None:
    """Every field of conventions and of the dog's energy has a word that people use."""
    paths = ("conventions.measures", "dog.conventions.body", "energy_method", "dog.weight_kg")
    for path in paths:
        change = {"path": path, "was": "a", "now": "b"}
        event = Event(kind=EventKind.CASE_CHANGED, data={"changes": [change]})
        assert path.rsplit(".", 1)[-1] not in words_of(event), path
    weight = {"path": "dog.weight_kg", "was": "8.2", "now": "8.4"}
    event = Event(kind=EventKind.CASE_CHANGED, data={"changes": [weight]})
    assert words_of(event) == "Changed the weight in kg from 8.2 to 8.4"


def test_days_are_told_as_the_practice_writes_them() -> None:
    ours = Conventions(dates=Dates.MONTH_FIRST)
    event = Event(kind=EventKind.LAB_PUT_DOWN, data={"test": "Potassium", "day": "2026-11-19"})
    assert words_of(event, ours) == "Put down Potassium of Nov 19, 2026"
    born = {"path": "dog.birth_date", "was": "2020-02-03", "now": "2020-03-02"}
    event = Event(kind=EventKind.CASE_CHANGED, data={"changes": [born]})
    assert words_of(event, ours).endswith("from Feb 3, 2020 to Mar 2, 2020")
    # What is stored stays as it is, for a table that a machine reads.
    assert "2020-02-03" in words_of(event)
