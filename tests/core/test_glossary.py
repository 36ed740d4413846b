"""Every word of the glossary can be shown, and means one thing."""

from pathlib import Path

import pytest
from wainscot_core.dossier.reference import load_glossary
from wainscot_core.facts.glossary import Glossary

REFERENCE = Path(__file__).parents[2] / "reference"
ROW = {"id": "rer", "group": "energy", "term": "RER", "says": "What a dog needs at rest."}


def read(*rows: dict[str, str]) -> Glossary:
    return Glossary.from_data({"groups": {"energy": "Energy"}, "terms": list(rows)})


def test_the_words_that_the_pages_ask_for_are_there_and_are_sentences() -> None:
    glossary = load_glossary(REFERENCE)
    assert {"rer", "mer", "me", "bcs", "as-fed", "dry-matter", "safe-limit", "unproven"} <= {
        term.id for term in glossary.terms
    }
    for term in glossary.terms:
        assert term.says.endswith("."), term.id
        assert not term.more or term.more.endswith("."), term.id
    # No group stands empty.
    assert {term.group for term in glossary.terms} == {group.id for group in glossary.groups}


def test_a_word_with_two_meanings_is_refused() -> None:
    with pytest.raises(ValueError, match="there twice: RER"):
        read(ROW, {**ROW, "id": "other"})
    with pytest.raises(ValueError, match="there twice: rer"):
        read(ROW, {**ROW, "term": "Resting"})


def test_a_word_in_no_group_is_refused() -> None:
    with pytest.raises(ValueError, match="rer is in no group"):
        read({**ROW, "group": "dogs"})
