"""The shop list of a recipe, to take along: what, how much, from where, and what was not asked yet."""

from collections.abc import Iterator
from dataclasses import dataclass

from ..analysis.shopping import Had, ShopItem, ShopList
from ..conventions import Conventions, food_weight, money, number, spelled
from ..errors import InputError
from ..snapshot.snapshot import Parties, Snapshot
from .paper import Column, Document, DocumentKind, Section, Table, Tone, Words, listed, sentence

_HAD = {
    Had.CAN_GET: "",
    Had.SHELF: "from the practice",
    Had.TAP: "from the tap",
    Had.NOT_ASKED: "not asked yet",
}


@dataclass(frozen=True)
class ForWhat:
    """What a list is for: the dog, and what it is fed of, by name."""

    dog: str
    recipe: str


def shopping_sheet(parties: Parties, what: ForWhat, found: ShopList, edition: str) -> Document:
    """A shop list on paper. edition: as of when."""
    c = parties.conventions
    days = number(c, found.days, 0 if found.days % 1 == 0 else 1)
    sections = [
        Section(
            title="",
            blocks=(
                Words(
                    text=f"For {parties.client}: {what.recipe}, {days} {'day' if found.days == 1 else 'days'} of it."
                ),
            ),
        ),
        *_open(c, found),
        Section(title="To buy", blocks=(_table(c, found),)),
    ]
    return Document(
        kind=DocumentKind.SHOPPING,
        title=f"{what.dog}: shop list",
        aside=parties.aside(edition),
        sections=tuple(sections),
        foot=(
            Words(
                lead="Buy what the list names.",
                text="Another form, brand or strength of a supplement is another amount: ask before you swap "
                "anything. Buying it does not mean that it may be fed: that is for the attending veterinarian.",
            ),
        ),
        fine=(*found.sources, *_price(c, found)),
    )


def _price(c: Conventions, found: ShopList) -> Iterator[str]:
    if found.price > 0:
        rest = f"; {found.unpriced} without a price not counted" if found.unpriced else ""
        yield f"About {money(c, found.price)} at the prices that the practice noted{rest}."


def _open(c: Conventions, found: ShopList) -> Iterator[Section]:
    sourcing = found.sourcing
    said = []
    for lead, names in (
        ("Must not be in this dog’s bowl, and is not to be bought:", sourcing.against),
        ("Cannot be had or used, and must be replaced first:", sourcing.missing),
        ("Not asked yet whether it can be had:", sourcing.not_asked),
        ("To be ordered:", sourcing.ordered),
    ):
        if names:
            said.append(Words(lead=lead, text=listed(spelled(c, n) for n in names)))
    if sourcing.days:
        said.append(Words(text=f"Order {sourcing.days} days before the first batch."))
    if said:
        tone = Tone.DECIDE if not sourcing.checked else Tone.PLAIN
        yield Section(title="First", blocks=tuple(said), tone=tone)


def _table(c: Conventions, found: ShopList) -> Table:
    columns = (
        Column(title="Where"),
        Column(title="What"),
        Column(title="How much", figures=True),
        Column(title="For the pot", figures=True),
        Column(title="Note"),
    )
    # The part of the shop stands at its first row alone.
    rows = tuple(
        ("" if i else aisle.name, *_row(c, item))
        for aisle in found.aisles
        for i, item in enumerate(aisle.items)
    )
    return Table(columns=columns, rows=rows)


def _row(c: Conventions, item: ShopItem) -> tuple[str, ...]:
    bought = spelled(c, item.instead or item.name)
    weight = food_weight(c, item.buy_grams)
    much = item.pieces if item.pieces_sure else weight
    if item.against:
        return (bought, "none", "", sentence(item.against))
    notes = [] if item.pieces_sure or not item.pieces else [item.pieces]
    if item.most_grams > item.buy_grams:
        notes.append(f"up to {food_weight(c, item.most_grams)}: {item.how}")
    elif item.how:
        notes.append(item.how)
    if item.instead:
        notes.append(f"gives {food_weight(c, item.needed_grams)} cooked")
    notes.append(_HAD.get(item.had, item.why))
    notes.append(item.where)
    pot = "" if item.instead else food_weight(c, item.needed_grams)
    return (bought, much, pot, sentence("; ".join(n for n in notes if n)))


def frozen_shopping(snapshot: Snapshot, days: float | None, edition: str) -> Document:
    """The shop list of an issued plan for so many days, None for its batch. Raises InputError where none was kept for
    that many."""
    recipe = snapshot.of_recipe
    wanted = recipe.covers_days if days is None else days
    found = next((s for s in recipe.shops if abs(s.days - wanted) < 1e-6), None)
    if found is None:
        known = ", ".join(f"{s.days:g}" for s in recipe.shops)
        raise InputError(
            "days",
            f"there are lists for {known} days" if known else "no shop list was kept with it",
        )
    what = ForWhat(snapshot.case.dog.name, f"“{recipe.name}”")
    return shopping_sheet(snapshot.parties, what, found, edition)
