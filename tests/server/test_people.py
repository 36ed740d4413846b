"""People of a practice: roles, ways in and out, sessions, and what is told of them."""

import re
import time
from typing import Any

import pytest
from accounts.models import Practice, User, WorkRole
from accounts.permissions import MAY, Work, work_of
from config.api import urlpatterns
from django.core.cache import cache
from django.core.management import CommandError, call_command
from django.test import Client as Browser
from django.urls import URLPattern
from django_otp.oath import totp
from django_otp.plugins.otp_totp.models import TOTPDevice
from events.models import Event, EventKind
from outbox.models import Mail
from people import guard
from people.models import Invitation, Reset, Seat

PASSWORD = "a-long-password-1"
OTHER = "another-long-password-2"


@pytest.fixture(autouse=True)
def _no_tries_before() -> None:
    cache.clear()


def send(browser: Browser, method: str, path: str, body: Any = None, **more: Any) -> Any:
    return getattr(browser, method)(f"/api/{path}", body, content_type="application/json", **more)


def sign_in(
    name: str, password: str = PASSWORD, code: str = "", browser: Browser | None = None, **more: Any
) -> Any:
    browser = browser or Browser()
    body = {"username": name, "password": password, "code": code}
    return send(browser, "post", "session/sign-in", body, **more)


def member(office: Any, name: str, role: WorkRole) -> tuple[User, Browser]:
    user = User(username=name, practice=office.practice, role=role, email=f"{name}@example.org")
    user.set_password(PASSWORD)
    user.save()
    browser = Browser()
    assert sign_in(name, browser=browser).status_code == 200
    return user, browser


# Roles


def test_what_each_role_does_is_said_at_sign_in(office: Any) -> None:
    for role, may in (
        (WorkRole.OWNER, ["read", "log", "formulate", "run"]),
        (WorkRole.CONSULTANT, ["read", "log", "formulate"]),
        (WorkRole.ASSISTANT, ["read", "log"]),
    ):
        _, browser = member(office, f"one-{role}", role)
        said = browser.get("/api/session").json()
        assert (said["role"], said["may"]) == (role, may)


def test_every_write_is_refused_to_whom_it_is_not_for(office: Any) -> None:
    """Walks the URL table: what a view does not say is the work of a consultant, and no view is forgotten."""
    browsers = {role: member(office, f"one-{role}", role)[1] for role in WorkRole}
    nobody = User.objects.create(username="roleless", practice=office.practice)
    loose = Browser()
    loose.force_login(nobody, backend="django.contrib.auth.backends.ModelBackend")
    refused = dict.fromkeys(WorkRole, 0)
    for entry in urlpatterns:
        assert isinstance(entry, URLPattern)
        view = getattr(entry.callback, "view_class", None)
        route = str(entry.pattern)
        if (
            view is None
            or not view.permission_classes
            or "MayDoThis" not in str(view.permission_classes)
        ):
            continue
        path = re.sub(r"<int:pk>", "987654", route)
        path = re.sub(r"<uuid:\w+>", "7a5a9a4e-6d4c-4f0e-9f0e-1a2b3c4d5e6f", path)
        path = re.sub(r"<str:\w+>", "nothing", path)
        for method in ("get", "post", "put", "patch", "delete"):
            if not hasattr(view, method):
                continue
            work = work_of(view, method.upper())
            for role, browser in browsers.items():
                if work in MAY[role]:
                    continue
                answer = send(browser, method, path)
                assert answer.status_code == 403, (method, path, role)
                assert answer.json()["error"]["field"] == "role"
                refused[role] += 1
            assert send(loose, method, path).status_code == 403, (method, path)
    assert refused[WorkRole.OWNER] == 0
    assert refused[WorkRole.CONSULTANT] >= 9 and refused[WorkRole.ASSISTANT] >= 55


