"""The words and figures of a text, each with its place in it."""

import re
import unicodedata
from dataclasses import dataclass
from functools import lru_cache

_TOKEN = re.compile(
    r"(?P<vitamin>\b[BDEKbdek](?:1[0-2]|[1-9])\b)"
    r"|(?P<number>\d+(?:[.,]\d+)*|(?<![\w.])\.\d+)"
    r"|(?P<vulgar>[¼-¾⅐-⅞])"
    r"|(?P<word>[^\W\d_]+(?:['’-][^\W\d_]+)*)"
    r"|(?P<leader>[.…_]{4,}|(?:\. ){3,}\.?)"
    r"|(?P<mark>[^\s\w]|_)"
)
_IRREGULAR = {
    "leaves": "leaf", "halves": "half", "loaves": "loaf", "calves": "calf", "knives": "knife",
    "feet": "foot", "mice": "mouse", "radishes": "radish", "pouches": "pouch", "bunches": "bunch",
    "patties": "patty", "dashes": "dash", "pinches": "pinch", "boxes": "box", "inches": "inch",
    "sandwiches": "sandwich", "peaches": "peach", "squashes": "squash", "glasses": "glass",
    "splashes": "splash", "sloshes": "slosh", "touches": "touch", "couscous": "couscous",
    "asparagus": "asparagus", "hummus": "hummus", "molasses": "molasses", "citrus": "citrus",
    "its": "its", "is": "is", "this": "this", "us": "us", "as": "as", "has": "has", "was": "was",
    "yes": "yes", "gas": "gas", "lbs": "lb", "swiss": "swiss", "bass": "bass", "less": "less",
    "grass": "grass", "boneless": "boneless", "skinless": "skinless", "chives": "chive",
    "olives": "olive", "cloves": "clove", "cheese": "cheese", "brussels": "brussels",
    "always": "always", "goes": "go", "does": "do", "series": "series", "species": "species", "plus": "plus", "oz": "oz",
}  # fmt: skip


@dataclass(frozen=True)
class Token:
    """text: as it stands from start to end. word: in lower case and singular, "" for what is no word.
    value: of a figure."""

    text: str
    start: int
    end: int
    word: str = ""
    value: float | None = None

    @property
    def mark(self) -> str:
        """A sign, "" for a word or a figure."""
        return self.text if not self.word and self.value is None else ""


@lru_cache(maxsize=16384)
def singular(word: str) -> str:
    """A word in lower case and singular."""
    word = word.lower().replace("’", "'")
    if word in _IRREGULAR:
        return _IRREGULAR[word]
    if len(word) > 3 and word.endswith(("'s", "s'")):
        return word[:-2]
    if len(word) > 4 and word.endswith("ies"):
        return word[:-3] + "y"
    if len(word) > 4 and word.endswith(("oes", "ches", "shes", "sses", "xes")):
        return word[:-2]
    if len(word) > 2 and word.endswith("s") and not word.endswith(("ss", "us", "is")):
        return word[:-1]
    return word


def tokenise(text: str) -> tuple[Token, ...]:
    """Words, figures and signs in order."""
    found = []
    for match in _TOKEN.finditer(text):
        piece, start, end = match.group(), match.start(), match.end()
        if match["number"]:
            found.append(Token(piece, start, end, value=figure(piece)))
        elif match["vulgar"]:
            found.append(Token(piece, start, end, value=unicodedata.numeric(piece)))
        elif match["vitamin"]:
            found.append(Token(piece, start, end, word=piece.lower()))
        elif match["word"]:
            found.append(Token(piece, start, end, word=singular(piece)))
        elif not match["leader"]:
            # Dots that lead from a name to its amount are no signs.
            found.append(Token(piece, start, end, word="and" if piece == "&" else ""))
    return tuple(found)


def figure(text: str) -> float:
    """A figure with a point or a comma. "1,250" counts thousands, "1,5" is one and a half."""
    if re.fullmatch(r"[1-9]\d{0,2}(?:,\d{3})+(?:\.\d+)?", text):
        return float(text.replace(",", ""))
    if text.startswith("."):
        return float(f"0{text}")
    parts = re.split(r"[.,]", text)
    if len(parts) > 2:
        return float("".join(parts))
    return float(".".join(parts))
