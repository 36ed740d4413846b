"""Addresses that open something without signing in: one of a kind opens what is of its kind and practice, and nothing else.

Walks the table of URLs, so that a new address is covered by being there.
"""

from collections.abc import Iterator
from datetime import date
from typing import Any

import pytest
from accounts.models import WorkRole
from config.api import urlpatterns as api
from config.urls import urlpatterns
from desk.models import DeskFeed
from django.test import Client as Browser
from django.urls.resolvers import URLPattern
from followup.models import DiaryLink
from interview.models import SheetLink
from kitchen.models import Batch, CookLink
from people.actions import give_reset, invite
from people.models import Invitation, Reset
from records.actions import share
from records.links import give
from records.models import Address, ShareLink
from release.links import vet_path
from releasing import to_vet
from wainscot_core.documents.paper import DocumentKind

METHODS = ("get", "head", "options", "post", "put", "patch", "delete")
# What each address that is written to would take.
BODIES = {
    "/api/session/reset/": {"password": "a-long-password-9"},
    "/api/session/invitation/": {"username": "birch", "password": "a-long-password-9"},
    "/api/cook/": {"entries": [{"key": "entry-keyed", "kind": "note", "text": "x"}]},
    "/api/sheet/": {"key": "sheet-keyed-1", "answers": [{"id": "stool", "words": "x"}]},
    "/api/diary/": {"key": "day-keyed-1", "entry": {"date": "2026-01-02", "note": "x"}},
}
# What a kind of address opens: the beginnings of its URLs.
OPENS = {
    "document": ("s/",),
    "vet": ("v/",),
    "cooking": ("api/cook/", "cook/"),
    "diary": ("api/diary/",),
    "sheet": ("api/sheet/",),
    "feed": ("due/",),
    "invitation": ("api/session/invitation/",),
    "reset": ("api/session/reset/",),
}


def routes() -> list[tuple[str, Any]]:
    """Every address with a token in it, with its view."""
    found = []
    for prefix, entries in (("", urlpatterns), ("api/", api)):
        for entry in entries:
            if isinstance(entry, URLPattern) and "<str:token>" in str(entry.pattern):
                found.append((f"{prefix}{entry.pattern}", entry.callback.view_class))
    return found


def calls(token: str) -> Iterator[tuple[str, str, str]]:
    """Every address with this token, by every method there is: its route, method and path."""
    for route, view in routes():
        path = "/" + route.replace("<str:token>", token).replace("<str:kind>", "kitchen")
        for method in METHODS:
            if hasattr(view, "get" if method == "head" else method):
                yield route, method, path


def ask(method: str, path: str) -> Any:
    """The answer; of one that does not end the beginning, and it is closed: each that is open holds a place."""
    body = next((b for begin, b in BODIES.items() if path.startswith(begin)), None)
    kind = "application/json" if path.startswith("/api/") else "application/x-www-form-urlencoded"
    if method in ("get", "head", "options"):
        answer = getattr(Browser(), method)(path)
    else:
        answer = getattr(Browser(), method)(path, body or "", content_type=kind)
    if answer.streaming:
        answer.begins = next(iter(answer.streaming_content), b"")
        answer.close()
    return answer


def told(answer: Any) -> bytes:
    """What an answer holds: the beginning of one that does not end."""
    return answer.begins if answer.streaming else answer.content


def tokens(office: Any) -> dict[str, str]:
    """One of each kind, of this practice."""
    planned = {"ask": {"amount": 7}, "draft": True, "cook_on": date.today().isoformat()}
    made = office.send("post", f"recipes/{office.recipe.pk}/batches", planned)
    assert made.status_code == 201, made.content
    batch = Batch.objects.get(practice=office.practice)
    asked = to_vet(office)
    assert asked.frozen.snapshot is not None
    user = office.practice.users.get()
    return {
        "document": share(
            office.who, asked.frozen.snapshot, DocumentKind.OWNER, "x", 1, "x", 1
        ).token,
        "vet": vet_path(asked).removeprefix("/v/"),
        "cooking": give(CookLink, office.who, 3, 60, batch=batch).token,
        "diary": give(DiaryLink, office.who, 3, 60, case=office.case).token,
        "sheet": give(SheetLink, office.who, 3, 60, case=office.case).token,
        "feed": give(DeskFeed, office.who, 3, 400).token,
        "invitation": invite(office.who, "x@example.org", WorkRole.OWNER).token,
        "reset": give_reset(office.who, user).token,
    }


