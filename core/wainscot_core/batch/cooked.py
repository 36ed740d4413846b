"""A batch as it was really cooked, against what each dog of it needs."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..analysis.adequacy import BREAKS, HELD, Status
from ..analysis.results import Analysis, NutrientResult
from ..analysis.worse import holds_less, judged_by_key, value_of
from ..dossier.dossier import Dossier
from ..facts.handling import Place
from ..figures import figure, listed, rounded
from ..findings import Level
from ..recipe.amount import Amount
from ..recipe.line import Line, LineText, read_line, sum_lines
from ..recipe.plan import scaled
from .eaters import Eater, as_seen, day_of
from .finished import of_line
from .plan import Pot
from .record import Cooking, Swap, Went, went_in
from .results import BatchLine, BatchPlan, vessels_of

# A weight that is off its line by no more than this share is as planned.
AS_PLANNED = 0.02
# What a reading may be under by its rounding, °C.
_THERMOMETER = 0.05


@dataclass(frozen=True, kw_only=True)
class CookedLine:
    """A line as it went in. position: in the recipe, None for what it does not have; planned_g: by the list; least_g,
    most_g: what went in, alike where it is known; off: by how much it missed the list, None where nobody knows; instead:
    the name of what went in for it, "" for itself."""

    position: int | None
    food: str
    name: str
    went: Went
    planned_g: float
    least_g: float
    most_g: float
    off: float | None
    instead: str


@dataclass(frozen=True, kw_only=True)
class CookedLimit:
    """A limit that stands otherwise than planned, or does not hold. value: per 1000 kcal (a ratio: its value), None where
    it is not known or undefined; worse: it holds less than planned."""

    key: str
    name: str
    unit: str
    planned: Status
    status: Status
    value: float | None
    bound: float | None
    worse: bool


@dataclass(frozen=True, kw_only=True)
class CookedDay:
    """A dog's day of the batch. kcal_least, kcal_most: alike where all is known; must_not: why it must not have it."""

    case: int
    name: str
    kcal_planned: float
    kcal_least: float
    kcal_most: float
    limits: tuple[CookedLimit, ...]
    must_not: tuple[str, ...]

    @property
    def worse(self) -> tuple[str, ...]:
        """Names of the limits that hold less than planned."""
        return tuple(x.name for x in self.limits if x.worse)


@dataclass(frozen=True, kw_only=True)
class CookedBatch:
    """A batch as cooked. unknown: names of lines that nobody put down; words: the verdict in a sentence; days_fed: that it
    feeds; kcal_least, kcal_most: that are in it, alike where all is known; expected_g: what it should weigh finished, by
    what went in. too_cold: vessels that were measured and did not get hot enough, in words; not_measured: vessels that
    must get hot and whose temperature nobody put down. None and empty in a verdict that was kept before there were these."""

    lines: tuple[CookedLine, ...]
    unknown: tuple[str, ...]
    water_g: float | None
    days: tuple[CookedDay, ...]
    words: str
    days_fed: float | None = None
    kcal_least: float | None = None
    kcal_most: float | None = None
    expected_g: float | None = None
    too_cold: tuple[str, ...] = ()
    not_measured: tuple[str, ...] = ()

    @property
    def holds(self) -> bool:
        """Whether all is known, nobody is barred, it got hot enough and nothing holds less than planned."""
        return not (self.unknown or self.too_cold) and not any(
            d.must_not or d.worse for d in self.days
        )


@dataclass(frozen=True)
class Contents:
    """The lines of a batch as they went in, at least and at most."""

    least: tuple[Line, ...]
    most: tuple[Line, ...]


def in_grams_of(line: Line, grams: float) -> Line:
    """A line of another weight."""
    return replace(line, amount=Amount(grams, "g", grams, "as it went in"))


def contents_of(
    dossier: Dossier, recipe: Sequence[Line], plan: BatchPlan, cooking: Cooking
) -> Contents:
    """What went into a batch. recipe: the lines of the recipe. Raises InputError for a swap that cannot be read."""
    least: list[Line] = []
    most: list[Line] = []
    for planned in plan.lines:
        line, found = recipe[planned.position], went_in(planned, cooking)
        if found.least_g > 0:
            least.append(in_grams_of(line, found.least_g))
        if found.most_g > 0:
            most.append(in_grams_of(line, found.most_g))
        swap = cooking.swaps.get(planned.position)
        if swap is not None:
            both = _read(dossier, swap)
            least.append(both)
            most.append(both)
    for extra in cooking.extras:
        both = _read(dossier, extra)
        least.append(both)
        most.append(both)
    return Contents(tuple(least), tuple(most))


