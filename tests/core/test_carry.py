"""A dossier that goes to another process is the same there."""

import pickle
from dataclasses import replace

import pytest
from stews import dossier
from wainscot_core.analysis.analyse import analyse
from wainscot_core.dossier.carry import packed, unpacked
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError


def test_what_arrives_stands_on_the_facts_that_are_there(facts: Reference) -> None:
    sent = dossier(facts)
    got = unpacked(packed(sent, facts), facts)
    assert got.reference is facts and got.library.catalogue is facts.catalogue
    assert all(a is b for a, b in zip(got.library.foods, sent.library.foods, strict=True))
    assert analyse(got) == analyse(sent)


def test_it_is_less_than_half_of_what_it_would_be(facts: Reference) -> None:
    sent = dossier(facts)
    assert len(packed(sent, facts)) * 2 < len(pickle.dumps(sent))


def test_facts_that_differ_are_not_mixed(facts: Reference) -> None:
    sent = packed(dossier(facts), facts)
    with pytest.raises(InputError, match="reference data were changed"):
        unpacked(sent, replace(facts, fingerprint="0" * 64))


def test_an_error_that_can_be_mended_arrives_whole() -> None:
    got = pickle.loads(pickle.dumps(InputError("recipe.lines[2].grams", "is missing: give it")))  # noqa: S301
    assert (type(got), got.field, got.message) == (
        InputError, "recipe.lines[2].grams", "is missing: give it",
    )  # fmt: skip
