"""What would help: foods and supplements that close a gap, in the least amount that does, and what else they change.

Everything the dog may have is priced as the solver would price it: in amounts a person can give, within its dose,
its share of a recipe and what no recipe may hold of it. The amount is found by arithmetic and then tried in the
analysis, step by step, so that what is shown is what the wall will say.
"""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..analysis.adequacy import HELD, TOO_MUCH, Status, Verdict, judge, judge_ratios
from ..bowl.exclusions import rather_not, why_unfit
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import FloatArray, Grade
from ..facts.formulation_rules import CapOf
from ..facts.preparations import MethodChoice, method_choices
from ..figures import rounded
from ..recipe.amount import Amount
from ..recipe.line import Line, sum_lines
from ..recipe.totals import Totals
from .candidates import (
    added_candidate,
    amount_text,
    contents_of,
    line_candidates,
    measurable,
    open_questions,
)
from .most import added_most, caps_of
from .problem import Candidate, Contents, ItemKind

# What closes less of a gap than this is no help.
HELPS = 0.25
# So many of each kind are tried in the analysis, and an amount is moved by so many steps there.
TRIED = 24
STEPS = 4
# What counts against a food beside the share of the energy it takes: its share of the weight, of its dose; and what
# counts for it: each other nutrient that it mends.
WEIGHS, DOSE, MENDS = 0.5, 0.2, 0.03
MOST_MENDS = 5


@dataclass(frozen=True, kw_only=True)
class Help:
    """A food that closes the gap: grams to add, kcal they bring, and what they change elsewhere.

    text: the grams as they are given. closes: the share of the gap it closes, 1 for all of it. mends: other nutrients
    that are short and become met. breaks: nutrients that go over or fall short. grade: of the food's value.
    methods: how it can be prepared. caution: why a condition would rather not have it, or "".
    """

    food: str
    name: str
    kind: ItemKind
    grams: float
    text: str
    kcal: float
    value_after: float
    closes: float
    mends: tuple[str, ...]
    breaks: tuple[str, ...]
    grade: Grade
    methods: tuple[MethodChoice, ...]
    caution: str = ""


@dataclass(frozen=True, kw_only=True)
class HelpFor:
    """What would help with one nutrient of a recipe."""

    key: str
    name: str
    help: tuple[Help, ...]


@dataclass(frozen=True)
class Stand:
    """How a recipe stands: its nutrients, and the status of every nutrient and ratio."""

    verdicts: dict[str, Verdict]
    statuses: dict[str, Status]


@dataclass(frozen=True)
class Shop:
    """Everything that may be added to a recipe. most: (C,) grams of each at most, in whole steps."""

    dossier: Dossier
    kcal: float
    candidates: tuple[Candidate, ...]
    contents: Contents
    most: FloatArray
    before: Stand


def for_nutrient(
    dossier: Dossier, key: str, *, foods: int = 10, singles: int = 5
) -> tuple[Help, ...]:
    """The best whole foods, the simplest supplements and the best premix for one short nutrient.

    Adding g grams of a food with a per gram and e kcal per gram to a batch that holds A and E
    meets a minimum L per 1000 kcal when A + a g >= L (E + e g) / 1000. Ranked as one would choose: what closes
    the gap and breaks nothing first, then by the energy, the bowl and the dose it takes, less what else it
    mends. Raises InputError (key) for what has no minimum.
    """
    limit = dossier.requirements.limits.get(key)
    if key not in dossier.library.catalogue or limit is None or limit.minimum is None:
        raise InputError("key", "has no minimum that food could reach")
    return _best(shop_of(dossier), key, foods, singles)


def for_all(
    dossier: Dossier, out: Collection[str], *, foods: int = 3, singles: int = 2
) -> tuple[HelpFor, ...]:
    """What would help with each nutrient that is short, in the catalogue's order; nothing that is `out`, by id."""
    shop = shop_of(dossier, out)
    found = []
    for key, verdict in shop.before.verdicts.items():
        if verdict.status is Status.SHORT:
            best = _best(shop, key, foods, singles)
            if best:
                name = dossier.library.catalogue.name_of(key)
                found.append(HelpFor(key=key, name=name, help=best))
    return tuple(found)


