"""What is kept stays as it was; links open one document, and only while they are open."""

import io
import zlib
from datetime import timedelta
from typing import Any

import pypdf
import pytest
from cases.models import Case
from django.db import DatabaseError, connection, transaction
from django.test import Client as Browser
from django.utils import timezone
from events.models import LOOKS, Event
from recipes.models import RecipeVersion
from records.models import ShareLink, Snapshot
from said import words_of_page, words_of_pdf
from wainscot_core.snapshot.snapshot import digest_of

CHICKEN = "usda:05062"


def kept(office: Any, name: str = "first") -> Any:
    made = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": name})
    assert made.status_code == 201, made.json()
    return made.json()


def shared(office: Any, version: int, **more: Any) -> Any:
    body = {"document": "sheet", "audience": "the owner", **more}
    return office.send("post", f"versions/{version}/links", body)


def sheet(office: Any, version: int) -> str:
    answer = office.browser.get(f"/papers/versions/{version}/sheet")
    assert answer.status_code == 200
    return answer.content.decode()


def test_a_version_keeps_what_was_computed_of_it(office: Any) -> None:
    """Another weight, another recipe, other measures: the sheet of the version stays what it was."""
    version = kept(office)
    before = sheet(office, version["id"])
    assert "180" in before and "Version 1, first" in before
    assert office.change(dog__weight_kg=25).status_code == 200
    office.set_recipe([{"food": CHICKEN, "quantity": "999 g"}], name="Other", covers_days=3)
    office.note("usda:20445", measures={"cup": 100})
    assert sheet(office, version["id"]) == before
    draft = office.browser.get(f"/papers/recipes/{office.recipe.pk}/sheet").content.decode()
    assert "999" in draft and "Draft, not kept as a version" in draft


def test_a_snapshot_is_addressed_by_its_content(office: Any) -> None:
    first, second = kept(office, "first"), kept(office, "second")
    assert first["snapshot"] == second["snapshot"] and Snapshot.objects.count() == 1
    text = office.get(f"versions/{first['id']}/snapshot").content.decode()
    assert digest_of(text) == first["snapshot"]
    assert office.change(dog__weight_kg=11).status_code == 200
    assert kept(office, "third")["snapshot"] != first["snapshot"]


@pytest.mark.parametrize(
    "sql",
    [
        "UPDATE records_snapshot SET content = x'00'",
        "UPDATE records_snapshot SET digest = 'x'",
        "UPDATE events_event SET data = '{}'",
        "DELETE FROM events_event",
    ],
)
def test_the_database_refuses_to_rewrite_the_past(office: Any, sql: str) -> None:
    kept(office)
    with pytest.raises(DatabaseError, match="never"), transaction.atomic():
        connection.cursor().execute(sql)


def test_a_row_that_was_tampered_with_is_not_printed(office: Any) -> None:
    """A database edited behind our back: the document is refused, not printed wrong."""
    version = kept(office)
    connection.cursor().execute("DROP TRIGGER records_snapshot_no_update")
    stored = Snapshot.objects.get()
    altered = zlib.compress(stored.text.replace("180 g", "810 g").encode())
    Snapshot.objects.filter(pk=stored.pk).update(content=altered)
    answer = office.browser.get(f"/papers/versions/{version['id']}/sheet")
    assert answer.status_code == 400 and "altered" in answer.content.decode()


def test_a_recipe_that_cannot_be_computed_is_kept_all_the_same(office: Any) -> None:
    office.recipe.lines.update(food="own:gone")
    version = kept(office)
    assert version["snapshot"] == "" and version["links"] == 0
    for answer in (
        office.browser.get(f"/papers/versions/{version['id']}/sheet"),
        shared(office, version["id"]),
        office.get(f"versions/{version['id']}/snapshot"),
    ):
        assert answer.status_code == 400 and "without its figures" in answer.content.decode()


