"""What has to be bought for a recipe, and whether its owner can get it."""

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from ..bowl.marks import FoodMark, Mark, gravest
from ..checks import check
from ..dossier.dossier import Dossier, check_days
from ..errors import InputError
from ..facts.foods import Food
from ..facts.shop import Aisle, raw_share
from ..figures import rounded
from ..findings import Level
from ..recipe.amounts import pieces_of, weight_of
from ..recipe.line import Line, sum_lines

# What is bought is rounded up: (under so many grams, to the next of so many).
_STEPS = ((20.0, 1.0), (200.0, 5.0), (1000.0, 10.0), (math.inf, 50.0))
_FINE_STEP = 0.1  # supplements are bought by their own weight
NOWHERE: Mapping[str, str] = MappingProxyType({})
# As many pieces give an idea of a weight.
LEAST_COUNTED, MOST_COUNTED = 0.6, 30
# A weight that is over a step by less than this is the step itself.
_NOISE = 1e-9


class Had(StrEnum):
    """Whether a food can be had. shelf: the practice stocks it; tap: nobody buys it."""

    CAN_GET = "can-get"
    SPECIAL_ORDER = "special-order"
    CANNOT = "cannot"
    NOT_ASKED = "not-asked"
    SHELF = "shelf"
    TAP = "tap"


@dataclass(frozen=True, kw_only=True)
class ShopItem:
    """A food to buy. needed_grams: as the recipe weighs it, of so many days; buy_grams: as it is bought, rounded up;
    most_grams: where more is trimmed off than usual. pieces: how many of what, "" for what is weighed; pieces_sure: they are
    what is bought, not an idea of the weight. instead: the raw food that is bought for a cooked one, "" for itself. mark,
    days: what the owner said; why: the same in words, "" where nothing was. where: where the
    practice knows that it is sold. price: of what is bought, None where none
    is known. against: why it must not be in this bowl, "" where nothing is."""

    food: str
    name: str
    needed_grams: float
    buy_grams: float
    most_grams: float
    pieces: str
    pieces_sure: bool
    instead: str
    how: str
    had: Had
    mark: Mark | None
    days: int | None
    why: str
    where: str
    price: float | None
    against: str


@dataclass(frozen=True, kw_only=True)
class ShopAisle:
    """What stands in one part of a shop."""

    id: str
    name: str
    items: tuple[ShopItem, ...]


@dataclass(frozen=True, kw_only=True)
class Sourcing:
    """Names of foods by whether they can be had: not asked, not to be had or used, to be ordered; against: what must not
    be in the bowl whatever can be had. days: how long before
    the slowest must be ordered, None where nothing is or one is not known."""

    not_asked: tuple[str, ...]
    missing: tuple[str, ...]
    ordered: tuple[str, ...]
    days: int | None
    against: tuple[str, ...] = ()

    @property
    def checked(self) -> bool:
        """Whether everything was asked and can be had."""
        return not self.not_asked and not self.missing and not self.against


@dataclass(frozen=True, kw_only=True)
class ShopList:
    """What to buy for so many days. price: of what has one; unpriced: how many have none. sources: of what was worked
    out beside the weights."""

    days: float
    aisles: tuple[ShopAisle, ...]
    sourcing: Sourcing
    price: float
    unpriced: int
    sources: tuple[str, ...]


def shop_list(dossier: Dossier, days: float, where: Mapping[str, str] = NOWHERE) -> ShopList:
    """What the recipe of a dossier needs for so many days. where: where foods are sold, by id. Raises InputError for days that cannot be, and for a recipe
    without lines."""
    check_days(days, "days")
    if not dossier.lines:
        raise InputError("recipe", "has no lines yet")
    rules = dossier.reference.shop
    items: dict[Aisle, list[ShopItem]] = {aisle: [] for aisle in rules.aisles}
    blocked = _blocked(dossier)
    for need in _needed(dossier.lines, days / dossier.days):
        against = blocked.get(need.food.id, "")
        items[rules.aisle_of(need.food)].append(_item(dossier, need, where, against))
    every = [item for found in items.values() for item in found]
    bought = [item for item in every if item.had is not Had.TAP and not item.against]
    sources = []
    if any(item.most_grams > item.buy_grams for item in bought):
        sources.append(f"Trimmings: {rules.trim_source}.")
    if any(item.instead for item in bought):
        sources.append(f"Raw weights of what the recipe weighs cooked: {rules.stays_source}.")
    return ShopList(
        days=days,
        aisles=tuple(
            ShopAisle(id=aisle.id, name=aisle.name, items=tuple(found))
            for aisle, found in items.items()
            if found
        ),
        sourcing=_sourcing((i.name, i.had, i.days, i.against) for i in every),
        price=rounded(sum(i.price or 0.0 for i in bought)),
        unpriced=sum(i.price is None for i in bought),
        sources=tuple(sources),
    )  # fmt: skip


