"""JSON of a request, whatever its shape."""

from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from rest_framework import parsers
from rest_framework.exceptions import ParseError


class JSONParser(parsers.JSONParser):
    """JSON that is too long, or nested too deeply to be read, is refused; it is no error of ours."""

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        asked = getattr(stream, "META", {}).get("CONTENT_LENGTH") or "0"
        # The stream is read past Django's own limit.
        if int(asked) > settings.DATA_UPLOAD_MAX_MEMORY_SIZE:
            raise RequestDataTooBig
        try:
            return super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError("It is nested too deeply.") from None
