"""How sure the numbers are."""

from accounts.scoping import practice_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.dossier.evidence import Evidence, evidence
from wire.shapes import answer, endpoint

from .facts import reference, soundness_rules, table_soundness
from .standards import standards_for


class EvidenceView(APIView):
    """What the food table was held to, and what was compared with its publication."""

    @endpoint(Evidence, errors=())
    def get(self, request: Request) -> HttpResponse:
        standards = standards_for(practice_of(request))
        return answer(evidence(reference(), table_soundness(), soundness_rules(), standards))
