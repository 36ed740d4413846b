"""Which food of the library is meant by the words of a phrase: what people call it, what rows are named, and what was
said of its state, its fat, its skin and its bone."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from rapidfuzz import fuzz, process

from ..facts.foods import FloatArray, Food, FoodLibrary
from .described import Described, fat_share
from .match import Candidate, Match
from .tokens import singular, tokenise
from .weights import Content
from .words import Called, Words

# What each part of a match is worth, of 1.
COVER, EXACT, NAMED, PLAIN = 0.6, 0.35, 0.2, 0.06
ORDER = 0.02
# What was said and is so, and what was said and is not.
AS_SAID, NOT_AS_SAID = 0.05, -0.2
# Nobody said it: a form that is rather not meant.
RATHER_NOT = -0.06
# What a row lacks that the phrase is about.
WITHOUT_HEAD = -0.3
FAT_OFF, MOST_FAT_OFF = 0.012, 0.25
# A row of a part of what is meant, of its oil or its flour, that nobody named.
OTHER_PART = -0.15
# Words behind a comma or in brackets count so much of those before.
BEHIND, MOST_BEHIND = 0.35, 0.5
# Another animal than the one that was said is never meant.
OTHER_SPECIES = -0.5
# So much of a name must be known for a food to be named beside a word that nobody knows.
KNOWN_ENOUGH = 0.8
# A word is misspelt where it is this like another.
SPELT = 84.0
# Words written as one have at least so many letters each.
MIN_PART = 3
# Below this no food is named.
LEAST = 0.45

GROUND = frozenset({"grain", "legume", "nut-seed"})
# Dried, of these is left a third and less.
_DRIED = frozenset({"dried", "dehydrated"})
_WATERY = frozenset({"fruit", "vegetable", "poultry", "beef", "pork", "lamb-game", "fish"})
_FLESH = frozenset({"poultry", "beef", "pork", "lamb-game", "fish"})
_MADE = {
    "roasted": frozenset({"roasted", "baked"}),
    "boiled": frozenset({"boiled", "simmered", "stewed", "poached", "hard-boiled", "braised"}),
    "steamed": frozenset({"steamed", "boiled"}),
    "fried": frozenset({"fried", "pan-browned", "sauteed"}),
    "grilled": frozenset({"grilled", "broiled"}),
    "mashed": frozenset({"mashed", "boiled"}),
}


@dataclass(frozen=True)
class Matcher:
    """The names of a library, ready to be looked up. cooking: what the ways of preparing are called."""

    words: Words
    library: FoodLibrary
    cooking: frozenset[str] = frozenset()

    @cached_property
    def _names(self) -> list[frozenset[str]]:
        return [self._tokens(food.name) for food in self.library.foods]

    def _tokens(self, text: str) -> frozenset[str]:
        return frozenset(part for t in tokenise(text) if t.word for part in self._parts(t.word))

    def _parts(self, word: str) -> Iterable[str]:
        whole = self.words.same.get(word, word)
        if "-" in whole and whole not in self.words.states:
            return [self.words.same.get(p, p) for p in (singular(x) for x in whole.split("-"))]
        return [whole]

    @cached_property
    def _rows(self) -> dict[str, np.ndarray]:
        """Rows by word of their names."""
        found: dict[str, list[int]] = {}
        for row, names in enumerate(self._names):
            for name in names:
                found.setdefault(name, []).append(row)
        return {word: np.array(rows) for word, rows in found.items()}

    @cached_property
    def _called(self) -> dict[frozenset[str], Called]:
        found: dict[frozenset[str], Called] = {}
        for name, entry in self.words.called.items():
            other = found.setdefault(self._tokens(name), entry)
            if other is not entry and other.foods != entry.foods:
                raise ValueError(f"{name!r} in called.csv is told by the words of another entry")
        return found

    @cached_property
    def _called_by_word(self) -> dict[str, list[frozenset[str]]]:
        found: dict[str, list[frozenset[str]]] = {}
        for name in self._called:
            for word in name:
                found.setdefault(word, []).append(name)
        return found

    @cached_property
    def _vocabulary(self) -> list[str]:
        # Not the table's own abbreviations: "check" is no "chck".
        plain = (n for n, food in zip(self._names, self.library.foods, strict=True) if food.plain)
        return sorted({*self._called_by_word, *(w for n in plain for w in n)} - self._silent)

    def weight(self, word: str) -> float:
        """How much a word tells: the rarer the more."""
        rows = self._rows.get(word)
        count = 0 if rows is None else len(rows)
        return math.log((len(self._names) + 1) / (count + 1)) + 0.5

    @cached_property
    def _named(self) -> FloatArray:
        """(foods,) the weight of all words of each name that tell which food it is."""
        silent = self._silent
        return np.array(
            [
                math.fsum(self.weight(w) for w in names if w not in silent) or 1.0
                for names in self._names
            ]
        )

    @cached_property
    def _silent(self) -> frozenset[str]:
        """Words that tell of a state or a cut, not of which food."""
        silent = self.words.preparation | self.words.no_food
        return silent | set(self.words.states) | set(self.words.made)

    @cached_property
    def _fats(self) -> list[float]:
        """(foods,) g fat per 100 g: what the name says of a mince, or what was analysed."""
        column = self.library.values[:, self.library.catalogue.index("FAT")].tolist()
        return [
            self._said_fat(food.name, fat)
            for food, fat in zip(self.library.foods, column, strict=True)
        ]

    def fat_of(self, food: Food) -> float:
        """Fat of a food, g per 100 g, NaN where it is not known."""
        return self._fats[self.library.row(food.id)]

    def _said_fat(self, name: str, analysed: float) -> float:
        if not {"%", "/"} & set(name):
            return analysed
        tokens = tokenise(name)
        shares = (fat_share(tokens, i) for i in range(len(tokens)) if tokens[i].value is not None)
        return next((share[0] for share in shares if share is not None), analysed)

    @cached_property
    def _plain(self) -> FloatArray:
        return np.array([PLAIN if food.plain else 0.0 for food in self.library.foods])

    def is_part_of_name(self, food: Food, word: str, said: frozenset[str]) -> bool:
        """Whether a word is part of what a food is called by the words that were said: "brown" of brown rice."""
        names = [n for n in self._called_by_word.get(word, ()) if food.id in self._called[n].foods]
        return any(n <= said for n in names) or (
            word in self._names[self.library.row(food.id)] and len(said) > 1
        )

    def knows(self, word: str) -> bool:
        """Whether a word stands anywhere in what is known."""
        parts = list(self._parts(word))
        return all(
            p in self._rows or p in self._called_by_word or p in self._silent
            or p in self.words.units or p in self.words.verbs or p in self.words.cuts
            or p in self.words.numbers or p in self.words.fractions or p in self.words.sizes
            for p in parts
        )  # fmt: skip

    @cached_property
    def _by_full_name(self) -> dict[str, int]:
        """Rows by their whole name; of two of one name the first."""
        found: dict[str, int] = {}
        for row, food in enumerate(self.library.foods):
            found.setdefault(_even(food.name), row)
        return found

    def called_in_full(self, text: str) -> Match | None:
        """The food whose whole name a text is; None where none has it."""
        row = self._by_full_name.get(_even(text))
        if row is None:
            return None
        return Match((Candidate(self.library.foods[row], 1.0),), True)

    def content(self, food: Food, tag: str) -> Content:
        """What a gram of a food holds of a nutrient."""
        nutrient = self.library.catalogue.get(tag)
        column = self.library.catalogue.index(tag)
        per_100 = float(self.library.values[self.library.row(food.id), column])
        return Content(tag, nutrient.name.lower(), nutrient.unit, per_100 / 100)

    def tells(self, of: Described) -> bool:
        """Whether a description holds a word that may name a food."""
        return any(p not in self._silent for w in of.words for p in self._parts(w))

    def find(self, of: Described, state: str = "", most: int = 3) -> Match:
        """The foods that a description may mean. state: what it was in, where that is known from elsewhere."""
        # "3 eggs, shells ground", "4 eggs with shell": no eggshell powder.
        beside = {w for x in of.food for w in self.words.beside.get(x, ())}
        whole = {w for w in of.food if w in beside and "-" in w}
        apart = [*whole, *(w for w in of.behind if w in beside)]
        said = [part for word in of.food if word not in whole for part in self._parts(word)]
        behind = [p for word in of.behind if word not in beside for p in self._parts(word)]
        packed = of.packed.split("-") if of.packed else []
        telling = [w for w in dict.fromkeys([*said, *behind]) if w not in self._silent]
        named = set(said)
        telling, spelt, unknown = self._spelt(telling, named)
        if not telling:
            telling = [w for w in said if self._called_by_word.get(w)]
        if not telling:
            return Match((), False, (), tuple(unknown))
        state = of.state or state
        every = {*said, *behind, *packed, *telling, *([state] if state == "canned" else [])}
        right = {spelt[w] for w in spelt}
        first = {w for w in telling if w in named or w in right} or set(telling)
        head = next(w for w in reversed(telling) if w in first)
        tells = self._tells(telling, first)
        scores = self._by_name(tells, head, every)
        species = self.animals & frozenset([*said, *behind])
        told_fat = of.fat is not None or of.lean is not None
        called = self._by_call(scores, every, tells, head, told_fat)
        kept = np.flatnonzero(scores > 0.2)
        found = [
            (
                float(scores[r])
                + self._fits(int(r), of, state, int(r) in called)
                + (OTHER_SPECIES if self._is_other(int(r), species, called) else 0.0),
                int(r),
            )
            for r in kept
        ]
        found.sort(key=lambda one: (-round(one[0], 9), one[1]))
        best = found[:most]
        candidates = tuple(
            Candidate(self.library.foods[row], round(min(max(score, 0.0), 1.0), 2))
            for score, row in best
        )
        blocked = any(w in self.words.unknown_foods for w in telling) and not (
            best and self._exactly(best[0][1], telling)
        )
        blocked = blocked or self._says_too_little(telling, called, best)
        blocked = blocked or (bool(best) and self._is_beside(best[0][1], first, every, called))
        # "Kangaroo mince": a word that nobody knows may be what it is of.
        least = KNOWN_ENOUGH if any(w in first for w in unknown) else LEAST
        sure = bool(best) and best[0][0] >= least and not blocked
        entry, usual = called.get(best[0][1], (None, False)) if sure else (None, False)
        guessed = [entry.guess] if entry and entry.guess and usual and not told_fat else []
        guessed += [f"without its {w.removesuffix('-in')}" for w in dict.fromkeys(apart) if sure]
        guessed += [f"“{a}” read as {b}" for a, b in spelt.items() if sure]
        nutrient = entry.nutrient if entry else ""
        return Match(candidates, sure, tuple(guessed), tuple(unknown), nutrient)

    def _says_too_little(
        self,
        telling: Sequence[str],
        called: Mapping[int, tuple[Called, bool]],
        best: Sequence[tuple[float, int]],
    ) -> bool:
        """Whether nothing is said but what is of many foods: "2 tablets"."""
        named = bool(best) and best[0][1] in called
        return not named and set(telling) <= self.words.vague_foods

    def _is_beside(
        self,
        row: int,
        first: set[str],
        every: set[str],
        called: Mapping[int, tuple[Called, bool]],
    ) -> bool:
        """Whether a row is another thing than was said: an oil that nobody said, or no oil where one was; a food
        whose name lacks another food that was said ("cauliflower rice")."""
        food = self.library.foods[row]
        oil = food.klass == "fat-oil"
        if "oil" in first and not oil and not food.is_supplement:
            return True
        if oil and "oil" in self._names[row] and "oil" not in every and row not in called:
            return True
        exact = self._called.get(frozenset(first))
        if exact is not None and row not in called:
            # "Dried cranberries" are no cranberry beans.
            meant = [f for f in exact.foods if f in self.library]
            if meant and self.library.food(meant[0]).klass != food.klass:
                return True
        has = self._names[row] | (self._called_names(food.id) if row in called else frozenset())
        said = (w for w in first if frozenset({w}) in self._called)
        return any(w not in has and w not in self.words.mixtures for w in said)

    def _tells(self, telling: Sequence[str], first: set[str]) -> dict[str, float]:
        """What each word tells; all that is said behind the name together no more than a part of the name."""
        named = sum(self.weight(w) for w in telling if w in first)
        beside = sum(self.weight(w) for w in telling if w not in first)
        part = min(BEHIND, MOST_BEHIND * named / beside) if beside else BEHIND
        return {w: self.weight(w) * (1.0 if w in first else part) for w in telling}

    @cached_property
    def animals(self) -> frozenset[str]:
        """What animals are called."""
        return frozenset(
            food.attributes.species for food in self.library.foods if food.klass in _FLESH
        )

    def _is_other(
        self, row: int, species: frozenset[str], called: Mapping[int, tuple[Called, bool]]
    ) -> bool:
        """Whether a row is of another animal than was said, and nobody calls it so."""
        food = self.library.foods[row]
        if not species or food.klass not in _FLESH or food.attributes.species in species:
            return False
        names = self._called_names(food.id) if row in called else frozenset()
        return not species & (names | self._names[row])

    def _called_names(self, food: str) -> frozenset[str]:
        return self._names_by_food.get(food, frozenset())

    @cached_property
    def _names_by_food(self) -> dict[str, frozenset[str]]:
        """The words that each food is called by."""
        found: dict[str, set[str]] = {}
        for name, entry in self._called.items():
            for food in entry.foods:
                found.setdefault(food, set()).update(name)
        return {food: frozenset(words) for food, words in found.items()}

    def _exactly(self, row: int, telling: Sequence[str]) -> bool:
        food = self.library.foods[row].id
        entry = self._called.get(frozenset(telling))
        return entry is not None and food in entry.foods

    def _spelt(
        self, telling: list[str], named: set[str]
    ) -> tuple[list[str], dict[str, str], list[str]]:
        """The words with those that nobody knows put right where they are like one that is known; only those of the
        name itself, not what is said beside it."""
        words, put, unknown = [], {}, []
        for word in telling:
            if (
                word in self._rows
                or word in self._called_by_word
                or word in self.words.unknown_foods
            ):
                words.append(word)
                continue
            two = self._two_words(word)
            if two:
                # "Hempseed"
                words += two
                if word in named:
                    named.update(two)
                continue
            like = None
            if len(word) > 3 and word in named:
                like = process.extractOne(
                    word, self._vocabulary, scorer=fuzz.ratio, score_cutoff=SPELT
                )
            if like is None:
                unknown.append(word)
                words.append(word)
            elif like[0] not in self._silent:
                put[word] = like[0]
                words.append(like[0])
        return words, put, unknown

    def _two_words(self, word: str) -> tuple[str, ...]:
        """The two words that are written as one; () where it is no two that are known."""
        for cut in range(MIN_PART, len(word) - MIN_PART + 1):
            parts = (word[:cut], singular(word[cut:]))
            if all(p in self._called_by_word for p in parts):
                return parts
        return ()

    def _by_name(self, tells: Mapping[str, float], head: str, every: set[str]) -> FloatArray:
        """(foods,) how well names match by their words, each with what it tells."""
        total = sum(tells.values())
        matched = np.zeros(len(self._names))
        for word, weight in tells.items():
            rows = self._rows.get(word)
            if rows is not None:
                matched[rows] += weight
        scores: FloatArray = COVER * matched / total + NAMED * np.minimum(
            matched / self._named, 1.0
        )
        scores[matched > 0] += self._plain[matched > 0]
        without = np.ones(len(scores), dtype=bool)
        if head in self._rows:
            without[self._rows[head]] = False
        scores[without & (matched > 0)] += WITHOUT_HEAD
        for part in self.words.parts - every:
            if part in self._rows:
                rows = self._rows[part]
                scores[rows] += np.where(matched[rows] > 0, OTHER_PART, 0.0)
        return scores

    def _by_call(
        self, scores: FloatArray, every: set[str], tells: Mapping[str, float], head: str, fat: bool
    ) -> dict[int, tuple[Called, bool]]:
        """Raise what people call so; by row what it is called by, and whether it is meant first. fat: the fat was said, so that the usual one
        of several goes for nothing."""
        total = sum(tells.values())
        names = {n for w in every for n in self._called_by_word.get(w, ()) if n <= every}
        found: dict[int, tuple[Called, bool]] = {}
        ranked = sorted(names, key=lambda n: (-_told(n, tells), -len(n), sorted(n)))
        for name in ranked:
            entry = self._called[name]
            cover = _told(name, tells) / total
            if cover <= 0:
                continue
            score = (COVER + EXACT) * cover + (0.0 if head in name else WITHOUT_HEAD)
            # Of two names that tell the same the longer one is meant: "lean mince".
            score += 0.004 * len(name)
            for place, food in enumerate(entry.foods):
                if food not in self.library:
                    continue
                row = self.library.row(food)
                worth = score - (0.0 if fat else ORDER * place)
                if any(w not in name and w in self._names[row] for w in tells):
                    # "Ricotta, part skim"
                    worth += AS_SAID
                if worth > scores[row]:
                    scores[row] = worth
                    found[row] = (entry, place == 0)
        return found

    def state_of(self, food: Food) -> str:
        """What a food is in. What the table calls dried is raw to it: nobody cooked it."""
        dried = self._names[self.library.row(food.id)] & _DRIED
        return "dry" if dried else food.attributes.state

    def _fits(self, row: int, of: Described, state: str, called: bool) -> float:
        """What the row's own attributes add to or take from its score."""
        food = self.library.foods[row]
        worth = self._state_fits(food, row, state, called, of.fat is not None)
        if of.drained and not of.state and food.klass == "legume" and food.form != "canned":
            # Nobody drains dry chickpeas.
            worth += NOT_AS_SAID * (1 if food.attributes.state == "cooked" else 2)
        if of.made and _MADE.get(of.made, frozenset()) & self._names[row]:
            worth += AS_SAID
        for name, value in of.facets:
            has = "yes" if name == "bone" and food.with_bone else getattr(food.attributes, name)
            if has in {"yes", "no", "none", "added"}:
                worth += AS_SAID if has == value else NOT_AS_SAID
        if food.with_bone and ("bone", "yes") not in of.facets and not called:
            worth += 2 * RATHER_NOT
        said = of.fat
        if said is None and (food.klass == "dairy-egg" or "ground" in self._names[row]):
            # "Lean" is a share of fat of mince alone; of a loin it is the cut.
            said = of.lean
        if said is None and of.lean is not None and "lean" in self._names[row]:
            worth += AS_SAID if "fat" not in self._names[row] else NOT_AS_SAID
        if said is not None and food.klass in _FLESH | {"dairy-egg"}:
            fat = self._fats[row]
            if math.isfinite(fat):
                worth -= min(MOST_FAT_OFF, FAT_OFF * abs(fat - said))
        return worth

    def _state_fits(self, food: Food, row: int, state: str, called: bool, fat: bool) -> float:
        has = self.state_of(food)
        canned, frozen = food.form == "canned", "frozen" in self._names[row]
        if not state:
            if called:
                # Mince is sold by its fat raw.
                return RATHER_NOT if has == "cooked" and fat else 0.0
            odd = canned or frozen or (has == "dry" and food.klass not in GROUND)
            return RATHER_NOT if odd or has == "cooked" else 0.0
        if state == "canned":
            # What comes out of a can is cooked: the dry row would have three times the energy.
            return 2 * AS_SAID if canned else NOT_AS_SAID * (1 if has == "cooked" else 2)
        if state == "frozen":
            return AS_SAID if frozen else (NOT_AS_SAID if canned else NOT_AS_SAID / 2)
        if has not in {"raw", "cooked", "dry"}:
            return 0.0
        same = has == state or ({has, state} == {"raw", "dry"} and food.klass in GROUND)
        if not same:
            dried = state == "dry" or has == "dry"
            return NOT_AS_SAID * (3 if dried and food.klass in _WATERY else 1)
        return AS_SAID if not canned and not frozen else AS_SAID / 2


def _told(name: frozenset[str], tells: Mapping[str, float]) -> float:
    """What the words tell that a name has."""
    return sum(weight for word, weight in tells.items() if word in name)


def _even(text: str) -> str:
    return " ".join(text.casefold().split())
