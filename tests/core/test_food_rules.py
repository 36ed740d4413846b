"""What conditions say of foods, by what a food is and never by its name."""

from dataclasses import replace

import pytest
from wainscot_core.bowl.exclusions import said_of, why_unfit
from wainscot_core.checks import check
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.attribute_rule import read_rule
from wainscot_core.facts.attributes import NOTHING_KNOWN, UNKNOWN, Attributes
from wainscot_core.findings import Kind, Level
from wainscot_core.formats.casefile import read_case
from wainscot_core.targets.food_rules import ANY, Verdict, on_food, rules_for
from wainscot_core.targets.standards import Strength

from tests.support.foods_by_condition import kept, table

# A muscle with nothing against it, for rules by hand.
LEAN = Attributes(
    kind="muscle", species="cod", skin="no", bone="no", added_salt="none", processing="raw", state="raw",
    fat="low", thiaminase="no", sodium="low", oxalate="low", purine="low", copper="low", fat_g_mcal=10.0,
)  # fmt: skip


@pytest.mark.parametrize(
    ("rule", "holds"),
    [
        ("kind=muscle", True),
        ("kind=organ:*", False),
        ("kind in (muscle,fish:*) & added_salt!=none", False),
        ("fat>=medium | fat_g_mcal<=10", True),
        ("fat<=low & sodium<=medium", True),
        ("lactose>=low", None),  # not known
        ("lactose>=low & kind=pulse", False),  # one part alone decides
        ("lactose>=low | kind=muscle", True),
        ("phosphorus_mg_mcal>=1", None),
    ],
)
def test_a_rule_answers_yes_no_or_not_known(rule: str, holds: bool | None) -> None:
    assert read_rule(rule).holds(LEAN) is holds


@pytest.mark.parametrize(
    "rule",
    ["", "kind", "colour=red", "fat>=huge", "kind in muscle", "fat_g_mcal<=lean", "kind>=muscle"],
)
def test_a_rule_that_cannot_be_read_is_refused(rule: str) -> None:
    with pytest.raises(ValueError, match=r".+"):
        read_rule(rule)


def test_the_gravest_rule_speaks_and_what_is_not_known_clears_nothing(facts: Reference) -> None:
    rules = rules_for(facts.food_rules, [("mmvd", "C")])
    salted = replace(LEAN, added_salt="added")
    said = on_food(rules, salted)
    assert said.rule and said.rule.verdict is Verdict.NEVER and said.rule.strength is Strength.HARD
    open_ = on_food(rules, replace(LEAN, added_salt=UNKNOWN))
    assert open_.open and open_.open.verdict is Verdict.NEVER
    assert on_food(rules, NOTHING_KNOWN).kept_out is not None


def test_a_rule_of_one_stage_is_not_of_another(facts: Reference) -> None:
    salted = replace(LEAN, added_salt="added")
    early = on_food(rules_for(facts.food_rules, [("mmvd", "B1")]), salted)
    late = on_food(rules_for(facts.food_rules, [("mmvd", "D")]), salted)
    assert early.kept_out is None and late.kept_out is not None


def test_every_rule_is_of_a_condition_and_its_stages(facts: Reference) -> None:
    for rule in facts.food_rules:
        if rule.condition == ANY:
            continue
        condition = facts.conditions[rule.condition]
        assert set(rule.stages) <= set(condition.stages), rule
        assert rule.source and rule.reason, rule


def test_every_plain_food_under_every_condition_is_as_it_was_read_over(facts: Reference) -> None:
    now = table(facts)
    was = kept()
    assert now[0] == was[0], "the columns changed: write the table anew and read it over"
    by_food = {row[0]: row for row in was}
    assert [r[0] for r in now] == [r[0] for r in was]
    changed = [
        f"{row[1]}: {head} is {cell or 'nothing'}, was {old or 'nothing'}"
        for row in now[1:]
        for head, cell, old in zip(now[0][2:], row[2:], by_food[row[0]][2:], strict=True)
        if cell != old
    ]
    assert not changed, changed


PANCREATITIS = ("pancreatitis", "mild")
CHICKEN_FAT, LARD, SKIN_ON = "usda:04542", "usda:04002", "usda:05057"


@pytest.mark.parametrize(
    ("condition", "food", "kept_out"),
    [
        # Names that hold the word of a fat are no fat; a fat is one by what it is.
        (PANCREATITIS, "usda:11485", False),  # squash, butternut
        (PANCREATITIS, "usda:09005", False),  # apples without skin, boiled
        (PANCREATITIS, "usda:09003", False),  # apple with skin
        (PANCREATITIS, "usda:11367", False),  # potato boiled without skin
        (PANCREATITIS, "usda:11161", False),  # collards
        (PANCREATITIS, CHICKEN_FAT, True),
        (PANCREATITIS, LARD, True),
        (PANCREATITIS, SKIN_ON, True),
        (("dcm", "suspect"), "usda:11052", False),  # green beans: a pod
        (("dcm", "suspect"), "usda:11053", False),
        (("dcm", "suspect"), "usda:16033", True),  # kidney beans: a pulse
        (("copper-hepatopathy", "chelation"), "usda:11053", False),
        (("copper-hepatopathy", "chelation"), "usda:13325", True),  # beef liver
        (("urate", "prevent"), "usda:16033", False),
        (("urate", "prevent"), "usda:09107", False),  # gooseberries
        (("urate", "prevent"), "usda:04589", False),  # cod liver oil: an oil has no purine
        (("urate", "prevent"), "usda:04593", False),  # sardine oil
        (("urate", "prevent"), "usda:13323", True),  # beef kidney
        (("calcium-oxalate", "prevent"), "usda:04044", False),  # soybean oil
        (("calcium-oxalate", "prevent"), "usda:04058", False),  # sesame oil
        (("calcium-oxalate", "prevent"), "usda:11457", True),  # spinach
        (("calcium-oxalate", "prevent"), "usda:12023", True),  # sesame seed
    ],
)  # fmt: skip
def test_a_food_is_judged_by_what_it_is(
    facts: Reference, condition: tuple[str, str], food: str, kept_out: bool
) -> None:
    said = on_food(rules_for(facts.food_rules, [condition]), facts.library.food(food).attributes)
    assert (said.kept_out is not None) is kept_out


