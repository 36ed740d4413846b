"""All records of a practice as a file and back, those of a client, and a client taken away for good."""

import hashlib
import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from accounts.models import Practice, User, WorkRole
from accounts.scoping import Actor
from cases.models import Case, Client
from desk.models import DeskItem
from django.apps import apps
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, transaction
from django.test import Client as Browser
from events.log import log
from events.models import Event, EventKind
from events.words import words_of
from followup.models import FollowEntry
from handover.bringing import bring_in
from handover.erasing import SOMEBODY, EraseIn, erase_client, records_of
from handover.going import place_of
from handover.tables import LEFT_OUT, TABLES
from handover.writing import write_records
from kitchen.models import Batch
from people.models import Invitation
from plans.models import Plan
from recipes.models import Recipe
from wainscot_core.errors import InputError

# What all of these share takes half a minute to make.
pytestmark = pytest.mark.xdist_group("handover")

OURS = ("accounts", "outbox", "events", "jobs", "library", "cases", "records", "people", "diets", "plans", "release",
        "kitchen", "followup", "interview", "desk", "office")  # fmt: skip


@pytest.fixture(scope="module")
def file(
    django_db_setup: None, django_db_blocker: Any, tmp_path_factory: pytest.TempPathFactory
) -> Path:
    """The file of a practice with dogs at every stage; the practice itself is gone again."""
    path = tmp_path_factory.mktemp("handover") / "demo.zip"
    with django_db_blocker.unblock(), transaction.atomic():
        call_command(
            "seed_demo", "--username", "demo", "--password", "demo-password-1", stdout=io.StringIO()
        )
        practice = User.objects.get(username="demo").practice
        assert practice is not None
        written(practice, path)
        transaction.set_rollback(True)
    return path


@pytest.fixture
def demo(office: Any, file: Path) -> Practice:
    """That practice, beside another one, so that its numbers do not begin at 1."""
    practice = bring_in(file).practice
    User.objects.create(username="demo", practice=practice, role=WorkRole.OWNER)
    return practice


def signed_in(practice: Practice, name: str) -> Browser:
    user = User.objects.create(username=name, practice=practice, role=WorkRole.OWNER)
    browser = Browser()
    browser.force_login(user)
    return browser


def written(practice: Practice, to: Path, client: Client | None = None) -> Path:
    with to.open("wb") as out:
        write_records(practice, out, client)
    return to


def tables_of(path: Path) -> dict[str, bytes]:
    with zipfile.ZipFile(path) as pack:
        return {n: pack.read(n) for n in pack.namelist() if n.startswith(("tables/", "csv/"))}


def rows_of(path: Path, table: str) -> list[dict[str, Any]]:
    with zipfile.ZipFile(path) as pack:
        return [json.loads(line) for line in pack.read(f"tables/{table}.jsonl").splitlines()]


def test_every_table_is_taken_along_or_said_to_stay() -> None:
    taken = {t.model._meta.label.replace("diets.", "recipes.") for t in TABLES}
    there = {
        m._meta.label.replace("diets.", "recipes.")
        for m in apps.get_models()
        if m._meta.app_label in OURS
    }
    assert taken | set(LEFT_OUT) == there
    assert taken & set(LEFT_OUT) == set()


def test_a_practice_comes_back_as_it_was(demo: Practice, file: Path, tmp_path: Path) -> None:
    before, after = tables_of(file), tables_of(written(demo, tmp_path / "p.zip"))
    assert before.keys() == after.keys() and len(before) == 2 * len(TABLES)
    assert [n for n in before if before[n] != after[n]] == []
    # Each of these holds rows, or nothing was shown by it.
    held = {t.name for t in TABLES if before[f"tables/{t.name}.jsonl"]}
    assert {"case", "line", "snapshot", "recipeversion", "release", "releasemove", "vetrequest", "plan",
            "batch", "batchentry", "followentry", "labresult", "followtrial", "mail", "event"} - held <= {"batchentry"}  # fmt: skip


