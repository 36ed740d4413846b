"""Places of a dog, and around it, where what is known of it stands."""

from enum import StrEnum


class DogPlace(StrEnum):
    """Where an answer stands: on the dog's body, or beside it (its bowl, kitchen and people)."""

    WHO = "who"
    SKIN = "skin"
    HEAD = "head"
    MOUTH = "mouth"
    GLANDS = "glands"
    HEART = "heart"
    MEDICINES = "medicines"
    BACK = "back"
    GUT = "gut"
    BLADDER = "bladder"
    LEGS = "legs"
    WEIGHT = "weight"
    BOWL = "bowl"
    KITCHEN = "kitchen"
    PEOPLE = "people"
