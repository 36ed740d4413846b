"""Appointments, invoices, texts and recipes to begin with: kept, changed, each practice's own."""

import csv
import io
from datetime import UTC, datetime
from typing import Any

import pytest
from accounts.models import Practice, User
from cases.models import Client
from desk.models import DeskFeed
from django.test import Client as Browser
from django.utils import timezone
from icalendar import Calendar
from office.models import Appointment, Invoice
from records.links import give

BACKEND = "django.contrib.auth.backends.ModelBackend"
CHICKEN, RICE = "usda:05096", "usda:20445"
LINES = [{"what": "First consultation", "price": "120"}, {"what": "Recipe", "price": "95,50"}]


@pytest.fixture
def noon(monkeypatch: pytest.MonkeyPatch, office: Any, rival: Any) -> Any:
    """Set the clock; whoever works here signs in anew, for a jump of days ends a session."""

    def at(moment: datetime) -> None:
        monkeypatch.setattr(timezone, "now", lambda: moment)
        for there in (office, rival):
            there.browser.force_login(User.objects.get(practice=there.practice), backend=BACKEND)

    at(datetime(2026, 12, 1, 12, 0, tzinfo=UTC))
    return at


def settings(office: Any, **fields: Any) -> Any:
    stored = office.get("practice").json()
    changes = []
    for name, value in fields.items():
        path = name.replace("__", ".")
        was: Any = stored
        for part in path.split("."):
            was = was[part]
        changes.append({"path": path, "value": value, "was": was})
    return office.send("patch", "practice", {"changes": changes})


def meet(office: Any, **more: Any) -> Any:
    asked = {"kind": "review", "on": "3 Dec 2026", "at": "2:30 pm", "minutes": 45, **more}
    return office.send("post", f"cases/{office.case.pk}/appointments", asked)


def charge(office: Any, lines: Any = LINES, **more: Any) -> Any:
    client = office.case.dog.client_id
    return office.send("post", f"clients/{client}/invoices", {"to": "Nora", "lines": lines, **more})


# Whose clock


def test_today_is_a_day_of_the_practice(office, noon) -> None:
    noon(datetime(2026, 12, 1, 20, 30, tzinfo=UTC))
    assert office.get("desk").json()["today"] == "2026-12-01"
    assert settings(office, time_zone="Australia/Sydney").status_code == 200
    # Half past seven in the morning of the next day.
    assert office.get("desk").json()["today"] == "2026-12-02"
    entry = {"date": "2026-12-02", "weight_kg": 20}
    put = office.send(
        "post", f"cases/{office.case.pk}/follow-entries", {"key": "day-of-sydney", "entry": entry}
    )
    assert put.status_code == 201, put.content
    settings(office, time_zone="America/Los_Angeles")
    assert office.get("desk").json()["today"] == "2026-12-01"


def test_an_owner_far_from_the_server_puts_her_own_today_down(office, noon) -> None:
    noon(datetime(2026, 12, 1, 20, 30, tzinfo=UTC))
    settings(office, time_zone="Australia/Sydney")
    given = office.send("post", f"cases/{office.case.pk}/diary-links", {"days": 30}).json()
    token = given["path"].rpartition("/")[2]
    body = {"key": "day-of-owner", "entry": {"date": "2026-12-02", "note": "ate well"}}
    put = Browser().post(f"/api/diary/{token}", body, content_type="application/json")
    assert put.status_code in (200, 201), put.content


def test_a_clock_that_nobody_knows_is_refused(office) -> None:
    refused = settings(office, time_zone="Mars/Olympus")
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "time_zone")
    # One that was known when it was chosen and is not on this machine does not stop anything.
    Practice.objects.filter(pk=office.practice.pk).update(time_zone="Gone/City")
    assert office.get("desk").status_code == 200


def test_one_request_leaves_no_clock_to_the_next(office, rival, noon) -> None:
    noon(datetime(2026, 12, 1, 20, 30, tzinfo=UTC))
    settings(office, time_zone="Australia/Sydney")
    assert office.get("desk").json()["today"] == "2026-12-02"
    # Whoever is not signed in has none to bring.
    assert timezone.get_current_timezone_name() == "UTC"
    assert rival.get("desk").json()["today"] == "2026-12-01"


# Appointments


