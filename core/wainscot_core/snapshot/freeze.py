"""Make a snapshot of a case, or of a recipe in it, as they are now."""

from dataclasses import replace
from datetime import date

from ..analysis.analyse import analyse
from ..case.intake_view import intake_view
from ..case.targets_view import targets_view
from ..dog.energy import Energy
from ..dog.record import CaseRecord
from ..dossier.dossier import Dossier
from ..dossier.reference import Reference
from ..facts.foods import FoodLibrary
from ..recipe.line import Line, stored
from ..robust.robustness import vital
from ..targets.requirements import MergedSet
from ..version import VERSION
from .snapshot import (
    SCHEMA,
    FrozenFood,
    FrozenIntake,
    FrozenLine,
    FrozenRecipe,
    FrozenSource,
    Parties,
    Snapshot,
)


def freeze_case(
    reference: Reference,
    record: CaseRecord,
    merged: MergedSet,
    energy: Energy,
    today: date,
    parties: Parties,
) -> Snapshot:
    """A snapshot of a case without a recipe: what intake said, energy, targets with their origins."""
    intake = intake_view(reference, record, parties.conventions)
    return Snapshot(
        schema=SCHEMA,
        program=VERSION,
        reference=reference.fingerprint,
        taken=today,
        parties=parties,
        case=record,
        energy=energy,
        targets=targets_view(reference, record, merged, energy.target_kcal),
        intake=FrozenIntake(
            missing=intake.missing,
            stopped=intake.stopped,
            present=intake.present,
            life_stage=intake.life_stage,
            size_class=intake.size_class,
        ),
        units={n.key: n.unit for n in reference.catalogue.nutrients},
        recipe=None,
    )


def freeze_recipe(
    dossier: Dossier,
    record: CaseRecord,
    parties: Parties,
    name: str,
    today: date,
    for_paper: bool = True,
) -> Snapshot:
    """A snapshot of a recipe for a case, with the values of its foods and what is computed of them. for_paper: with the
    lines it cannot live without, which take a while and add nothing to what it is known by."""
    case = freeze_case(dossier.reference, record, dossier.targets, dossier.energy, today, parties)
    foods, sources = frozen_foods(dossier.library, dossier.lines)
    recipe = FrozenRecipe(
        name=name,
        covers_days=dossier.days,
        policy=dossier.policy,
        lines=tuple(frozen_line(dossier.library, line) for line in dossier.lines),
        foods=foods,
        sources=sources,
        analysis=analyse(dossier),
        vital=vital(dossier) if for_paper else (),
    )
    return replace(case, recipe=recipe)


def frozen_line(library: FoodLibrary, line: Line) -> FrozenLine:
    """A line with what its cooking does to weight and nutrients."""
    prepared = line.prepared
    if prepared is None:
        return FrozenLine(text=stored(line), yield_share=1.0, retained={})
    kept = zip(library.catalogue.keys, prepared.retention, strict=True)
    return FrozenLine(
        text=stored(line),
        yield_share=prepared.yield_share,
        retained={key: float(share) for key, share in kept if share != 1},
    )


def frozen_foods(
    library: FoodLibrary, lines: tuple[Line, ...]
) -> tuple[tuple[FrozenFood, ...], tuple[FrozenSource, ...]]:
    """The foods of these lines with their known values, and where those came from."""
    keys, positions = library.catalogue.keys, dict[int, int]()
    foods = []
    for row in sorted({line.row for line in lines}):
        food = library.foods[row]
        known = {k: float(v) for k, v in zip(keys, library.values[row], strict=True) if v == v}
        codes = {key: int(library.codes[row, library.catalogue.index(key)]) for key in known}
        foods.append(
            FrozenFood(
                id=food.id,
                name=food.name,
                klass=food.klass,
                form=food.form,
                allergens=food.allergens,
                values=known,
                source_of={k: positions.setdefault(c, len(positions)) for k, c in codes.items()},
            )
        )
    origins = (library.provenance[code] for code in positions)
    sources = (
        FrozenSource(grade=o.grade, text=o.text, citation=o.citation, confidence=o.confidence)
        for o in origins
    )
    return tuple(foods), tuple(sources)
