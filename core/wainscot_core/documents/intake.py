"""The intake sheet: what was said of the dog, and what was not asked yet."""

from collections.abc import Iterator, Sequence

from ..conventions import (
    Conventions,
    body_figure,
    money,
    number,
    share,
    told,
    when,
)
from ..dog.record import CaseRecord
from ..dog.words import age_words, amount_words, muscle_words, sex_words, weight_words
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


def intake_sheet(snapshot: Snapshot, edition: str, approved: str = "") -> Document:
    """The intake sheet of a case."""
    case, intake, c = snapshot.case, snapshot.intake, snapshot.parties.conventions
    sections = [
        Section(title="The dog", blocks=(table(("", ""), _dog(c, case, intake)),)),
        Section(title="Diagnoses", blocks=tuple(_diagnoses(snapshot))),
        Section(title="Reacts to", blocks=tuple(_reactions(case))),
        Section(title="Medicines and supplements", blocks=tuple(_medicines(case))),
        Section(title="Seen at home", blocks=tuple(_noticed(case))),
        Section(title="Eats now, a day", blocks=tuple(_diet(c, case, intake))),
        Section(title="Energy", blocks=tuple(_energy(snapshot))),
        Section(title="Weights", blocks=tuple(_weights(c, case))),
        Section(title="Vet team", blocks=tuple(_vets(case))),
        Section(title="What the owner can do", blocks=tuple(_owner(c, case))),
    ]
    if flags := tuple(_red_flags(snapshot)):
        tone = Tone.DECIDE if case.intake.red_flags.present else Tone.PLAIN
        sections.append(Section(title="Red flags", blocks=flags, tone=tone))
    if case.notes:
        sections.append(Section(title="Notes", blocks=(Words(text=case.notes),)))
    if intake.missing:
        items = tuple(
            Words(lead=sentence(m.what), text=told(c, sentence(m.why))) for m in intake.missing
        )
        sections.append(
            Section(title="Still missing for a sound plan", blocks=(Points(items=items),))
        )
    return Document(
        kind=DocumentKind.INTAKE,
        title=f"{case.dog.name}: intake",
        aside=snapshot.parties.aside(edition),
        sections=tuple(sections),
        foot=(Words(text="Recorded as it was told; the diagnoses are the attending vet's."),),
        fine=(origin_of(snapshot),),
    )


