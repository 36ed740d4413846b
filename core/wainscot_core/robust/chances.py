"""How surely each limit holds in the bowl: for a batch, over a week, over four weeks."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..analysis.adequacy import HELD, Status, judge, judge_ratios
from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray
from ..facts.nutrients import Ratio
from ..figures import rounded
from ..targets.standards import Limit, Strength
from .simulate import Drawn, Float32, Runs, error_of, simulate
from .uncertain import Uncertain, uncertain

# The middles of so many equal parts, the least first.
PARTS = 20
QUANTILES = tuple((i + 0.5) / PARTS for i in range(PARTS))


@dataclass(frozen=True, kw_only=True)
class Share:
    """In which share it holds, 0 to 1, and the standard error of the drawing."""

    share: float
    error: float


@dataclass(frozen=True, kw_only=True)
class Chance:
    """How surely a limit holds. spread: the amounts per 1000 kcal of a batch, or the ratio, at QUANTILES.

    status: by the tables. of_known: what no table knows counts as nothing for its minimum, so that it holds at
    least so surely; day: in which share of single days its ceiling holds, where a batch is stirred for several and
    something of it is stirred in, otherwise None; no_ceiling: nothing bounds what is not known, so its ceiling is not looked at.
    """

    key: str
    name: str
    short: str
    unit: str
    status: Status
    minimum: float | None
    ceiling: float | None
    by_table: float | None
    spread: tuple[float, ...]
    batch: Share
    week: Share
    month: Share
    day: Share | None
    of_known: bool
    no_ceiling: bool


@dataclass(frozen=True, kw_only=True)
class Chances:
    """How surely a recipe holds: of the limits it meets by its tables. together: all of them at once."""

    kitchens: int
    batches: int
    days_per_batch: float
    limits: tuple[Chance, ...]
    together: Share
    together_month: Share


def chances(
    dossier: Dossier,
    runs: Runs | None = None,
    threads: int = 1,
    slips: bool = True,
    mixed: str = "",
) -> Chances | None:
    """Draw a dossier's recipe and judge it; None for one without energy. slips: with what owners leave out, halve,
    double, swap and stir in unevenly; mixed: how they stir, "" where nobody says. Raises InputError (mixed)."""
    of = uncertain(dossier, slips, mixed)
    if not of.kcal > 0:
        return None
    runs = runs or Runs.of(dossier.days)
    asked = {k: x for k, x in dossier.requirements.limits.items() if not x.sets_nothing}
    ratios = {r.key: r for r in of.library.catalogue.ratios}
    drawn = simulate(of, columns_of(of, asked.values()), runs, threads)
    status: dict[str, tuple[Status, float | None]] = {
        v.key: (v.status, v.value) for v in judge(of.sums, dossier.requirements, dossier.policy)
    }
    status |= {
        r.ratio.key: (r.status, r.value) for r in judge_ratios(of.sums, dossier.requirements)
    }
    found, every, monthly = [], None, None
    for key, limit in asked.items():
        chance, held = _chance(of, drawn, limit, ratios.get(key), *status[key])
        found.append(chance)
        if chance.status in HELD:
            every = held[0] if every is None else every & held[0]
            monthly = held[2] if monthly is None else monthly & held[2]
    nothing = np.ones((runs.kitchens, 1), dtype=bool)
    return Chances(
        kitchens=runs.kitchens,
        batches=runs.batches,
        days_per_batch=dossier.days,
        limits=tuple(found),
        together=_share(nothing if every is None else every),
        together_month=_share(nothing if monthly is None else monthly),
    )


Held = tuple[NDArray[np.bool_], NDArray[np.bool_], NDArray[np.bool_]]


def _chance(
    of: Uncertain,
    drawn: Drawn,
    limit: Limit,
    ratio: Ratio | None,
    status: Status,
    by_table: float | None,
) -> tuple[Chance, Held]:
    catalogue = of.library.catalogue
    held: list[NDArray[np.bool_]] = []
    spread: tuple[float, ...] = ()
    for span in (1, drawn.runs.week, drawn.runs.batches):
        least, fine = held_of(of, drawn, limit, ratio, span)
        held.append(fine)
        if span == 1:
            spread = tuple(rounded(float(v)) for v in np.quantile(least, QUANTILES))
    extra = 0.0 if ratio else float(of.may_hold[catalogue.index(limit.key)])
    every: Held = (held[0], held[1], held[2])
    return Chance(
        key=limit.key, name=catalogue.name_of(limit.key), short=_short(of, limit.key), unit=limit.unit, status=status,
        minimum=limit.minimum, ceiling=limit.ceiling, by_table=by_table, spread=spread,
        batch=_share(every[0]), week=_share(every[1]), month=_share(every[2]), day=None if ratio else _day(of, drawn, limit),
        of_known=extra > 0, no_ceiling=bool(np.isinf(extra)) and limit.ceiling is not None,
    ), every  # fmt: skip


def _day(of: Uncertain, drawn: Drawn, limit: Limit) -> Share | None:
    """How surely a ceiling holds on a single day of the batches."""
    if limit.ceiling is None or drawn.uneven is None:
        return None
    column = of.library.catalogue.index(limit.key)
    j, extra = drawn.at(column), float(of.may_hold[column])
    if not np.isfinite(extra) or not drawn.uneven[:, :, j].any():
        return None
    amounts = over(drawn.amounts[:, :, j], 1) + over(drawn.uneven[:, :, j], 1)
    most = (amounts + _more(drawn, j, 1)) / drawn.kcal * 1000 + extra * 1000 / of.kcal
    return _share(most <= limit.ceiling)


def columns_of(of: Uncertain, limits: Iterable[Limit]) -> list[int]:
    """The nutrients of the catalogue that these limits are counted from."""
    catalogue = of.library.catalogue
    ratios = {r.key: r for r in catalogue.ratios}
    columns = set()
    for limit in limits:
        ratio = ratios.get(limit.key)
        tags = (*ratio.top, *ratio.bottom) if ratio else (limit.key,)
        columns |= {catalogue.index(t) for t in (*tags, *(r.other for r in limit.rises))}
    return sorted(columns)


def held_of(
    of: Uncertain, drawn: Drawn, limit: Limit, ratio: Ratio | None, span: int
) -> tuple[FloatArray, NDArray[np.bool_]]:
    """(K, spans) of so many batches that follow one another: what there is per 1000 kcal by what is known, or the ratio;
    and whether the limit holds."""
    kcal = over(drawn.kcal, span)
    open_ended = False
    if ratio is None:
        column = of.library.catalogue.index(limit.key)
        least = over(drawn.amounts[:, :, drawn.at(column)], span) / kcal * 1000
        extra = float(of.may_hold[column])
        open_ended = not np.isfinite(extra)
        # What may be there beside it, by the batch, at most.
        most = least + (0.0 if open_ended else extra * 1000 / of.kcal)
        most = most + _more(drawn, drawn.at(column), span) / kcal * 1000
    else:
        least, most = _ratio(of, drawn, ratio, span)
    minimum = _minimum(of, drawn, limit, kcal, span)
    fine = np.ones(least.shape, dtype=bool)
    if minimum is not None:
        fine &= least >= minimum
    if limit.ceiling is not None and not open_ended:
        fine &= most <= limit.ceiling
    return least, fine


def _more(drawn: Drawn, j: int, span: int) -> FloatArray | float:
    """What may be there beside what was drawn, of foods that stand for others."""
    return 0.0 if drawn.extra is None else over(drawn.extra[:, :, j], span)


def over(amounts: FloatArray | Float32, span: int) -> FloatArray:
    """(K, spans) sums of so many batches that follow one another; what is left over at the end is not looked at."""
    kitchens, batches = amounts.shape
    whole = batches // span
    found: FloatArray = (
        amounts[:, : whole * span].reshape(kitchens, whole, span).sum(axis=2, dtype=np.float64)
    )
    return found


def _minimum(
    of: Uncertain, drawn: Drawn, limit: Limit, kcal: FloatArray, span: int
) -> FloatArray | float | None:
    """The minimum beside what there is of other nutrients in the same batches."""
    found: FloatArray | float | None = limit.minimum
    for rise in limit.rises:
        if rise.strength is Strength.ADVISED:
            continue
        j = drawn.at(of.library.catalogue.index(rise.other))
        most = over(drawn.amounts[:, :, j], span) + _more(drawn, j, span)
        other = most / kcal * 1000
        asks = rise.base + rise.per_unit * np.maximum(0.0, other - rise.above)
        found = asks if found is None else np.maximum(found, asks)
    return found


def _ratio(of: Uncertain, drawn: Drawn, ratio: Ratio, span: int) -> tuple[FloatArray, FloatArray]:
    """The least and the most that it may be, by what foods that stand for others may hold."""
    catalogue = of.library.catalogue

    def side(tags: tuple[str, ...]) -> tuple[FloatArray, FloatArray]:
        least = more = np.zeros(1)
        for tag in tags:
            j, grams = drawn.at(catalogue.index(tag)), catalogue.grams_per_unit(tag)
            least = least + over(drawn.amounts[:, :, j], span) * grams
            more = more + _more(drawn, j, span) * grams
        return least, least + more

    def of_sides(top: FloatArray, bottom: FloatArray) -> FloatArray:
        with np.errstate(divide="ignore", invalid="ignore"):
            found: FloatArray = top / bottom * ratio.scale
        return np.nan_to_num(found, nan=0.0, posinf=np.inf)

    (top, most_top), (bottom, most_bottom) = side(ratio.top), side(ratio.bottom)
    return of_sides(top, most_bottom), of_sides(most_top, bottom)


def _short(of: Uncertain, key: str) -> str:
    catalogue = of.library.catalogue
    return catalogue.get(key).short if key in catalogue else catalogue.name_of(key)


def _share(held: NDArray[np.bool_]) -> Share:
    return Share(share=rounded(float(held.mean())), error=error_of(held))


def weakest(of: Chances, below: float) -> Mapping[str, Chance]:
    """The limits that the recipe meets by its tables and that hold in fewer batches than so many, the weakest first."""
    weak = [c for c in of.limits if c.status in HELD and c.batch.share < below]
    return {c.key: c for c in sorted(weak, key=lambda c: c.batch.share)}
