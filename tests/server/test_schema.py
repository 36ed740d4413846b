"""The published schema against the application: requests made up from it, on every address and method, with real ids."""

from typing import Any

import pytest
import schemathesis
from django.core.cache import cache
from django.db import transaction
from hypothesis import HealthCheck, Phase, given, settings
from published import APART, RAW, allowed, schema
from schemathesis import GenerationMode

SCHEMA = schema(GenerationMode.POSITIVE, GenerationMode.NEGATIVE)
OPERATIONS = [
    (method, path)
    for path, methods in RAW["paths"].items()
    for method in methods
    if path not in APART
]


def ids_of(office: Any, path: str) -> dict[str, Any]:
    """Real numbers for the places of an address, where there are such records."""
    kind = path.split("/")[2]
    known = {
        "cases": office.case.pk, "recipes": office.recipe.pk, "clients": office.case.dog.client_id,
        "people": office.browser.session["_auth_user_id"],
    }  # fmt: skip
    return {
        "id": int(known.get(kind, 1)),
        "food_id": "usda:05062",
        "standard_id": "nrc-2006",
        "token": "x",
        "job": "7a5a9a4e-6d4c-4f0e-9f0e-1a2b3c4d5e6f",
        "slug": "x",
        "kind": "kitchen",
    }


@pytest.mark.parametrize(("method", "path"), OPERATIONS, ids=[f"{m} {p}" for m, p in OPERATIONS])
def test_made_up_requests_are_answered_in_the_schemas_words(
    office: Any, method: str, path: str
) -> None:
    cache.clear()
    operation = SCHEMA[path][method]
    statuses = allowed(path, method)
    real = ids_of(office, path)

    @settings(
        max_examples=10, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(case=operation.as_strategy())
    def ask(case: Any) -> None:
        places = {k: real.get(k, v) for k, v in (case.path_parameters or {}).items()}
        at = path.format(**places)
        body = None if isinstance(case.body, schemathesis.core.NotSet) else case.body
        with transaction.atomic():
            send = getattr(office.browser, method)
            query = {k: str(v) for k, v in (case.query or {}).items()}
            if method == "get":
                answer = send(at, query)
            else:
                answer = send(at, body, content_type="application/json", query_params=query)
            transaction.set_rollback(True)
        assert answer.status_code < 500, (at, query, body, answer.content[:200])
        assert answer.status_code in statuses, (at, query, body, answer.status_code)

    ask()
