"""The interview as it looks from outside: to the practice, and to the owner who fills her sheet in."""

from dataclasses import dataclass
from datetime import datetime

from accounts.conventions import ConventionsView, conventions_view
from cases.models import Case
from cases.queries import conventions_for
from cases.records import record_of
from library.facts import reference
from wainscot_core.boundary import read
from wainscot_core.case.intake_view import IntakeView, intake_view
from wainscot_core.dog.told import Chosen, OwnersAnswer, Piece, choices_of, piece_of

from .models import SentSheet


@dataclass(frozen=True, kw_only=True)
class SentPiece(Piece):
    """An answer of a sheet. settled: taken, left, or "" while it waits."""

    settled: str


@dataclass(frozen=True, kw_only=True)
class SentSheetView:
    """A sheet as the owner sent it."""

    id: int
    at: datetime
    pieces: tuple[SentPiece, ...]


@dataclass(frozen=True, kw_only=True)
class SheetQuestion:
    """A question as the owner reads it. chosen: what can be chosen instead of words; plain: it is answered by choice alone."""

    id: str
    place: str
    ask: str
    hint: str
    chosen: tuple[Chosen, ...]
    plain: bool


@dataclass(frozen=True, kw_only=True)
class OwnersSheetView:
    """The sheet as the owner sees it. sent: when she sent the last one, None before."""

    dog: str
    practice: str
    owner: str
    sent: datetime | None
    questions: tuple[SheetQuestion, ...]
    conventions: ConventionsView


def sheets_of(case: Case) -> tuple[SentSheetView, ...]:
    """The sheets that were sent for a case, the oldest first. What is not asked any more stands as it was sent."""
    record, c = record_of(case), conventions_for(case.dog.client)
    asked = {x.id: x for x in reference().owners_sheet}
    return tuple(
        SentSheetView(
            id=row.pk,
            at=row.created,
            pieces=tuple(
                SentPiece(
                    **vars(piece_of(asked[x.id], x, record, c)), settled=row.settled.get(x.id, "")
                )
                for x in (read(OwnersAnswer, answer) for answer in row.answers)
                if x.id in asked
            ),
        )
        for row in SentSheet.objects.for_practice(case.practice).filter(case=case)
    )


def intake_of(case: Case) -> IntakeView:
    """The intake of a case, with the owner's words that wait."""
    waiting = [
        (piece.at, piece.field, f"{piece.what}: {piece.says}")
        for sheet in sheets_of(case)
        for piece in sheet.pieces
        if not piece.settled
    ]
    return intake_view(reference(), record_of(case), conventions_for(case.dog.client), waiting)


def owners_sheet(case: Case) -> OwnersSheetView:
    """The sheet for its owner: nothing of the record goes out with it."""
    facts = reference()
    last = SentSheet.objects.for_practice(case.practice).filter(case=case).last()
    return OwnersSheetView(
        dog=case.dog.name,
        practice=case.practice.name,
        owner=case.dog.client.name,
        sent=None if last is None else last.created,
        questions=tuple(
            SheetQuestion(
                id=x.id, place=facts.intake.places[x.at], ask=x.ask, hint=x.hint,
                chosen=choices_of(x), plain=Chosen.YES in choices_of(x),
            )
            for x in facts.owners_sheet
        ),
        conventions=conventions_view(conventions_for(case.dog.client)),
    )  # fmt: skip
