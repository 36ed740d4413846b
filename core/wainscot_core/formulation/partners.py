"""What is left out of a formulation and would end an impasse: what nobody allowed, what is ruled out for this
dog, and what has a strength that nobody has read from its pack.

An impasse is looked for among what the solver was given. Its true partners may never have been given to it, so
the same problem is asked once more with the best sources of what is short beside it, each shut by its reason.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from ..bowl.exclusions import why_unfit
from ..dossier.dossier import Dossier
from ..facts.foods import Food
from .candidates import added_candidate, contents_of, measurable, open_questions
from .impasse import Filter, Impasse, in_order, loosenings, outside_of, together, without_steps
from .model import Model, build
from .most import added_most, caps_of
from .problem import Bar, Candidate, Problem
from .rows import Group, GroupKind
from .solver import Solver

# Sources of each nutrient that are tried, of each kind of reason.
SOURCES = 6
# What a strength that is not known is taken for: this many times the need in the most that may be given.
STRONG = 2.0
ENERGY = "ENERC"


def with_partners(
    dossier: Dossier,
    model: Model,
    found: Sequence[Impasse],
    elastic: bool,
) -> tuple[Impasse, ...]:
    """Impasses with the members that the solver was never given, and with the ways out of each."""
    wide = build(_widened(dossier, model.problem, dict.fromkeys(_keys(model.problem, found))))
    known = [
        _needed(wide, one, elastic)
        if any(g.kind in {GroupKind.MIN, GroupKind.ENERGY} for g in one.members)
        else one
        for one in found
    ]
    return tuple(
        _with_ways(wide if one.problem is wide.problem else model, one, elastic, len(found) == 1)
        for one in _merged(known)
    )


def _with_ways(model: Model, one: Impasse, elastic: bool, alone: bool) -> Impasse:
    """An impasse with its ways out: whole ones where it is the only one, else those that end it, whatever the
    other minimums."""
    others = frozenset(model.slack) - one.limits()
    ways = loosenings(model, one, elastic) if alone else ()
    whole = not without_steps(model, one, elastic)
    ways = ways or loosenings(model, one, elastic, others, whole)
    relief = None if ways else together(model)
    return replace(one, ways=ways, relief=relief)


def _merged(found: Sequence[Impasse]) -> list[Impasse]:
    """Impasses of one minimum each that have everything else in common, as one."""
    alike: dict[object, list[Impasse]] = {}
    for i, one in enumerate(found):
        rest = frozenset(one.members) - one.limits()
        single = len(one.limits()) == 1 and all(g.kind is GroupKind.MIN for g in one.limits())
        mark = (rest, id(one.problem)) if single else i
        alike.setdefault(mark, []).append(one)
    told = []
    for group in alike.values():
        first = group[0]
        if len(group) > 1:
            members = in_order(dict.fromkeys(g for one in group for g in one.members))
            minimal = all(one.minimal for one in group)
            first = replace(first, members=members, minimal=minimal, each=True)
        told.append(first)
    return told


def _keys(problem: Problem, found: Iterable[Impasse]) -> Iterator[str]:
    for one in found:
        for group in one.members:
            if group.kind is GroupKind.ENERGY:
                yield ENERGY
            elif group.kind is GroupKind.MIN and group.key in problem.catalogue:
                yield group.key
            elif group.kind is GroupKind.MIN:
                yield from next(r for r in problem.catalogue.ratios if r.key == group.key).top


def _needed(wide: Model, one: Impasse, elastic: bool) -> Impasse:
    """The members that are needed once what is left out may come, by its reason."""
    bars = {k: _groups(wide, k) for k in (GroupKind.OFFER, GroupKind.STRENGTH, GroupKind.RULED)}
    every = [g for groups in bars.values() for g in groups]
    rest = outside_of(wide, (*every, *one.members), elastic)
    search = Filter(Solver(wide, relaxed=True, elastic=elastic, released=rest), None, True)
    if search.feasible(rest) is not False:
        # Only whole steps cannot do it; what could be added is not what is wanting.
        return one
    # What the consultant can change comes before what she cannot: where that would do, the rest is no news.
    open_to_her = [*bars[GroupKind.OFFER], *bars[GroupKind.STRENGTH]]
    partners = open_to_her
    if search.feasible(rest.union(open_to_her)) is False:
        partners = every
    search.gone = set(rest)
    members = search.needed([*partners, *one.members])
    return replace(one, problem=wide.problem, members=in_order(members))


def _groups(model: Model, kind: GroupKind) -> list[Group]:
    return [g for g in model.groups() if g.kind is kind]


def _widened(dossier: Dossier, problem: Problem, keys: Iterable[str]) -> Problem:
    """The problem with the best sources of these nutrients that it leaves out, each shut."""
    pool: dict[str, Candidate] = {}
    everything = [*_left_out(dossier, problem)]
    staples = frozenset(dossier.reference.formulation.staples)
    for key in keys:
        column = dossier.library.catalogue.index(key)
        if key == ENERGY:
            # What feeds is a plain food, not the richest of all.
            pool |= {c.food.id: c for c in everything if c.food.id in staples}
            continue
        for bar in Bar:
            ranked = sorted(
                (-_most_of(dossier, problem, c, key, column), c.food.id, c)
                for c in everything
                if c.bar is bar
            )
            for most, food, c in ranked[:SOURCES]:
                if most < 0:
                    pool[food] = c
    added = tuple(pool.values())
    candidates = (*problem.candidates, *added)
    contents = contents_of(dossier.library, added, [], dossier.policy)
    for j, c in enumerate(added):
        if c.bar is Bar.STRENGTH:
            for tag in open_questions(dossier.library, c.food):
                for key in _told_by(dossier, tag):
                    i = dossier.library.catalogue.index(key)
                    contents.low[j, i] = _need(problem, key) * STRONG / max(c.high_grams, 1e-9)
    both = replace(
        problem.contents,
        **{
            name: np.concatenate([getattr(problem.contents, name), getattr(contents, name)])
            for name in ("low", "high", "kcal", "fed")
        },
    )
    return replace(
        problem,
        candidates=candidates,
        contents=both,
        aim=None,
        guide=None
        if problem.guide is None
        else replace(problem.guide, parts=(*problem.guide.parts, *(None for _ in added))),
        caps=caps_of(dossier, candidates, both),
        added_most=added_most(dossier, candidates, both, problem.kcal),
    )


def _left_out(dossier: Dossier, problem: Problem) -> Iterator[Candidate]:
    """Everything of the library that is no candidate, with why it is not."""
    there = {c.food.id for c in problem.candidates}
    for food in dossier.library.foods:
        if food.id in there or not food.proposable:
            continue
        why, bar = _barred(dossier, food)
        candidate = replace(added_candidate(dossier, food, problem.kcal), excluded=why, bar=bar)
        if bar is Bar.RULED or measurable(candidate, dossier.fine_scale):
            yield candidate


def _barred(dossier: Dossier, food: Food) -> tuple[str, Bar]:
    why = why_unfit(food, dossier.avoid)
    if why:
        return why, Bar.RULED
    if open_questions(dossier.library, food):
        return "its strength is not entered", Bar.STRENGTH
    return "not among what may be added", Bar.OFFER


def _need(problem: Problem, key: str) -> float:
    limit = problem.requirements.limits.get(key)
    return (limit.minimum or 0.0) * problem.kcal / 1000 if limit else 0.0


def _told_by(dossier: Dossier, tag: str) -> Iterator[str]:
    """What a strength tells of: its own nutrient and every sum that it is a part of."""
    for nutrient in dossier.library.catalogue.nutrients:
        if nutrient.key == tag or tag in nutrient.parts:
            yield nutrient.key


def _most_of(dossier: Dossier, problem: Problem, c: Candidate, key: str, column: int) -> float:
    """What the most that may be given of something brings, by what is known; a strength that is not known brings
    the need."""
    tags = open_questions(dossier.library, c.food)
    if any(key in _told_by(dossier, tag) for tag in tags):
        return _need(problem, key) or 1.0
    per_gram = dossier.library.values[dossier.library.row(c.food.id), column] / 100
    return 0.0 if np.isnan(per_gram) else float(per_gram) * c.high_grams