def test_every_kind_of_address_is_walked() -> None:
    """A new kind is named here, or this fails: of the models, and of the URLs."""
    kinds = set(Address.__subclasses__())
    assert kinds == {ShareLink, CookLink, DeskFeed, DiaryLink, SheetLink, Invitation, Reset}
    begun = [begin for beginnings in OPENS.values() for begin in beginnings]
    for route, _ in routes():
        assert sum(route.startswith(begin) for begin in begun) == 1, route
    assert len({kind.SALT for kind in kinds} | {"release.vet"}) == len(OPENS)


@pytest.mark.parametrize("kind", OPENS)
def test_an_address_opens_what_is_of_its_kind_and_nothing_else(
    office: Any, rival: Any, kind: str
) -> None:
    token, walked = tokens(office)[kind], 0
    for route, method, path in calls(token):
        answer = ask(method, path)
        ours = route.startswith(OPENS[kind])
        if method == "options":
            continue
        if not ours:
            assert answer.status_code == 404, (kind, method, path, answer.content)
            assert office.case.dog.name.encode() not in told(answer)
        elif method == "get":
            # A document has no change-over of its own here, and a scale of this name there is none.
            none = route.endswith(("change", "change.pdf", "change.ics", "<str:kind>"))
            assert answer.status_code == 200 or none, (kind, method, path, answer.content)
            assert rival.case.dog.name.encode() not in told(answer)
        assert answer.status_code < 500, (kind, method, path)
        walked += 1
    assert walked >= 25


@pytest.mark.parametrize("kind", OPENS)
def test_what_was_not_given_out_opens_nothing(office: Any, rival: Any, kind: str) -> None:
    """Another signature, another key under this signature, the key alone, two at once, nothing."""
    mine, theirs = tokens(office)[kind], tokens(rival)[kind]
    key, _, signature = mine.rpartition(":")
    other = "A" if signature[-2] != "A" else "B"
    forged = (
        f"{key}:{signature[:-2]}{other}{signature[-1]}", f"{theirs.rpartition(':')[0]}:{signature}", key,
        f"{mine}:{signature}", f"{key[:-1]}{'a' if key[-1] != 'a' else 'b'}:{signature}", f"{key}:", f":{signature}",
        mine.swapcase(), "x" * 4000, "%00", "١",
    )  # fmt: skip
    for token in forged:
        for route, method, path in calls(token):
            if route.startswith(OPENS[kind]) and method != "options":
                answer = ask(method, path)
                assert answer.status_code == 404, (kind, method, path, answer.status_code)


@pytest.mark.parametrize("kind", [k for k in OPENS if k != "vet"])
def test_what_was_taken_back_or_has_run_out_opens_nothing(office: Any, kind: str) -> None:
    token = tokens(office)[kind]
    model = {
        "document": ShareLink, "cooking": CookLink, "diary": DiaryLink, "sheet": SheetLink, "feed": DeskFeed,
        "invitation": Invitation, "reset": Reset,
    }[kind]  # fmt: skip
    for fields in (
        {"revoked": "2026-01-02T00:00Z"},
        {"revoked": None, "expires": "2026-01-02T00:00Z"},
    ):
        model.objects.update(**fields)
        for route, method, path in calls(token):
            if route.startswith(OPENS[kind]) and method != "options":
                answer = ask(method, path)
                assert answer.status_code in (400, 403, 410), (method, path, answer.status_code)
                assert office.case.dog.name.encode() not in told(answer)