def sourcing_of(dossier: Dossier) -> Sourcing:
    """Whether everything in a recipe can be had; what must not be in its bowl is told by its analysis."""
    found = ((n.food, *_had(dossier, n.food, None)) for n in _needed(dossier.lines, 1.0))
    return _sourcing((food.name, had, mark.days if mark else None, "") for food, had, mark in found)


def _sourcing(items: Iterable[tuple[str, Had, int | None, str]]) -> Sourcing:
    listed = list(items)

    def named(had: Had) -> tuple[str, ...]:
        # Of what must not be fed nobody asks.
        return tuple(name for name, how, _, why in listed if how is had and not why)

    ahead = [days for _, had, days, _ in listed if had is Had.SPECIAL_ORDER]
    known = [days for days in ahead if days is not None]
    return Sourcing(
        not_asked=named(Had.NOT_ASKED), missing=named(Had.CANNOT), ordered=named(Had.SPECIAL_ORDER),
        days=max(known) if known and len(known) == len(ahead) else None,
        against=tuple(name for name, _, _, why in listed if why),
    )  # fmt: skip


@dataclass
class _Need:
    """Grams of a food."""

    food: Food
    grams: float


def _needed(lines: Sequence[Line], times: float) -> list[_Need]:
    """What each food comes to, in the order of the lines."""
    found: dict[str, _Need] = {}
    for line in lines:
        need = found.setdefault(line.food.id, _Need(line.food, 0.0))
        need.grams += line.amount.grams * times
    return list(found.values())


def _blocked(dossier: Dossier) -> Mapping[str, str]:
    """Why foods must not be in this bowl, by id: what the wall's own findings block."""
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    found: dict[str, str] = {}
    for finding in check(dossier, sums):
        if finding.level is Level.BLOCK and finding.food:
            found.setdefault(finding.food, finding.why or finding.what)
    return found


def _had(dossier: Dossier, food: Food, raw: Food | None) -> tuple[Had, FoodMark | None]:
    """Whether a food can be had; what is said of the raw one that is bought for it counts too."""
    if dossier.reference.shop.tap.holds(food.attributes) is True:
        return Had.TAP, None
    said = [m for m in (gravest(dossier.marks, f.id) for f in (food, raw) if f) if m]
    kept_out = next((m for m in said if m.mark.keeps_out), None)
    if kept_out is not None:
        return Had.CANNOT, kept_out
    if said:
        ordered = next((m for m in said if m.mark is Mark.SPECIAL_ORDER), None)
        return (Had.SPECIAL_ORDER, ordered) if ordered else (Had.CAN_GET, said[0])
    if food.handling is not None and food.handling.on_shelf:
        return Had.SHELF, None
    return Had.NOT_ASKED, None


def _item(dossier: Dossier, need: _Need, where: Mapping[str, str], against: str) -> ShopItem:
    food, needed = need.food, need.grams
    bought = raw_share(dossier.reference.shop, dossier.library, food)
    raw, share = bought if bought is not None else (None, 1.0)
    had, mark = _had(dossier, food, raw)
    buy, most, how = _weights(dossier, raw or food, needed * share)
    pieces, sure = _pieces(dossier, food, raw or food, needed, buy)
    return ShopItem(
        food=food.id, name=food.name, needed_grams=rounded(needed), buy_grams=rounded(buy),
        most_grams=rounded(most), pieces=pieces, pieces_sure=sure,
        instead=raw.name if raw else "", how=how, had=had,
        mark=mark.mark if mark else None, days=mark.days if mark else None,
        why=mark.why if mark else "",
        where=where.get(food.id) or (where.get(raw.id, "") if raw else ""),
        price=_price(dossier, food, raw, needed, buy), against=against,
    )  # fmt: skip


