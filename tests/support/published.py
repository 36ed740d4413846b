"""The published schema, as requests are made up from it."""

from pathlib import Path

import schemathesis
import yaml
from schemathesis import BaseSchema, GenerationMode

RAW = yaml.safe_load(
    (Path(__file__).resolve().parents[2] / "docs" / "formats" / "openapi.yaml").read_text()
)


def schema(*modes: GenerationMode) -> BaseSchema:
    """The schema, of which good requests are made up, bad ones, or both."""
    made = schemathesis.openapi.from_dict(RAW)
    made.config.generation.update(modes=list(modes))
    return made


# Devices are tested by themselves; a practice's file is written beside the requests, not within a test's transaction.
APART = {p for p in RAW["paths"] if "/scales/" in p} | {"/api/practice/records"}
# Refusals of everybody: of whom is not let in, of what is too much, of a method.
REFUSALS = frozenset({400, 403, 404, 405, 413, 415, 429})


def allowed(path: str, method: str) -> set[int]:
    """The statuses an operation may answer with."""
    told = RAW["paths"][path][method]["responses"]
    return {int(s) for s in told if s.isdigit()} | REFUSALS
