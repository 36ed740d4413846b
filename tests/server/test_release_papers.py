"""What is printed of a plan that is out: its owner's pages, the change-over, shop lists, papers of those signed in."""

import io
from collections import Counter
from datetime import timedelta
from typing import Any

import pypdf
import pytest
from django.db import connection
from django.test import Client as Browser
from django.utils import timezone
from icalendar import Calendar
from recipes.models import RecipeVersion
from records.models import ShareLink
from release.links import vet_path
from release.models import Release, ReleaseMove
from releasing import do, give_address, issue, owners_link, reply, settle_all, to_vet
from said import words_of_page, words_of_pdf

CHICKEN, RICE, GARLIC, TUNA_CANNED = "usda:05062", "usda:20445", "usda:11215", "usda:15184"


@pytest.mark.parametrize("part", ["", "/change"])
def test_the_owners_pages_say_what_their_pdfs_say(office: Any, part: str) -> None:
    """Every word of the page, in its order; and the same bytes each time."""
    issue(office, change_days=7, change_start="2026-12-01")
    link = owners_link() + part
    page, pdf = Browser().get(link), Browser().get(f"{link}.pdf")
    assert page.status_code == 200 and pdf["Content-Type"] == "application/pdf"
    said = words_of_page(page.content.decode())
    printed = words_of_pdf(pdf.content)
    assert len(said) > 100
    assert not Counter(said) - Counter(printed), "every word, as often"
    assert Browser().get(f"{link}.pdf").content == pdf.content


def test_the_change_over_goes_into_a_calendar(office: Any) -> None:
    issue(office, change_days=10, change_start="2026-12-01", change_by="share")
    answer = Browser().get(owners_link() + "/change.ics")
    assert answer["Content-Type"].startswith("text/calendar")
    events = Calendar.from_ical(answer.content).walk("VEVENT")
    starts = [event["dtstart"].dt.isoformat() for event in events]
    assert starts[0] == "2026-12-01" and starts[-1] == "2026-12-10" and len(starts) == 10
    assert len({str(event["uid"]) for event in events}) == 10
    assert Browser().get(owners_link() + "/change.ics").content == answer.content


def test_a_change_over_that_cannot_be_is_refused_before_anything_is_issued(office: Any) -> None:
    assert reply(to_vet(office)).status_code == 200
    give_address(office)
    for wrong in ({"change_days": 5}, {"change_by": "magic"}, {"change_start": "soon"}):
        answer = do(office, "issue", wrong)
        assert answer.status_code == 400, wrong
    assert Release.objects.get().state == "approved" and not ShareLink.objects.exists()
    assert do(office, "issue").status_code == 200
    assert Browser().get(owners_link() + "/change").status_code == 404


def test_every_page_of_a_withdrawn_plan_is_closed(office: Any) -> None:
    issue(office, change_days=7)
    link = owners_link()
    assert do(office, "withdraw", {"reason": "recalled"}).status_code == 200
    for end in ("", ".pdf", "/change", "/change.pdf", "/change.ics", "/shopping"):
        answer = Browser().get(link + end)
        assert answer.status_code == 410 and "recalled" in answer.content.decode(), end


@pytest.mark.parametrize(("count", "most"), [(3, 2), (12, 2), (40, 4)])
def test_small_and_large_plans_lay_out(office: Any, count: int, most: int) -> None:
    lines = [{"food": CHICKEN, "quantity": f"{i + 11} g"} for i in range(count)]
    assert office.set_recipe(lines).status_code == 200
    settle_all(office)
    assert do(office, "check", {"texture": "smooth"}).status_code == 200
    version = RecipeVersion.objects.get(held=True)
    pdf = office.browser.get(f"/papers/versions/{version.pk}/owner.pdf").content
    assert len(pypdf.PdfReader(io.BytesIO(pdf)).pages) <= most
    assert [f"{i + 11}" in words_of_pdf(pdf) for i in range(count)] == [True] * count


def test_papers_of_a_version_for_those_who_are_signed_in(office: Any) -> None:
    issue(office)
    version = RecipeVersion.objects.get(held=True)
    for kind in ("owner", "report", "letter"):
        answer = office.browser.get(f"/papers/versions/{version.pk}/{kind}")
        assert answer.status_code == 200 and "Approved by Dr Example" in answer.content.decode()
        assert office.browser.get(f"/papers/versions/{version.pk}/{kind}.pdf").status_code == 200


def test_the_owner_buys_by_the_list_that_was_kept(office: Any) -> None:
    """180 g of chicken a day for a week are 1260 g; another price or measure later changes nothing."""
    issue(office)
    link = owners_link()
    week = Browser().get(f"{link}/shopping?days=7").content.decode()
    assert "1.26" in week.replace(" ", "") or "1300 g" in week or "1260" in week
    office.note(RICE, measures={"cup": 100})
    assert Browser().get(f"{link}/shopping?days=7").content.decode() == week
    assert Browser().get(f"{link}/shopping.pdf?days=7")["Content-Type"] == "application/pdf"
    for wrong in ("5", "soon"):
        assert Browser().get(f"{link}/shopping?days={wrong}").status_code == 400
    assert "What to buy" in Browser().get(link).content.decode()
    assert ">28 days</a>" in Browser().get(f"{link}/shopping").content.decode()


def test_an_incomplete_plan_is_told_when_its_days_are_over(office: Any) -> None:
    """Five days for a grown dog that is short of calcium; on the sixth it is told."""
    office.change(dog__age_months=48)
    issue(office)
    [plan] = office.get("issued").json()
    today = timezone.localdate()
    assert plan["until"] == (today + timedelta(days=5)).isoformat() and plan["past"] is False
    connection.cursor().execute("DROP TRIGGER release_releasemove_no_update")
    ReleaseMove.objects.filter(move="issue").update(at=timezone.now() - timedelta(days=6))
    [plan] = office.get("issued").json()
    assert plan["until"] == (today - timedelta(days=1)).isoformat() and plan["past"] is True


def test_the_letter_says_when_the_dog_is_to_be_seen_again(office: Any) -> None:
    mmvd = {"id": "mmvd", "name": "Mitral valve disease", "stage": "C", "since": "", "by": ""}
    assert office.change(conditions=[mmvd]).status_code == 200
    text = Browser().get(vet_path(to_vet(office))).content.decode()
    assert "Monitoring asked for" in text and "again within" in text
