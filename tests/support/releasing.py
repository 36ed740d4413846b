"""A plan's way out, as a consultant and a vet go it through the API."""

from typing import Any

from cases.models import Client
from django.test import Client as Browser
from outbox.models import Mail
from release.links import vet_path
from release.models import VetRequest

ASK = {"name": "Dr Example", "address": "vet@example.org"}
SIGNED = {"signer": "Dr Example", "licence": "V-12"}
VET_WORD = {"name": "Dr Example", "licence": "V-12", "on": "2026-01-02"}


def checks(office: Any) -> Any:
    """The checks of the office's recipe."""
    answer = office.get(f"recipes/{office.recipe.pk}/checks")
    assert answer.status_code == 200, answer.content
    return answer.json()


def do(office: Any, what: str, body: Any = None) -> Any:
    return office.send("post", f"recipes/{office.recipe.pk}/{what}", body or {})


def open_ones(office: Any) -> list[Any]:
    return [w for w in checks(office)["concerns"] if w["state"] in ("open", "reopened")]


def decide(
    office: Any, found: list[Any], reason: str = "agreed with the vet", vet: Any = None
) -> Any:
    seen = [{k: w["concern"][k] for k in ("key", "basis")} for w in found]
    return do(office, "decisions", {"concerns": seen, "reason": reason, "vet": vet})


def settle_all(office: Any) -> None:
    for settle, vet in (("reason", None), ("tick", None), ("vet", VET_WORD)):
        found = [w for w in open_ones(office) if w["concern"]["settle"] == settle]
        if found:
            answer = decide(office, found, vet=vet)
            assert answer.status_code == 200, answer.json()
    assert open_ones(office) == []


def to_vet(office: Any) -> VetRequest:
    settle_all(office)
    assert do(office, "check").status_code == 200
    answer = do(office, "send", ASK)
    assert answer.status_code == 200, answer.json()
    return VetRequest.objects.latest("pk")


def reply(request: VetRequest, answer: str = "approve", browser: Any = None, **more: Any) -> Any:
    return (browser or Browser()).post(vet_path(request), {"answer": answer, **SIGNED, **more})


def give_address(office: Any) -> None:
    Client.objects.filter(pk=office.case.dog.client_id).update(email="owner@example.org")


def issue(office: Any, **more: Any) -> Any:
    request = to_vet(office)
    assert reply(request).status_code == 200
    give_address(office)
    answer = do(office, "issue", more)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def owners_link() -> str:
    return str(Mail.objects.filter(to_address="owner@example.org").latest("pk").link)