def test_an_appointment_is_made_moved_and_called_off(office, noon) -> None:
    settings(office, time_zone="Europe/Berlin")
    made = meet(office, note="Bring the diary")
    assert made.status_code == 201, made.content
    found = made.json()
    assert (found["on"], found["at"], found["until"], found["off"]) == (
        "2026-12-03", "14:30", "15:15", False,
    )  # fmt: skip
    assert Appointment.objects.get().begins == datetime(2026, 12, 3, 13, 30, tzinfo=UTC)
    path = f"appointments/{found['id']}"
    moved = office.send(
        "put", path,
        {"kind": "call", "on": "2026-12-04", "at": "9", "minutes": 20, "version": found["version"]},
    )  # fmt: skip
    assert (moved.json()["what"], moved.json()["until"]) == ("Call", "9:20")
    # What was looked at before is not written over what is there now.
    stale = office.send(
        "put", path,
        {"kind": "call", "on": "2026-12-05", "at": "9", "minutes": 20, "version": found["version"]},
    )  # fmt: skip
    assert stale.status_code == 409
    version = moved.json()["version"]
    off = office.send("post", f"{path}/off", {"off": True, "version": version}).json()
    assert off["off"] is True
    on = office.send("post", f"{path}/off", {"off": False, "version": off["version"]}).json()
    assert on["off"] is False
    assert [a["id"] for a in office.get("appointments").json()["appointments"]] == [found["id"]]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"on": "3/4/2026"}, "on"),
        ({"on": "soon"}, "on"),
        ({"at": "25:00"}, "at"),
        ({"minutes": 2}, "minutes"),
        ({"on": "2036-12-03"}, "on"),
        ({"kind": "party"}, "kind"),
    ],
)
def test_what_is_no_appointment_is_refused_at_its_field(office, noon, more, field) -> None:
    refused = meet(office, **more)
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, field)
    assert not Appointment.objects.exists()


def test_an_hour_that_the_clocks_go_over_is_no_time(office, noon) -> None:
    settings(office, time_zone="Europe/Berlin")
    refused = meet(office, on="2027-03-28", at="2:30")
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "at")
    assert meet(office, on="2027-03-28", at="3:30").status_code == 201


def test_two_at_the_same_time_are_told_of_each_other(office, noon) -> None:
    meet(office)
    second = meet(office, at="15:00", kind="call").json()
    (clash,) = second["clashes"]
    assert clash == f"Review of {office.case.dog.name}"
    after = meet(office, at="15:45", kind="call").json()
    assert after["clashes"] == []
    # What is called off is in nobody's way.
    first = Appointment.objects.order_by("pk").first()
    assert first is not None
    office.send("post", f"appointments/{first.pk}/off", {"off": True, "version": first.version})
    told = {a["id"]: a["clashes"] for a in office.get("appointments").json()["appointments"]}
    assert told[second["id"]] == [] and told[first.pk] == []


def test_the_desk_shows_two_weeks_and_the_client_all(office, noon) -> None:
    for on in ("2026-11-30", "2026-12-01", "2026-12-15", "2026-12-16"):
        assert meet(office, on=on, at="9:00").status_code == 201
    near = [a["on"] for a in office.get("appointments").json()["appointments"]]
    assert near == ["2026-12-01", "2026-12-15"]
    client = office.case.dog.client_id
    every = office.get(f"clients/{client}/appointments").json()["appointments"]
    assert [a["on"] for a in every] == ["2026-12-16", "2026-12-15", "2026-12-01", "2026-11-30"]
    assert [a["over"] for a in every] == [False, False, True, True]


def test_a_calendar_takes_it_along_at_the_right_moment(office, noon) -> None:
    settings(office, time_zone="America/New_York")
    made = meet(office, note="Bring the diary").json()
    file = office.browser.get(f"/papers/appointments/{made['id']}.ics")
    assert file["Content-Type"].startswith("text/calendar")
    (event,) = Calendar.from_ical(file.content).walk("VEVENT")
    # Half past two in New York in winter.
    assert event.decoded("dtstart") == datetime(2026, 12, 3, 19, 30, tzinfo=UTC)
    assert event.decoded("dtend") == datetime(2026, 12, 3, 20, 15, tzinfo=UTC)
    assert "Bring the diary" in str(event["description"])
    assert str(event["status"]) == "CONFIRMED"
    feed = give(DeskFeed, office.who, 30, 400)
    shared = Browser().get(f"/due/{feed.token}.ics")
    uids = [str(e["uid"]) for e in Calendar.from_ical(shared.content).walk("VEVENT")]
    assert f"appointment-{made['id']}@wainscot" in uids
    office.send("post", f"appointments/{made['id']}/off", {"off": True, "version": made["version"]})
    again = Calendar.from_ical(Browser().get(f"/due/{feed.token}.ics").content)
    (same,) = [e for e in again.walk("VEVENT") if str(e["uid"]) == str(event["uid"])]
    assert str(same["status"]) == "CANCELLED" and same["sequence"] > event["sequence"]