def test_what_was_brought_in_is_computed_alike(demo: Practice, tmp_path: Path) -> None:
    there = bring_in(written(demo, tmp_path / "p.zip"), "Brought along").practice
    one, other = signed_in(demo, "one"), signed_in(there, "other")
    pairs = list(
        zip(
            Recipe.objects.filter(practice=demo).order_by("pk"),
            Recipe.objects.filter(practice=there).order_by("pk"),
            strict=True,
        )
    )
    assert len(pairs) > 8
    for a, b in pairs:
        assert a.pk != b.pk
        answers = [
            browser.get(f"/api/recipes/{r.pk}/analysis") for browser, r in ((one, a), (other, b))
        ]
        assert answers[0].status_code == 200
        assert answers[0].content == answers[1].content
    assert one.get("/api/desk").status_code == other.get("/api/desk").status_code == 200
    due = [
        list(DeskItem.objects.filter(practice=p).values_list("what", "on").order_by("case", "pk"))
        for p in (demo, there)
    ]
    assert due[0] == due[1] != []
    found = other.get("/api/cases?words=teasel").json()["rows"]
    assert [row["dog"] for row in found] == ["Teasel"]


def test_numbers_inside_of_records_point_to_what_was_brought_in(
    demo: Practice, tmp_path: Path
) -> None:
    there = bring_in(written(demo, tmp_path / "p.zip"), "Brought along").practice
    recipes = set(Recipe.objects.filter(practice=there).values_list("pk", flat=True))
    cases = set(Case.objects.filter(practice=there).values_list("pk", flat=True))
    turns = [t["recipe"] for p in Plan.objects.filter(practice=there) for t in p.turns]
    assert turns and set(turns) <= recipes
    eaters = [
        e["case"] for b in Batch.objects.filter(practice=there) for e in b.plan.get("eaters", ())
    ]
    assert eaters and set(eaters) <= cases
    told = set(Event.objects.filter(practice=there).values_list("case", flat=True)) - {None}
    assert told and told <= cases


def test_the_file_of_a_practice_holds_nothing_of_another(
    demo: Practice, office: Any, tmp_path: Path
) -> None:
    office.case.dog.name = "Zibibbo"
    office.case.dog.save()
    with zipfile.ZipFile(written(demo, tmp_path / "p.zip")) as pack:
        held = b"".join(pack.read(n) for n in pack.namelist() if n.startswith(("tables/", "csv/")))
    assert b"Teasel" in held
    assert b"Zibibbo" not in held and office.practice.name.encode() not in held


def test_what_lets_somebody_in_is_in_no_file(office: Any, tmp_path: Path) -> None:
    office.send("post", "invitations", {"email": "new@example.org", "role": "owner"})
    asked = Invitation.objects.get(email="new@example.org")
    path = written(office.practice, tmp_path / "p.zip")
    assert rows_of(path, "mail") == []
    with zipfile.ZipFile(path) as pack:
        held = b"".join(pack.read(n) for n in pack.namelist())
    assert asked.key.encode() not in held
    assert b"pbkdf2" not in held and b"md5$" not in held


def test_the_file_of_a_client_holds_her_alone(demo: Practice, tmp_path: Path) -> None:
    her = Case.objects.get(practice=demo, dog__name="Teasel").dog.client
    path = written(demo, tmp_path / "c.zip", her)
    assert [c["name"] for c in rows_of(path, "client")] == [her.name]
    assert [d["name"] for d in rows_of(path, "dog")] == ["Teasel"]
    days = FollowEntry.objects.filter(case__dog__client=her).count()
    assert len(rows_of(path, "followentry")) == days > 0
    with zipfile.ZipFile(path) as pack:
        names = pack.namelist()
        held = b"".join(pack.read(n) for n in names)
        assert pack.read("cases/1/versions/1-1/owner.pdf").startswith(b"%PDF")
    assert "tables/ownfood.jsonl" not in names
    assert b"Burl" not in held


def rewritten(path: Path, change: Callable[[dict[str, bytes]], None], honest: bool = True) -> Path:
    """The file with something changed in it; honest: its manifest says the right sums and rows of what it holds now."""
    with zipfile.ZipFile(path) as pack:
        held = {n: pack.read(n) for n in pack.namelist()}
    change(held)
    if honest and "manifest.json" in held:
        said = json.loads(held["manifest.json"])
        said["files"] = {
            n: hashlib.sha256(c).hexdigest() for n, c in held.items() if n != "manifest.json"
        }
        held["manifest.json"] = json.dumps(said).encode()
    to = path.with_name("changed.zip")
    with zipfile.ZipFile(to, "w") as pack:
        for name, content in held.items():
            pack.writestr(name, content)
    return to


