"""What a planned batch's cook must know: what does not fit, cannot be weighed, is not for a dog, or moves a limit."""

import math
from collections.abc import Iterator

from ..analysis.adequacy import HELD, Status
from ..dossier.dossier import Dossier
from ..facts.batches import BatchRules
from ..figures import listed, plainly
from ..findings import GRAVEST_FIRST, Finding, Kind, Level
from .ask import BatchAsk, ScaleBy
from .results import BatchPlan, Moved
from .weighing import Tool

# Energy that rounding moves by more is said.
_ENERGY_MOVED = 0.02


def findings_of(
    dossier: Dossier, rules: BatchRules, ask: BatchAsk, plan: BatchPlan
) -> tuple[Finding, ...]:
    """All of it, the gravest first."""
    found = [
        *_eaters(plan), *_scales(rules, plan), *_moved(plan), *_vessels(rules, plan),
        *_keeping(dossier, rules, plan), *_packs(rules, ask, plan),
    ]  # fmt: skip
    return tuple(sorted(found, key=lambda f: GRAVEST_FIRST.index(f.level)))


def _told(level: Level, what: str, why: str, do: str, food: str = "") -> Finding:
    return Finding(kind=Kind.KITCHEN, level=level, what=what, why=why, do=do, food=food)


def _eaters(plan: BatchPlan) -> Iterator[Finding]:
    for eater in plan.eaters:
        if eater.must_not and eater.lead:
            yield _told(
                Level.BLOCK, f"This is not to be fed to {eater.name}", listed(eater.must_not, 2),
                "See the checks of the recipe before anything is cooked.",
            )  # fmt: skip
        elif eater.must_not:
            yield _told(
                Level.BLOCK, f"{eater.name} must not have this pot", listed(eater.must_not, 2),
                f"Cook for {eater.name} apart, with its own board and spoon, or change the recipe.",
            )  # fmt: skip
        elif eater.off and not eater.lead:
            names = listed([f"{x.name} {x.status}" for x in eater.off])
            yield _told(
                Level.WARN, f"{eater.name}’s day does not hold every limit", names,
                f"Give {eater.name} its own supplements at serving, or another share of the pot.",
            )  # fmt: skip
    if len(plan.eaters) > 1:
        others = listed([e.name for e in plan.eaters if not e.lead])
        yield _told(
            Level.NOTE, f"The recipe was made for {plan.eaters[0].name}",
            f"its checks and its vet’s approval do not speak of {others}",
            "Ask the other dog’s veterinarian before it is fed from this pot for long.",
        )  # fmt: skip


def _scales(rules: BatchRules, plan: BatchPlan) -> Iterator[Finding]:
    for line in plan.lines:
        if line.tool is not Tool.NONE:
            continue
        if line.pieces is None and line.step_g * rules.least_steps > line.exact_g:
            need = 10 ** math.floor(math.log10(line.exact_g / rules.least_steps))
            yield _told(
                Level.DECIDE, f"{line.name}: {plainly(line.exact_g)} g cannot be weighed",
                f"the finest scale at hand shows {line.step_g:g} g; it needs one that shows {need:g} g",
                f"Use a finer scale, make a larger batch, or {rules.stock}.", line.food,
            )  # fmt: skip
        else:
            yield _told(
                Level.DECIDE, f"{line.name}: less than half of what can be given",
                f"{plainly(line.exact_g)} g of it are asked for; the smallest part is {line.step_g:g} g",
                "Make a larger batch, or ask for a weaker form: left out it is missing.", line.food,
            )  # fmt: skip


def _moved(plan: BatchPlan) -> Iterator[Finding]:
    for moved in plan.moved:
        level = Level.WARN if moved.status_after not in HELD else Level.NOTE
        if moved.status_after is Status.ABOVE_SAFE:
            level = Level.BLOCK
        yield _told(
            level, f"Rounding moves {moved.name}: {moved.status_before} becomes {moved.status_after}",
            _amounts(moved), "Use a finer scale, another number of whole packs, or a larger batch.",
        )  # fmt: skip


def _amounts(moved: Moved) -> str:
    if moved.before is None or moved.after is None:
        return ""
    unit = f" {moved.unit} per 1000 kcal" if moved.unit else ""
    return f"{plainly(moved.before, 4)} becomes {plainly(moved.after, 4)}{unit}"


def _vessels(rules: BatchRules, plan: BatchPlan) -> Iterator[Finding]:
    for vessel in plan.vessels:
        fill = vessel.food_g / vessel.holds_g
        if fill > 1:
            yield _told(
                Level.WARN, f"{vessel.name}: too small",
                f"{vessel.food_g / 1000:.1f} kg would go in and it takes {vessel.holds_g / 1000:.1f} kg",
                "Add a vessel, or cook fewer days.",
            )  # fmt: skip
        elif fill > rules.brim:
            yield _told(
                Level.WARN, f"{vessel.name}: full to the brim",
                f"{vessel.food_g / 1000:.1f} kg of the {vessel.holds_g / 1000:.1f} kg that it takes",
                "Part it over two vessels: it must be stirred, and boils up.",
            )  # fmt: skip
        elif vessel.start_g > vessel.holds_g:
            yield _told(
                Level.NOTE, f"{vessel.name}: full at the start",
                f"{vessel.start_g / 1000:.1f} kg go in raw with their water, before they cook down",
                "Put it in by and by.",
            )  # fmt: skip


def _keeping(dossier: Dossier, rules: BatchRules, plan: BatchPlan) -> Iterator[Finding]:
    keep, kept = rules.keep, plan.storage
    if kept.short:
        yield _told(
            Level.WARN, "It does not fit where it is kept", kept.short,
            "Cook fewer days, or make room: flat bags take the least.",
        )  # fmt: skip
    oily = any(
        dossier.reference.handling.oily.holds(line.food.attributes) is True
        for line in dossier.lines
    )
    longest = keep.longest_oily_days if oily else keep.longest_days
    if plan.days > longest:
        why = "with oily fish in it" if oily else "for the sake of its vitamins and fats"
        yield _told(
            Level.WARN, f"{plan.days:.0f} days is long for one batch",
            f"it keeps at most {longest} days frozen, {why}", "Cook it in two batches.",
        )  # fmt: skip


def _packs(rules: BatchRules, ask: BatchAsk, plan: BatchPlan) -> Iterator[Finding]:
    if abs(plan.days / plan.asked_days - 1) > 1e-6:
        yield _told(
            Level.NOTE, f"Made for {plan.days:.1f} days instead of {plan.asked_days:.1f}",
            "so that whole packs are used up; every line keeps its share", "",
        )  # fmt: skip
    elif ask.by is not ScaleBy.ON_HAND and any(
        line.pack and not line.pack.exact for line in plan.lines
    ):
        yield _told(
            Level.NOTE, "No number of whole packs fits",
            f"within {rules.pack_within:.0%} of what was asked; see what is left over of each", "",
        )  # fmt: skip