def shop_of(dossier: Dossier, out: Collection[str] = ()) -> Shop:
    """Everything that may be added to a recipe but what is `out`, by id."""
    library = dossier.library
    sums = sum_lines(library, dossier.lines, dossier.days)
    there = {*out, *(line.food.id for line in dossier.lines)}
    added = tuple(
        c
        for c in (added_candidate(dossier, f, sums.kcal) for f in library.foods if f.proposable)
        if c.food.id not in there
        and measurable(c, dossier.fine_scale)
        and not why_unfit(c.food, dossier.avoid)
        and not open_questions(library, c.food)
    )
    mine = line_candidates(dossier, "rebalance", {}, sums.kcal)
    every = (*mine, *added)
    prepared = [line.prepared for line in dossier.lines]
    contents = contents_of(library, every, prepared, dossier.policy)
    most = np.array([c.high_grams for c in every])
    with np.errstate(divide="ignore", invalid="ignore"):
        most = np.minimum(most, _within_ceilings(dossier, contents, sums.kcal))
        most = np.minimum(most, _within_caps(dossier, every, contents))
        most = np.minimum(most, _within_doses(dossier, every, contents, sums.kcal))
    steps = np.array([c.increment.grams for c in every])
    most = np.floor(most / steps + 1e-9) * steps
    most[[m < c.least_grams * (1 - 1e-9) for m, c in zip(most, every, strict=True)]] = 0.0
    return Shop(dossier, sums.kcal, every, contents, most, stand_of(dossier, sums))


def stand_of(dossier: Dossier, sums: Totals) -> Stand:
    """How a recipe stands by its sums."""
    verdicts = {v.key: v for v in judge(sums, dossier.requirements, dossier.policy)}
    ratios = {v.ratio.key: v.status for v in judge_ratios(sums, dossier.requirements)}
    return Stand(verdicts, {**{k: v.status for k, v in verdicts.items()}, **ratios})


def _within_ceilings(dossier: Dossier, contents: Contents, kcal: float) -> FloatArray:
    """What every upper limit leaves room for in an empty bowl."""
    catalogue = dossier.library.catalogue
    most = np.full(len(contents.kcal), np.inf)
    for key, limit in dossier.requirements.limits.items():
        if limit.ceiling is not None and key in catalogue:
            per_gram = contents.high[:, catalogue.index(key)]
            room = limit.ceiling * kcal / 1000 / per_gram
            most = np.where(per_gram > 0, np.minimum(most, room), most)
    return most


def _within_caps(
    dossier: Dossier, candidates: Sequence[Candidate], contents: Contents
) -> FloatArray:
    """What the caps on kinds of food leave room for beside what is there."""
    now = np.array([0.0 if c.excluded else c.current_grams for c in candidates])
    most = np.full(len(candidates), np.inf)
    for cap in caps_of(dossier, candidates, contents):
        each = contents.kcal if cap.of is CapOf.ENERGY else contents.fed
        members = np.array(cap.members)
        room = cap.most * float(each @ now) - float((each * members) @ now)
        grams = max(room, 0.0) / (each * (1 - cap.most))
        most = np.where(members, np.minimum(most, grams), most)
    return most


def _within_doses(
    dossier: Dossier, candidates: Sequence[Candidate], contents: Contents, kcal: float
) -> FloatArray:
    """What the limits on what is added leave room for beside what is given already."""
    catalogue = dossier.library.catalogue
    dosed = np.array([c.dosed for c in candidates])
    now = np.array([c.current_grams for c in candidates])
    most = np.full(len(candidates), np.inf)
    for key, limit in added_most(dossier, candidates, contents, kcal).items():
        per_gram = contents.high[:, catalogue.index(key)]
        room = max(limit * kcal / 1000 - float((per_gram * dosed) @ now), 0.0)
        most = np.where(dosed & (per_gram > 0), np.minimum(most, room / per_gram), most)
    return most


def _best(shop: Shop, key: str, foods: int, singles: int) -> tuple[Help, ...]:
    order = [h for _, h in sorted(_tried(shop, key), key=lambda x: x[0])]
    # A part of the gap is only worth a line where nothing closes all of it.
    order = [h for h in order if h.closes == 1] or order
    wanted = {ItemKind.FOOD: foods, ItemKind.SINGLE: singles, ItemKind.PREMIX: 1}
    return tuple(
        h for kind, most in wanted.items() for h in [x for x in order if x.kind is kind][:most]
    )