# Invoices


def test_invoices_have_numbers_without_a_gap(office, rival, noon) -> None:
    settings(office, invoicing__first=40)
    numbers = [charge(office).json()["number"] for _ in range(3)]
    assert numbers == ["2026-0040", "2026-0041", "2026-0042"]
    assert charge(rival).json()["number"] == "2026-0001"
    # A first number that is set later moves nothing.
    settings(office, invoicing__first=7)
    noon(datetime(2027, 1, 2, 12, tzinfo=UTC))
    assert charge(office).json()["number"] == "2027-0043"


def test_an_invoice_stays_as_it_was_given_out(office, noon) -> None:
    settings(
        office, invoicing__tax_name="VAT", invoicing__tax_percent="19", conventions__currency="EUR",
        invoicing__pay_to="A bank, No 7",
    )  # fmt: skip
    lines = [{**line, "tax_percent": "19"} for line in LINES]
    made = charge(office, lines, done="November", note="Thank you").json()
    # 120 + 95.50 = 215.50; 19 % of it 40.945 -> 40.95; 256.45.
    assert (made["total"], made["due"]) == ("€256.45", "2026-12-15")
    settings(office, invoicing__pay_to="Another bank", conventions__currency="USD")
    Client.objects.filter(pk=office.case.dog.client_id).update(name="Another Name")
    page = office.browser.get(f"/papers/invoices/{made['id']}").content.decode()
    assert "€256.45" in page and "A bank, No 7" in page and "Another" not in page
    pdf = office.browser.get(f"/papers/invoices/{made['id']}.pdf")
    assert pdf.content.startswith(b"%PDF") and pdf["Cache-Control"] == "no-store"


def test_nothing_is_given_out_of_what_is_refused(office, noon) -> None:
    for lines, field in (
        ([], "lines"),
        ([{"what": "x", "price": "1,250"}], "lines[0].price"),
        ([{"what": "x", "price": "10"}, {"what": "", "price": "1"}], "lines[1].what"),
        ([{"what": "x", "price": "10", "tax_percent": "19"}], "lines[0].tax_percent"),
        ([{"what": "x", "price": "10", "count": "0"}], "lines[0].count"),
    ):
        refused = charge(office, lines)
        assert (refused.status_code, refused.json()["error"]["field"]) == (400, field)
    assert not Invoice.objects.exists()
    assert charge(office).json()["number"] == "2026-0001"


def test_the_sum_is_told_before(office) -> None:
    body = {"to": "", "lines": [{"what": "x", "count": "2", "price": "10.25", "tax_percent": "7"}]}
    found = office.send("post", "invoices/sum", body).json()
    assert (found["net"], found["total"]) == ("20.50", "21.94")
    assert not Invoice.objects.exists()


def test_an_invoice_is_paid_or_void_and_never_both(office, noon) -> None:
    made = charge(office).json()
    path = f"invoices/{made['id']}"
    for on in ("2026-12-02", "2026-11-30"):
        refused = office.send("post", f"{path}/paid", {"on": on, "version": made["version"]})
        assert (refused.status_code, refused.json()["error"]["field"]) == (400, "on")
    paid = office.send("post", f"{path}/paid", {"on": "2026-12-01", "version": 1}).json()
    assert paid["paid"] == "2026-12-01"
    both = office.send("post", f"{path}/void", {"reason": "a slip", "version": paid["version"]})
    assert both.status_code == 400
    open_again = office.send("post", f"{path}/paid", {"on": None, "version": 2}).json()
    nothing = office.send("post", f"{path}/void", {"reason": "", "version": 3})
    assert (nothing.status_code, nothing.json()["error"]["field"]) == (400, "reason")
    stale = office.send("post", f"{path}/void", {"reason": "a slip", "version": 2})
    assert stale.status_code == 409
    void = office.send(
        "post", f"{path}/void", {"reason": "a slip", "version": open_again["version"]}
    ).json()
    assert void["void"] == "a slip" and void["late"] is False
    again = office.send("post", f"{path}/paid", {"on": "2026-12-01", "version": void["version"]})
    assert again.status_code == 400
    assert "Void: a slip" in office.browser.get(f"/papers/invoices/{made['id']}").content.decode()
    assert charge(office).json()["number"] == "2026-0002"


