"""What must be settled before a plan goes out, which decisions hold, and what is different of two plans."""

from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Any

import pytest
from wainscot_core.analysis.adequacy import Status
from wainscot_core.documents.letter import vet_letter
from wainscot_core.documents.paper import Document, Points, Table, Words
from wainscot_core.dog.record import CaseRecord, Diagnosis, Medicine, Muscle, ReactionRecord
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.label_prompts import prompt_for
from wainscot_core.findings import Finding, Kind, Level
from wainscot_core.formats.casefile import dossier_of, read_case_file, record_of
from wainscot_core.recipe.line import LineText, read_line
from wainscot_core.recipe.plan import Daily, DailyKind
from wainscot_core.release.concerns import About, Concern, Judged, Settle, concerns_of, settled_by
from wainscot_core.release.decisions import (
    ConcernDecision,
    ConcernState,
    VetWord,
    check_decision,
    open_of,
    weighed,
)
from wainscot_core.release.differences import (
    Differences,
    JudgedDifference,
    differences,
    judged_words,
)
from wainscot_core.release.freeze import Forward, concerns_now, freeze_plan, judged
from wainscot_core.snapshot.snapshot import Parties, Snapshot, canonical, digest_of, opened

PARTIES = Parties(practice="Larch Lane", client="Maren Holt")
TODAY = date(2026, 11, 26)
AT = datetime(2026, 11, 20, 9, 0, tzinfo=UTC)
CHICKEN, RICE, SALT, CHEDDAR = "usda:05062", "usda:20045", "usda:02047", "usda:01009"