def test_an_assistant_reads_and_logs_and_changes_nothing(office: Any) -> None:
    _, nell = member(office, "nell", WorkRole.ASSISTANT)
    case, recipe = office.case.pk, office.recipe.pk
    assert nell.get(f"/api/cases/{case}").status_code == 200
    stored = nell.get(f"/api/recipes/{recipe}").json()
    lines = [{k: x[k] for k in ("food", "quantity")} for x in stored["lines"]]
    asked = {"lines": lines, "covers_days": 1}
    assert send(nell, "post", f"recipes/{recipe}/analysis", asked).status_code == 200
    entry = {"key": "day-keyed-9", "entry": {"date": "2026-01-02", "note": "ate well"}}
    assert send(nell, "post", f"cases/{case}/follow-entries", entry).status_code == 201
    change = {"changes": [{"path": "name", "value": "Mine", "was": "Draft"}]}
    answer = send(nell, "patch", f"recipes/{recipe}", change)
    assert answer.status_code == 403 and "assistant" in answer.json()["error"]["message"]
    office.recipe.refresh_from_db()
    assert office.recipe.name == "Draft"


def test_a_view_that_says_nothing_is_a_consultants() -> None:
    assert work_of(object(), "POST") is Work.FORMULATE
    assert work_of(object(), "GET") is Work.READ


# Coming and going


def test_somebody_is_asked_joins_changes_and_leaves(office: Any) -> None:
    asked = office.send("post", "invitations", {"email": "new@example.org", "role": "consultant"})
    assert asked.status_code == 201, asked.content
    (invitation,) = asked.json()["invitations"]
    token = invitation["path"].rpartition("/")[2]
    visitor = Browser()
    shown = visitor.get(f"/api/session/invitation/{token}").json()
    assert (shown["practice"], shown["email"], shown["role"], shown["by"]) == (
        "larch", "new@example.org", "consultant", "larch",
    )  # fmt: skip
    weak = send(
        visitor, "post", f"session/invitation/{token}", {"username": "nova", "password": "short"}
    )
    assert (weak.status_code, weak.json()["error"]["field"]) == (400, "password")
    taken = send(
        visitor, "post", f"session/invitation/{token}", {"username": "Larch", "password": OTHER}
    )
    assert (taken.status_code, taken.json()["error"]["field"]) == (400, "username")
    joined = send(
        visitor, "post", f"session/invitation/{token}", {"username": "nova", "password": OTHER}
    )
    assert joined.json()["practice"] == "larch" and joined.json()["role"] == "consultant"
    assert visitor.get(f"/api/cases/{office.case.pk}").status_code == 200
    again = send(
        Browser(), "post", f"session/invitation/{token}", {"username": "nova2", "password": OTHER}
    )
    assert again.status_code == 400 and "used already" in again.json()["error"]["message"]

    people = {p["username"]: p for p in office.get("people").json()["people"]}
    nova = people["nova"]["id"]
    assert office.send("put", f"people/{nova}", {"role": "assistant"}).status_code == 200
    assert send(visitor, "delete", f"cases/{office.case.pk}").status_code == 403
    assert office.send("post", f"people/{nova}/left", {"left": True}).status_code == 200
    assert visitor.get("/api/cases").status_code == 403
    assert sign_in("nova", OTHER).status_code == 400
    assert Event.objects.filter(by="nova").exists()
    back = office.send("post", f"people/{nova}/left", {"left": False}).json()
    assert all(p["left"] is None for p in back["people"])
    assert sign_in("nova", OTHER).status_code == 200


def test_the_last_owner_stays(office: Any) -> None:
    (me,) = office.get("people").json()["people"]
    for answer in (
        office.send("put", f"people/{me['id']}", {"role": "assistant"}),
        office.send("post", f"people/{me['id']}/left", {"left": True}),
    ):
        assert answer.status_code == 400 and "only owner" in answer.json()["error"]["message"]
    member(office, "second", WorkRole.OWNER)
    assert office.send("put", f"people/{me['id']}", {"role": "assistant"}).status_code == 200


def test_an_invitation_that_was_taken_back_opens_nothing(office: Any) -> None:
    made = office.send("post", "invitations", {"email": "a@example.org", "role": "owner"}).json()[
        "invitations"
    ][0]
    assert office.send("delete", f"invitations/{made['id']}").json()["invitations"] == []
    token = made["path"].rpartition("/")[2]
    assert Browser().get(f"/api/session/invitation/{token}").status_code == 400
    joining = {"username": "late", "password": OTHER}
    assert send(Browser(), "post", f"session/invitation/{token}", joining).status_code == 400
    assert not User.objects.filter(username="late").exists()