def _dog(c: Conventions, case: CaseRecord, intake: FrozenIntake) -> Iterator[tuple[str, str]]:
    dog = case.dog
    muscle = case.intake.muscle_condition
    yield "Breed", dog.breed or "not recorded"
    typed = case.intake.typed
    yield "Age", age_words(c, dog)
    yield "Sex", sex_words(dog)
    yield "Weight", weight_words(c, dog.weight_kg, typed.get("weight_kg", ""))
    if dog.ideal_weight_kg is not None:
        told_as = typed.get("ideal_weight_kg", "")
        yield "Ideal weight", weight_words(c, dog.ideal_weight_kg, told_as)
    if dog.adult_weight_kg is not None:
        told_as = typed.get("adult_weight_kg", "")
        yield "Adult weight", weight_words(c, dog.adult_weight_kg, told_as)
    score = dog.body_condition
    yield "Body condition", "not scored" if score is None else f"{score} of 9"
    yield (
        "Muscle condition",
        muscle_words(muscle),
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
    home = {True: "yes", False: "nobody", None: "not asked"}[case.intake.vulnerable_home]
    yield "Under 5, over 65, pregnant or weak at home", home
    yield "Way of feeding wanted", case.intake.way_of_feeding or "not said"
    yield "Meals a day", str(case.meals_per_day)


def _diagnoses(snapshot: Snapshot) -> Iterator[Block]:
    c = snapshot.parties.conventions
    named = {x.id: x for x in snapshot.targets.conditions}
    rows = [
        (
            named[d.id].name if d.id in named else d.name or d.id,
            named[d.id].stage if d.id in named else d.stage,
            when(c, d.since) or "–",
            d.by or "–",
        )
        for d in snapshot.case.conditions
    ]
    yield (
        table(("Condition", "Stage", "Since", "Made by"), rows)
        if rows
        else Words(text="None recorded.")
    )
    for without in snapshot.case.intake.unstaged:
        yield Words(
            lead=f"{without.name or without.id}:",
            text="named without its stage; it does not count before that is said.",
        )


# What the owner sees, as it is called on paper.
_NOTICED = (
    ("drinks", "Drinks or urinates more"), ("appetite", "How it eats"), ("chewing", "Teeth and chewing"),
    ("stool", "Stools"), ("vomiting", "Vomiting"), ("skin", "Scratching, licking, ears"),
    ("walks", "Walks and stairs"), ("breaths", "Breaths a minute, asleep"),
    ("extras", "Treats, chews and scraps"), ("since", "Eats this since, and what before"),
    ("pills_in", "Medicines are given in"),
)  # fmt: skip


def _noticed(case: CaseRecord) -> Iterator[Block]:
    told = [(name, getattr(case.intake.noticed, field)) for field, name in _NOTICED]
    rows = [(name, words) for name, words in told if words]
    yield table(("", ""), rows) if rows else Words(text="Not asked yet.")


def _reactions(case: CaseRecord) -> Iterator[Block]:
    yield from _asked(
        ("Food", "Form", "Tolerates", "What happened", "How sure"),
        [
            (
                r.food,
                r.form or "–",
                f"{r.tolerates} ({r.tolerates_said})" if r.tolerates_said else r.tolerates or "–",
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


def _diet(c: Conventions, case: CaseRecord, intake: FrozenIntake) -> Iterator[Block]:
    diet = case.intake.current_diet
    if not diet:
        yield Words(text="Not recorded.")
        return
    rows = [
        (
            d.name,
            f"{amount_words(c, d.amount)} {d.unit}".strip(),
            number(c, d.kcal_per_unit, 1),
            number(c, None if d.kcal_per_unit is None else d.amount * d.kcal_per_unit),
        )
        for d in diet
    ]
    yield table(("Food", "Amount", "kcal a unit", "kcal a day"), rows, figures=(2, 3))
    parts = []
    if intake.present.unknown_items:
        parts.append(f"without {intake.present.unknown_items} of unknown energy")
    if split := intake.present.shares:
        parts.append(
            f"from protein {share(c, split.protein)}, fat {share(c, split.fat)}, "
            f"carbohydrate {share(c, split.carbohydrate)}"
        )
    kcal = f"{number(c, intake.present.kcal)} kcal a day"
    yield (
        Words(lead=f"{kcal}:", text="; ".join(parts) + ".")
        if parts
        else Words(lead=f"{kcal}.", text="")
    )


def _energy(snapshot: Snapshot) -> Iterator[Block]:
    steps, c = snapshot.energy.steps, snapshot.parties.conventions
    yield table(
        ("", "How", "kcal a day"),
        [(s.label, told(c, s.formula), number(c, s.value)) for s in steps],
        figures=(2,),
    )
    if snapshot.case.energy_reason:
        yield Words(lead="Why:", text=sentence(snapshot.case.energy_reason))


def _weights(c: Conventions, case: CaseRecord) -> Iterator[Block]:
    rows = [(when(c, w.on), number(c, body_figure(c, w.kg), 2)) for w in case.intake.weights]
    yield (
        table(("Date", c.body.value), rows, figures=(1,))
        if rows
        else Words(text="None but today's.")
    )


def _vets(case: CaseRecord) -> Iterator[Block]:
    rows = [
        (v.name, v.role or "–", v.clinic or "–", v.contact or "–") for v in case.intake.vet_team
    ]
    yield (
        table(("Name", "Role", "Clinic", "Contact"), rows)
        if rows
        else Words(text="Nobody recorded: someone must be able to sign off.")
    )


def _owner(c: Conventions, case: CaseRecord) -> Iterator[Block]:
    means = case.intake.owner
    for lead, text in (
        ("Source:", means.source),
        ("Cook:", means.cook),
        ("Store:", means.store),
        ("Spend:", means.spend),
    ):
        yield Words(lead=lead, text=sentence(text) or "Not asked yet.")
    if means.costs_now is not None:
        yield Words(lead="Costs now:", text=f"{money(c, means.costs_now)} a day.")
    if means.fine_scale:
        yield Words(lead="Scale:", text="Shows tenths of a gram.")


def _red_flags(snapshot: Snapshot) -> Iterator[Block]:
    flags, c = snapshot.case.intake.red_flags, snapshot.parties.conventions
    if flags.present:
        said = f" Told: {flags.told or 'nobody recorded'}, {when(c, flags.on) or 'no date'}."
        cleared = f" Cleared by {flags.cleared_by or 'nobody named'}." if flags.cleared else ""
        state = cleared or " Not cleared: the vet must see the dog first."
        yield Words(lead="Seen:", text=sentence(flags.present) + said + state)
    for condition in snapshot.targets.conditions:
        if words := condition.words.get("red_flags", ""):
            yield Words(lead=f"{condition.name}:", text=told(c, f"call the vet at {words}."))
