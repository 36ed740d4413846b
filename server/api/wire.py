"""The wire is derived: a dataclass is what a request must be, what an answer is, and the schema.

`extend_schema` takes the dataclass itself; `read_body` and `answer` are its two ends.
"""

from dataclasses import dataclass, is_dataclass
from typing import Any, TypeVar, cast

from django.http import HttpResponse
from drf_spectacular.extensions import OpenApiSerializerExtension
from drf_spectacular.plumbing import ResolvedComponent
from rest_framework.request import Request
from wainscot_core.boundary import adapter, read, unknown_fields
from wainscot_core.errors import InputError

T = TypeVar("T")


@dataclass(frozen=True)
class Many:
    """A list of these, for a schema."""

    kind: type


def read_body(kind: type[T], request: Request) -> T:
    """The body of a request as a dataclass. Raises InputError naming the field.

    A field that is not known is refused, not passed over.
    """
    if not isinstance(request.data, dict):
        raise InputError("", "the body must be one JSON object")
    for path in unknown_fields(kind, request.data):
        raise InputError(path, "is not a field of this request")
    return read(kind, request.data, typed=True)


def answer(value: object, kind: Any = None, status: int = 200) -> HttpResponse:
    """A dataclass as the JSON body of a response; `kind` where it is a list of them."""
    shape: Any = kind or type(value)
    body = adapter(shape).dump_json(value)
    return HttpResponse(body, content_type="application/json", status=status)


class DataclassExtension(OpenApiSerializerExtension):
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
            component = ResolvedComponent(
                name=f"{name}{suffix}", type=ResolvedComponent.SCHEMA, object=f"{name}{suffix}",
                schema=tidy(part, asked),
            )  # fmt: skip
            auto_schema.registry.register_on_missing(component)
        return tidy(schema, asked)


_BOUNDS = {"ge": "minimum", "gt": "exclusiveMinimum", "le": "maximum", "lt": "exclusiveMaximum"}


def tidy(schema: Any, asked: bool) -> Any:
    """A JSON schema without titles that only repeat names, bounds under their standard words.

    An answer holds every field; a request may leave out what has a default.
    """
    if isinstance(schema, list):
        return [tidy(item, asked) for item in schema]
    if not isinstance(schema, dict):
        return schema
    found = {
        _BOUNDS.get(key, key): tidy(value, asked)
        for key, value in schema.items()
        if not (key == "title" and isinstance(value, str)) and (asked or key != "default")
    }
    properties = found.get("properties")
    if not asked and isinstance(properties, dict):
        found["required"] = list(properties)
    return found