def _read(dossier: Dossier, swap: Swap) -> Line:
    text = LineText(swap.food, f"{swap.grams:.6g} g", preparation=swap.preparation)
    return read_line(dossier.reference.methods, dossier.library, text)


def planned_lines(recipe: Sequence[Line], plan: BatchPlan) -> list[Line]:
    """The lines of the pot as they were to be weighed."""
    return [in_grams_of(recipe[x.position], x.grams) for x in plan.lines]


def longer(plan: BatchPlan, cooking: Cooking) -> float:
    """How many times as long as planned a batch is fed."""
    return 1.0 if cooking.days is None else cooking.days / plan.days


def cooked_batch(
    pot: Pot, plan: BatchPlan, eaters: Sequence[Eater], cooking: Cooking
) -> CookedBatch:
    """A batch as it was cooked against what each dog of it needs. pot: of the recipe; eaters: in the order of the plan's. A
    line that nobody put down is judged both ways: what does not stand the same is not proven. Raises InputError for a swap
    that cannot be read."""
    dossier, recipe, times = eaters[0].dossier, pot.dossier.lines, longer(plan, cooking)
    contents = contents_of(dossier, recipe, plan, cooking)
    # A batch that is fed longer would have to hold so much more of each line, and a day has the smaller part of it.
    before = scaled_all(planned_lines(recipe, plan), times)
    days = tuple(
        _day(eater, result.share / times, before, contents)
        for eater, result in zip(eaters, plan.eaters, strict=True)
    )
    cold, open_ = _heat(pot, plan, cooking)
    kcal = [_kcal(eaters[0], lines) for lines in (contents.least, contents.most)]
    lines = (
        *(_line(dossier, x, cooking) for x in plan.lines),
        *(_extra(dossier, x) for x in cooking.extras),
    )
    unknown = tuple(x.name for x in lines if x.went in {Went.PART, Went.UNKNOWN})
    return CookedBatch(
        lines=lines, unknown=unknown, water_g=cooking.water_g, days=days,
        words=_words(unknown, days, cold, open_), days_fed=rounded(plan.days * times),
        kcal_least=rounded(min(kcal)), kcal_most=rounded(max(kcal)),
        expected_g=rounded(_expected(pot, dossier, plan, cooking)), too_cold=cold, not_measured=open_,
    )  # fmt: skip


def _kcal(lead: Eater, lines: Sequence[Line]) -> float:
    return sum_lines(lead.dossier.library, as_seen(lead, lines), 1.0).kcal


def _expected(pot: Pot, dossier: Dossier, plan: BatchPlan, cooking: Cooking) -> float:
    """What it should weigh finished, g: the plan, and what went in otherwise. What nobody put down is taken as planned."""
    reference = pot.dossier.reference
    grams = plan.finished.grams
    for line in plan.lines:
        if line.grams > 0:
            grams += (went_in(line, cooking).most_g - line.grams) * line.fed_g / line.grams
    for swap in (*cooking.swaps.values(), *cooking.extras):
        new = _read(dossier, swap)
        place = Place.READY if new.prepared is None else Place.POT
        grams += of_line(reference.batches, reference.handling, new, place)[1]
    if cooking.water_g is not None:
        grams += cooking.water_g - plan.finished.water_g
    return max(grams, 0.0)