def row(table: str, at: int = 0, **fields: Any) -> Callable[[dict[str, bytes]], None]:
    """Set fields of a row of a table."""

    def change(held: dict[str, bytes]) -> None:
        name = f"tables/{table}.jsonl"
        lines = held[name].splitlines()
        lines[at] = json.dumps({**json.loads(lines[at]), **fields}).encode()
        held[name] = b"\n".join(lines) + b"\n"

    return change


def said(**fields: Any) -> Callable[[dict[str, bytes]], None]:
    """Set fields of the manifest."""

    def change(held: dict[str, bytes]) -> None:
        held["manifest.json"] = json.dumps({**json.loads(held["manifest.json"]), **fields}).encode()

    return change


def text(name: str, content: bytes) -> Callable[[dict[str, bytes]], None]:
    """Put another text into an entry."""
    return lambda held: held.__setitem__(name, content)


def test_a_file_of_an_older_version_is_brought_in(demo: Practice, tmp_path: Path) -> None:
    """Without the tables and columns that came since."""

    def older(held: dict[str, bytes]) -> None:
        del held["tables/sentsheet.jsonl"]
        plans = [json.loads(line) for line in held["tables/plan.jsonl"].splitlines()]
        assert plans
        for plan in plans:
            del plan["begins"], plan["change_days"]
        lines = (json.dumps(plan).encode() + b"\n" for plan in plans)
        held["tables/plan.jsonl"] = b"".join(lines)
        manifest = json.loads(held["manifest.json"])
        del manifest["changes"]["interview"], manifest["rows"]["sentsheet"]
        held["manifest.json"] = json.dumps(manifest).encode()

    brought = bring_in(rewritten(written(demo, tmp_path / "p.zip"), older), "Of an older version")
    found = Plan.objects.filter(practice=brought.practice)
    assert found.count() == Plan.objects.filter(practice=demo).count()
    assert {(plan.begins, plan.change_days) for plan in found} == {(None, 7)}

    def without(held: dict[str, bytes]) -> None:
        del held["tables/sentsheet.jsonl"]

    # The table is missed where the version that wrote the file had it.
    gone = rewritten(written(demo, tmp_path / "q.zip"), without)
    with pytest.raises(InputError, match="is missing from the file"):
        bring_in(gone, "Damaged")


