"""A practice's copy of a standard as the core takes it."""

from collections.abc import Mapping
from typing import Any

from wainscot_core.confidence import Confidence
from wainscot_core.errors import InputError
from wainscot_core.formats.standard_table import StageLimits, edited_copy
from wainscot_core.targets.standards import PublishedLimit, Standard, Strength

from .facts import reference
from .models import PracticeStandard


def own_copy(own: PracticeStandard) -> Standard:
    """A practice's copy of a standard. Raises InputError for one that cannot be read."""
    base = reference().standards.get(own.base)
    if base is None:
        raise InputError("base", f"there is no standard {own.base!r} any more")
    try:
        limits = _limits(own.stages)
    except (AttributeError, LookupError, TypeError, ValueError) as error:
        raise InputError("stages", f"cannot be read ({error})") from None
    return edited_copy(base, own.slug, own.name, f"version {own.version}", limits)


def _limits(stored: Mapping[str, Any]) -> StageLimits:
    """Limits from a copy's rows; of an older copy, figures that were left out are not set."""
    return {
        stage: {
            key: PublishedLimit(
                key, x["unit"], x.get("min"), x.get("base"), x.get("max"),
                _confidence(x), x.get("note", ""),
                strength=Strength(x.get("strength", Strength.STANDARD)),
            )
            for key, x in limits.items()
        }
        for stage, limits in stored.items()
    }  # fmt: skip


def _confidence(x: Mapping[str, Any]) -> Confidence:
    """As it is stored; what an older copy says in words of its own counts as low."""
    said = x.get("confidence", Confidence.MEDIUM)
    return Confidence(said) if said in set(Confidence) else Confidence.LOW
