"""People of a practice: roles, ways in and out."""

import os
import re
from pathlib import Path
from typing import Any

import pytest
from accounts.models import Practice, User, WorkRole
from accounts.permissions import MAY, Work, work_of
from colleagues import OTHER, member, send, sign_in, with_factor
from config.api import urlpatterns
from django.core.cache import cache
from django.core.management import CommandError, call_command
from django.test import Client as Browser
from django.urls import URLPattern
from events.models import Event, EventKind
from keeping.folder import hold
from people.models import Invitation, Reset


@pytest.fixture(autouse=True)
def _no_tries_before() -> None:
    cache.clear()


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
    office: Any, capsys: pytest.CaptureFixture[str], settings: Any, tmp_path: Path
) -> None:
    user, _, _ = with_factor(office)
    settings.DATA_DIR = tmp_path
    os.close(hold(tmp_path, "http://127.0.0.1:9191"))
    token = re.search(
        r" http://127.0.0.1:9191/reset/(\S+)", told(capsys, "let_in", "iris", "--without-code")
    )
    assert token is not None
    assert (
        send(Browser(), "post", f"session/reset/{token[1]}", {"password": OTHER}).status_code == 200
    )
    assert sign_in("iris", OTHER).status_code == 200
    told_of = Event.objects.filter(subject=user.pk, kind=EventKind.RESET_ASKED).get()
    assert told_of.by == "whoever keeps this installation"
    with pytest.raises(CommandError, match="Nobody"):
        call_command("let_in", "nobody")