def test_what_is_wrong_with_a_file_is_said_and_nothing_is_kept(
    demo: Practice, tmp_path: Path
) -> None:
    good = written(demo, tmp_path / "p.zip")
    deep: Any = []
    for _ in range(60):
        deep = [deep]
    rows = json.loads(zipfile.ZipFile(good).read("manifest.json"))["rows"]
    hostile: list[tuple[Any, str]] = [
        (row("dog", weight_kg="heavy"), "tables/dog.jsonl, line 1.weight_kg"),
        (row("dog", weight_kg=-4), "does not hold together"),
        (row("dog", weight_kg=10**400), "is no number"),
        (row("dog", client=9999), "number of nothing"),
        (row("dog", client="1"), "number of nothing"),
        (row("dog", name=7), "is no text"),
        (row("dog", name="x" * 81), "80"),
        (row("dog", birth_date="31.3.2026"), "is no day"),
        (row("dog", birth_date="2026-02-31"), "is no day"),
        (row("dog", created="yesterday"), "is no moment"),
        (row("dog", created="2026-03-31T12:00:00"), "is no moment"),
        (row("dog", neutered="yes"), "neither true nor false"),
        (row("dog", version=-3), "tables/dog.jsonl"),
        (row("dog", colour="brown"), "not known here"),
        (row("dog", id=0), "no number of a row"),
        (row("dog", at=1, id=1), "there twice"),
        (row("case", conditions="pancreatitis"), "does not hold together"),
        (row("case", intake=deep), "nested too deeply"),
        (row("case", notes="\ud800"), "holds what is no letter"),
        (row("release", state="signed by me"), "none of what it can be"),
        (row("snapshot", content="{}"), "its SHA-256 is another"),
        (row("plan", turns=[{"recipe": 77, "days": 1}] and "x"), "does not hold together"),
        (text("tables/dog.jsonl", b"[1, 2]\n"), "is no object"),
        (text("tables/dog.jsonl", b"{\n"), "no JSON"),
        (text("tables/dog.jsonl", b""), "the manifest says"),
        (text("practice.json", b"[]"), "is no object"),
        (said(format="something"), "none of wainscot-practice"),
        (said(format_version=2), "not known here"),
        (said(whose="client"), "records of one client"),
        (said(changes={"cases": "9999_later"}), "newer than this one"),
        (said(rows={**rows, "dog": 5}), "the manifest says 5"),
        (said(rows=None), "is missing"),
        (lambda held: held.pop("tables/event.jsonl"), "tables/event.jsonl"),
        (lambda held: held.pop("manifest.json"), "no manifest.json"),
    ]
    before = Practice.objects.count(), Case.objects.count(), Event.objects.count()
    for change, words in hostile:
        with pytest.raises(InputError) as error:
            bring_in(rewritten(good, change), "Brought along")
        assert words in str(error.value), str(error.value)
    with pytest.raises(InputError, match="changed by hand"):
        bring_in(rewritten(good, row("dog", name="Rex"), honest=False), "Brought along")
    (tmp_path / "no.zip").write_bytes(b"nothing of the kind")
    with pytest.raises(InputError, match="a file that Wainscot wrote"):
        bring_in(tmp_path / "no.zip", "Brought along")
    with pytest.raises(InputError, match="cannot be read"):
        bring_in(tmp_path / "gone.zip", "Brought along")
    with pytest.raises(InputError, match="there is a practice called"):
        bring_in(good)
    assert (Practice.objects.count(), Case.objects.count(), Event.objects.count()) == before


def test_what_was_begun_and_not_ended_is_begun_anew(demo: Practice, tmp_path: Path) -> None:
    path = written(demo, tmp_path / "p.zip")
    half = Practice.objects.create(name="Brought along")
    log(Actor(half, "x"), EventKind.BACKED_UP, None, None, rows=1)
    Client.objects.create(practice=half, name="Half")
    brought = bring_in(path, "brought along")
    assert [p.pk for p in Practice.objects.filter(name__iexact="brought along")] == [
        brought.practice.pk
    ]
    assert not Client.objects.filter(name="Half").exists()


def test_by_the_commands(demo: Practice, tmp_path: Path) -> None:
    path, said = tmp_path / "p.zip", io.StringIO()
    with pytest.raises(CommandError, match="Say which practice"):
        call_command("take_out", str(path), stdout=said)
    call_command("take_out", str(path), "--practice", demo.name, stdout=said)
    assert path.stat().st_mode & 0o777 == 0o600
    with pytest.raises(CommandError, match="already"):
        call_command("take_out", str(path), "--practice", demo.name, stdout=said)
    with pytest.raises(CommandError, match="there is a practice called"):
        call_command("bring_in", str(path), "--owner", "o@example.org", stdout=said)
    with pytest.raises(CommandError, match="e-mail"):
        call_command("bring_in", str(path), "--owner", "nobody", "--name", "Elm", stdout=said)
    call_command("bring_in", str(path), "--owner", "o@example.org", "--name", "Elm", stdout=said)
    elm = Practice.objects.get(name="Elm")
    assert Invitation.objects.get(practice=elm).path in said.getvalue()
    newest = Event.objects.filter(practice=elm, kind=EventKind.PRACTICE_BROUGHT).get()
    assert "Records were brought in from elsewhere" in words_of(newest)


def everywhere(words: list[str]) -> list[str]:
    """The columns of the database in which one of these words stands, in whatever table."""
    found = []
    with connection.cursor() as cursor:
        for model in apps.get_models():
            for column in model._meta.concrete_fields:
                cursor.execute(
                    f'SELECT "{column.column}" FROM "{model._meta.db_table}"'  # noqa: S608
                )
                texts = " ".join(str(value) for (value,) in cursor.fetchall()).lower()
                found += [f"{model._meta.label}.{column.name}: {w}" for w in words if w in texts]
    return found


