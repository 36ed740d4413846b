"""A figure can be opened: its sources add up and its steps lead to it."""

import pytest
from wainscot_core.analysis import totals
from wainscot_core.explain import explain
from wainscot_core.reference import Reference
from wainscot_core.standards import requirement_set

LINES = [("usda:05062", 180.0), ("usda:20445", 158.0), ("usda:11477", 60.0)]


@pytest.mark.parametrize("key", ["CA", "LYS", "VITA", "F18D2N6", "EPADHA"])
def test_sources_and_steps_agree_with_the_total(facts: Reference, key: str) -> None:
    library = facts.library
    rows, grams = [library.row(f) for f, _ in LINES], [g for _, g in LINES]
    sums = totals(library, rows, grams, days=3)
    limits = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    found = explain(library, rows, sums, limits, key)
    known = sum(s.amount for s in found.lines if s.amount is not None)
    assert known == pytest.approx(sums.amount(key))
    by_label = {step.label: step for step in found.steps}
    batch = next(s for label, s in by_label.items() if label.endswith("in the batch"))
    assert sum(q.value for q in batch.inputs) == pytest.approx(batch.value)
    a_day = next(s for label, s in by_label.items() if label.endswith("a day"))
    assert a_day.value == pytest.approx(batch.value / 3)
    per_1000 = next(s for label, s in by_label.items() if "1000 kcal" in label)
    assert per_1000.value == pytest.approx(found.finding.value)


def test_unknown_lines_are_listed_last_and_without_an_amount(facts: Reference) -> None:
    library = facts.library
    # Lamb liver's vitamin E is a hole in the tables.
    rows = [library.row(f) for f in ("usda:17199", "usda:05062")]
    sums = totals(library, rows, [100, 100])
    limits = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    lines = explain(library, rows, sums, limits, "TOCPHA").lines
    assert lines[-1].food.id == "usda:17199"
    assert (lines[-1].amount, lines[-1].provenance.grade) == (None, "unknown")
