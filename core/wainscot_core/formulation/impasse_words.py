"""An impasse in words: its members, and what could give way."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from ..facts.foods import FloatArray
from ..figures import listed
from ..targets.standards import Limit, Strength
from .candidates import amount_text
from .impasse import WITH_VET, Impasse, Loosening, level_of, origin_of
from .model import A_BOWL, BESIDE_PREMIX, LEAST_FED, PREMIX
from .problem import Bar, Problem
from .rows import Group, GroupKind

NAMED = 3
# Reasons why something is ruled out that are told.
REASONS = 2
# Less than this part of the least that can be measured is rounding.
TRACE = 0.1
# From here on three figures are whole numbers.
WHOLE_FROM = 999.5
# Steps of a figure that are rounding.
ROUNDING = 1e-6


def unit_of(limit: Limit) -> str:
    """The unit of a limit as it is written after its value."""
    return ": 1" if limit.unit == "ratio" else f"{limit.unit}/1000 kcal"


def bound_of(problem: Problem, group: Group) -> tuple[float, Limit]:
    """The value a limit is held at, and the limit."""
    limit = problem.requirements.limits[group.key]
    value = (limit.minimum if group.kind is GroupKind.MIN else limit.ceiling) or 0.0
    aimed = group.kind is GroupKind.MIN and limit.unit != "ratio"
    return value * (1 + problem.margin if aimed else 1), limit


def number(value: float) -> str:
    """Three significant figures, more for whole numbers."""
    return f"{value:.0f}" if abs(value) >= WHOLE_FROM else f"{value:.3g}"


def given_way(value: float, down: bool) -> str:
    """To where a limit gives way, in as many figures, rounded to the side on which what it makes possible holds."""
    if not np.isfinite(value) or value <= 0:
        return number(value)
    unit = 10.0 ** min(0, int(np.floor(np.log10(value))) - 2)
    steps = value / unit
    whole = np.floor(steps + ROUNDING) if down else np.ceil(steps - ROUNDING)
    return number(float(whole) * unit)


def group_words(problem: Problem, group: Group) -> str:
    """A limit or a choice in words."""
    if group.other:
        limit = problem.requirements.limits[group.key]
        rise = next(r for r in limit.rises if r.other == group.other)
        return f"{problem.catalogue.name_of(group.key)}: {rise.words} ({rise.source})"
    if group.kind in {"min", "max"}:
        value, limit = bound_of(problem, group)
        side = "at least" if group.kind is GroupKind.MIN else "at most"
        origin = origin_of(limit, group.kind)
        by = f" ({origin.source})" if origin else ""
        return f"{problem.catalogue.name_of(group.key)} {side} {number(value)} {unit_of(limit)}{by}"
    if group == A_BOWL:
        return f"at least {LEAST_FED:.0%} of {problem.kcal:.0f} kcal a batch"
    if group.kind is GroupKind.ENERGY:
        share = problem.energy_frame
        return f"energy within {share:.0%} of {problem.kcal:.0f} kcal a batch"
    if group.kind is GroupKind.SUPPLEMENTS:
        return f"at most {_counted(problem.max_supplements)}"
    if group.kind is GroupKind.CAP:
        return _cap_words(problem, group.key)
    if group.kind is GroupKind.OFFER:
        return _offer_words(problem)
    if group.kind is GroupKind.RULED:
        return _ruled_words(problem)
    c = problem.candidates[group.candidate]
    name = c.food.name
    if group.kind is GroupKind.STRENGTH:
        return f"{name} cannot be counted: its strength is not entered"
    return {
        "fixed": f"{name} stays at {number(c.current_grams)} g",
        "excluded": f"{name} is left out: {c.excluded}",
        "most": f"{name} at most {number(c.high_grams)} g",
        "least": f"{name} at least {number(c.low_grams)} g",
        "tie": f"{name} follows another line",
    }[group.kind]


def _offer_words(problem: Problem) -> str:
    allowed = sum(c.line is None and c.bar is None for c in problem.candidates)
    if not allowed:
        return "nothing may be added"
    return f"only what is allowed may be added ({allowed} foods and supplements)"


def _ruled_words(problem: Problem) -> str:
    """What is ruled out, with the reasons that keep out most of it."""
    by: dict[str, list[str]] = {}
    for c in problem.candidates:
        if c.bar is Bar.RULED:
            by.setdefault(c.excluded, []).append(c.food.name)
    most = sorted(by.items(), key=lambda x: -len(x[1]))
    told = [f"{_few(names)} may not be added: {why}" for why, names in most[:REASONS]]
    more = sum(len(names) for _, names in most[REASONS:])
    return ", ".join([*told, *([f"nor {more} more, for other reasons"] if more else [])])


def _few(names: Sequence[str]) -> str:
    more = len(names) - NAMED
    return listed((*names[:NAMED], *([f"{more} more"] if more > 0 else [])))


def _cap_words(problem: Problem, key: str) -> str:
    if key == PREMIX:
        return "one all-in-one premix at most"
    if key == BESIDE_PREMIX:
        return f"at most {problem.most_items} added items with a premix"
    cap = next(c for c in problem.caps if c.id == key)
    return f"{cap.words} at most {cap.most:.0%} of the {cap.of} ({cap.source})"


def loosening_words(problem: Problem, way: Loosening) -> str:
    """What must give way, and by how much."""
    group = way.group
    if group.other:
        limit = problem.requirements.limits[group.key]
        rise = next(r for r in limit.rises if r.other == group.other)
        name = problem.catalogue.name_of(group.key)
        return f"Let {name} stay under what it rises to ({rise.words}, {rise.source})"
    if group.kind in {"min", "max"}:
        value, limit = bound_of(problem, group)
        lower = group.kind is GroupKind.MIN
        now = level_of(problem, group.key, way.grams, True) if way.value is None else way.value
        verb = "Lower" if lower else "Raise"
        what = "minimum" if lower else "maximum"
        origin = origin_of(limit, group.kind)
        own = origin is not None and origin.strength is Strength.OWN
        whose = "your bound on" if own else f"the {what} of"
        return (
            f"{verb} {whose} {problem.catalogue.name_of(group.key)} from {number(value)} "
            f"to {given_way(now, lower)} {unit_of(limit)}"
        )
    if group.kind is GroupKind.ENERGY:
        kcal = float(problem.contents.kcal @ way.grams)
        return f"Let the batch bring {kcal:.0f} kcal, {kcal / problem.kcal:.0%} of the target"
    if group.kind is GroupKind.SUPPLEMENTS:
        # Amounts without steps may need less than a whole one more.
        count = max(_supplements(problem, way.grams), problem.max_supplements + 1)
        return f"Allow {_counted(count)}"
    if group.kind is GroupKind.CAP:
        return f"Let go: {_cap_words(problem, group.key)}"
    if group.kind is GroupKind.OFFER:
        count = _supplements(problem, way.grams)
        more = f", and {_counted(count)}" if count > problem.max_supplements else ""
        return f"Allow {listed(_used(problem, way.grams))}{more}"
    c = problem.candidates[group.candidate]
    if group.kind is GroupKind.STRENGTH:
        return f"Enter the strength of {c.food.name} from its label, and allow it"
    after = float(way.grams[group.candidate])
    if group.kind is GroupKind.FIXED:
        if after < 1e-6:
            return f"Take out {c.food.name}"
        return f"Change {c.food.name} from {number(c.current_grams)} g to {number(after)} g"
    return f"Let {c.food.name} be {number(after)} g"


def _counted(supplements: int) -> str:
    return "1 supplement" if supplements == 1 else f"{supplements} supplements"


def _supplements(problem: Problem, grams: FloatArray) -> int:
    there = zip(problem.candidates, grams, strict=True)
    return sum(c.is_supplement and g > TRACE * c.increment.grams for c, g in there)


def _used(problem: Problem, grams: FloatArray) -> list[str]:
    """What comes of what was not allowed, with the amount that can be measured."""
    came = [
        (float(g), c)
        for c, g in zip(problem.candidates, grams, strict=True)
        if c.bar is Bar.OFFER and g > 0
    ]
    real = [x for x in came if x[0] > TRACE * x[1].increment.grams]
    told = []
    for g, c in real or came:
        steps = float(np.ceil(max(g, c.least_grams) / c.increment.grams - 1e-6))
        told.append(f"{c.food.name} ({amount_text(c.increment, steps * c.increment.grams)})")
    return told


def relief_words(
    problem: Problem, grams: FloatArray, keys: Collection[str] | None = None
) -> list[str]:
    """Every limit (of these nutrients) that gives way at these grams, in words."""
    found = []
    for key, limit in problem.requirements.limits.items():
        value = level_of(problem, key, grams, True)
        for kind, bound in ((GroupKind.MIN, limit.minimum), (GroupKind.MAX, limit.ceiling)):
            if bound is None or not np.isfinite(value) or (keys is not None and key not in keys):
                continue
            broken = value < bound * (1 - 1e-5) if kind == "min" else value > bound * (1 + 1e-5)
            if broken:
                found.append(loosening_words(problem, Loosening(Group(kind, key), grams)))
    return found


@dataclass(frozen=True, kw_only=True)
class Member:
    """A limit or choice of an impasse."""

    kind: GroupKind
    key: str
    words: str


@dataclass(frozen=True, kw_only=True)
class WayOut:
    """One limit or choice that may give way, and to where. with_vet: it only gives way when the attending vet says
    so."""

    kind: GroupKind
    key: str
    text: str
    with_vet: bool


@dataclass(frozen=True, kw_only=True)
class FormulationImpasse:
    """What cannot hold together. each: none of the minimums in it can be held, every one for the same other
    members. minimal: no member can be left out. ways_out: the least harmful first. together: what gives way
    least when no single way out is enough."""

    words: str
    members: tuple[Member, ...]
    each: bool
    minimal: bool
    ways_out: tuple[WayOut, ...]
    together: tuple[str, ...]


def impasse_result(impasse: Impasse) -> FormulationImpasse:
    """An impasse with its members and the ways out."""
    problem = impasse.problem
    members = tuple(
        Member(kind=g.kind, key=g.key, words=group_words(problem, g)) for g in impasse.members
    )
    head = "None of these minimums can be held" if impasse.each else "These cannot hold together"
    if impasse.shut:
        head = "These leave nothing between them"
    return FormulationImpasse(
        words=f"{head}: " + "; ".join(m.words for m in members) + ".",
        members=members,
        each=impasse.each,
        minimal=impasse.minimal,
        ways_out=tuple(
            WayOut(
                kind=w.group.kind,
                key=w.group.key,
                text=loosening_words(problem, w),
                with_vet=w.harm == WITH_VET,
            )
            for w in impasse.ways
        ),
        together=()
        if impasse.relief is None
        else tuple(relief_words(problem, impasse.relief, {g.key for g in impasse.members})),
    )