def test_what_nothing_points_to_goes_with_its_links(office: Any) -> None:
    first, second = kept(office, "first"), kept(office, "second")
    address = shared(office, first["id"]).json()["path"]
    assert office.send("delete", f"versions/{first['id']}").status_code == 204
    assert Snapshot.objects.count() == 1, "the second version still points to it"
    assert Browser().get(address).status_code == 200
    assert office.send("delete", f"versions/{second['id']}").status_code == 204
    assert Snapshot.objects.count() == 0 and ShareLink.objects.count() == 0
    assert Browser().get(address).status_code == 404


def test_a_case_can_be_deleted_with_all_that_was_kept_of_it(office: Any) -> None:
    shared(office, kept(office)["id"])
    assert office.send("delete", f"cases/{office.case.pk}").status_code == 204
    assert not Case.objects.exists() and not RecipeVersion.objects.exists()
    assert not Snapshot.objects.exists() and not ShareLink.objects.exists()
    # That it was done stays known.
    assert Event.objects.first().kind == "case.deleted"


def test_a_recipe_can_be_deleted_with_all_that_was_kept_of_it(office: Any) -> None:
    shared(office, kept(office)["id"])
    assert office.send("delete", f"recipes/{office.recipe.pk}").status_code == 204
    assert not Snapshot.objects.exists() and not ShareLink.objects.exists()


def test_a_link_opens_its_document_without_signing_in_and_nothing_else(office: Any) -> None:
    version = kept(office)
    link = shared(office, version["id"]).json()
    visitor = Browser()
    answer = visitor.get(link["path"])
    assert answer.status_code == 200
    assert words_of_page(answer.content.decode()) == words_of_page(sheet(office, version["id"]))
    assert answer["Cache-Control"] == "no-store" and answer["Referrer-Policy"] == "no-referrer"
    assert "noindex" in answer.content.decode()
    assert visitor.get(f"{link['path']}.pdf")["Content-Type"] == "application/pdf"
    for other in (
        f"/papers/versions/{version['id']}/sheet", f"/papers/recipes/{office.recipe.pk}/sheet",
        f"/papers/cases/{office.case.pk}/intake", f"/api/versions/{version['id']}/links",
    ):  # fmt: skip
        assert visitor.get(other).status_code == 403, other


def test_an_address_cannot_be_made_up(office: Any) -> None:
    link = ShareLink.objects.get(pk=shared(office, kept(office)["id"]).json()["id"])
    key, _, signature = link.token.rpartition(":")
    visitor = Browser()
    for token in (key, f"{key}:{signature[:-1]}x", f"{key}x:{signature}", "1", str(link.pk), "x:y"):
        assert visitor.get(f"/s/{token}").status_code == 404, token


def test_a_link_ends_on_its_day(office: Any) -> None:
    made = shared(office, kept(office)["id"], days=7).json()
    assert made["open"] is True
    link = ShareLink.objects.get(pk=made["id"])
    assert timedelta(days=6) < link.expires - timezone.now() <= timedelta(days=7)
    link.expires = timezone.now() - timedelta(seconds=1)
    link.save()
    for form in ("", ".pdf"):
        answer = Browser().get(made["path"] + form)
        assert answer.status_code == 410 and "has run out" in answer.content.decode()


def test_a_link_that_was_taken_back_opens_nothing_and_stays_known(office: Any) -> None:
    version = kept(office)
    made = shared(office, version["id"]).json()
    assert office.get(f"recipes/{office.recipe.pk}/versions").json()[0]["links"] == 1
    taken = office.send("delete", f"links/{made['id']}").json()
    assert taken["open"] is False and taken["revoked"]
    answer = Browser().get(made["path"])
    assert answer.status_code == 410 and "was taken back" in answer.content.decode()
    assert "larch" in answer.content.decode(), "whom to ask for a new one"
    assert office.get(f"versions/{version['id']}/links").json()[0]["revoked"] == taken["revoked"]
    assert office.get(f"recipes/{office.recipe.pk}/versions").json()[0]["links"] == 0
    # Taken back twice is taken back once.
    assert office.send("delete", f"links/{made['id']}").json()["revoked"] == taken["revoked"]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"days": 0}, "days"), ({"days": 367}, "days"), ({"audience": " "}, "audience"),
        ({"document": "will"}, "document"), ({"days": 1.5}, "days"),
    ],
)  # fmt: skip
def test_a_link_that_cannot_be_is_refused(office: Any, more: Any, field: str) -> None:
    answer = shared(office, kept(office)["id"], **more)
    assert answer.status_code == 400 and answer.json()["error"]["field"] == field
    assert not ShareLink.objects.exists()


