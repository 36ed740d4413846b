"""Ingredient search over the library with SQLite FTS5.

Two tables: words with prefixes for what is typed right, trigrams for what is not.
"""

import hashlib
import re

import yaml
from django.conf import settings
from django.db import connection, transaction
from django.db.backends.utils import CursorWrapper
from wainscot_core.facts.foods import Food

from .facts import reference
from .models import IndexState

_SCHEMA = """
DROP TABLE IF EXISTS food_words;
DROP TABLE IF EXISTS food_trigrams;
CREATE VIRTUAL TABLE food_words USING fts5(
  name, aliases, row UNINDEXED, rank_bonus UNINDEXED,
  tokenize='porter unicode61 remove_diacritics 2', prefix='1 2 3');
CREATE VIRTUAL TABLE food_trigrams USING fts5(name, row UNINDEXED, rank_bonus UNINDEXED, tokenize='trigram');
"""

# Another one when the order changes that foods are found in.
_RANKING = "oils last"


def _synonyms() -> list[tuple[re.Pattern[str], str]]:
    data = yaml.safe_load((settings.REFERENCE_DIR / "library" / "synonyms.yaml").read_text())
    return [(re.compile(entry["pattern"], re.I), entry["also"]) for entry in data["foods"]]


def _fingerprint() -> str:
    digest = hashlib.sha256((_SCHEMA + _RANKING).encode())
    for path in ("composition/foods.csv", "library/synonyms.yaml"):
        digest.update((settings.REFERENCE_DIR / path).read_bytes())
    return digest.hexdigest()


@transaction.atomic
def refresh_index(force: bool = False) -> bool:
    """Rebuild the index when the reference data changed. True when it was rebuilt."""
    mark = _fingerprint()
    if not force and IndexState.objects.filter(fingerprint=mark).exists():
        return False
    with connection.cursor() as cursor:
        for statement in filter(str.strip, _SCHEMA.split(";")):
            cursor.execute(statement)
        synonyms = _synonyms()
        words, trigrams = [], []
        for row, food in enumerate(reference().library.foods):
            aliases = [also for pattern, also in synonyms if pattern.search(food.name)]
            bonus = _bonus(food)
            words.append((food.name, " ".join([*aliases, food.form, food.klass]), row, bonus))
            trigrams.append((" ".join([food.name, *aliases]), row, bonus))
        cursor.executemany("INSERT INTO food_words VALUES (%s, %s, %s, %s)", words)
        cursor.executemany("INSERT INTO food_trigrams VALUES (%s, %s, %s)", trigrams)
    IndexState.objects.all().delete()
    IndexState.objects.create(fingerprint=mark)
    return True


def _bonus(food: Food) -> float:
    """Plain whole foods first, short names before long, raw before cooked before the rest; an oil after what
    it is pressed from."""
    order = {"raw": 0.0, "cooked": 0.2, "plain": 0.1}.get(food.form, 0.5)
    oil = 2.0 if food.klass == "fat-oil" else 0.0
    return (0.0 if food.plain else 4.0) + order + oil + len(food.name) / 40


def _match(text: str) -> str:
    words = re.findall(r"[^\W_]+", text.lower())
    return " ".join(f'"{word}"*' for word in words)


def search(text: str, limit: int = 12) -> list[int]:
    """Library rows for a query, best first. An empty query finds nothing."""
    query = _match(text)
    if not query:
        return []
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT row FROM food_words WHERE food_words MATCH %s"
            " ORDER BY bm25(food_words, 4.0, 2.0) + rank_bonus LIMIT %s",
            [query, limit],
        )
        rows = [int(found[0]) for found in cursor.fetchall()]
        return rows or _near(cursor, text, limit)


def _near(cursor: CursorWrapper, text: str, limit: int) -> list[int]:
    """Rows that share trigrams with a misspelt query, those sharing most first."""
    grams = {
        word[i : i + 3]
        for word in re.findall(r"[^\W_]+", text.lower())
        for i in range(max(0, len(word) - 2))
    }
    if not grams:
        return []
    cursor.execute(
        "SELECT row FROM food_trigrams WHERE food_trigrams MATCH %s"
        " ORDER BY bm25(food_trigrams) * 1.5 + rank_bonus LIMIT %s",
        [" OR ".join(f'"{gram}"' for gram in sorted(grams)), limit],
    )
    return [int(found[0]) for found in cursor.fetchall()]
