"""JSON of a request, whatever its shape."""

from typing import Any

from rest_framework import parsers
from rest_framework.exceptions import ParseError


class JSONParser(parsers.JSONParser):
    """JSON that is nested too deeply to be read is refused, not an error of ours."""

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        try:
            return super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError("It is nested too deeply.") from None
