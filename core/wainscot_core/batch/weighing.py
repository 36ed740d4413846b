"""On which scale a line is weighed, and whether for every vessel or once."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..facts.batches import BatchRules
from .split import apportion, in_grams, steps_of


class Tool(StrEnum):
    """What an amount is measured with. none: nothing at hand shows it."""

    KITCHEN = "kitchen scale"
    FINE = "fine scale"
    COUNT = "count"
    NONE = "none"


@dataclass(frozen=True, kw_only=True)
class Weighed:
    """A line as it is weighed. grams: what all of it comes to on the scale; step_g: its steps; vessels: g into each, empty
    where it is weighed once for all; off: half a step as a share of the smallest weighing."""

    tool: Tool
    step_g: float
    grams: float
    once: bool
    vessels: tuple[float, ...]
    off: float


def weighed(
    rules: BatchRules,
    exact_g: float,
    shares: Sequence[float],
    coarse_g: float,
    fine_g: float | None,
    small: bool,
) -> Weighed:
    """How a line of exact_g is weighed for vessels of these shares. small: a supplement, which is weighed once for all
    vessels unless each part of it is well over what a scale shows."""
    whole = sum(shares)
    least = min((s for s in shares if s > 0), default=1.0) / whole if whole > 0 else 1.0
    apart = len(shares) > 1
    for tool, step in ((Tool.KITCHEN, coarse_g), (Tool.FINE, fine_g)):
        if step is None:
            continue
        part = exact_g * least
        need = rules.least_steps if small else rules.well_steps
        if apart and part >= need * step:
            return _of(tool, step, exact_g, shares, False, part)
    # Not for every vessel: once for the whole of it, on the coarsest scale that shows it well.
    tools = [(Tool.KITCHEN, coarse_g)] + ([(Tool.FINE, fine_g)] if fine_g is not None else [])
    for need in (rules.well_steps, rules.least_steps):
        for tool, step in tools:
            if exact_g >= need * step:
                return _of(tool, step, exact_g, shares, True, exact_g)
    step = tools[-1][1]
    return Weighed(
        tool=Tool.NONE, step_g=step, grams=exact_g, once=True, vessels=(),
        off=step / 2 / exact_g if exact_g > 0 else 0.0,
    )  # fmt: skip


def counted(exact_g: float, unit_g: float, step_g: float) -> Weighed:
    """A line that comes in pieces, counted in the parts a person can give. Tool.NONE where it is less than half of
    one."""
    steps = steps_of(exact_g, step_g)
    if steps == 0:
        return Weighed(tool=Tool.NONE, step_g=step_g, grams=exact_g, once=True, vessels=(), off=1.0)
    grams = in_grams(steps, step_g)
    return Weighed(
        tool=Tool.COUNT, step_g=step_g, grams=grams, once=True, vessels=(),
        off=abs(grams / exact_g - 1),
    )  # fmt: skip


def _of(
    tool: Tool, step: float, exact_g: float, shares: Sequence[float], once: bool, part: float
) -> Weighed:
    steps = steps_of(exact_g, step)
    parts = () if once else tuple(in_grams(n, step) for n in apportion(steps, shares))
    return Weighed(
        tool=tool, step_g=step, grams=in_grams(steps, step), once=once, vessels=parts, off=step / 2 / part
    )  # fmt: skip
