"""What weights and kcal say of a dog's energy: the constants of the model, and when another amount is proposed."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, kw_only=True)
class TissueRules:
    """Energy of a change of weight, kcal per kg. forbes: how much of it is fat; fat_at_5, fat_per_point, fat_least,
    fat_most: share of fat in the body by its condition; off: SD of what is not known, a share."""

    fat_kcal: float
    lean_kcal: float
    forbes: float
    fat_at_5: float
    fat_per_point: float
    fat_least: float
    fat_most: float
    off: float
    source: str

    def kcal_per_kg(self, body_condition: float) -> float:
        """kcal that a kg of change holds, at a condition of 1 to 9."""
        fat = self.fat_at_5 + self.fat_per_point * (body_condition - 5)
        fat = min(max(fat, self.fat_least), self.fat_most)
        part = fat / (fat + self.forbes * (1 - fat))
        return part * self.fat_kcal + (1 - part) * self.lean_kcal


@dataclass(frozen=True, kw_only=True)
class KcalChangeRules:
    """When another amount is proposed: the interval leaves what is fed by more than `beyond`, and the weight ran off its goal
    by more than off_goal_per_week for for_days; at most `most` at once, and nothing for hold_days after a change. path_*: the slowest
    and the fastest change a week, and what a weight may be off it. month, half_year: changes of weight, as shares, that the vet looks at first."""

    beyond: float
    off_goal_per_week: float
    for_days: int
    most: float
    round_kcal: float
    hold_days: int
    floor_rer_share: float
    loss_per_week: float
    gain_per_week: float
    low_need: float
    path_least: float
    path_most: float
    path_off: float
    month: float
    half_year: float
    source: str


@dataclass(frozen=True, kw_only=True)
class LearningRules:
    """The facts of reference/followup/weight.yaml. prior_by_activity: method of energy by activity; *_off: standard
    deviations, shares or of a logarithm; step_a_day: how likely a sudden change of the need is on a day."""

    tissue: TissueRules
    prior_by_activity: Mapping[str, str]
    prior_off: float
    weighed_off: float
    reported_off: float
    first_weight_off: float
    day_weight_off: float
    day_need_off: float
    not_logged_off: float
    gut_keeps: float
    gut_by_food: float
    gut_off: float
    gut_first: float
    weighing_off: float
    blunder_share: float
    blunder_off: float
    other_scale_off: float
    ask_beyond: float
    step_a_day: float
    step_off: float
    step_told_from: float
    kept: int
    learnt_half_width: float
    learnt_prior_left: float
    learnt_days: int
    widen: float
    z: float
    change: KcalChangeRules
    grown_months: int
    source: str


def read_learning(data: Mapping[str, Any]) -> LearningRules:
    """Build from the parsed reference/followup/weight.yaml."""
    tissue, fat, prior, step = data["tissue"], data["tissue"]["fat_share"], data["prior"], data["step"]  # fmt: skip
    gut, weighing, change, vet = data["gut"], data["weighing"], data["change"], data["vet"]
    return LearningRules(
        tissue=TissueRules(
            fat_kcal=float(tissue["fat_kcal_per_kg"]), lean_kcal=float(tissue["lean_kcal_per_kg"]),
            forbes=float(tissue["forbes"]), fat_at_5=float(fat["at_5"]),
            fat_per_point=float(fat["per_point"]), fat_least=float(fat["least"]),
            fat_most=float(fat["most"]), off=float(tissue["sd"]), source=tissue["source"],
        ),
        prior_by_activity=dict(prior["by_activity"]), prior_off=float(prior["sd"]),
        weighed_off=float(prior["weighed_intake_off"]),
        reported_off=float(prior["reported_intake_off"]),
        first_weight_off=float(prior["weight_off"]), day_weight_off=float(data["day"]["weight"]),
        day_need_off=float(data["day"]["need"]),
        not_logged_off=float(data["day"]["kcal_not_logged"]), gut_keeps=float(gut["keeps"]),
        gut_by_food=float(gut["by_food"]), gut_off=float(gut["sd"]), gut_first=float(gut["first"]),
        weighing_off=float(weighing["sd"]), blunder_share=float(weighing["blunder_share"]),
        blunder_off=float(weighing["blunder"]), other_scale_off=float(weighing["other_scale"]),
        ask_beyond=float(weighing["ask_beyond"]), step_a_day=float(step["a_day"]),
        step_off=float(step["sd"]), step_told_from=float(step["told_from"]), kept=int(step["kept"]),
        learnt_half_width=float(data["learnt"]["half_width"]),
        learnt_prior_left=float(data["learnt"]["prior_left"]),
        learnt_days=int(data["learnt"]["least_days"]), widen=float(data["widen"]),
        z=float(data["interval_z"]),
        change=KcalChangeRules(
            beyond=float(change["beyond"]), off_goal_per_week=float(change["off_goal_per_week"]),
            for_days=int(change["for_days"]), most=float(change["most"]),
            round_kcal=float(change["round_kcal"]), hold_days=int(change["hold_days"]),
            floor_rer_share=float(change["floor_rer_share"]),
            loss_per_week=float(change["loss_per_week"]),
            gain_per_week=float(change["gain_per_week"]), low_need=float(change["low_need"]),
            path_least=float(change["path"]["least"]), path_most=float(change["path"]["most"]),
            path_off=float(change["path"]["within"]),
            month=float(vet["month"]), half_year=float(vet["half_year"]), source=change["source"],
        ),
        grown_months=int(data["grown_months"]), source=data["source"],
    )  # fmt: skip
