"""The wire is derived: a dataclass is what a request must be, what an answer is, and the schema.

`extend_schema` takes the dataclass itself; `read_body` and `answer` are its two ends.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, is_dataclass
from typing import Any, TypeVar, cast

from django.http import HttpResponse
from drf_spectacular.drainage import warn
from drf_spectacular.extensions import OpenApiSerializerExtension
from drf_spectacular.plumbing import ResolvedComponent
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from wainscot_core.boundary import adapter, read_exact, tidy
from wainscot_core.errors import InputError

T = TypeVar("T")
F = TypeVar("F", bound=Callable[..., Any])


@dataclass(frozen=True)
class Many:
    """A list of these, for a schema."""

    kind: type


@dataclass(frozen=True)
class ErrorDetail:
    """What is wrong: the field of the request, and words that say what to do."""

    field: str
    message: str


@dataclass(frozen=True)
class Error:
    """The one shape of every error."""

    error: ErrorDetail


def endpoint(
    answers: Any,
    ask: Any = None,
    status: int = 200,
    errors: Sequence[int] = (400, 404),
    also: Mapping[int, Any] | None = None,
    **more: Any,
) -> Callable[[F], F]:
    """What a view takes and answers, for the published schema. `errors`: statuses it may refuse
    with; `also`: further answers; `more`: as for drf-spectacular's extend_schema."""
    responses = {status: answers, **(also or {}), **dict.fromkeys(errors, Error)}
    decorate: Callable[[F], F] = extend_schema(request=ask, responses=responses, **more)
    return decorate


def read_body(kind: type[T], request: Request) -> T:
    """The body of a request as a dataclass. Raises InputError naming the field.

    A field that is not known is refused, not passed over.
    """
    if not isinstance(request.data, dict):
        raise InputError("", "the body must be one JSON object")
    return read_exact(kind, request.data, typed=True)


def page_asked(request: Request) -> int:
    """The page of a list that is asked for, from 1. Raises InputError for what is no number."""
    page = request.query_params.get("page", "1")
    if not page.isdecimal() or len(page) > 9:
        raise InputError("page", "must be a whole number")
    return int(page)


def answer(value: object, kind: Any = None, status: int = 200) -> HttpResponse:
    """A dataclass as the JSON body of a response; `kind` where it is a list of them."""
    shape: Any = kind or type(value)
    body = adapter(shape).dump_json(value, by_alias=True)
    return HttpResponse(body, content_type="application/json", status=status)


def answer_many(kind: type[T], values: Iterable[T]) -> HttpResponse:
    """Dataclasses of one kind as a JSON list."""
    return answer(tuple(values), tuple[kind, ...])  # type: ignore[valid-type]


def download(text: str, name: str, content_type: str) -> HttpResponse:
    """A text as a file to keep."""
    disposition = {"Content-Disposition": f'attachment; filename="{name}"'}
    return HttpResponse(text, content_type=content_type, headers=disposition)


class DataclassExtension(OpenApiSerializerExtension):  # type: ignore[no-untyped-call]
    """Schemas of dataclasses, made from their own fields and docstrings."""

    target_class = Many

    @classmethod
    def _matches(cls, target: Any) -> bool:
        return isinstance(target, Many) or (isinstance(target, type) and is_dataclass(target))

    def get_name(self, auto_schema: Any = None, direction: Any = None) -> str:
        """The component's name; drf-spectacular adds what tells requests apart."""
        if isinstance(self.target, Many):
            return f"{self.target.kind.__name__}List"
        return cast(type, self.target).__name__

    def get_identity(self, auto_schema: Any, direction: Any) -> str:
        """Two schemas of one name are the same: a dataclass met as an answer or as part of one."""
        return self.get_name() + ("Request" if direction == "request" else "")

    def map_serializer(self, auto_schema: Any, direction: Any) -> dict[str, Any]:
        """JSON schema of the dataclass, its parts as components of their own."""
        target: Any = self.target
        asked = direction == "request"
        suffix = "Request" if asked else ""
        shape = tuple[target.kind, ...] if isinstance(target, Many) else target
        schema = adapter(shape).json_schema(
            ref_template=f"#/components/schemas/{{model}}{suffix}",
            mode="validation" if asked else "serialization",
        )
        for name, part in schema.pop("$defs", {}).items():
            component = ResolvedComponent(  # type: ignore[no-untyped-call]
                name=f"{name}{suffix}", type=ResolvedComponent.SCHEMA, object=f"{name}{suffix}",
                schema=tidy(part, asked),
            )  # fmt: skip
            known = auto_schema.registry._components.get(component.key)
            if known is not None and known.schema not in (None, {}, component.schema):
                warn(f"two shapes are called {component.name}: rename one")
            auto_schema.registry.register_on_missing(component)
        found: dict[str, Any] = tidy(schema, asked)
        return found
