"""The nutrient report: every nutrient of a plan on every basis with its limits, for colleagues."""

from ..analysis.adequacy import Status
from ..analysis.results import NutrientResult, RatioResult
from ..conventions import Conventions, number, share, spelled
from ..facts.foods import FIRM_GRADES
from ..snapshot.snapshot import Snapshot
from .letter import PANELS
from .paper import Document, DocumentKind, Section, Table, Words, origin_of, table
from .wall import wall_of

GROUPS = {
    "energy": "Energy and macros", "amino": "Amino acids", "fats": "Fats", "minerals": "Minerals",
    "vitamins": "Vitamins", "other": "Other",
}  # fmt: skip


def nutrient_report(snapshot: Snapshot, edition: str, approved: str = "") -> Document:
    """The full table. Raises InputError for a snapshot without a recipe."""
    recipe = snapshot.of_recipe
    c, found = snapshot.parties.conventions, recipe.as_fed
    sections = [Section(title="", blocks=(wall_of(found, PANELS),))]
    for group, title in GROUPS.items():
        rows = [n for n in found.nutrients if n.group == group]
        if rows:
            sections.append(Section(title=title, blocks=(_nutrients(c, rows),)))
    sections.append(Section(title="Ratios", blocks=(_ratios(c, found.ratios),)))
    firm = sorted({s.citation for s in recipe.sources if s.grade in FIRM_GRADES and s.citation})
    return Document(
        kind=DocumentKind.REPORT,
        title=f"{snapshot.case.dog.name}: {recipe.name}, nutrients",
        aside=snapshot.parties.aside(edition),
        sections=tuple(sections),
        foot=(
            Words(
                lead=approved or "Not approved yet.",
                text=f"Judged against {found.requirements}. Known: share of the weight with a figure; a nutrient "
                "without figures is unproven, not none.",
            ),
        ),
        fine=(
            f"Food values: {'; '.join([*firm, 'estimates, marked as such'])}.",
            origin_of(snapshot),
        ),
    )


def _nutrients(c: Conventions, rows: list[NutrientResult]) -> Table:
    return table(
        ("", "a day", "per 1000 kcal", "per 100 g dry", "least", "most", "known", ""),
        [
            (
                f"{spelled(c, n.name)}, {spelled(c, n.unit)}",
                *(_known(c, n, x) for x in (n.per_day, n.per_1000_kcal, n.per_100g_dry_matter)),
                _or_dash(c, n.min, n.decimals),
                _or_dash(c, n.ceiling, n.decimals),
                share(c, n.known_share),
                "" if n.status is Status.NO_LIMIT else n.status,
            )
            for n in rows
        ],
        figures=(1, 2, 3, 4, 5, 6),
    )


def _known(c: Conventions, found: NutrientResult, value: float | None) -> str:
    """What no food has a figure for is unknown, not none."""
    if value is None or found.known_share == 0:
        return "unknown"
    return number(c, value, found.decimals)


def _ratios(c: Conventions, rows: tuple[RatioResult, ...]) -> Table:
    return table(
        ("", "value", "least", "most", ""),
        [
            (
                spelled(c, r.name), _or_dash(c, r.value, 2), _or_dash(c, r.min, 2),
                _or_dash(c, r.ceiling, 2), "" if r.status is Status.NO_LIMIT else r.status,
            )
            for r in rows
        ],
        figures=(1, 2, 3),
    )  # fmt: skip


def _or_dash(c: Conventions, value: float | None, decimals: int) -> str:
    return "–" if value is None else number(c, value, decimals)
