"""What the words mean."""

from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.facts.glossary import Glossary
from wire.shapes import answer, endpoint

from .facts import glossary


class GlossaryView(APIView):
    """Every word of the trade and of this program, with its meaning and where that comes from."""

    @endpoint(Glossary, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(glossary())
