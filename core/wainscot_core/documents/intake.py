"""The intake sheet: what was said of the dog, and what was not asked yet."""

from collections.abc import Iterator, Sequence

from ..dog.record import CaseRecord, DogRecord, Muscle, Sex
from ..figures import printed, printed_share
from ..snapshot.snapshot import FrozenIntake, Snapshot
from .paper import (
    Block,
    Document,
    DocumentKind,
    Points,
    Section,
    Tone,
    Words,
    origin_of,
    sentence,
    table,
)

MONTHS_UNTIL_YEARS = 24


def intake_sheet(snapshot: Snapshot, edition: str) -> Document:
    """The intake sheet of a case."""
    case, intake = snapshot.case, snapshot.intake
    sections = [
        Section(title="The dog", blocks=(table(("", ""), _dog(case, intake)),)),
        Section(title="Diagnoses", blocks=tuple(_diagnoses(snapshot))),
        Section(title="Reacts to", blocks=tuple(_reactions(case))),
        Section(title="Medicines and supplements", blocks=tuple(_medicines(case))),
        Section(title="Eats now, a day", blocks=tuple(_diet(case, intake))),
        Section(title="Energy", blocks=tuple(_energy(snapshot))),
        Section(title="Weights", blocks=tuple(_weights(case))),
        Section(title="Vet team", blocks=tuple(_vets(case))),
        Section(title="What the owner can do", blocks=tuple(_owner(case))),
    ]
    if flags := tuple(_red_flags(snapshot)):
        tone = Tone.DECIDE if case.intake.red_flags.present else Tone.PLAIN
        sections.append(Section(title="Red flags", blocks=flags, tone=tone))
    if case.notes:
        sections.append(Section(title="Notes", blocks=(Words(text=case.notes),)))
    if intake.missing:
        items = tuple(Words(lead=sentence(m.what), text=sentence(m.why)) for m in intake.missing)
        sections.append(
            Section(title="Still missing for a sound plan", blocks=(Points(items=items),))
        )
    return Document(
        kind=DocumentKind.INTAKE,
        title=f"{case.dog.name}: intake",
        aside=(snapshot.parties.practice, edition),
        sections=tuple(sections),
        foot=(Words(text="Recorded as it was told; the diagnoses are the attending vet's."),),
        fine=(origin_of(snapshot),),
    )


def _dog(case: CaseRecord, intake: FrozenIntake) -> Iterator[tuple[str, str]]:
    dog = case.dog
    muscle = case.intake.muscle_condition
    yield "Breed", dog.breed or "not recorded"
    yield "Age", _age(dog)
    yield "Sex", _sex(dog)
    yield "Weight", f"{printed(dog.weight_kg, 1)} kg"
    if dog.ideal_weight_kg is not None:
        yield "Ideal weight", f"{printed(dog.ideal_weight_kg, 1)} kg"
    if dog.adult_weight_kg is not None:
        yield "Adult weight", f"{printed(dog.adult_weight_kg, 1)} kg"
    score = dog.body_condition
    yield "Body condition", "not scored" if score is None else f"{score} of 9"
    yield (
        "Muscle condition",
        "not scored"
        if muscle is Muscle.UNSCORED
        else f"{muscle.value} loss"
        if (muscle is not Muscle.NORMAL)
        else "normal",
    )
    yield "Activity", dog.activity.value
    for label, weeks in (("Gestation", dog.gestation_week), ("Lactation", dog.lactation_week)):
        if weeks is not None:
            yield label, f"week {weeks}"
    if dog.litter_size is not None:
        yield "Pups in the litter", str(dog.litter_size)
    confirmed = "confirmed" if case.intake.life_stage_confirmed else "not confirmed"
    yield "Counts as", f"{intake.life_stage}, {intake.size_class}, {confirmed}"
    yield "Housing", case.intake.housing or "not recorded"
    yield "Way of feeding wanted", case.intake.way_of_feeding or "not said"
    yield "Meals a day", str(case.meals_per_day)


def _age(dog: DogRecord) -> str:
    born = f", born {dog.birth_date:%Y-%m-%d}" if dog.birth_date else ""
    if dog.age_months is None:
        return f"not known{born}"
    if dog.age_months < MONTHS_UNTIL_YEARS:
        return f"{dog.age_months} months{born}"
    years, months = divmod(dog.age_months, 12)
    rest = "" if not months else f" {months} month" + ("s" if months > 1 else "")
    return f"{years} years{rest}{born}"


def _sex(dog: DogRecord) -> str:
    if dog.sex is Sex.UNKNOWN and dog.neutered is None:
        return "not known"
    altered = {True: "neutered", False: "entire", None: "neutering not known"}[dog.neutered]
    return f"{dog.sex}, {altered}"