def _heat(pot: Pot, plan: BatchPlan, cooking: Cooking) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Vessels that did not get hot enough, and those whose temperature is not put down."""
    need = pot.handling.core_celsius
    if need is None or not any(x.place is Place.POT for x in plan.lines):
        return (), ()
    cold, open_ = [], []
    for vessel, _ in vessels_of(plan):
        named = "all of it" if vessel is None else f"vessel {chr(65 + vessel)}"
        celsius = cooking.core.get(vessel)
        if celsius is None:
            open_.append(named)
        elif celsius < need - _THERMOMETER:
            cold.append(f"{named}: {celsius:.0f} °C of {need:.0f} °C")
    return tuple(cold), tuple(open_)


def _line(dossier: Dossier, planned: BatchLine, cooking: Cooking) -> CookedLine:
    found, swap = went_in(planned, cooking), cooking.swaps.get(planned.position)
    sure = found.least_g == found.most_g
    instead = ""
    if swap is not None:
        instead = f"{dossier.library.food(swap.food).name}, {swap.grams:.6g} g"
    return CookedLine(
        position=planned.position, food=planned.food, name=planned.name, went=found.went,
        planned_g=planned.grams, least_g=rounded(found.least_g), most_g=rounded(found.most_g),
        off=figure(found.least_g / planned.grams - 1) if sure and planned.grams > 0 else None,
        instead=instead,
    )  # fmt: skip


def _extra(dossier: Dossier, extra: Swap) -> CookedLine:
    return CookedLine(
        position=None, food=extra.food, name=dossier.library.food(extra.food).name, went=Went.EXTRA,
        planned_g=0.0, least_g=rounded(extra.grams), most_g=rounded(extra.grams), off=None, instead="",
    )  # fmt: skip


def _day(eater: Eater, share: float, before: Sequence[Line], contents: Contents) -> CookedDay:
    planned = day_of(eater, before, share)
    least = day_of(eater, contents.least, share)
    most = least if contents.least == contents.most else day_of(eater, contents.most, share)
    barred = [f for f in most.flags if f.level is Level.BLOCK]
    known = {(f.what, f.why) for f in planned.flags if f.level is Level.BLOCK}
    # What its own plan was settled for is no news; what went in beside it is.
    news = [f for f in barred if eater.open_blocks is None or (f.what, f.why) not in known]
    return CookedDay(
        case=eater.case, name=eater.name, kcal_planned=planned.recipe.kcal_per_day,
        kcal_least=min(least.recipe.kcal_per_day, most.recipe.kcal_per_day),
        kcal_most=max(least.recipe.kcal_per_day, most.recipe.kcal_per_day),
        limits=_limits(planned, least, most),
        must_not=tuple(f"{f.what}: {f.why}" if f.why else f.what for f in news),
    )  # fmt: skip


def _limits(planned: Analysis, least: Analysis, most: Analysis) -> tuple[CookedLimit, ...]:
    was, low, high = judged_by_key(planned), judged_by_key(least), judged_by_key(most)
    found = []
    for key, before in was.items():
        one, other = low[key], high[key]
        same = one.status is other.status
        status = one.status if same else Status.UNPROVEN
        if status is before.status and status in HELD:
            continue
        found.append(
            CookedLimit(
                key=key, name=before.name, unit=before.unit if isinstance(before, NutrientResult) else "",
                planned=before.status, status=status, value=value_of(one) if least is most else None,
                bound=one.against, worse=holds_less(before, one, status),
            )
        )  # fmt: skip
    return tuple(sorted(found, key=lambda x: (not x.worse, x.status not in BREAKS)))


def _words(
    unknown: Sequence[str], days: Sequence[CookedDay], cold: Sequence[str], not_measured: Sequence[str]
) -> str:  # fmt: skip
    words = _stands(unknown, days)
    if cold:
        return f"It did not get hot enough ({listed(cold)}): cook on and measure again. {words}"
    if not_measured:
        return f"{words} Its core temperature is not put down ({listed(not_measured)})."
    return words


def _stands(unknown: Sequence[str], days: Sequence[CookedDay]) -> str:
    barred = [d.name for d in days if d.must_not]
    if barred:
        return f"{' and '.join(barred)} must not have this batch."
    if unknown:
        return f"Nobody knows yet whether it holds: {len(unknown)} of its lines are not put down."
    worse = [d.name for d in days if d.worse]
    if worse:
        return f"As it was cooked it holds less than planned, for {' and '.join(worse)}."
    return "As it was cooked it holds what was planned."


def scaled_all(lines: Sequence[Line], factor: float) -> tuple[Line, ...]:
    """Lines, so many times as much."""
    return tuple(scaled(line, factor) for line in lines)
