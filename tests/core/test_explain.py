"""A figure can be opened: its sources add up and its steps lead to it."""

import pytest
from wainscot_core.analysis.adequacy import judge
from wainscot_core.analysis.explain import explain
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.recipe.line import sum_lines

LINES = [("usda:05062", 180.0), ("usda:20445", 158.0), ("usda:11477", 60.0)]


def dossier(facts: Reference, lines: list[tuple[str, float]], days: float) -> Dossier:
    return read_case(facts, {
        "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 8.2},
        "energy": {"multiplier": 1.6}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": days, "lines": [{"food": f, "grams": g} for f, g in lines]},
    })  # fmt: skip


@pytest.mark.parametrize("key", ["CA", "LYS", "VITA", "F18D2N6", "EPADHA"])
def test_sources_and_steps_agree_with_the_total(facts: Reference, key: str) -> None:
    asked = dossier(facts, LINES, 3)
    sums = sum_lines(asked.library, asked.lines, asked.days)
    found = explain(asked, key)
    known = sum(s.amount for s in found.lines if s.amount is not None)
    assert known == pytest.approx(sums.amount(key))
    by_label = {step.label: step for step in found.steps}
    batch = next(s for label, s in by_label.items() if label.endswith("in the batch"))
    assert sum(q.value for q in batch.inputs) == pytest.approx(batch.value)
    a_day = next(s for label, s in by_label.items() if label.endswith("a day"))
    assert a_day.value == pytest.approx(batch.value / 3)
    per_1000 = next(s for label, s in by_label.items() if "1000 kcal" in label)
    # The verdict is on the very figure the steps lead to.
    column = asked.library.catalogue.index(key)
    verdict = judge(sums, asked.requirements, asked.policy)[column]
    assert per_1000.value == pytest.approx(verdict.value)


def test_unknown_lines_are_listed_last_and_without_an_amount(facts: Reference) -> None:
    # Lamb liver's vitamin E is a hole in the tables.
    lines = explain(dossier(facts, [("usda:17199", 100), ("usda:05062", 100)], 1), "TOCPHA").lines
    assert lines[-1].food == "usda:17199"
    assert (lines[-1].amount, lines[-1].grade) == (None, "unknown")
