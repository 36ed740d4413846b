"""How a plan that is out is fed: for months, past its days, in another stage of life."""

from datetime import timedelta
from typing import Any

from django.db import connection
from django.utils import timezone
from release.models import ReleaseMove
from releasing import checks, issue, to_vet

MONTHS = "One recipe for more than 90 days"
PAST = "Fed for longer than it may be"
STAGE = "Made for another stage of life"


def given_out(office: Any, days_ago: int) -> None:
    issue(office)
    connection.cursor().execute("DROP TRIGGER release_releasemove_no_update")
    ReleaseMove.objects.filter(move="issue").update(at=timezone.now() - timedelta(days=days_ago))


def told(office: Any) -> set[str]:
    return {w["concern"]["what"] for w in checks(office)["concerns"]} & {MONTHS, PAST, STAGE}


def test_a_plan_that_is_out_for_months_is_told(office: Any) -> None:
    """For a dog of unknown age it was not told for how many days; 91 are more than three months."""
    given_out(office, 90)
    assert told(office) == set()
    ReleaseMove.objects.filter(move="issue").update(at=timezone.now() - timedelta(days=91))
    assert told(office) == {MONTHS}
    [plan] = office.get("issued").json()
    assert plan["changed"]["found"] == [MONTHS]
    # What is checked and sent again is the same: nothing changed on the way.
    to_vet(office)
    # Another recipe was not fed for so long.
    office.set_recipe([{"food": "usda:05062", "quantity": "190 g"}])
    assert told(office) == set()


def test_a_plan_past_its_days_or_for_a_pup_is_to_be_decided(office: Any) -> None:
    office.change(dog__age_months=48)
    given_out(office, 6)
    assert told(office) == {PAST}
    assert (
        office.change(dog__age_months=5, dog__adult_weight_kg=20, life_stage="growth").status_code
        == 200
    )
    assert told(office) == {PAST, STAGE}
