"""How an elimination trial is run and read: reference/followup/trial.yaml."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any


class TrialKind(StrEnum):
    """What the trial is to settle."""

    SKIN = "skin"
    GUT = "gut"


@dataclass(frozen=True, kw_only=True)
class LengthRules:
    """Days of a trial. again: before it is read once more after a partial answer; item: that one food is tried."""

    least_days: int
    most_days: int
    again_days: int
    item_days: int


@dataclass(frozen=True, kw_only=True)
class FlareRules:
    """What is a flare, against the week before the challenge: itch up by itch_up on itch_days of itch_of_days; a stool of
    stool_once, or of stool_twice twice where it was at most stool_up_from."""

    itch_up: float
    itch_days: int
    itch_of_days: int
    stool_once: int
    stool_twice: int
    stool_up_from: float
    vomiting_in_week: int
    source: str


@dataclass(frozen=True, kw_only=True)
class RedFlagRules:
    """What of a day is for the veterinarian at once."""

    itch: float
    itch_days: int
    stool: int
    vomiting_a_day: int
    appetite_under: float
    breaths_over: int
    breaths_times: int
    recent_days: int
    source: str


@dataclass(frozen=True, kw_only=True)
class SkinRules:
    """The answer of the skin, by the mean of itch: falls as shares."""

    response_fall: float
    partial_fall: float
    well_under: float
    source: str


@dataclass(frozen=True, kw_only=True)
class GutRules:
    """The answer of the gut: mean of stool, of stools a day, of vomiting a week."""

    well_stool: float
    stools_fall: float
    usual_stools: float
    usual_vomiting: float
    vomiting_fall: float
    source: str


@dataclass(frozen=True, kw_only=True)
class TrialRules:
    """The facts of reference/followup/trial.yaml; days are whole days."""

    mean_days: int
    mean_least: int
    baseline_days: int
    baseline_logged: int
    quiet_days: int
    lengths: Mapping[TrialKind, LengthRules]
    never_before_days: int
    wash_days: int
    signs_within_days: int
    most_exposures: int
    exposures_in_days: int
    skin: SkinRules
    gut: GutRules
    rechallenge_days: int
    washout_days: int
    clear_within: float
    slow_days: int
    flare: FlareRules
    red_flags: RedFlagRules
    source: str


def read_trials(data: Mapping[str, Any]) -> TrialRules:
    """Build from the parsed reference/followup/trial.yaml."""
    log, base, again, exposure = data["log"], data["baseline"], data["rechallenge"], data["exposure"]  # fmt: skip
    lengths = {
        kind: LengthRules(**data["trial"][kind.value], item_days=int(again["item_days"][kind.value]))
        for kind in TrialKind
    }  # fmt: skip
    return TrialRules(
        mean_days=int(log["days"]), mean_least=int(log["least"]),
        baseline_days=int(base["least_days"]), baseline_logged=int(base["least_logged"]),
        quiet_days=int(base["quiet_days"]), lengths=lengths,
        never_before_days=int(data["trial"]["never_before_days"]), wash_days=int(data["wash_days"]),
        signs_within_days=int(exposure["signs_within_days"]),
        most_exposures=int(exposure["most"]), exposures_in_days=int(exposure["in_days"]),
        skin=SkinRules(**data["skin"]), gut=GutRules(**data["gut"]),
        rechallenge_days=int(again["most_days"]), washout_days=int(again["washout_days"]),
        clear_within=float(again["clear_within"]), slow_days=int(again["slow_days"]),
        flare=FlareRules(**data["flare"]), red_flags=RedFlagRules(**data["red_flags"]),
        source=data["source"],
    )  # fmt: skip