def test_asked_again_only_the_last_invitation_opens(office: Any) -> None:
    for _ in range(2):
        office.send("post", "invitations", {"email": "a@example.org", "role": "assistant"})
    assert [i.is_open for i in Invitation.objects.order_by("pk")] == [False, True]
    refused = office.send("post", "invitations", {"email": "no address", "role": "assistant"})
    assert refused.status_code == 400 and Invitation.objects.count() == 2


def test_a_token_of_one_kind_opens_nothing_of_another(office: Any) -> None:
    made = office.send("post", "invitations", {"email": "a@example.org", "role": "owner"}).json()[
        "invitations"
    ][0]
    token = made["path"].rpartition("/")[2]
    assert Browser().get(f"/api/session/reset/{token}").status_code == 404
    assert Browser().get(f"/api/session/invitation/{token[:-1]}x").status_code == 404


def test_people_of_another_practice_are_nobody(office: Any, rival: Any) -> None:
    theirs = User.objects.get(username="alder")
    for method, path, body in (
        ("put", f"people/{theirs.pk}", {"role": "assistant"}),
        ("post", f"people/{theirs.pk}/left", {"left": True}),
        ("post", f"people/{theirs.pk}/reset", None),
    ):
        assert office.send(method, path, body).status_code == 404
    theirs.refresh_from_db()
    assert theirs.is_active and theirs.role == WorkRole.OWNER and not Reset.objects.exists()


# Passwords


def test_another_password_ends_the_other_sessions(office: Any) -> None:
    user, here = member(office, "iris", WorkRole.CONSULTANT)
    there = Browser()
    assert sign_in("iris", browser=there).status_code == 200
    wrong = send(here, "post", "account/password", {"old": "no", "password": OTHER})
    assert (wrong.status_code, wrong.json()["error"]["field"]) == (400, "old")
    weak = send(
        here, "post", "account/password", {"old": PASSWORD, "password": "iris-iris-iris"[:11]}
    )
    assert (weak.status_code, weak.json()["error"]["field"]) == (400, "password")
    done = send(here, "post", "account/password", {"old": PASSWORD, "password": OTHER})
    assert "1 other session ended" in done.json()["message"]
    assert here.get("/api/cases").status_code == 200
    assert there.get("/api/cases").status_code == 403
    assert sign_in("iris", PASSWORD).status_code == 400
    assert sign_in("iris", OTHER).status_code == 200
    assert Event.objects.filter(kind=EventKind.PASSWORD_CHANGED, subject=user.pk).count() == 1


@pytest.mark.parametrize(
    ("password", "good"),
    [
        ("a" * 11, False),
        ("qwerty123456", False),
        ("iris1234iris", False),
        ("correct horse battery", True),
        ("äöü ☂ über den Wolken", True),
        ("x9" * 64, True),
        ("x9" * 64 + "x", False),
    ],
)
def test_what_a_password_may_be(office: Any, password: str, good: bool) -> None:
    _, browser = member(office, "iris1234", WorkRole.CONSULTANT)
    done = send(browser, "post", "account/password", {"old": PASSWORD, "password": password})
    assert done.status_code == (200 if good else 400), done.content


def test_a_forgotten_password_is_set_anew_by_a_link_once(office: Any) -> None:
    _, browser = member(office, "iris", WorkRole.CONSULTANT)
    said = send(Browser(), "post", "session/forgot", {"username": "iris"}).json()
    unknown = send(Browser(), "post", "session/forgot", {"username": "nobody"}).json()
    assert said == unknown
    mail = Mail.objects.get(personal=True)
    assert mail.to_address == "iris@example.org"
    token = mail.link.rpartition("/")[2]
    assert Browser().get(f"/api/session/reset/{token}").json() == {"username": "iris"}
    weak = send(Browser(), "post", f"session/reset/{token}", {"password": "short"})
    assert weak.status_code == 400
    assert send(Browser(), "post", f"session/reset/{token}", {"password": OTHER}).status_code == 200
    assert (
        send(Browser(), "post", f"session/reset/{token}", {"password": PASSWORD}).status_code == 400
    )
    assert browser.get("/api/cases").status_code == 403
    assert sign_in("iris", OTHER).status_code == 200


