"""What follows a plan, for a calendar."""

from cases.queries import case_of
from django.http import HttpResponse
from django.utils import timezone
from library.facts import reference
from records.calendars import CalendarDay
from records.pages import Paper, calendar
from rest_framework.request import Request
from wainscot_core.boundary import read
from wainscot_core.followup.trial import TrialRecord, state_of
from wainscot_core.followup.trial_now import due_of

from .models import FollowTrial


class TrialCalendar(Paper):
    """What comes next of a case's running trial."""

    def get(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        row = FollowTrial.objects.for_practice(case.practice).filter(case=case, open=True).first()
        days = []
        if row is not None:
            rules, trial, name = reference().trials, read(TrialRecord, row.data), case.dog.name
            days = [
                CalendarDay(
                    f"trial-{row.pk}-{i}@wainscot", due.date, f"{name}: {due.words}",
                    f"Elimination trial on {', '.join(trial.plan.diet)}. Nothing else by mouth.",
                )
                for i, due in enumerate(due_of(rules, trial, state_of(rules, trial)))
            ]  # fmt: skip
        made = row.updated if row is not None else timezone.now()
        return calendar(f"Elimination trial of {case.dog.name}", made, days)
