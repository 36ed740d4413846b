"""A wall in short: how far each board is filled and how it is judged, small enough to stand in a row."""

from dataclasses import dataclass

from ..figures import rounded
from .adequacy import Status
from .results import Analysis


@dataclass(frozen=True, kw_only=True)
class Boards:
    """A wall in short. filled: of each board, its amount in shares of its minimum, of its ceiling where it has no
    minimum; None where the amount is not known."""

    filled: tuple[float | None, ...]
    statuses: tuple[Status, ...]


@dataclass(frozen=True, kw_only=True)
class ShortWall:
    """Boards with the nutrients they stand for: those that have a minimum or a ceiling."""

    keys: tuple[str, ...]
    boards: Boards


def short_wall(analysis: Analysis) -> ShortWall:
    """The wall of an analysis in short."""
    bounds = [(n, n.min or n.ceiling) for n in analysis.nutrients]
    shown = [(n, bound) for n, bound in bounds if bound]
    return ShortWall(
        keys=tuple(n.key for n, _ in shown),
        boards=Boards(
            filled=tuple(
                None if n.per_1000_kcal is None else rounded(n.per_1000_kcal / bound)
                for n, bound in shown
            ),
            statuses=tuple(n.status for n, _ in shown),
        ),
    )