def case(lines: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    return {
        "format": "wainscot-case", "version": 1,
        "dog": {"name": "Fen", "weight_kg": 10, "age_months": 48, **more},
        "energy": {"kcal_per_day": 500},
        "targets": {"standard": "nrc-2006", "life_stage": "adult"},
        "recipe": {"covers_days": 1, "name": "Stew", "lines": lines},
    }  # fmt: skip


LINES = [{"food": CHICKEN, "grams": 200}, {"food": RICE, "grams": 60}]


def plan(
    facts: Reference, lines: Any = None, beside: tuple[tuple[str, str], ...] = (), **more: Any
) -> tuple[Forward, Any]:
    file = read_case_file(case(lines or LINES, **more))
    given = tuple(
        Daily(DailyKind.TREAT, read_line(facts.methods, facts.library, LineText(food, amount)))
        for food, amount in beside
    )
    return Forward(dossier_of(facts, file), "Stew", given), record_of(file)


def told(facts: Reference, **more: Any) -> dict[str, Concern]:
    forward, record = plan(facts, **more)
    return {c.nutrient or c.food or c.what: c for c in concerns_now(forward, record)}


def decided(concern: Concern, number: int = 1, vet: VetWord | None = None) -> ConcernDecision:
    return ConcernDecision(
        id=number, key=concern.key, basis=concern.basis, reason="agreed", by="maja", at=AT, vet=vet
    )


VET = VetWord(name="Dr Linde", licence="V-1", on=date(2026, 11, 1))


def test_every_limit_that_is_not_held_is_a_concern(facts: Reference) -> None:
    """One for one with the analysis: short, over and unproven want a reason, above the safe limit the vet."""
    forward, record = plan(facts, [*LINES, {"food": SALT, "grams": 12}])
    found = judged(forward).recipe
    states = {x.key: x.status for x in (*found.nutrients, *found.ratios)}
    held = {Status.MET, Status.NO_LIMIT, Status.OFF_ADVICE}
    gaps = {c.nutrient: c for c in concerns_now(forward, record) if c.about is About.GAP}
    assert set(gaps) == {key for key, status in states.items() if status not in held}
    assert states["CA"] is Status.SHORT and gaps["CA"].settle is Settle.REASON
    for key, concern in gaps.items():
        above = states[key] is Status.ABOVE_SAFE
        assert (concern.level is Level.BLOCK) is above and (concern.settle is Settle.VET) is above
    assert any(c.level is Level.BLOCK for c in gaps.values()), "12 g of salt is above a safe limit"


@pytest.mark.parametrize(
    ("kind", "level", "settle"),
    [
        (Kind.HAZARD, Level.BLOCK, Settle.VET),
        (Kind.REACTION, Level.BLOCK, Settle.VET),
        (Kind.HAZARD, Level.DECIDE, Settle.REASON),
        (Kind.CONFLICT, Level.DECIDE, Settle.ELSEWHERE),
        (Kind.ENERGY, Level.WARN, Settle.REASON),
        (Kind.HAZARD, Level.WARN, Settle.NOTHING),
        (Kind.AVAILABILITY, Level.NOTE, Settle.NOTHING),
    ],
)
def test_who_settles_what(kind: Kind, level: Level, settle: Settle) -> None:
    assert settled_by(Finding(kind=kind, level=level, what="x", why="y", do="z")) is settle


def test_a_concern_is_known_again_and_told_apart(facts: Reference) -> None:
    """The key stays while amounts change; two findings in the same words are two."""
    small, large = told(facts)["ZN"], told(facts, lines=[{"food": CHICKEN, "grams": 230}])["ZN"]
    assert small.key == large.key and small.basis != large.basis
    keys = [c.key for c in told(facts).values()]
    assert len(keys) == len(set(keys))
    forward, record = plan(facts)
    found = judged(forward)
    twice = Finding(kind=Kind.HAZARD, level=Level.BLOCK, what="the same 3 g", why="y", do="z")
    other = replace(twice, what="the same 5 g")
    doubled = replace(found.recipe, flags=(twice, other))
    blocks = [
        c for c in concerns_of(record, Judged(doubled, None, ()), ()) if c.kind is Kind.HAZARD
    ]
    assert len({c.key for c in blocks}) == 2, "one decision must not settle both"


def test_a_decision_holds_for_what_it_was_made_on(facts: Reference) -> None:
    zinc = told(facts)["ZN"]
    same = weighed([zinc], [decided(zinc)])[0]
    assert same.state is ConcernState.SETTLED and not same.is_open
    changed = replace(zinc, basis="other")
    again = weighed([changed], [decided(zinc)])[0]
    assert again.state is ConcernState.REOPENED and again.is_open and again.decision is not None
    # A later decision on another basis does not undo the one that fits.
    both = weighed([zinc], [decided(zinc), decided(changed, 2)])[0]
    assert (
        both.state is ConcernState.SETTLED and both.decision is not None and both.decision.id == 1
    )
    assert weighed([zinc], [])[0].state is ConcernState.OPEN


def test_what_became_a_block_is_not_settled_by_a_reason(facts: Reference) -> None:
    zinc = replace(told(facts)["ZN"], settle=Settle.VET)
    assert weighed([zinc], [decided(zinc)])[0].is_open
    assert not weighed([zinc], [decided(zinc, vet=VET)])[0].is_open


def test_what_is_decided_elsewhere_stays_open(facts: Reference) -> None:
    conflict = replace(told(facts)["ZN"], settle=Settle.ELSEWHERE)
    assert open_of(weighed([conflict], [decided(conflict, vet=VET)]))
    with pytest.raises(InputError):
        check_decision(conflict, "a good reason", VET, TODAY)


@pytest.mark.parametrize("reason", ["", "ok", "       ", "1234567"])
def test_a_reason_is_a_few_words(facts: Reference, reason: str) -> None:
    with pytest.raises(InputError, match="reason"):
        check_decision(told(facts)["ZN"], reason, None, TODAY)


def test_the_graver_of_recipe_and_day_is_told(facts: Reference) -> None:
    """A block of the day with what is given beside it is never hidden by a warning of the recipe, nor the other way."""
    forward, record = plan(facts)
    found = judged(forward).recipe
    mild = Finding(kind=Kind.HAZARD, level=Level.WARN, what="Salt", why="1 g", do="z")
    grave = replace(mild, level=Level.BLOCK, why="9 g")
    for one, other in ((mild, grave), (grave, mild)):
        pair = Judged(replace(found, flags=(one,)), replace(found, flags=(other,)), ())
        [salt] = [c for c in concerns_of(record, pair, ()) if c.what == "Salt"]
        assert salt.level is Level.BLOCK


def test_a_gap_that_is_closed_apart_is_still_told(facts: Reference) -> None:
    """3 g of calcium carbonate bring 1200 mg, what the recipe lacks: it must be given every day."""
    without, given = told(facts), told(facts, beside=(("supp:calcium-carbonate", "3 g"),))
    assert "without what is given beside it" not in without["CA"].what
    assert "without what is given beside it" in given["CA"].what
    assert given["CA"].settle is Settle.REASON and given["CA"].key != without["CA"].key


@pytest.mark.parametrize(
    ("food", "asked"),
    [
        ("usda:15184", "canned-fish"), ("usda:11424", "canned-other"), ("usda:16098", "nut-butter"),
        ("usda:16150", "nut-butter"), (CHICKEN, ""), (RICE, ""), ("usda:11422", ""),
        ("supp:fish-oil", ""), ("usda:01116", "sweetened-dairy"),
    ],
)  # fmt: skip
def test_which_labels_are_read(facts: Reference, food: str, asked: str) -> None:
    found = prompt_for(facts.label_prompts, facts.library.food(food))
    assert (found.id if found else "") == asked


def test_the_label_of_what_the_practice_added_is_read(facts: Reference) -> None:
    own = replace(facts.library.food(CHICKEN), id="own:cousins-mince")
    found = prompt_for(facts.label_prompts, own)
    assert found is not None and found.id == "own"


def snapshot(facts: Reference, decide: bool = False, **more: Any) -> Snapshot:
    forward, record = plan(facts, **more)
    concerns = concerns_now(forward, record)
    made = [decided(c, i, VET) for i, c in enumerate(concerns)] if decide else []
    return freeze_plan(forward, record, PARTIES, TODAY, weighed(concerns, made))


def test_a_snapshot_keeps_what_was_told_and_decided(facts: Reference) -> None:
    kept = snapshot(facts, decide=True, beside=((CHEDDAR, "10 g"),))
    text = canonical(kept)
    recipe = opened(text, digest_of(text)).of_recipe
    assert recipe == kept.of_recipe
    assert [(b.food, b.grams) for b in recipe.beside] == [(CHEDDAR, 10)]
    assert CHEDDAR in {f.id for f in recipe.foods} and recipe.as_fed is recipe.day
    zinc = next(c for c in recipe.concerns if c.what.startswith("Zinc"))
    assert zinc.by == "maja" and zinc.reason == "agreed" and "Dr Linde, licence V-1" in zinc.vet


def between(facts: Reference, **more: Any) -> Differences:
    return differences(snapshot(facts), snapshot(facts, **more))


def test_the_same_plan_has_no_differences(facts: Reference) -> None:
    assert between(facts).none and differences(snapshot(facts), snapshot(facts, decide=True)).none


def test_differences_are_told_with_their_amounts(facts: Reference) -> None:
    more = between(
        facts, lines=[{"food": CHICKEN, "grams": 210}, {"food": "usda:11424", "grams": 40}]
    )
    assert {(x.food, x.before_g, x.after_g) for x in more.lines} == {
        (CHICKEN, 200, 210), (RICE, 60, None), ("usda:11424", None, 40)
    }  # fmt: skip
    assert more.nutrients and not more.dog and not more.none
    heavier = between(facts, weight_kg=12)
    assert "weight: 10 kg, now 12 kg" in heavier.dog and not heavier.lines
    beside = between(facts, beside=((CHEDDAR, "10 g"),))
    assert [(x.food, x.before_g, x.after_g) for x in beside.lines] == [(CHEDDAR, None, 10)]


def test_a_limit_alone_that_moved_is_a_difference(facts: Reference) -> None:
    before = snapshot(facts)
    recipe = before.of_recipe
    moved = tuple(
        replace(n, min=n.min * 1.1) if n.key == "ZN" and n.min else n
        for n in recipe.analysis.nutrients
    )
    after = replace(
        before, recipe=replace(recipe, analysis=replace(recipe.analysis, nutrients=moved))
    )
    found = differences(before, after)
    assert [x.key for x in found.nutrients] == ["ZN"] and not found.none
    assert not found.nutrients[0].verdict_differs


def said(made: Document) -> str:
    words: list[str] = []
    for section in made.sections:
        words.append(section.title)
        for block in section.blocks:
            if isinstance(block, Words):
                words.append(f"{block.lead} {block.text}")
            elif isinstance(block, Points):
                words += [f"{w.lead} {w.text}" for w in block.items]
            elif isinstance(block, Table):
                words += [" | ".join(row) for row in block.rows]
    return "\n".join([*words, *(f"{w.lead} {w.text}" for w in made.foot)])


def test_the_letter_tells_every_limit_and_every_decision(facts: Reference) -> None:
    kept = snapshot(facts, decide=True, beside=((CHEDDAR, "10 g"),))
    made = vet_letter(kept, "Version 3")
    text = said(made)
    analysis = kept.of_recipe.as_fed
    rows = text.splitlines()
    for found in (*analysis.nutrients, *analysis.ratios):
        told_of = [r for r in rows if r.startswith(f"{found.name} | ")]
        assert bool(told_of) is (found.status is not Status.NO_LIMIT), found.name
        if told_of:
            assert f" | {found.status} | " in told_of[0].replace("–", "")
    for concern in kept.of_recipe.concerns:
        if concern.about != "prompt" and concern.by:
            # A sentence begins with a capital.
            assert concern.what[1:] in text, concern.what
    assert "Accepted by maja on 20 November 2026: Agreed." in text
    assert "By the decision of Dr Linde, licence V-1, in writing on 1 November 2026." in text
    assert "Cheese, cheddar (treat)" in text and "Not approved yet." in text
    assert "Approved by X" in said(vet_letter(kept, "Version 3", "Approved by X."))


def test_the_letter_says_how_it_does_in_a_kitchen(facts: Reference) -> None:
    kept = snapshot(facts)
    robust = kept.of_recipe.robust
    assert robust is not None
    text = said(vet_letter(kept, "v"))
    assert "In a real kitchen" in text and "of 100 batches" in text and robust.source in text
    # What was kept before that was worked out says nothing of it.
    older = replace(kept, recipe=replace(kept.of_recipe, robust=None))
    assert "In a real kitchen" not in said(vet_letter(older, "v"))


def test_the_letter_tells_what_changed(facts: Reference) -> None:
    lines = [{"food": CHICKEN, "grams": 250}]
    made = vet_letter(snapshot(facts, lines=lines), "Version 4", "", between(facts, lines=lines))
    text = said(made)
    assert "Changed since the issued version" in text
    assert "200 g | 250 g" in text and "60 g | none" in text


@pytest.mark.parametrize("what", ["weight_kg", "conditions", "reactions", "medicines"])
def test_whatever_changes_of_the_dog_opens_a_finding_again(facts: Reference, what: str) -> None:
    """Also where the words of the finding stay the same."""
    forward, record = plan(facts)
    flags = (Finding(kind=Kind.HAZARD, level=Level.DECIDE, what="Something", why="y", do="z"),)
    found = Judged(replace(judged(forward).recipe, flags=flags), None, ())

    def basis(of: CaseRecord) -> str:
        return next(c.basis for c in concerns_of(of, found, ()) if c.what == "Something")

    other = {
        "weight_kg": replace(record, dog=replace(record.dog, weight_kg=11)),
        "conditions": replace(record, conditions=(Diagnosis(id="ckd"),)),
        "reactions": replace(record, reactions=(ReactionRecord(food="beef"),)),
        "medicines": replace(
            record, intake=replace(record.intake, medicines=(Medicine(name="furosemide"),))
        ),
    }[what]
    assert basis(other) != basis(record) == basis(replace(record, title="another title"))


def test_more_of_a_food_opens_what_was_decided_of_it(facts: Reference) -> None:
    """Also where the words of the finding stay the same."""

    def basis(grams: float) -> str:
        forward, record = plan(facts, [{"food": CHICKEN, "grams": grams}, LINES[1]])
        flags = (
            Finding(kind=Kind.HAZARD, level=Level.DECIDE, what="x", why="y", do="z", food=CHICKEN),
        )
        found = Judged(replace(judged(forward).recipe, flags=flags), None, ())
        return next(c.basis for c in concerns_of(record, found, ()) if c.food == CHICKEN)

    assert basis(200) == basis(200) != basis(210)


def test_a_block_wants_the_word_of_a_vet_on_a_day_that_was(facts: Reference) -> None:
    block = replace(told(facts)["ZN"], settle=Settle.VET)
    check_decision(block, "two grams, once", VET, TODAY)
    with pytest.raises(InputError, match="written decision"):
        check_decision(block, "an old remedy", None, TODAY)
    with pytest.raises(InputError, match="to come"):
        check_decision(block, "two grams, once", replace(VET, on=date(2026, 11, 27)), TODAY)
    for gap in ("name", "licence"):
        with pytest.raises(InputError, match=gap):
            check_decision(block, "two grams, once", replace(VET, **{gap: " "}), TODAY)


def test_too_many_treats_are_told_with_the_plan(facts: Reference) -> None:
    """40 g of cheddar are some 160 kcal of a day of 700: more than a tenth."""
    few, many = told(facts, beside=((CHEDDAR, "5 g"),)), told(facts, beside=((CHEDDAR, "40 g"),))
    assert not [c for c in few.values() if c.kind is Kind.EXTRAS]
    assert [c.level for c in many.values() if c.kind is Kind.EXTRAS] == [Level.WARN]


def test_the_letter_says_how_much_muscle_is_lost(facts: Reference) -> None:
    kept = snapshot(facts)
    intake = replace(kept.case.intake, muscle_condition=Muscle.MILD)
    ill = replace(kept, case=replace(kept.case, intake=intake))
    assert "mild muscle loss" in said(vet_letter(ill, "v"))
    assert "muscle" not in said(vet_letter(kept, "v")).splitlines()[1]


def test_only_what_is_judged_otherwise_is_told_in_a_line_the_worst_first() -> None:
    def one(name: str, before: Status, after: Status) -> JudgedDifference:
        return JudgedDifference(
            key=name, name=name, unit="mg", decimals=1, before=1.0, after=2.0, status_before=before,
            status_after=after, least_before=None, least_after=None, most_before=None, most_after=None,
        )  # fmt: skip

    nothing = Differences(
        dog=(), kcal_before=900, kcal_after=900, target_before=900, target_after=900, lines=(),
        nutrients=(one("Iron", Status.MET, Status.MET),), found=(), gone=("a warning",),
    )  # fmt: skip
    assert judged_words(nothing) == ""
    moved = (
        one("Zinc", Status.SHORT, Status.MET), one("Copper", Status.MET, Status.SHORT),
        one("Iodine", Status.MET, Status.ABOVE_SAFE), one("Iron", Status.MET, Status.MET),
    )  # fmt: skip
    said = judged_words(replace(nothing, nutrients=moved, found=("Grapes",)))
    assert (
        said
        == "Iodine: was met, is above safe limit; Copper: was met, is short; Zinc: was short, is met; and 1 more"
    )