def _price(
    dossier: Dossier, food: Food, raw: Food | None, needed: float, buy: float
) -> float | None:
    """What is paid: by the price of what is bought. A price that was noted of the cooked food is of its cooked weight."""
    own = dossier.prices.get(food.id)
    if raw is None:
        return None if own is None else rounded(own * buy / 1000)
    bought = dossier.prices.get(raw.id)
    if bought is not None:
        return rounded(bought * buy / 1000)
    return None if own is None else rounded(own * needed / 1000)


def _weights(dossier: Dossier, food: Food, grams: float) -> tuple[float, float, str]:
    """What is bought of a food for so many grams of it, g: with the usual trimmings, and with many; how that is."""
    if food.is_supplement:
        whole = _up(grams, _FINE_STEP)
        return whole, whole, ""
    trim = dossier.reference.shop.trim_of(food)
    if trim is None:
        whole = _rounded_up(grams)
        how = "as named: mind whether it says drained" if food.form == "canned" else ""
        return whole, whole, how
    usual, much = (_rounded_up(grams / (1 - share)) for share in (trim.usual, trim.much))
    return usual, much, "whole, before it is peeled and trimmed; less if it is bought ready"


def _pieces(
    dossier: Dossier, food: Food, bought: Food, needed: float, buy: float
) -> tuple[str, bool]:
    """How many of what: where it is bought by the piece, or as an idea of the weight."""
    handling = food.handling
    if handling is not None:
        if handling.unit_g is None:
            return "", False
        count = _whole(needed / handling.unit_g)
        return f"{count} {handling.form}{'' if count == 1 else 's'}", True
    pieces = pieces_of(bought)
    if dossier.reference.shop.pieces.holds(food.attributes) is True:
        large = [m for m in pieces if m.name in {"each large", "large"}]
        if large:
            count = _whole(needed / weight_of(large[0], dossier.measures))
            return f"{count} large", True
    middle = [m for m in pieces if "medium" in m.name] or pieces[:1]
    if not middle:
        return "", False
    share = buy / weight_of(middle[0], dossier.measures)
    if not LEAST_COUNTED <= share <= MOST_COUNTED:
        return "", False
    size = " medium" if "medium" in middle[0].name else ""
    return f"about {_whole(share)}{size}", False


def _rounded_up(grams: float) -> float:
    return _up(grams, next(step for under, step in _STEPS if grams < under))


def _up(grams: float, step: float) -> float:
    return _whole(grams / step) * step


def _whole(count: float) -> int:
    return max(1, math.ceil(count - _NOISE))


def sourcing_words(sourcing: Sourcing) -> str:
    """What is still to be done about a recipe's foods, verb first; "" when all of them can be had."""
    return next(_to_do(sourcing), "")


def _to_do(sourcing: Sourcing) -> Iterator[str]:
    for verb, names in (
        ("Replace what must not be fed", sourcing.against),
        ("Replace what cannot be had", sourcing.missing),
        ("Ask whether it can be had", sourcing.not_asked),
    ):
        if names:
            more = f" and {len(names) - 1} more" if names[1:] else ""
            yield f"{verb}: {names[0]}{more}"


def question_to_owner(owner: str, dog: str, items: Sequence[ShopItem]) -> str:
    """One message that asks an owner whether the foods can be had, most of each first said."""
    first = owner.split()[0] if owner.split() else ""
    listed = [f"{i}. {item.instead or item.name}" for i, item in enumerate(items, 1)]
    return "\n".join(
        [
            f"Hello {first}," if first else "Hello,",
            "",
            f"before I finish {dog}’s recipe: which of these can you buy where you live? For each please say "
            "“yes”, “only if ordered” (and how many days ahead), or “no”:",
            "",
            *listed,
            "",
            "Nothing has to be bought yet.",
        ]
    )