@pytest.mark.parametrize("food", ["usda:17156", "usda:13047", "usda:17166"])
def test_encephalopathy_advises_against_red_meat_of_every_kind(facts: Reference, food: str) -> None:
    """Bison, beef and elk alike; kidney beans are no kidney."""
    rules = rules_for(facts.food_rules, [("encephalopathy", "start")])
    said = on_food(rules, facts.library.food(food).attributes)
    assert said.rule and said.rule.verdict in {Verdict.AVOID, Verdict.NEVER}
    beans = on_food(rules, facts.library.food("usda:16033").attributes)
    assert beans.rule is None or beans.rule.verdict in {Verdict.LIMIT, Verdict.PREFER}


def test_over_the_whole_table_what_a_food_holds_decides(facts: Reference) -> None:
    """Properties that a pattern on names broke: an oil has no purine and no oxalate; every food told
    rich in oxalate is kept from an oxalate former; none at its energy's fat cap passes pancreatitis."""
    oxalate = rules_for(facts.food_rules, [("calcium-oxalate", "prevent")])
    urate = rules_for(facts.food_rules, [("urate", "prevent")])
    fat = rules_for(facts.food_rules, [PANCREATITIS])
    for food in facts.library.foods:
        if food.is_supplement:
            continue
        of = food.attributes
        if of.oxalate == "high":
            assert on_food(oxalate, of).kept_out, food.name
        if of.group == "fat" and of.kind != "fat:coconut-food":
            for rules in (oxalate, urate):
                held = on_food(rules, of).rule
                assert held is None or ("oxal" not in held.reason and "purin" not in held.reason), (
                    food.name
                )
        if of.fat in {"very-high", "pure"} and of.kind not in {
            "fat:fish",
            "fat:plant",
            "fat:fish-liver",
        }:
            said = on_food(fat, of)
            assert said.kept_out or (said.rule and said.rule.verdict is Verdict.AVOID), food.name


def _condition(text: str) -> dict[str, str]:
    condition, _, stage = text.partition(":")
    return {"id": condition, "stage": stage}


def _told(facts: Reference, food: str, conditions: list[str], **line: object):
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 500},
        "targets": {"standard": "nrc-2006", "conditions": [_condition(c) for c in conditions]},
        "recipe": {"lines": [{"food": food, "grams": 100, **line}]},
    }  # fmt: skip
    return [f for f in check(read_case(facts, data)) if f.kind is Kind.CONDITION]


def test_the_bench_tells_what_a_condition_never_has(facts: Reference) -> None:
    (fat,) = [f for f in _told(facts, CHICKEN_FAT, ["pancreatitis:mild"]) if f.food == CHICKEN_FAT]
    assert fat.level is Level.BLOCK and fat.source and "Chicken fat" in fat.what
    assert not _told(facts, "usda:11485", ["pancreatitis:mild"])


def test_a_food_twice_is_asked_raw_and_cooked(facts: Reference) -> None:
    """A raw line beside a cooked one of the same food must not hide behind it."""
    thigh = "usda:05096"
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 500},
        "targets": {"standard": "nrc-2006", "conditions": [_condition("cancer:treated")]},
        "recipe": {"lines": [
            {"food": thigh, "grams": 100},
            {"food": thigh, "grams": 100, "preparation": "poultry-simmered-kept"},
        ]},
    }  # fmt: skip
    case = read_case(facts, data)
    told = [f for f in check(case) if f.kind is Kind.CONDITION and f.food == thigh]
    assert len(told) == 1 and told[0].level is Level.BLOCK
    raw, cooked = case.lines
    assert said_of(raw.as_fed, case.avoid).rule and not said_of(cooked.as_fed, case.avoid).kept_out


def test_a_supplement_is_judged_by_what_it_holds_not_as_a_food(facts: Reference) -> None:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 500},
        "targets": {"standard": "nrc-2006", "conditions": [_condition("pancreatitis:mild")]},
        "recipe": {"lines": [{"food": CHICKEN_FAT, "grams": 10}]},
    }  # fmt: skip
    case = read_case(facts, data)
    carbonate = facts.library.food("supp:calcium-carbonate")
    assert why_unfit(carbonate, case.avoid) == ""


@pytest.mark.parametrize(
    ("supplement", "ruled_out"),
    [
        ("supp:fish-oil", True),
        ("supp:fish-oil-capsule", True),
        ("supp:bone-meal", True),
        # Its shell is gelatin.
        ("supp:taurine-capsule-500", True),
        ("supp:taurine", False),
        ("supp:algal-oil", False),
        ("supp:eggshell-powder", False),
    ],
)
def test_a_vegetarian_has_no_supplement_made_of_animals(
    facts: Reference, supplement: str, ruled_out: bool
) -> None:
    told = [f for f in _told(facts, supplement, ["vegetarian:adult"]) if f.food == supplement]
    assert bool(told) is ruled_out and all(f.level is Level.BLOCK for f in told)
    assert not _told(facts, supplement, ["working:endurance"])
