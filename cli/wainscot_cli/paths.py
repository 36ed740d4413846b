"""Where things are in a checkout."""

from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
REFERENCE = ROOT / "reference"
SERVER = ROOT / "server"
WEB = ROOT / "web"