def _diagnoses(snapshot: Snapshot) -> Iterator[Block]:
    named = {c.id: c for c in snapshot.targets.conditions}
    rows = [
        (
            named[d.id].name if d.id in named else d.name or d.id,
            named[d.id].stage if d.id in named else d.stage,
            d.since or "–",
            d.by or "–",
        )
        for d in snapshot.case.conditions
    ]
    yield (
        table(("Condition", "Stage", "Since", "Made by"), rows)
        if rows
        else Words(text="None recorded.")
    )


def _reactions(case: CaseRecord) -> Iterator[Block]:
    yield from _asked(
        ("Food", "Form", "Tolerates", "What happened", "How sure"),
        [
            (
                r.food,
                r.form or "–",
                r.tolerates or "–",
                r.what or "–",
                r.certainty.value or "not said",
            )
            for r in case.reactions
        ],
        case.intake.reactions_asked,
    )


def _medicines(case: CaseRecord) -> Iterator[Block]:
    rows = [(m.name, m.dose or "dose not recorded") for m in case.intake.medicines]
    yield from _asked(("Name", "Dose"), rows, case.intake.medicines_asked)


def _asked(titles: Sequence[str], rows: Sequence[Sequence[str]], asked: bool) -> Iterator[Block]:
    """Rows, and whether that is all: a list that nobody asked about is not known to be whole."""
    if rows:
        yield table(titles, rows)
    if not asked:
        yield Words(text="Not yet asked whether that is all." if rows else "Not asked yet.")
    elif not rows:
        yield Words(text="None; asked.")


def _diet(case: CaseRecord, intake: FrozenIntake) -> Iterator[Block]:
    diet = case.intake.current_diet
    if not diet:
        yield Words(text="Not recorded.")
        return
    rows = [
        (
            d.name,
            f"{d.amount:g} {d.unit}".strip(),
            printed(d.kcal_per_unit, 1),
            printed(None if d.kcal_per_unit is None else d.amount * d.kcal_per_unit),
        )
        for d in diet
    ]
    yield table(("Food", "Amount", "kcal a unit", "kcal a day"), rows, figures=(2, 3))
    parts = []
    if intake.present.unknown_items:
        parts.append(f"without {intake.present.unknown_items} of unknown energy")
    if split := intake.present.shares:
        parts.append(
            f"from protein {printed_share(split.protein)}, fat {printed_share(split.fat)}, "
            f"carbohydrate {printed_share(split.carbohydrate)}"
        )
    kcal = f"{printed(intake.present.kcal)} kcal a day"
    yield (
        Words(lead=f"{kcal}:", text="; ".join(parts) + ".")
        if parts
        else Words(lead=f"{kcal}.", text="")
    )


def _energy(snapshot: Snapshot) -> Iterator[Block]:
    steps = snapshot.energy.steps
    yield table(
        ("", "How", "kcal a day"),
        [(s.label, s.formula, printed(s.value)) for s in steps],
        figures=(2,),
    )
    if snapshot.case.energy_reason:
        yield Words(lead="Why:", text=sentence(snapshot.case.energy_reason))


def _weights(case: CaseRecord) -> Iterator[Block]:
    rows = [(w.on, printed(w.kg, 2)) for w in case.intake.weights]
    yield table(("Date", "kg"), rows, figures=(1,)) if rows else Words(text="None but today's.")


def _vets(case: CaseRecord) -> Iterator[Block]:
    rows = [
        (v.name, v.role or "–", v.clinic or "–", v.contact or "–") for v in case.intake.vet_team
    ]
    yield (
        table(("Name", "Role", "Clinic", "Contact"), rows)
        if rows
        else Words(text="Nobody recorded: someone must be able to sign off.")
    )


def _owner(case: CaseRecord) -> Iterator[Block]:
    means = case.intake.owner
    for lead, text in (
        ("Source:", means.source),
        ("Cook:", means.cook),
        ("Store:", means.store),
        ("Spend:", means.spend),
    ):
        yield Words(lead=lead, text=sentence(text) or "Not asked yet.")


def _red_flags(snapshot: Snapshot) -> Iterator[Block]:
    flags = snapshot.case.intake.red_flags
    if flags.present:
        told = f" Told: {flags.told or 'nobody recorded'}, {flags.on or 'no date'}."
        cleared = f" Cleared by {flags.cleared_by or 'nobody named'}." if flags.cleared else ""
        state = cleared or " Not cleared: the vet must see the dog first."
        yield Words(lead="Seen:", text=sentence(flags.present) + told + state)
    for condition in snapshot.targets.conditions:
        if words := condition.words.get("red_flags", ""):
            yield Words(lead=f"{condition.name}:", text=f"call the vet at {words}.")
