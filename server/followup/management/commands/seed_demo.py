"""Enter the made-up demo practice, once."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import yaml
from accounts.models import Practice, User, WorkRole
from accounts.scoping import Actor
from cases.actions import mark_foods, start_case
from cases.models import Case, Client
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from django.utils import timezone
from interview.actions import SheetIn, send_sheet
from kitchen.actions import BatchIn, BoxesIn, WeighIn, start_batch, stock_batch, weigh
from library.actions import FoodNote, note_food
from library.stocking import stock
from office.appointments import AppointmentIn, keep_appointment
from office.invoices import give_out
from office.texts import TextIn, keep_text
from plans.actions import change_plan, fields_of, plan_of
from recipes.actions import fill_recipe, keep_brought, start_recipe
from recipes.kept import KeepIn, keep_recipe
from recipes.models import Recipe
from release.actions import (
    AskVet,
    ConcernDecisionIn,
    ConcernSeen,
    IssueIn,
    VetAnswer,
    answer_as_vet,
    check_plan,
    decide,
    issue,
    send_to_vet,
)
from release.models import VetRequest
from release.queries import weighed_of
from wainscot_core.batch.results import BatchPlan
from wainscot_core.batch.weighed_batch import WeighedIn
from wainscot_core.boundary import read
from wainscot_core.bowl.marks import Mark
from wainscot_core.changes import FieldChange
from wainscot_core.facts.shelf import ShelfItem
from wainscot_core.followup.entry import DayEntry
from wainscot_core.followup.laboratory import LabValue
from wainscot_core.followup.trial import TrialMove, TrialPlan
from wainscot_core.office.invoice import InvoiceAsk
from wainscot_core.recipe.line import LineText
from wainscot_core.release.decisions import open_of

from followup.actions import FollowIn, LabIn, put_down_day, put_down_lab
from followup.reformulate import ReformulateIn, reformulate, reformulate_view
from followup.trials import TrialIn, TrialMoveIn, move_trial, start_trial

DECIDED = "Talked over with the owner and the vet."


class Command(BaseCommand):
    help = "Enter the demo practice unless a practice exists."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--username", required=True)
        parser.add_argument("--password", required=True)

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        if Practice.objects.exists():
            self.stdout.write("demo data is there already")
            return
        here = Path(__file__).parent
        data: dict[str, Any] = {}
        for name in ("demo_practice.yaml", "demo.yaml"):
            data |= yaml.safe_load((here / name).read_text(encoding="utf-8"))
        practice = Practice.objects.create(name=data["practice"], invoicing=data["invoicing"])
        user = User(username=options["username"], practice=practice, role=WorkRole.OWNER)
        user.set_password(options["password"])
        user.save()
        for name, role in (("iris", WorkRole.CONSULTANT), ("nell", WorkRole.ASSISTANT)):
            colleague = User(username=name, practice=practice, role=role)
            colleague.set_password(options["password"])
            colleague.save()
        who = Actor(practice, user.get_username())
        for item in data["shelf"]:
            stock(who, read(ShelfItem, item))
        for noted in data["foods"]:
            food = noted.pop("food")
            note_food(who, food, read(FoodNote, noted), set(noted))
        for text in data["texts"]:
            keep_text(who, None, read(TextIn, text))
        for entry in reversed(data["cases"]):
            self._case(who, entry)
        for kept in data["kept"]:
            recipe = Recipe.objects.get(practice=practice, case__dog__name=kept["dog"])
            keep_recipe(who, KeepIn(recipe=recipe.pk, name=kept["name"]))
        self.stdout.write(f"demo data entered: {len(data['cases'])} cases")

    def _case(self, who: Actor, entry: dict[str, Any]) -> None:
        client = Client.objects.create(practice=who.practice, **entry.pop("client"))
        recipes, plan = entry.pop("recipes"), entry.pop("plan", None)
        said, signed = entry.pop("sourcing", {}), entry.pop("issued", None)
        followed, diary = entry.pop("follow", []), entry.pop("diary", {})
        trial, labs = entry.pop("trial", None), entry.pop("labs", [])
        way, met, charged = entry.pop("way", []), entry.pop("met", []), entry.pop("invoice", None)
        case = start_case(who, client, entry, title="")
        for recipe in recipes:
            record = start_recipe(who, case, recipe["name"])
            fill_recipe(who, record, recipe["name"], recipe["covers_days"], _lines(recipe["lines"]))
        for mark, foods in said.items():
            for food, days in foods.items():
                mark_foods(who, case, [food], Mark(mark), days)
        if plan is not None:
            before = fields_of(plan_of(case))
            turns = [
                FieldChange(path=f"turns.{r.pk}", value=1, was=before["turns"].get(str(r.pk)))
                for r in case.recipes.all()
            ]
            items = [
                FieldChange(path=f"items.demo-{i}", value=item)
                for i, item in enumerate(plan["items"])
            ]
            ahead, over = plan.get("begins_in_days"), plan.get("change_days")
            said = [
                FieldChange(path=path, value=value, was=before[path])
                for path, value in (("begins", ahead and _ago(-ahead)), ("change_days", over))
                if value is not None
            ]
            change_plan(who, case, [*turns, *items, *said])
        if signed is not None:
            for record in case.recipes.all():
                self._issue(who, record, signed)
        for n, (days_ago, told) in enumerate([*_diary(diary), *followed]):
            day = read(DayEntry, {"date": _ago(days_ago), **told})
            put_down_day(who, case.pk, FollowIn(key=f"demo-day-{n:03d}", entry=day))
        for n, (days_ago, told) in enumerate(labs):
            value = read(LabValue, {"date": _ago(days_ago), **told})
            put_down_lab(who, case.pk, LabIn(key=f"demo-lab-{n:03d}", value=value))
        if trial is not None:
            plan = read(TrialPlan, {**trial["plan"], "started": _ago(trial["days_ago"])})
            start_trial(who, case.pk, TrialIn(plan=plan))
            running = case.trials.get()
            for n, (days_ago, kind, told) in enumerate(trial["moves"]):
                move = read(TrialMove, {"kind": kind, "date": _ago(days_ago), **told})
                move_trial(who, running.pk, TrialMoveIn(move=move, version=n + 1))
        for ahead, at, kind, minutes, note in met:
            asked = {"kind": kind, "on": _ago(-ahead), "at": at, "minutes": minutes, "note": note}
            keep_appointment(who, case, None, read(AppointmentIn, asked))
        if charged is not None:
            rate = who.practice.invoicing["tax_percent"]
            lines = [
                {"what": what, "count": count, "price": price, "tax_percent": rate}
                for what, count, price in charged["lines"]
            ]
            asked = {"to": client.name, "done": charged["done"], "lines": lines}
            give_out(who, client.pk, read(InvoiceAsk, asked))
        for n, (days_ago, step, told) in enumerate(way):
            with _as_of(days_ago):
                self._step(who, case, step, told, f"demo-way-{n:03d}")

    def _step(self, who: Actor, case: Case, step: str, told: Any, key: str) -> None:
        """One step of a dog's way, on its day."""
        # Read anew: what an earlier step wrote of the case stands in the database.
        recipe = Recipe.objects.for_practice(who.practice).get(case_id=case.pk)
        if step == "mail":
            keep_brought(who, recipe.pk, told, 0, (), ())
        elif step == "sheet":
            said = [
                {"id": k, **({"chosen": "yes"} if v == "+" else {"words": v})}
                for k, v in told.items()
            ]
            owner = Actor(who.practice, "the owner, by a link")
            send_sheet(owner, case.pk, read(SheetIn, {"key": key, "answers": said}))
        elif step == "vet":
            self._to_vet(who, recipe, told)
        elif step == "issued":
            self._issue(who, recipe, told)
        elif step == "cooked":
            self._cook(who, recipe, told)
        elif step == "day":
            entry = read(DayEntry, {"date": _ago(0), **told})
            put_down_day(who, case.pk, FollowIn(key=key, entry=entry))
        elif step == "again":
            seen = tuple(one.id for one in reformulate_view(recipe.case).learned)
            reformulate(who, case.pk, ReformulateIn(take=seen))
            fill_recipe(who, recipe, recipe.name, recipe.covers_days, _lines(told))
        else:
            raise ValueError(step)

    def _cook(self, who: Actor, recipe: Recipe, told: dict[str, Any]) -> None:
        """A batch, weighed, and fed from the day on which it is cooked."""
        asked = read(BatchIn, {**told["batch"], "cook_on": _ago(0)})
        batch = start_batch(who, recipe.pk, asked)
        expected = read(BatchPlan, batch.plan).finished.grams
        done = WeighedIn(finished_g=round(expected * told["finished"]))
        batch = weigh(who, batch.pk, WeighIn(weighed=done, version=batch.version))
        stock_batch(who, batch.pk, BoxesIn(feed_from=timezone.localdate(), version=batch.version))

    def _to_vet(self, who: Actor, recipe: Recipe, vet: dict[str, str]) -> None:
        """Settled, checked, and sent to be signed."""
        for found in open_of(weighed_of(recipe)):
            concern = found.concern
            seen = ConcernSeen(key=concern.key, basis=concern.basis)
            decide(who, recipe.pk, ConcernDecisionIn(concerns=(seen,), reason=DECIDED))
        check_plan(who, recipe.pk, "for two weeks")
        asked = AskVet(name=vet["signer"], address="vet@example.org")
        send_to_vet(who, recipe.pk, asked)

    def _issue(self, who: Actor, recipe: Recipe, signed: dict[str, str]) -> None:
        """All the way of a plan: settled, checked, signed, issued."""
        self._to_vet(who, recipe, signed)
        answer_as_vet(VetRequest.objects.latest("pk"), VetAnswer(approved=True, **signed))
        issue(who, recipe.pk, IssueIn(change_days=7))


@contextmanager
def _as_of(days_ago: int) -> Iterator[None]:
    """What is entered happens so many days ago: a practice has a past."""
    now = timezone.now

    def then() -> datetime:
        return now() - timedelta(days=days_ago)

    timezone.now = then
    try:
        yield
    finally:
        timezone.now = now


def _lines(rows: list[list[str]]) -> list[LineText]:
    """Lines as food, amount and, where it is cooked, how."""
    return [LineText(food, quantity, preparation="".join(how)) for food, quantity, *how in rows]


def _ago(days: int) -> str:
    return (timezone.localdate() - timedelta(days=days)).isoformat()


def _diary(scores: dict[str, str]) -> list[tuple[int, dict[str, int]]]:
    """Scores that stand as a figure a day, the last of them today; "-" for nothing put down."""
    days = max((len(row) for row in scores.values()), default=0)
    found = []
    for n in range(days):
        told = {name: int(row[n]) for name, row in scores.items() if row[n] != "-"}
        if told:
            found.append((days - 1 - n, told))
    return found
