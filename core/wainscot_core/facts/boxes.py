"""Labels of boxes, and how long they take to thaw."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, kw_only=True)
class LabelSheet:
    """A sheet of labels, in mm: a label's width and height, how many across and down, where the first begins, and how far
    it is from one to the next."""

    id: str
    name: str
    paper: str
    width: float
    height: float
    across: int
    down: int
    left: float
    top: float
    step_x: float
    step_y: float

    @property
    def count(self) -> int:
        """Labels on a sheet."""
        return self.across * self.down


@dataclass(frozen=True, kw_only=True)
class ThawRule:
    """Hours in the fridge: linear x d + square x d², d the thickness in cm by weight (g, cm)."""

    linear: float
    square: float
    thick: tuple[tuple[float, float], ...]


@dataclass(frozen=True, kw_only=True)
class BoxRules:
    """The facts of reference/kitchen/labels.yaml. small_mm: of a lower label; off: share by which thawing may take longer;
    night_hours: from an evening to the first meal; thawed_days: that thawed food keeps; soon_days: how long before it
    runs out that is said."""

    sheets: Mapping[str, LabelSheet]
    small_mm: float
    warm: str
    law: str
    thaw: Mapping[str, ThawRule]
    off: float
    night_hours: float
    thawed_days: int
    soon_days: int
    source: str


def read_box_rules(data: Mapping[str, Any]) -> BoxRules:
    """Build from the parsed file. ValueError for a sheet whose labels overlap or leave the paper."""
    sheets = {s["id"]: _sheet(s) for s in data["sheets"]}
    thaw = data["thaw"]
    return BoxRules(
        sheets=sheets, small_mm=float(data["small_mm"]), warm=data["warm"], law=data["law"],
        thaw={
            shape: ThawRule(
                linear=float(thaw[shape]["by"][0]), square=float(thaw[shape]["by"][1]),
                thick=tuple((float(g), float(cm)) for g, cm in thaw[shape]["thick"]),
            )
            for shape in ("flat", "boxes")
        },
        off=float(thaw["slower"]), night_hours=float(thaw["night_hours"]),
        thawed_days=int(thaw["thawed_days"]), soon_days=int(data["soon_days"]),
        source=thaw["source"],
    )  # fmt: skip


_PAPERS = {"a4": (210.0, 297.0), "us-letter": (215.9, 279.4)}


def _sheet(entry: Mapping[str, Any]) -> LabelSheet:
    sizes = {k: float(entry[k]) for k in ("width", "height", "left", "top", "step_x", "step_y")}
    sheet = LabelSheet(
        id=entry["id"], name=entry["name"], paper=entry["paper"], across=int(entry["across"]),
        down=int(entry["down"]), **sizes,
    )  # fmt: skip
    wide, high = _PAPERS[sheet.paper]
    right = sheet.left + (sheet.across - 1) * sheet.step_x + sheet.width
    foot = sheet.top + (sheet.down - 1) * sheet.step_y + sheet.height
    if sheet.step_x < sheet.width or sheet.step_y < sheet.height or right > wide or foot > high:
        raise ValueError(f"label sheet {sheet.id} does not fit its paper")
    return sheet
