"""What a case is found by: words of its dog, its client and what ails the dog, and its conditions."""

import unicodedata
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from django.db.models import QuerySet
from library.facts import reference
from wainscot_core.boundary import Text120, Text300, YesNo

from .word_index import few_with

if TYPE_CHECKING:
    from accounts.models import Practice

    from .models import Case

CASES_A_PAGE = 50
# Of more nobody turns the pages: another word finds it.
MOST_FOUND = 1000
# More words tell nothing more; each of them is looked for in every case.
MOST_WORDS = 8


class CaseOrder(StrEnum):
    """How found cases stand: what was changed last first, or by the name of the dog."""

    CHANGED = "changed"
    DOG = "dog"


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """What cases are looked for: words that all stand in them, a condition by its id ("" for any), put away or not."""

    words: Text300 = ""
    condition: Text120 = ""
    archived: YesNo = False
    order: CaseOrder = CaseOrder.CHANGED

    @property
    def narrow(self) -> bool:
        """Only some are looked for."""
        return bool(self.words.strip() or self.condition)


def folded(text: str) -> str:
    """A text without capitals and accents, as it is looked for. What cannot be seen parts words: the index ends at a NUL."""
    plain = unicodedata.normalize("NFKD", text.casefold())
    seen = (" " if unicodedata.category(c) == "Cc" else c for c in plain)
    return " ".join("".join(c for c in seen if not unicodedata.combining(c)).split())


def found_by(case: "Case") -> tuple[str, str]:
    """What a case is found by: its words, the name of the dog first; and ",id,id," of its conditions."""
    dog = case.dog
    told = [c for c in case.conditions if isinstance(c, dict)]
    ids = [str(c.get("id") or "") for c in told]
    known = reference().conditions
    names = [str(c.get("name") or "") for c in told] + [known[i].name for i in ids if i in known]
    words = dict.fromkeys(
        folded(x) for x in (dog.name, dog.client.name, dog.breed, case.title, *names)
    )
    return " ".join(w for w in words if w), "".join(f",{i}" for i in ids if i) + "," * any(ids)


def find(practice: "Practice", wanted: Wanted) -> "QuerySet[Case]":
    """Cases of a practice, in their order."""
    from .models import Case

    # "In" and not "=": what Django writes for a truth value alone passes the index by. So does any other order than its own.
    cases = Case.objects.for_practice(practice).filter(archived__in=[wanted.archived])
    words = folded(wanted.words).split()[:MOST_WORDS]
    # Few are found by the index; of many the first ones are soon come upon in their order.
    few = few_with(practice, wanted.archived, words, MOST_FOUND)
    if few is not None:
        cases = cases.filter(pk__in=few)
    for word in words:
        cases = cases.filter(find_text__contains=word)
    if wanted.condition:
        cases = cases.filter(find_conditions__contains=f",{wanted.condition},")
    by_dog = wanted.order is CaseOrder.DOG
    first = ("find_text", "find_conditions", "pk")
    return cases.order_by(*first) if by_dog else cases.order_by("-updated", *first)
