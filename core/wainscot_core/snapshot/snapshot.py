"""A snapshot: a case, and what a recipe was for it on a day, with every value it rests on.

It holds copies, not references: the values of the foods and where they came from, the limits with
their origins, the analysis as it was. Its text is canonical and its digest is the SHA-256 of that
text, so that two snapshots of the same are the same. `docs/formats/snapshot.schema.json`.
"""

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any, Final, Literal

from pydantic import StringConstraints

from ..analysis.results import Analysis
from ..analysis.shopping import ShopList
from ..boundary import Text80, Text160, dump, parse_json, read
from ..case.targets_view import Targets
from ..confidence import Confidence
from ..conventions import DEFAULT, Conventions
from ..dog.as_it_is import AsItIs
from ..dog.energy import Energy
from ..dog.intake import PresentIntake
from ..dog.life_stage import Stage
from ..dog.record import CaseRecord
from ..errors import InputError
from ..facts.foods import Grade
from ..facts.policy import Policy
from ..findings import Finding, Level
from ..kitchen.handling import Handling
from ..recipe.line import LineText
from ..recipe.plan import DailyKind
from ..robust.robustness import KeptLine, KeptRobustness

SCHEMA: Final = 1


@dataclass(frozen=True, kw_only=True)
class Letterhead:
    """What stands under the name of a practice on everything it prints; "" for what does not. address: with its line
    breaks; note: a registration, or what the practice is."""

    address: Annotated[str, StringConstraints(max_length=400)] = ""
    phone: Text80 = ""
    email: Text160 = ""
    web: Text160 = ""
    note: Text160 = ""

    @property
    def lines(self) -> tuple[str, ...]:
        """As they are printed: the address, how the practice is reached, the note."""
        reached = " · ".join(x.strip() for x in (self.phone, self.email, self.web) if x.strip())
        every = (*self.address.splitlines(), reached, self.note)
        return tuple(x.strip() for x in every if x.strip())


NO_LETTERHEAD = Letterhead()


@dataclass(frozen=True, kw_only=True)
class Parties:
    """Whose work it is, and whose dog; conventions: how things are written for the client."""

    practice: str
    client: str
    conventions: Conventions = DEFAULT
    letterhead: Letterhead = NO_LETTERHEAD

    def aside(self, *more: str) -> tuple[str, ...]:
        """The head of a paper: the practice first, its letterhead, then what the paper is; its edition last."""
        return (self.practice, *self.letterhead.lines, *more)


@dataclass(frozen=True, kw_only=True)
class FrozenSource:
    """Where values of the foods came from."""

    grade: Grade
    text: str
    citation: str
    confidence: Confidence


@dataclass(frozen=True, kw_only=True)
class FrozenFood:
    """A food of the recipe: its known values per 100 g as fed, in catalogue units, and the source of
    each as a position in `sources`. A nutrient that is not there is unknown."""

    id: str
    name: str
    klass: str
    form: str
    allergens: tuple[str, ...]
    values: Mapping[str, float]
    source_of: Mapping[str, int]


@dataclass(frozen=True, kw_only=True)
class FrozenLine:
    """A line as typed and as read. yield_share: weight as fed by weight as weighed; retained: share of
    each nutrient that cooking leaves, where it is not all of it."""

    text: LineText
    yield_share: float
    retained: Mapping[str, float]


@dataclass(frozen=True, kw_only=True)
class FrozenBeside:
    """What is given every day beside the recipe: as typed, in grams a day."""

    kind: DailyKind
    food: str
    name: str
    quantity: str
    grams: float


@dataclass(frozen=True, kw_only=True)
class FrozenConcern:
    """What was told of a plan when it was checked, and who settled it: by, on, reason; vet: whose written decision it was.
    All "" where nobody had to. about: "gap", "finding" or "prompt"."""

    about: str
    level: Level
    what: str
    why: str
    do: str
    source: str = ""
    by: str = ""
    on: date | None = None
    reason: str = ""
    vet: str = ""


@dataclass(frozen=True, kw_only=True)
class FrozenRecipe:
    """A recipe: its lines, its foods, and what was computed of it. beside, day: what is given with it every day, and
    what was computed of such a day; None where nothing is. concerns: told when it was checked to go out; () of what
    never was. handling, span, shops: how it is cooked and kept, for how long it may be fed, and what is bought
    for some numbers of days, worked out when it was checked. vital: the lines it cannot live without, the heaviest first;
    robust: how it does in a kitchen."""

    name: str
    covers_days: float
    policy: Policy
    lines: tuple[FrozenLine, ...]
    foods: tuple[FrozenFood, ...]
    sources: tuple[FrozenSource, ...]
    analysis: Analysis
    beside: tuple[FrozenBeside, ...] = ()
    day: Analysis | None = None
    concerns: tuple[FrozenConcern, ...] = ()
    handling: Handling | None = None
    span: AsItIs | None = None
    shops: tuple[ShopList, ...] = ()
    # () and None of what was kept before lines were left out, and batches drawn.
    vital: tuple[KeptLine, ...] = ()
    robust: KeptRobustness | None = None

    @property
    def as_fed(self) -> Analysis:
        """What is judged: the day with what is given beside the recipe, or the recipe alone."""
        return self.day or self.analysis


@dataclass(frozen=True, kw_only=True)
class FrozenIntake:
    """What intake said and lacked on the day."""

    missing: tuple[Finding, ...]
    stopped: bool
    present: PresentIntake
    life_stage: Stage
    size_class: str


@dataclass(frozen=True, kw_only=True)
class Snapshot:
    """A case on a day, with one recipe or none. program: the version that computed it; reference:
    fingerprint of the facts it used; units: unit of each nutrient that values are given of."""

    schema: Literal[1]
    program: str
    reference: str
    taken: date
    parties: Parties
    case: CaseRecord
    energy: Energy
    targets: Targets
    intake: FrozenIntake
    units: Mapping[str, str]
    recipe: FrozenRecipe | None

    @property
    def of_recipe(self) -> FrozenRecipe:
        """The recipe. Raises InputError for a snapshot of a case alone."""
        if self.recipe is None:
            raise InputError("recipe", "this was kept of the case alone, without a recipe")
        return self.recipe


def canonical(snapshot: Snapshot) -> str:
    """The text of a snapshot: JSON with sorted keys and no blanks; numbers as they were computed."""
    return json.dumps(
        dump(snapshot), sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False
    )


def digest_of(text: str) -> str:
    """SHA-256 of a snapshot's text, in hex."""
    return hashlib.sha256(text.encode()).hexdigest()


def opened(text: str, digest: str) -> Snapshot:
    """A snapshot from its text. Raises InputError when the text is not the one that was kept, or is of
    a form this program does not read."""
    if digest_of(text) != digest:
        raise InputError("snapshot", "what was kept was altered since: it cannot be relied on")
    data: dict[str, Any] = parse_json(text)
    if data.get("schema") != SCHEMA:
        raise InputError(
            "snapshot", f"kept in form {data.get('schema')!r}; this program reads form {SCHEMA}"
        )
    return read(Snapshot, data)