def test_what_is_open_is_told_by_its_money(office, noon) -> None:
    charge(office)
    paid = charge(office).json()
    office.send("post", f"invoices/{paid['id']}/paid", {"on": "2026-12-01", "version": 1})
    settings(office, conventions__currency="EUR")
    charge(office)
    found = office.get("invoices").json()
    assert sorted(found["open"]) == sorted(["$215.50", "€215.50"])
    assert [i["number"] for i in found["invoices"]] == ["2026-0003", "2026-0002", "2026-0001"]
    noon(datetime(2026, 12, 16, 12, tzinfo=UTC))
    assert [i["late"] for i in office.get("invoices").json()["invoices"]] == [True, False, True]


def test_the_books_are_a_table(office, noon) -> None:
    settings(office, invoicing__tax_name="VAT")
    charge(office, [{**LINES[0], "tax_percent": "19"}, {**LINES[1], "tax_percent": "7"}])
    text = office.browser.get("/papers/invoices.csv").content.decode()
    rows = list(csv.DictReader(io.StringIO(text)))
    assert [(r["net"], r["tax_percent"], r["tax"]) for r in rows] == [
        ("95.50", "7", "6.69"), ("120.00", "19", "22.80"),
    ]  # fmt: skip
    assert {r["number"] for r in rows} == {"2026-0001"}


def test_the_next_invoice_begins_with_what_was_charged(office, noon) -> None:
    charge(office, to="Nora Birch\n4 Hazel Yard")
    charge(office, [{"what": "first consultation", "price": "130"}], to="Nora Birch\n4 Hazel Yard")
    found = office.get(f"clients/{office.case.dog.client_id}/invoices").json()
    assert found["to"] == "Nora Birch\n4 Hazel Yard"
    known = {line["what"]: line["price"] for line in found["known"]}
    assert known == {"first consultation": "130", "Recipe": "95.50"}


def test_what_was_charged_outlives_the_client(office, noon) -> None:
    made = charge(office).json()
    client = office.case.dog.client
    assert office.get(f"clients/{client.pk}/erasure").json()["records"]["invoices"] == 1
    erased = office.send(
        "post", f"clients/{client.pk}/erasure", {"name": client.name, "reason": "she asked"}
    )
    assert erased.status_code == 200, erased.content
    (kept,) = office.get("invoices").json()["invoices"]
    assert (kept["number"], kept["client"]) == (made["number"], None)


# Texts


def test_a_text_is_filled_for_whom_it_is_about(office) -> None:
    text = "Dear {owner}, please weigh {dog}. {practice}"
    kept = office.send("post", "texts", {"name": "Weighing", "text": text})
    assert kept.status_code == 201
    (bare,) = kept.json()
    assert bare["filled"] == f"Dear {{owner}}, please weigh {{dog}}. {office.practice.name}"
    dog = office.case.dog
    (of_dog,) = office.get(f"texts?case={office.case.pk}").json()
    assert of_dog["filled"] == (
        f"Dear {dog.client.name}, please weigh {dog.name}. {office.practice.name}"
    )
    (of_client,) = office.get(f"texts?client={dog.client_id}").json()
    assert "{dog}" in of_client["filled"] and dog.client.name in of_client["filled"]


def test_texts_are_changed_with_care(office, rival) -> None:
    (text,) = office.send("post", "texts", {"name": "Weighing", "text": "x"}).json()
    for body, field in (
        ({"name": "weighing", "text": "y"}, "name"),
        ({"name": "Other", "text": "Dear {dgo}"}, "text"),
        ({"name": "Other", "text": "  "}, "text"),
    ):
        refused = office.send("post", "texts", body)
        assert (refused.status_code, refused.json()["error"]["field"]) == (400, field)
    path = f"texts/{text['id']}"
    (now,) = office.send("put", path, {"name": "Weighing", "text": "y", "version": 1}).json()
    assert (now["text"], now["version"]) == ("y", 2)
    stale = office.send("put", path, {"name": "Weighing", "text": "z", "version": 1})
    assert stale.status_code == 409
    assert rival.get("texts").json() == []
    assert rival.get(f"texts?case={office.case.pk}").status_code == 404
    assert office.get("texts?case=x").json()["error"]["field"] == "case"
    assert office.send("delete", path).json() == []


