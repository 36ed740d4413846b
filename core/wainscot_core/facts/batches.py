"""What a batch is cooked in, how it is weighed, kept and frozen."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, kw_only=True)
class Vessel:
    """What food is cooked or mixed in. holds_g: mixed food that it takes; with_dry_g: the same where grain or pulses
    swell in it."""

    id: str
    name: str
    litres: float
    holds_g: float
    with_dry_g: float


@dataclass(frozen=True, kw_only=True)
class Cover:
    """How a vessel is covered, and the water that it loses: g an hour, or a share of what is in it in half an hour; low
    and high. own_time: all that is in it cooks as long as it runs."""

    id: str
    name: str
    g_per_hour: tuple[float, float]
    share_per_half_hour: tuple[float, float]
    own_time: bool = False


@dataclass(frozen=True, kw_only=True)
class FreezeShape:
    """What food is frozen in, and the share of a freezer's litres that it fills."""

    id: str
    name: str
    share: float


@dataclass(frozen=True, kw_only=True)
class Density:
    """g per ml of a kind of finished food: usual, low, high."""

    id: str
    name: str
    g_per_ml: float
    low: float
    high: float


@dataclass(frozen=True, kw_only=True)
class KeepRules:
    """How long and where food is kept. kg_per_litre: of frozen food; fridge_share: of a fridge's litres that is filled."""

    fridge_days: int
    longest_days: int
    longest_oily_days: int
    kg_per_litre: float
    fridge_share: float
    shapes: Mapping[str, FreezeShape]
    kg_a_day_per_100_l: float
    freeze_words: str


@dataclass(frozen=True, kw_only=True)
class BatchRules:
    """The facts of reference/kitchen/batches.yaml. brim: share of what a vessel holds beyond which it is full; juice: of
    flesh with its broth kept, what can boil away at most; well_steps, least_steps: of a scale, for an amount to be
    weighed well, or at all; pack_within: by how much a batch is changed for whole packs; residue: share of a meal
    under which what is left over is spread; off_beyond: how far the finished weight may be off."""

    source: str
    vessels: Mapping[str, Vessel]
    brim: float
    covers: Mapping[str, Cover]
    juice: float
    uptake_off: float
    well_steps: float
    least_steps: float
    stock: str
    pack_within: float
    keep: KeepRules
    densities: Mapping[str, Density]
    close: float
    healthy: float
    residue: float
    off_beyond: float


def read_batch_rules(data: Mapping[str, Any]) -> BatchRules:
    """Build from the parsed reference/kitchen/batches.yaml."""
    keep, portion = data["keep"], data["portion"]
    return BatchRules(
        source=data["source"],
        vessels={v["id"]: _vessel(v) for v in data["vessels"]},
        brim=float(data["brim"]),
        covers={c["id"]: _cover(c) for c in data["covers"]},
        juice=float(data["juice"]), uptake_off=float(data["uptake_off"]),
        well_steps=float(data["weigh"]["well_steps"]),
        least_steps=float(data["weigh"]["least_steps"]), stock=data["weigh"]["stock"],
        pack_within=float(data["packs"]["within"]),
        keep=KeepRules(
            fridge_days=int(keep["fridge_days"]), longest_days=int(keep["longest_days"]),
            longest_oily_days=int(keep["longest_oily_days"]),
            kg_per_litre=float(keep["kg_per_litre"]), fridge_share=float(keep["fridge_share"]),
            shapes={
                s["id"]: FreezeShape(id=s["id"], name=s["name"], share=float(s["share"]))
                for s in keep["shapes"]
            },
            kg_a_day_per_100_l=float(keep["kg_a_day_per_100_l"]),
            freeze_words=keep["freeze_words"],
        ),
        densities={
            d["id"]: Density(
                id=d["id"], name=d["name"], g_per_ml=float(d["g_per_ml"]),
                low=float(d["low"]), high=float(d["high"]),
            )
            for d in data["density"]
        },
        close=float(portion["close"]), healthy=float(portion["healthy"]),
        residue=float(portion["residue"]), off_beyond=float(data["off_beyond"]),
    )  # fmt: skip


def _vessel(entry: Mapping[str, Any]) -> Vessel:
    holds = float(entry["holds_kg"]) * 1000
    dry = float(entry["with_dry_kg"]) * 1000 if "with_dry_kg" in entry else holds
    return Vessel(
        id=entry["id"], name=entry["name"], litres=float(entry["litres"]), holds_g=holds, with_dry_g=dry
    )  # fmt: skip


def _cover(entry: Mapping[str, Any]) -> Cover:
    low, high = entry.get("kg_per_hour", (0.0, 0.0))
    share_low, share_high = entry.get("share_per_half_hour", (0.0, 0.0))
    return Cover(
        id=entry["id"], name=entry["name"], g_per_hour=(low * 1000.0, high * 1000.0),
        share_per_half_hour=(float(share_low), float(share_high)),
        own_time=entry.get("own_time", False),
    )  # fmt: skip