def test_nothing_of_an_erased_client_is_left(demo: Practice) -> None:
    her = Case.objects.get(practice=demo, dog__name="Rill").dog.client
    words = [her.name.lower(), her.email.lower(), "rill"]
    assert len(everywhere(words)) > 5
    others = {c.pk: records_of(c) for c in Client.objects.filter(practice=demo).exclude(pk=her.pk)}
    lines = Event.objects.count()
    counted = records_of(her)
    assert counted.signed > 0 and counted.batches > 0 and counted.days > 0 and counted.mails > 0
    erase_client(Actor(demo, "demo"), her.pk, EraseIn(name=her.name, reason="asked for by letter"))
    assert everywhere(words) == []
    # Every line of the trail is there, and one more; those of others say what they said.
    assert Event.objects.count() == lines + 1
    erased = [e for e in Event.objects.all() if e.data == {"erased": True}]
    assert len(erased) == counted.trail
    assert all("of a client whose records were erased" in words_of(e) for e in erased)
    # The owner and the vet by their names: not any more.
    assert {e.by for e in erased} == {"demo", SOMEBODY}
    newest = Event.objects.first()
    assert newest is not None and "asked for by letter" in words_of(newest)
    assert {pk: records_of(Client.objects.get(pk=pk)) for pk in others} == others
    # The trail is written once again.
    with pytest.raises(DatabaseError), transaction.atomic():
        Event.objects.filter(pk=erased[0].pk).update(by="x")
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA secure_delete")
        assert cursor.fetchone()[0] == 1


def test_a_case_deleted_before_goes_with_its_client(office: Any) -> None:
    office.case.dog.client.dogs.create(practice=office.practice, name="Other", weight_kg=9)
    client = office.case.dog.client
    case = office.case.pk
    office.change(notes="limps on the left")
    assert office.send("delete", f"cases/{case}").status_code == 204
    assert Event.objects.filter(case=case).count() > 1
    body = {"name": client.name, "reason": "asked for"}
    assert office.send("post", f"clients/{client.pk}/erasure", body).status_code == 200
    assert [e for e in Event.objects.filter(case=case) if e.data != {"erased": True}] == []


def test_a_file_that_lies_there_goes_with_the_client(
    office: Any, settings: Any, tmp_path: Path
) -> None:
    settings.DATA_DIR = tmp_path
    lies = place_of(office.practice)
    lies.parent.mkdir()
    written(office.practice, lies)
    assert office.get("practice/records").json()["bytes"] == lies.stat().st_size
    client = office.case.dog.client
    body = {"name": client.name, "reason": "asked for"}
    assert (
        office.send("post", f"clients/{client.pk}/erasure", {**body, "name": "x"}).status_code
        == 400
    )
    assert lies.exists()
    assert office.send("post", f"clients/{client.pk}/erasure", body).status_code == 200
    assert not lies.exists()


def test_erasing_asks_for_the_name_and_a_reason(office: Any) -> None:
    client = office.case.dog.client
    path = f"clients/{client.pk}/erasure"
    found = office.get(path).json()
    assert (found["name"], found["records"]["dogs"], found["records"]["cases"]) == (
        client.name, 1, 1,
    )  # fmt: skip
    for body, field in (
        ({"name": "somebody", "reason": "asked for"}, "name"),
        ({"name": client.name, "reason": " "}, "reason"),
    ):
        answer = office.send("post", path, body)
        assert (answer.status_code, answer.json()["error"]["field"]) == (400, field)
    assert Case.objects.filter(pk=office.case.pk).exists()
    User.objects.filter(practice=office.practice).update(role=WorkRole.CONSULTANT)
    assert office.send("post", path, {"name": client.name, "reason": "x y z"}).status_code == 403
    assert office.browser.get(f"/api/clients/{client.pk}/records").status_code == 200
    User.objects.filter(practice=office.practice).update(role=WorkRole.ASSISTANT)
    assert office.browser.get(f"/api/clients/{client.pk}/records").status_code == 403
    assert office.browser.get("/api/practice/records").status_code == 403
    assert office.browser.get("/api/practice/records/file").status_code == 403
