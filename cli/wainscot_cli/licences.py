"""Under what terms the parts of Wainscot are used that are not its own, with their texts: it ships with the application."""

import hashlib
import json
import re
import textwrap
from collections.abc import Iterator
from dataclasses import dataclass
from importlib.metadata import Distribution, distribution
from pathlib import Path
from typing import Any

from .paths import ROOT, SERVER, WEB

SHIPPED = WEB / "public" / "licences.txt"
_A_TEXT = re.compile(r"(licen[cs]e|copying|notice|ofl)", re.IGNORECASE)
_A_PIN = re.compile(r"^([A-Za-z0-9_.\-]+)(?:\[[^\]]*\])?==(\S+)", re.MULTILINE)
WIDTH = 110
# What a package says only in the words of its classifiers, by its SPDX name.
_CLASSIFIED = {
    "MIT License": "MIT", "BSD License": "BSD-3-Clause", "Zope Public License": "ZPL-2.1",
    "GNU Library or Lesser General Public License (LGPL)": "LGPL-3.0-or-later",
}  # fmt: skip
# What a package says in words of its own.
_SAID = {"Apache-2.0": "Apache-2.0", "BSD 3-Clause OR Apache-2.0": "BSD-3-Clause OR Apache-2.0"}


@dataclass(frozen=True)
class Part:
    """Something of others in Wainscot. licence: SPDX expression; texts: as they came with it."""

    kind: str
    name: str
    version: str
    licence: str
    texts: tuple[str, ...]


def parts() -> tuple[Part, ...]:
    """Everything that ships: Python packages, what the browser loads, fonts. Raises ValueError for one without a licence."""
    return (*_python(), *_web(), *_fonts())


def _python() -> Iterator[Part]:
    for name, version in _A_PIN.findall((ROOT / "requirements" / "runtime.txt").read_text()):
        found = distribution(name)
        files = [f for f in found.files or () if _A_TEXT.search(f.name) and f.suffix != ".py"]
        texts = tuple(Path(str(f.locate())).read_text(errors="replace") for f in sorted(files))
        yield Part("Python", name, version, _licence(found), texts)


def _licence(of: Distribution) -> str:
    # A message of an e-mail, of which the published type tells less than it can.
    data: Any = of.metadata
    expression, said = data.get("License-Expression"), data.get("License", "").strip()
    classified = [
        _CLASSIFIED[last]
        for c in data.get_all("Classifier") or ()
        if c.startswith("License ::") and (last := c.rpartition(" :: ")[2]) in _CLASSIFIED
    ]
    found = expression or next(iter(classified), None) or _SAID.get(said)
    if not found and said in {"MIT", "BSD-3-Clause", "MIT License"}:
        found = said.removesuffix(" License")
    if not found:
        raise ValueError(f"{data['Name']} says its licence in no way that is known: {said!r}")
    return found


def _web() -> Iterator[Part]:
    locked = json.loads((WEB / "package-lock.json").read_text())["packages"]
    for path, entry in sorted(locked.items()):
        if not path or entry.get("dev") or entry.get("devOptional"):
            continue
        folder = WEB / path
        files = [f for f in folder.iterdir() if f.is_file() and _A_TEXT.match(f.name)]
        texts = tuple(f.read_text(errors="replace") for f in sorted(files))
        name = path.rpartition("node_modules/")[2]
        if not entry.get("license"):
            raise ValueError(f"{name} names no licence")
        yield Part("Browser", name, entry["version"], entry["license"], texts)


def _fonts() -> Iterator[Part]:
    for path in sorted((SERVER / "records" / "fonts").glob("LICENSE-*.txt")):
        name = path.stem.removeprefix("LICENSE-")
        yield Part("Font", name, "", "OFL-1.1", (path.read_text(),))


def document() -> str:
    """The list, and every text once."""
    found = parts()
    lines = [
        "What is in Wainscot that others made, and under what terms",
        "Written by ./wainscot generate from the packages themselves.",
        "",
    ]
    texts: dict[str, tuple[str, list[str]]] = {}
    for part in found:
        marks = []
        for text in part.texts:
            # The same words in other lines are the same text.
            key = hashlib.sha256(" ".join(text.split()).encode()).hexdigest()
            number = list(texts).index(key) + 1 if key in texts else len(texts) + 1
            texts.setdefault(key, (text, []))[1].append(part.name)
            marks.append(str(number))
        told = f"text {', '.join(dict.fromkeys(marks))}" if marks else "no text in its package"
        label = f"{part.name} {part.version}".strip()
        lines.append(f"{part.kind:<8} {label:<46} {part.licence:<32} {told}".rstrip())
    for number, (text, names) in enumerate(texts.values(), 1):
        lines += ["", "=" * WIDTH, f"Text {number}, of {_listed(names)}", "=" * WIDTH, ""]
        lines += [wrapped for line in text.splitlines() for wrapped in _wrapped(line)]
    return "\n".join(lines).rstrip() + "\n"


def _listed(names: list[str]) -> str:
    return "\n".join(textwrap.wrap(", ".join(dict.fromkeys(names)), WIDTH - 10))


def _wrapped(line: str) -> list[str]:
    plain = line.replace("\f", "").rstrip()
    if len(plain) <= WIDTH:
        return [plain]
    indent = plain[: len(plain) - len(plain.lstrip())]
    return textwrap.wrap(
        plain, WIDTH, subsequent_indent=indent, break_long_words=False, break_on_hyphens=False
    )
