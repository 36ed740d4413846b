"""Requests made up from the published schema, one after another, each about what an answer before it told of."""

import re
from collections import Counter
from collections.abc import Callable
from functools import partial
from typing import Any

import pytest
import schemathesis
from django.core.cache import cache
from django.db import transaction
from hypothesis import HealthCheck, Phase, settings
from hypothesis.stateful import run_state_machine_as_test
from published import APART, RAW, allowed, schema
from recipes.actions import keep
from records.actions import share
from requests import Request
from schemathesis import GenerationMode
from schemathesis.core.transport import Response
from wainscot_core.documents.paper import DocumentKind

# So many walks of so many steps, within each part of the addresses; all begin with a case, or with what is made there.
WALKS, STEPS = 30, 14
PARTS = {
    "cases": r"/api/(cases|clients)",
    "recipes": r"/api/(cases/\{id\}/recipes|recipes)",
    "versions": r"/api/(recipes/\{id\}/(versions|checks|decisions)|versions|links|decisions)",
    "library": r"/api/(foods|own-foods|standards|shelf|desk)",
}
# At least so many addresses of single records are to be reached, or the links led nowhere.
LEAST = {"cases": 12, "recipes": 5, "versions": 4, "library": 1}


def answered(office: Any, case: schemathesis.Case) -> Response:
    """A request as the office's browser sends it."""
    method, at = case.method.lower(), case.formatted_path
    query = {k: str(v) for k, v in (case.query or {}).items()}
    body = None if isinstance(case.body, schemathesis.core.NotSet) else case.body
    send: Callable[..., Any] = getattr(office.browser, method)
    if method == "get":
        answer = send(at, query)
    else:
        answer = send(at, body, content_type="application/json", query_params=query)
    content = b"".join(answer) if answer.streaming else answer.content
    asked = Request(case.method, f"http://testserver{at}").prepare()
    headers = {k.lower(): [v] for k, v in answer.headers.items()}
    return Response(answer.status_code, headers, content, asked, 0.0, verify=False)


@pytest.mark.once
@pytest.mark.parametrize("part", PARTS)
def test_what_answers_tell_of_can_be_asked_for(office: Any, part: str) -> None:
    """Real records by the numbers that answers gave, in any order: nothing fails, and every answer is one that is published."""
    cache.clear()
    version = keep(office.who, office.recipe, "x")
    assert version.snapshot is not None
    share(office.who, version.snapshot, DocumentKind.SHEET, "x", 1, "x", 1)
    seen: Counter[str] = Counter()
    here = {p for p in RAW["paths"] if re.match(PARTS[part], p) or p == "/api/cases"} - APART
    machine = (
        schema(GenerationMode.POSITIVE)
        .include(func=lambda context: context.operation.path in here)
        .as_state_machine()
    )

    class Walk(machine):  # type: ignore[misc, valid-type]
        def setup(self) -> None:
            self.all_of_it = transaction.atomic()
            self.all_of_it.__enter__()

        def teardown(self) -> None:
            transaction.set_rollback(True)
            self.all_of_it.__exit__(None, None, None)
            super().teardown()

        def call(self, case: schemathesis.Case, **_: Any) -> Response:
            return answered(office, case)

        def validate_response(self, response: Response, case: schemathesis.Case, **_: Any) -> None:
            at = (case.operation.label, case.formatted_path, case.body)
            statuses = allowed(case.operation.path, case.method.lower())
            assert response.status_code in statuses, (
                *at,
                response.status_code,
                response.content[:300],
            )
            if response.status_code < 300:
                seen[case.operation.label] += 1

    run_state_machine_as_test(
        partial(Walk),
        settings=settings(
            max_examples=WALKS, stateful_step_count=STEPS, deadline=None, database=None, derandomize=True,
            phases=[Phase.generate], suppress_health_check=list(HealthCheck),
        ),
    )  # fmt: skip
    reached = [label for label in seen if "{" in label]
    assert len(reached) >= LEAST[part], seen