def test_a_newer_link_shuts_the_older(office: Any) -> None:
    user, _ = member(office, "iris", WorkRole.CONSULTANT)
    first = office.send("post", f"people/{user.pk}/reset").json()["path"].rpartition("/")[2]
    second = office.send("post", f"people/{user.pk}/reset").json()["path"].rpartition("/")[2]
    assert Browser().get(f"/api/session/reset/{first}").status_code == 400
    assert Browser().get(f"/api/session/reset/{second}").status_code == 200


def test_letters_that_let_somebody_in_are_for_owners(office: Any) -> None:
    member(office, "iris", WorkRole.CONSULTANT)
    send(Browser(), "post", "session/forgot", {"username": "iris"})
    _, nell = member(office, "nell", WorkRole.ASSISTANT)
    assert nell.get("/api/outbox").json() == []
    assert len(office.get("outbox").json()) == 1


def test_links_are_not_asked_for_without_end(office: Any) -> None:
    codes = [
        send(Browser(), "post", "session/forgot", {"username": f"n{i}"}).status_code
        for i in range(8)
    ]
    assert codes[:5] == [200] * 5 and codes[-1] == 429


# Guessing


def test_guesses_of_somebody_else_lock_nobody_out(office: Any) -> None:
    _, mine = member(office, "iris", WorkRole.CONSULTANT)
    assert send(mine, "post", "session/sign-out").status_code == 200
    codes = [sign_in("iris", "wrong").status_code for _ in range(12)]
    assert codes[0] == 400 and codes[-1] == 429
    # The same address, the browser that signed in before.
    assert sign_in("iris", browser=mine).status_code == 200
    # Another address, a browser that never did.
    assert sign_in("iris", REMOTE_ADDR="198.51.100.7").status_code == 200


def test_a_known_browser_does_not_guess_without_end(office: Any) -> None:
    _, mine = member(office, "iris", WorkRole.CONSULTANT)
    send(mine, "post", "session/sign-out")
    codes = [sign_in("iris", "wrong", browser=mine).status_code for _ in range(10)]
    assert codes[-1] == 429


def test_the_mark_of_a_browser_is_of_one_name(office: Any) -> None:
    _, mine = member(office, "iris", WorkRole.CONSULTANT)
    member(office, "nell", WorkRole.ASSISTANT)
    for _ in range(9):
        sign_in("nell", "wrong")
    assert sign_in("nell", browser=mine).status_code == 429


def test_many_names_from_one_address_are_held_back(office: Any) -> None:
    member(office, "iris", WorkRole.CONSULTANT)
    codes = [sign_in(f"name-{i}", "wrong").status_code for i in range(guard.MOST_FROM_ADDRESS)]
    assert set(codes) == {400}
    held = sign_in("iris")
    assert held.status_code == 429 and int(held["Retry-After"]) > 0
    assert sign_in("iris", REMOTE_ADDR="198.51.100.7").status_code == 200


def test_one_name_from_many_addresses_is_held_back(office: Any) -> None:
    for i in range(guard.MOST_OF_NAME):
        assert sign_in("larch", "wrong", REMOTE_ADDR=f"198.51.100.{i}").status_code == 400
    assert sign_in("larch", "wrong", REMOTE_ADDR="203.0.113.1").status_code == 429


@pytest.mark.parametrize(
    ("proxies", "header", "address"),
    [
        (0, "203.0.113.9", "10.0.0.1"),
        (1, "203.0.113.9", "203.0.113.9"),
        (1, "6.6.6.6, 203.0.113.9", "203.0.113.9"),
        (2, "6.6.6.6, 203.0.113.9, 10.0.0.7", "203.0.113.9"),
        (1, "", ""),
        (2, "203.0.113.9", "10.0.0.1"),
    ],
)
def test_the_address_behind_proxies(
    rf: Any, settings: Any, proxies: int, header: str, address: str
) -> None:
    settings.PROXIES = proxies
    request = rf.get("/", REMOTE_ADDR="10.0.0.1", HTTP_X_FORWARDED_FOR=header)
    assert guard.address_of(request) == address


