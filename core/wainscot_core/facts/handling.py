"""How home-made food is cooked, cooled, kept and given."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from .attribute_rule import AttributeRule, read_rule
from .attributes import Attributes


class Place(StrEnum):
    """Where in the work a line stands. pot: it is cooked; ready: it is weighed as it is fed; cooled: stirred in when the
    food is cool; bowl: given at every meal."""

    POT = "pot"
    READY = "ready"
    COOLED = "cooled"
    BOWL = "bowl"


class Texture(StrEnum):
    """What the food is like: for a dog that chews, that gulps, that has no teeth."""

    CHUNKS = "chunks"
    MINCED = "minced"
    SMOOTH = "smooth"


@dataclass(frozen=True)
class Cut:
    """What is done with a food before it is cooked, by texture."""

    when: AttributeRule
    words: Mapping[Texture, str]


@dataclass(frozen=True)
class CookTime:
    """About how long a food cooks: by what it is (when), or by a way of cooking (methods, by id)."""

    when: AttributeRule | None
    methods: frozenset[str]
    minutes: float


@dataclass(frozen=True)
class HandlingRules:
    """The facts of reference/kitchen/handling.yaml. small: (under so many g, words), the finest first; meal_shares: by
    how much a batch may weigh otherwise than planned, each a row."""

    core_celsius: float
    core_when: AttributeRule
    cool_celsius: float
    cool_hours: float
    places: tuple[tuple[Place, AttributeRule], ...]
    uptakes: tuple[tuple[AttributeRule, float], ...]
    cuts: tuple[Cut, ...]
    cooked: tuple[tuple[AttributeRule, str], ...]
    minutes: tuple[CookTime, ...]
    keep: tuple[tuple[str, str], ...]
    keep_oily: tuple[str, str]
    oily: AttributeRule
    keep_words: str
    small: tuple[tuple[float, str], ...]
    meal_shares: tuple[float, ...]
    ask_beyond: float
    ask_beyond_with_water: float
    never: str
    same_day: str
    ask: str
    tub: str
    sources: tuple[str, ...]

    def cut_of(self, of: Attributes, texture: Texture) -> str:
        """What is done with a food before it is cooked; "" for nothing."""
        fits = (cut.words[texture] for cut in self.cuts if cut.when.holds(of) is True)
        return next(fits, "")

    def cook_of(self, of: Attributes) -> str:
        """How a food is cooked that nobody chose a method for; "" for what is not."""
        return next((step for when, step in self.cooked if when.holds(of) is True), "")

    def minutes_of(self, of: Attributes, method: str | None) -> float | None:
        """About how long a food cooks; method: the id of a way of cooking. None where nothing says."""
        return next(
            (
                x.minutes
                for x in self.minutes
                if method in x.methods or (x.when is not None and x.when.holds(of) is True)
            ),
            None,
        )

    def uptake_of(self, of: Attributes) -> float:
        """Water that a food takes up when it is cooked, g per g; 0 for what takes up none."""
        return next((g for when, g in self.uptakes if when.holds(of) is True), 0.0)

    def place_of(self, of: Attributes) -> Place | None:
        """Where a food stands by what it is; None where that does not say."""
        return next((p for p, when in self.places if when.holds(of) is True), None)


def read_handling(data: Mapping[str, Any]) -> HandlingRules:
    """Build from the parsed reference/kitchen/handling.yaml. ValueError for a rule that cannot be read."""
    oily = data["keep_oily"]
    return HandlingRules(
        core_celsius=float(data["core"]["celsius"]), core_when=read_rule(data["core"]["when"]),
        cool_celsius=float(data["cool"]["celsius"]), cool_hours=float(data["cool"]["hours"]),
        places=tuple((Place(p["place"]), read_rule(p["when"])) for p in data["places"]),
        uptakes=tuple((read_rule(u["when"]), float(u["g_per_g"])) for u in data["uptake"]),
        cuts=tuple(
            Cut(read_rule(c["when"]), {t: c[t.value] for t in Texture}) for c in data["cut"]
        ),
        cooked=tuple((read_rule(x["when"]), x["step"]) for x in data["cook"]),
        minutes=tuple(
            CookTime(
                read_rule(x["when"]) if "when" in x else None, frozenset(x.get("methods", ())),
                float(x["minutes"]),
            )
            for x in data["minutes"]
        ),
        keep=tuple((k["what"], k["how_long"]) for k in data["keep"]),
        keep_oily=(oily["what"], oily["how_long"]), oily=read_rule(oily["when"]),
        keep_words=data["keep_words"],
        small=tuple((float(s["under_g"]), s["words"]) for s in data["small"]),
        meal_shares=tuple(float(x) for x in data["meal"]["shares"]),
        ask_beyond=float(data["meal"]["ask_beyond"]),
        ask_beyond_with_water=float(data["meal"]["ask_beyond_with_water"]), never=data["never"],
        same_day=data["watch"]["same_day"], ask=data["watch"]["ask"],
        tub=data["tub"],
        sources=(data["core"]["source"], data["cool"]["source"], data["keep_source"]),
    )  # fmt: skip