NASTY = "<script>alert(1)</script> #strong[x] *y* _z_ $1$ \\ @ref ☃ „ž“"


def test_page_and_pdf_say_the_same(office: Any) -> None:
    """One source, two printers; and what was typed is said as it was typed, by both."""
    office.change(dog__name=NASTY)
    for path in (f"recipes/{office.recipe.pk}/sheet", f"cases/{office.case.pk}/intake"):
        html = office.browser.get(f"/papers/{path}")
        pdf = office.browser.get(f"/papers/{path}.pdf")
        assert html.status_code == pdf.status_code == 200
        own = '<script src="/paper/ticks.js" defer></script>'
        assert "<script" not in html.content.decode().replace(own, "")
        page, printed = words_of_page(html.content.decode()), words_of_pdf(pdf.content)
        missing = [w for w in page if w not in printed]
        assert not missing, missing
        assert "#strong[x]" in printed and "*y*" in printed and "_z_" in printed


def test_a_pdf_is_the_same_twice(office: Any) -> None:
    version = kept(office)
    path = f"/papers/versions/{version['id']}/sheet.pdf"
    first = office.browser.get(path).content
    assert first.startswith(b"%PDF") and office.browser.get(path).content == first


@pytest.mark.parametrize("count", [1, 40])
def test_short_and_long_recipes_lay_out(office: Any, count: int) -> None:
    lines = [{"food": CHICKEN, "quantity": f"{i + 11} g"} for i in range(count)]
    assert office.set_recipe(lines, name="Long").status_code == 200
    content = office.browser.get(f"/papers/recipes/{office.recipe.pk}/sheet.pdf").content
    pages = pypdf.PdfReader(io.BytesIO(content)).pages
    assert len(pages) == (1 if count == 1 else 2)
    words = words_of_pdf(content)
    assert [w for w in map(str, range(11, count + 11)) if w not in words] == []


def test_a_document_that_cannot_be_made_says_why_on_a_page(office: Any) -> None:
    office.recipe.lines.update(food="own:gone")
    answer = office.browser.get(f"/papers/recipes/{office.recipe.pk}/sheet")
    assert answer.status_code == 400 and answer["Content-Type"].startswith("text/html")
    assert "no food" in answer.content.decode()


def history(office: Any) -> list[str]:
    return [e["what"] for e in office.get(f"cases/{office.case.pk}/events").json()["events"]]


def test_every_write_leaves_a_line_in_the_history(office: Any) -> None:
    version = kept(office)
    link = shared(office, version["id"]).json()
    Browser().get(link["path"])
    office.send("delete", f"links/{link['id']}")
    office.change(dog__weight_kg=11)
    office.send("post", f"cases/{office.case.pk}/archive", {"archived": True})
    until = f"{ShareLink.objects.get().expires.date():%-d %b %Y}"
    assert history(office)[:6] == [
        "Put the case away",
        "Changed the weight in kg from 10.0 to 11.0",
        "Took back the link to the sheet for the owner",
        "The link to the sheet was opened",
        f"Made a link to the sheet of version 1 for the owner, until {until}",
        "Kept “Draft” as version 1, “first”",
    ]
    by = [e["by"] for e in office.get(f"cases/{office.case.pk}/events").json()["events"]]
    assert by[0] == "larch" and by[3] == "link for the owner"


def test_saves_in_a_row_are_told_once(office: Any) -> None:
    for i in range(3):
        office.set_recipe([{"food": CHICKEN, "quantity": f"{i + 1} g"}])
    first = office.get(f"cases/{office.case.pk}/events").json()["events"][0]
    assert (first["kind"], first["times"]) == ("recipe.saved", 4)