# A second factor


def code_of(user: User, ahead: int = 0) -> str:
    device = TOTPDevice.objects.get(user=user)
    return (
        f"{totp(device.bin_key, device.step, device.t0, device.digits, device.drift + ahead):06d}"
    )


def with_factor(office: Any) -> tuple[User, Browser, list[str]]:
    user, browser = member(office, "iris", WorkRole.CONSULTANT)
    made = send(browser, "post", "account/second-factor").json()
    assert made["drawing"].startswith("data:image/svg+xml") and len(made["secret"]) >= 32
    wrong = send(browser, "post", "account/second-factor/confirm", {"code": "000000"})
    assert wrong.status_code == 400
    assert sign_in("iris").status_code == 200, "not on yet"
    TOTPDevice.objects.update(throttling_failure_count=0)
    on = send(browser, "post", "account/second-factor/confirm", {"code": code_of(user)})
    assert on.status_code == 200, on.content
    return user, browser, on.json()["codes"]


def test_a_code_is_asked_for_at_sign_in_and_holds_once(office: Any) -> None:
    user, _, spare = with_factor(office)
    assert len(set(spare)) == 10
    without = sign_in("iris")
    assert (without.status_code, without.json()["error"]["field"]) == (400, "code")
    assert sign_in("iris", "wrong", code_of(user, 1)).json()["error"]["field"] == "password"
    code = code_of(user, 1)
    assert sign_in("iris", code=code).status_code == 200
    assert sign_in("iris", code=code).status_code == 400, "a code was used twice"


def test_a_recovery_code_opens_once(office: Any) -> None:
    _, browser, spare = with_factor(office)
    assert sign_in("iris", code=spare[0]).status_code == 200
    assert sign_in("iris", code=spare[0]).status_code == 400
    assert browser.get("/api/account").json()["recovery_codes"] == 9


def test_wrong_codes_take_longer_and_longer(office: Any) -> None:
    user, _, _ = with_factor(office)
    assert sign_in("iris", code="000000").status_code == 400
    assert sign_in("iris", code=code_of(user, 1)).status_code == 400, "it was tried again at once"


def test_the_factor_is_turned_off_with_the_password_alone(office: Any) -> None:
    _, browser, _ = with_factor(office)
    assert send(browser, "put", "account/second-factor", {"old": "no"}).status_code == 400
    assert (
        send(browser, "put", "account/second-factor", {"old": PASSWORD}).json()["second_factor"]
        is False
    )
    assert sign_in("iris").status_code == 200


def test_a_new_password_by_a_link_asks_for_the_code_all_the_same(office: Any) -> None:
    user, _, _ = with_factor(office)
    token = office.send("post", f"people/{user.pk}/reset").json()["path"].rpartition("/")[2]
    send(Browser(), "post", f"session/reset/{token}", {"password": OTHER})
    assert sign_in("iris", OTHER).json()["error"]["field"] == "code"


# Sessions


def test_one_sees_where_one_is_signed_in_and_ends_it(office: Any) -> None:
    _, here = member(office, "iris", WorkRole.CONSULTANT)
    others = [Browser(), Browser()]
    for browser in others:
        sign_in(
            "iris", browser=browser, HTTP_USER_AGENT="An old telephone", REMOTE_ADDR="198.51.100.7"
        )
    seats = here.get("/api/account").json()["seats"]
    assert sorted(s["here"] for s in seats) == [False, False, True]
    there = next(s for s in seats if not s["here"])
    assert (there["agent"], there["address"]) == ("An old telephone", "198.51.100.7")
    mine = next(s for s in seats if s["here"])
    assert send(here, "delete", f"account/seats/{mine['id']}").status_code == 400
    left = send(here, "delete", f"account/seats/{there['id']}").json()["seats"]
    assert len(left) == 2
    assert sorted(b.get("/api/cases").status_code for b in others) == [200, 403]
    assert len(send(here, "post", "account/end-others").json()["seats"]) == 1
    assert {b.get("/api/cases").status_code for b in others} == {403}
    assert here.get("/api/cases").status_code == 200


