"""A dog's facts as they are written for a reader."""

from ..conventions import Conventions, body_weight, day, number
from .record import DogRecord, Muscle, Sex

MONTHS_UNTIL_YEARS = 24


def weight_words(c: Conventions, kg: float, typed: str) -> str:
    """A weight, with how it was told where that is in another unit."""
    said = body_weight(c, kg)
    return said if not typed or typed.endswith(c.body.value) else f"{said}, told as {typed}"


def age_words(c: Conventions, dog: DogRecord) -> str:
    """An age: in months until two years, and the day of birth where it is known."""
    born = f", born {day(c, dog.birth_date)}" if dog.birth_date else ""
    if dog.age_months is None:
        return f"not known{born}"
    if dog.age_months < MONTHS_UNTIL_YEARS:
        return f"{dog.age_months} months{born}"
    years, months = divmod(dog.age_months, 12)
    rest = "" if not months else f" {months} month" + ("s" if months > 1 else "")
    return f"{years} years{rest}{born}"


def amount_words(c: Conventions, amount: float) -> str:
    """An amount with the decimals it has."""
    return number(c, amount, len(f"{amount:g}".partition(".")[2]))


def sex_words(dog: DogRecord) -> str:
    """Sex, and whether it is neutered."""
    if dog.sex is Sex.UNKNOWN and dog.neutered is None:
        return "not known"
    altered = {True: "neutered", False: "entire", None: "neutering not known"}[dog.neutered]
    return f"{dog.sex}, {altered}"


def muscle_words(muscle: Muscle) -> str:
    """How much muscle is lost."""
    if muscle is Muscle.UNSCORED:
        return "not scored"
    return "normal" if muscle is Muscle.NORMAL else f"{muscle.value} loss"
