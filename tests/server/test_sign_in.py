"""Passwords, guesses, codes and sessions."""

import time
from typing import Any

import pytest
from accounts.models import WorkRole
from colleagues import OTHER, PASSWORD, code_of, member, send, sign_in, with_factor
from django.core.cache import cache
from django.test import Client as Browser
from events.models import Event, EventKind
from outbox.models import Mail
from people import guard
from people.models import Seat


@pytest.fixture(autouse=True)
def _no_tries_before() -> None:
    cache.clear()


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