def test_a_write_that_fails_leaves_none(office: Any) -> None:
    changes = Event.objects.exclude(kind__in=LOOKS)
    before = changes.count()
    bad = [{"food": CHICKEN, "quantity": "some"}]
    assert office.set_recipe(bad, name="x").status_code == 400
    assert office.change(dog__weight_kg=-1).status_code == 400
    assert changes.count() == before


def test_a_long_history_comes_in_pages(office: Any) -> None:
    for i in range(130):
        office.send("post", f"cases/{office.case.pk}/archive", {"archived": i % 2 == 0})
    path = f"cases/{office.case.pk}/events"
    first = office.get(path).json()
    assert len(first["events"]) == 100 and first["next"]
    rest = office.get(f"{path}?before={first['next']}").json()
    assert rest["next"] is None
    ids = [e["id"] for e in first["events"] + rest["events"]]
    assert ids == sorted(set(ids), reverse=True) and len(ids) == 131


@pytest.mark.parametrize(
    ("path", "status", "words"),
    [
        ("/papers/recipes/1/sheet", 403, "Sign in first"),
        ("/papers/cases/1/intake.pdf", 403, "Sign in first"),
        ("/papers/no-such-thing", 404, ""),
        ("/s/nothing:here", 404, "not known"),
    ],
)
def test_what_is_not_there_for_a_visitor_is_said_on_a_page(
    db: None, path: str, status: int, words: str
) -> None:
    answer = Browser().get(path)
    assert answer.status_code == status
    assert words in answer.content.decode()
    assert "Traceback" not in answer.content.decode()


def test_a_document_that_is_not_there_is_a_page_too(office: Any) -> None:
    for kind in ("recipes", "versions", "cases"):
        last = "intake" if kind == "cases" else "sheet"
        answer = office.browser.get(f"/papers/{kind}/999999/{last}")
        assert answer.status_code == 404
        assert "Nothing here" in answer.content.decode()


def test_the_intake_sheet_is_of_the_case_as_it_stands(office: Any) -> None:
    path = f"/papers/cases/{office.case.pk}/intake"
    assert "10.0 kg" in office.browser.get(path).content.decode()
    office.change(dog__weight_kg=12.5)
    after = office.browser.get(path).content.decode()
    assert "12.5 kg" in after and "As it stood on" in after
    # 70 x 12.5^0.75 x 1.6.
    assert "745" in after


def test_a_case_that_cannot_be_read_has_no_sheet_and_says_why(office: Any) -> None:
    office.case.conditions = [{"id": "no-such-condition"}]
    office.case.save()
    answer = office.browser.get(f"/papers/cases/{office.case.pk}/intake")
    assert answer.status_code == 400 and "cannot be made" in answer.content.decode()


def test_a_link_that_is_reloaded_is_told_once(office: Any) -> None:
    link = shared(office, kept(office)["id"]).json()
    for _ in range(3):
        assert Browser().get(link["path"]).status_code == 200
    assert Event.objects.filter(kind="link.opened").count() == 1


def test_a_pdf_is_named_after_what_it_is(office: Any) -> None:
    office.change(dog__name='Fen / "Ø"\n')
    answer = office.browser.get(f"/papers/recipes/{office.recipe.pk}/sheet.pdf")
    assert answer["Content-Disposition"] == 'inline; filename="fen-draft-sheet.pdf"'


def test_a_failure_of_ours_is_a_page_without_its_inside(
    office: Any, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def broken(*args: Any) -> None:
        raise ZeroDivisionError("secret")

    monkeypatch.setattr("recipes.pages.frozen", broken)
    answer = office.browser.get(f"/papers/recipes/{office.recipe.pk}/sheet")
    text = answer.content.decode()
    assert answer.status_code == 500 and "Something went wrong" in text and "secret" not in text
    assert "unexpected error" in caplog.text
