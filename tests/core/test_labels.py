"""What stands on a label: always what the dog would be harmed by without."""

from dataclasses import replace
from datetime import date

import pytest
from stews import dossier, lead, pot
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.boxes import boxes_of
from wainscot_core.batch.cooked import CookedBatch, cooked_batch
from wainscot_core.batch.plan import plan_batch
from wainscot_core.batch.record import Entry, EntryKind, cooking_of
from wainscot_core.batch.results import BatchPlan
from wainscot_core.documents.batch import BatchWords
from wainscot_core.documents.labels import Label, label_pages
from wainscot_core.dossier.reference import Reference
from wainscot_core.snapshot.snapshot import Parties

ON = date(2026, 11, 24)


def labelled(facts: Reference, sheet: str, *entries: Entry, approved: str = "Dr Ash") -> Label:
    """The first label of a stew with fish oil at every meal, all of it as listed."""
    stew = pot(dossier(facts))
    eater = lead(stew)
    plan: BatchPlan = plan_batch(stew, BatchAsk(amount=4), [eater])
    listed = [
        Entry(key=f"listed-{x.position}", kind=EntryKind.PLANNED, line=x.position)
        for x in plan.lines
    ]
    cooked: CookedBatch = cooked_batch(stew, plan, [eater], cooking_of([*listed, *entries]))
    boxes = boxes_of(facts.batches, facts.boxes, plan, None, "flat", ON, ON, oily=False)
    what = BatchWords(code="2026-11-24-A", recipe="Stew", edition="Version 1", cook_on=ON, approved=approved)  # fmt: skip
    parties = Parties(practice="Larch Lane", client="Maren Holt")
    pages = label_pages(
        parties, what, plan, cooked, boxes, facts.boxes, sheet, 0, "http://here/cook"
    )
    return pages.labels[0]


@pytest.mark.parametrize("sheet", ["a4-65", "a4-21", "a4-8", "letter-30", "letter-10"])
def test_what_is_added_at_meals_stands_on_every_size(facts: Reference, sheet: str) -> None:
    """8 g of fish oil in four days are 1 g at each of two meals a day."""
    label = labelled(facts, sheet)
    said = " ".join((*label.head, *label.lines))
    assert "add at meals" in said or "Add at every meal: Fish oil" in said
    assert "by 27 Nov 2026" in said
    if label.lines:
        assert " 1 g" in label.lines[0]


def test_a_batch_that_was_too_cold_is_loud(facts: Reference) -> None:
    cold = Entry(key="core-of-all", kind=EntryKind.CORE, celsius=61)
    assert "do not feed" in labelled(facts, "a4-21", cold).loud
    assert labelled(facts, "a4-65", cold).loud == "Ask first"
    hot = replace(cold, key="core-of-all-2", celsius=75)
    assert "hot" not in labelled(facts, "a4-21", cold, hot).loud


def test_a_draft_is_loud(facts: Reference) -> None:
    assert labelled(facts, "a4-21", approved="").loud == "Draft: not approved by a vet"
