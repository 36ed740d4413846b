"""The demo practice's shelf: made-up products, for what only a shelf can show."""

from pathlib import Path
from typing import Any

import yaml

_DEMO = (
    Path(__file__).parents[2]
    / "server"
    / "followup"
    / "management"
    / "commands"
    / "demo_practice.yaml"
)

SHELF: list[dict[str, Any]] = yaml.safe_load(_DEMO.read_text(encoding="utf-8"))["shelf"]
PREMIX, PREMIX_LOW_P = (item["id"] for item in SHELF)