def test_sessions_of_others_are_not_ones_own_to_end(office: Any) -> None:
    member(office, "iris", WorkRole.CONSULTANT)
    seat = Seat.objects.get(user__username="iris")
    assert office.send("delete", f"account/seats/{seat.pk}").status_code == 404


def test_doing_nothing_for_long_signs_out(office: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    _, browser = member(office, "iris", WorkRole.CONSULTANT)
    now = time.time()
    at = lambda seconds: monkeypatch.setattr("people.seats.time.time", lambda: now + seconds)  # noqa: E731
    at(29 * 60)
    assert browser.get("/api/cases").status_code == 200
    at(58 * 60)
    assert browser.get("/api/cases").status_code == 200
    at(89 * 60)
    assert browser.get("/api/cases").status_code == 403
    assert not Seat.objects.filter(user__username="iris").exists()


def test_nobody_stays_in_for_ever(office: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    _, browser = member(office, "iris", WorkRole.CONSULTANT)
    now = time.time()
    codes = []
    for n in range(40):
        monkeypatch.setattr("people.seats.time.time", lambda n=n: now + n * 20 * 60)
        codes.append(browser.get("/api/cases").status_code)
    assert codes.index(403) == 36, "12 hours are 36 times 20 minutes"


def test_a_clock_that_is_set_back_throws_nobody_out_and_keeps_nobody_in(
    office: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    _, browser = member(office, "iris", WorkRole.CONSULTANT)
    now = time.time() - 86400
    monkeypatch.setattr("people.seats.time.time", lambda: now)
    assert browser.get("/api/cases").status_code == 200
    monkeypatch.setattr("people.seats.time.time", lambda: now + 31 * 60)
    assert browser.get("/api/cases").status_code == 403


def test_signing_out_gives_up_the_seat(office: Any) -> None:
    _, browser = member(office, "iris", WorkRole.CONSULTANT)
    send(browser, "post", "session/sign-out")
    assert not Seat.objects.filter(user__username="iris").exists()


# The audit trail


def test_who_looked_at_a_case_and_what_went_out_is_told(office: Any) -> None:
    _, iris = member(office, "iris", WorkRole.CONSULTANT)
    case = office.case.pk
    for _ in range(3):
        iris.get(f"/api/cases/{case}")
    iris.get(f"/papers/recipes/{office.recipe.pk}/sheet.pdf")
    iris.get(f"/api/cases/{case}/file?recipe={office.recipe.pk}")
    told = office.get("audit?by=iris").json()["events"]
    kinds = [e["kind"] for e in told]
    assert kinds == ["record.given-out", "record.given-out", "case.seen", "person.signed-in"]
    assert "sheet" in told[1]["what"] and ".json" in told[0]["what"]
    history = office.get(f"cases/{case}/events").json()["events"]
    assert not {"case.seen", "record.given-out"} & {e["kind"] for e in history}


def test_the_trail_is_asked_by_person_kind_case_and_day(office: Any) -> None:
    office.change(dog__weight_kg=11)
    _, iris = member(office, "iris", WorkRole.CONSULTANT)
    iris.get(f"/api/cases/{office.case.pk}")
    ask = lambda q: [e["kind"] for e in office.get(f"audit?{q}").json()["events"]]  # noqa: E731
    assert ask("kind=case.changed") == ["case.changed"]
    assert set(ask("kind=person")) == {"person.signed-in"}
    assert ask(f"case={office.case.pk}&by=iris") == ["case.seen"]
    assert office.get("audit?kind=case.seen&by=iris").json()["events"][0]["dog"] == "larch dog"
    assert ask("until=2020-01-01") == [] and ask("since=2999-01-01") == []
    for bad in ("kind=nothing", "since=tomorrow", "case=²", "before=x", "case=" + "9" * 40):
        assert office.get(f"audit?{bad}").status_code == 400, bad


def test_the_trail_is_for_owners_and_of_one_practice(office: Any, rival: Any) -> None:
    _, iris = member(office, "iris", WorkRole.CONSULTANT)
    assert iris.get("/api/audit").status_code == 403
    rival.get(f"cases/{rival.case.pk}")
    assert {e["by"] for e in rival.get("audit").json()["events"]} == {"alder"}


def test_the_trail_goes_out_as_a_table_no_spreadsheet_runs(office: Any) -> None:
    office.change(title="=HYPERLINK(1)")
    User.objects.create(username="=cmd", practice=office.practice, role=WorkRole.ASSISTANT)
    Event.objects.create(practice=office.practice, by="=cmd", kind=EventKind.PLAN_SAVED, data={})
    out = b"".join(office.browser.get("/api/audit/export").streaming_content).decode()
    assert out.startswith("at,by,kind,case,what\n") and ",'=cmd," in out and "\n=" not in out


def test_the_last_hundred_first_and_the_rest_by_page(office: Any) -> None:
    Event.objects.bulk_create(
        Event(practice=office.practice, by="larch", kind=EventKind.CASE_SEEN, case=n, data={})
        for n in range(150)
    )
    first = office.get("audit").json()
    assert len(first["events"]) == 100
    rest = office.get(f"audit?before={first['next']}").json()
    assert rest["next"] is None
    ids = [e["id"] for e in (*first["events"], *rest["events"])]
    assert ids == sorted(ids, reverse=True) and len(set(ids)) == len(ids) >= 150


def test_records_are_kept_in_no_cache(office: Any) -> None:
    for path in (
        f"/api/cases/{office.case.pk}",
        f"/papers/recipes/{office.recipe.pk}/sheet",
        "/api/session",
    ):
        assert "no-store" in office.browser.get(path)["Cache-Control"], path


def test_a_first_user_is_an_owner(db: None) -> None:
    form = {"practice": "New", "username": "ida", "password": "oak-linen-rail-7"}
    assert send(Browser(), "post", "setup", form).json()["role"] == "owner"
    assert Practice.objects.count() == 1


# From the command line


def told(capsys: pytest.CaptureFixture[str], *words: str) -> str:
    call_command(*words)
    return capsys.readouterr().out


def test_one_more_practice_and_its_owner(office: Any, capsys: pytest.CaptureFixture[str]) -> None:
    out = told(
        capsys,
        "practices",
        "--add",
        "Elm Yard",
        "--owner",
        "e@example.org",
        "--region",
        "united-states",
    )
    token = re.search(r"/invitation/(\S+)", out)
    assert token is not None
    visitor = Browser()
    who = {"username": "elm", "password": OTHER}
    joined = send(visitor, "post", f"session/invitation/{token[1]}", who).json()
    assert (joined["practice"], joined["role"]) == ("Elm Yard", "owner")
    assert visitor.get("/api/cases").json()["rows"] == []
    listed = told(capsys, "practices")
    assert (
        "Elm Yard\t1 people\towned by elm" in listed and "larch\t1 people\towned by larch" in listed
    )
    with pytest.raises(CommandError, match="already"):
        call_command("practices", "--add", "elm yard", "--owner", "e@example.org")
    with pytest.raises(CommandError, match="address"):
        call_command("practices", "--add", "Other")
    assert not Practice.objects.filter(name="Other").exists()


def test_whoever_keeps_the_installation_lets_somebody_in(
    office: Any, capsys: pytest.CaptureFixture[str]
) -> None:
    user, _, _ = with_factor(office)
    token = re.search(r"/reset/(\S+)", told(capsys, "let_in", "iris", "--without-code"))
    assert token is not None
    assert (
        send(Browser(), "post", f"session/reset/{token[1]}", {"password": OTHER}).status_code == 200
    )
    assert sign_in("iris", OTHER).status_code == 200
    told_of = Event.objects.filter(subject=user.pk, kind=EventKind.RESET_ASKED).get()
    assert told_of.by == "whoever keeps this installation"
    with pytest.raises(CommandError, match="Nobody"):
        call_command("let_in", "nobody")