def _tried(shop: Shop, key: str) -> Iterator[tuple[tuple[float, ...], Help]]:
    """The likeliest of each kind, each tried in the analysis, with what it is ranked by."""
    verdict = shop.before.verdicts[key]
    limit = verdict.limit
    if limit is None or limit.minimum is None or not shop.kcal > 0:
        return
    i = shop.dossier.library.catalogue.index(key)
    least = limit.minimum / 1000
    gap = least * shop.kcal - (verdict.value or 0.0) * shop.kcal / 1000
    if gap <= 0:
        return
    gains = shop.contents.low[:, i] - least * shop.contents.kcal
    with np.errstate(divide="ignore", invalid="ignore"):
        closes = np.where(gains > 0, np.minimum(gains * shop.most / gap, 1.0), 0.0)
        grams = np.minimum(np.where(gains > 0, gap / gains, np.inf), shop.most)
    displaced = grams * shop.contents.kcal / shop.kcal
    for kind in ItemKind:
        rows = [
            j
            for j, c in enumerate(shop.candidates)
            if c.line is None and c.kind is kind and closes[j] >= HELPS
        ]
        for j in sorted(rows, key=lambda j: (closes[j] < 1, displaced[j], j))[:TRIED]:
            found = _helps(shop, key, j, float(grams[j]))
            if found is not None:
                yield _rank(shop, j, found), found


def _rank(shop: Shop, j: int, found: Help) -> tuple[float, ...]:
    c = shop.candidates[j]
    batch = float(shop.contents.fed @ [x.current_grams for x in shop.candidates])
    cost = found.kcal / shop.kcal
    cost += WEIGHS * found.grams * float(shop.contents.fed[j]) / batch if not c.is_supplement else 0
    cost += DOSE * found.grams / float(shop.most[j]) if c.is_supplement else 0
    cost -= MENDS * min(len(found.mends), MOST_MENDS)
    return (found.closes < 1, len(found.breaks), bool(found.caution), cost, found.grams, j)


def _helps(shop: Shop, key: str, j: int, grams: float) -> Help | None:
    """What the least measurable amount does that closes the gap by the analysis, or the most there may be."""
    c, dossier = shop.candidates[j], shop.dossier
    step, most = c.increment.grams, float(shop.most[j])
    amount = float(np.ceil(max(grams, c.least_grams) / step - 1e-9)) * step
    amount = min(amount, most)
    if amount <= 0:
        return None
    after = _with(dossier, c, amount)
    for _ in range(STEPS):
        if after.statuses[key] in HELD or amount + step > most * (1 + 1e-9):
            break
        amount += step
        after = _with(dossier, c, amount)
    return _help(shop, key, j, amount, after)


def _help(shop: Shop, key: str, j: int, amount: float, stand: Stand) -> Help | None:
    c, dossier = shop.candidates[j], shop.dossier
    before, after = shop.before.statuses, stand.statuses
    was, now = shop.before.verdicts[key].value or 0.0, stand.verdicts[key].value or 0.0
    limit = stand.verdicts[key].limit
    if limit is None or limit.minimum is None:
        return None
    closed = after[key] in HELD
    closes = 1.0 if closed else min((now - was) / (limit.minimum - was), 0.99)
    if closes < HELPS:
        return None
    return Help(
        food=c.food.id,
        name=c.food.name,
        kind=c.kind,
        grams=rounded(amount),
        text=amount_text(c.increment, amount),
        kcal=rounded(float(shop.contents.kcal[j]) * amount),
        value_after=rounded(now),
        closes=rounded(closes),
        mends=tuple(k for k in mended(before, after) if k != key),
        breaks=broken(before, after),
        grade=dossier.library.provenance_of(c.food.id, key).grade,
        methods=method_choices(dossier.reference.methods, c.food),
        caution=rather_not(c.food, dossier.avoid),
    )


_WANTING = frozenset({Status.SHORT, Status.UNPROVEN})


def mended(before: Mapping[str, Status], after: Mapping[str, Status]) -> tuple[str, ...]:
    """What was short or in doubt and is not any more."""
    return tuple(k for k, s in after.items() if s in HELD and before[k] in _WANTING)


def broken(before: Mapping[str, Status], after: Mapping[str, Status]) -> tuple[str, ...]:
    """What goes over, and then what falls short or into doubt."""
    over = [k for k, s in after.items() if s in TOO_MUCH and before[k] not in TOO_MUCH]
    lost = [k for k, s in after.items() if s in _WANTING and before[k] in HELD]
    return tuple(dict.fromkeys((*over, *lost)))


def _with(dossier: Dossier, c: Candidate, grams: float) -> Stand:
    """How the recipe stands with so much of something more."""
    count = grams / c.increment.grams * c.increment.count
    amount = Amount(count, c.increment.unit, grams, "adjusted")
    line = Line(c.food, dossier.library.row(c.food.id), amount, None)
    return stand_of(dossier, sum_lines(dossier.library, (*dossier.lines, line), dossier.days))
