"""Batches, as a consultant plans and cooks them through the API."""

from datetime import timedelta
from typing import Any

from django.utils import timezone

POTS = [{"vessel": "pot-24"}, {"vessel": "pot-20"}]


def ask(**more: Any) -> dict[str, Any]:
    return {"amount": 7, "vessels": POTS, "fine_g": 0.01, **more}


def keep(office: Any, draft: bool = True, days: int = 0, **more: Any) -> Any:
    on = (timezone.localdate() + timedelta(days=days)).isoformat()
    body = {"ask": ask(**more), "draft": draft, "cook_on": on}
    return office.send("post", f"recipes/{office.recipe.pk}/batches", body)


def all_entries(batch: Any) -> list[dict[str, Any]]:
    return [
        {"key": f"listed-{line['position']}", "kind": "planned", "line": line["position"]}
        for line in batch["plan"]["lines"]
    ]


def put(office: Any, batch: Any, entries: list[Any]) -> Any:
    return office.send("post", f"batches/{batch['id']}/entries", {"entries": entries})


def link(office: Any, batch: Any, **more: Any) -> Any:
    return office.send("post", f"batches/{batch['id']}/cook-links", more)