# Recipes to begin with


def test_a_kept_recipe_is_begun_scaled_to_another_dog(office) -> None:
    office.set_recipe(
        [
            {
                "food": CHICKEN,
                "quantity": "300 g",
                "preparation": "poultry-simmered-discarded",
                "note": "diced",
            },
            {"food": RICE, "quantity": "150 g"},
        ]
    )
    kept = office.send(
        "post", "kept-recipes", {"recipe": office.recipe.pk, "name": "Chicken and rice"}
    )
    assert kept.status_code == 201, kept.content
    (row,) = kept.json()
    assert len(row["foods"]) == 2
    asked = {"lines": [], "covers_days": 1, "kept": row["id"]}
    path = f"recipes/{office.recipe.pk}/begin"
    chicken, rice = office.send("post", path, asked).json()
    assert (chicken["preparation"], chicken["note"]) == (
        "poultry-simmered-discarded",
        "diced",
    )
    grams = [float(x["quantity"].removesuffix(" g")) for x in (chicken, rice)]
    assert grams[0] / grams[1] == pytest.approx(2, rel=0.02)
    body = {"lines": [{"food": x["food"], "quantity": x["quantity"], "preparation": x["preparation"]}
                      for x in (chicken, rice)], "covers_days": 1}  # fmt: skip
    found = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()
    given = found["recipe"]["kcal_per_day"]
    wanted = found["energy"]["target_kcal"] if "energy" in found else given
    assert given == pytest.approx(wanted, rel=0.02)
    two = office.send("post", path, {**asked, "covers_days": 2}).json()
    assert float(two[0]["quantity"].removesuffix(" g")) == pytest.approx(2 * grams[0], rel=0.02)


def test_what_speaks_against_a_food_is_said_and_nothing_is_left_out(office) -> None:
    office.set_recipe([{"food": CHICKEN, "quantity": "300 g"}, {"food": RICE, "quantity": "150 g"}])
    (row,) = office.send(
        "post", "kept-recipes", {"recipe": office.recipe.pk, "name": "Chicken"}
    ).json()
    said = office.change(reactions=[{"food": "chicken", "severity": "mild"}])
    assert said.status_code == 200, said.content
    begun = office.send(
        "post", f"recipes/{office.recipe.pk}/begin",
        {"lines": [], "covers_days": 1, "kept": row["id"]},
    ).json()  # fmt: skip
    assert len(begun) == 2
    assert begun[0]["why_not"] and not begun[1]["why_not"]


def test_recipes_to_begin_with_are_kept_with_care(office, rival) -> None:
    office.set_recipe([])
    empty = office.send("post", "kept-recipes", {"recipe": office.recipe.pk, "name": "x"})
    assert (empty.status_code, empty.json()["error"]["field"]) == (400, "recipe")
    office.set_recipe([{"food": CHICKEN, "quantity": "300 g"}])
    ask = {"recipe": office.recipe.pk, "name": "Chicken"}
    (row,) = office.send("post", "kept-recipes", ask).json()
    taken = office.send("post", "kept-recipes", {**ask, "name": "chicken"})
    assert (taken.status_code, taken.json()["error"]["field"]) == (400, "name")
    # The recipe goes its own way; what was kept stays.
    office.set_recipe([{"food": RICE, "quantity": "10 g"}])
    assert len(office.get("kept-recipes").json()[0]["foods"]) == 1
    path = f"kept-recipes/{row['id']}"
    (named,) = office.send("put", path, {"name": "Hen", "version": 1}).json()
    assert named["name"] == "Hen"
    assert office.send("put", path, {"name": "Cock", "version": 1}).status_code == 409
    assert rival.get("kept-recipes").json() == []
    theirs = rival.send(
        "post", f"recipes/{rival.recipe.pk}/begin",
        {"lines": [], "covers_days": 1, "kept": row["id"]},
    )  # fmt: skip
    assert theirs.status_code == 404
    assert rival.send("post", "kept-recipes", ask).status_code == 404
    assert office.send("delete", path).json() == []
