"""The reference data, loaded once per process."""

from functools import lru_cache

from django.conf import settings
from wainscot_core.dossier.reference import (
    Reference,
    load,
    load_glossary,
    load_library,
    load_soundness,
)
from wainscot_core.facts.glossary import Glossary
from wainscot_core.facts.soundness import Soundness, SoundnessRules, soundness


@lru_cache(maxsize=1)
def reference() -> Reference:
    """Catalogue, composition matrix, standards, hazards."""
    return load(settings.REFERENCE_DIR)


@lru_cache(maxsize=1)
def glossary() -> Glossary:
    """The words and their meanings."""
    return load_glossary(settings.REFERENCE_DIR)


@lru_cache(maxsize=1)
def soundness_rules() -> SoundnessRules:
    """What the food table is held to."""
    return load_soundness(settings.REFERENCE_DIR)


@lru_cache(maxsize=1)
def table_soundness() -> Soundness:
    """Every check over the food table, run once per process."""
    library = load_library(settings.REFERENCE_DIR, reference().catalogue)
    return soundness(library, soundness_rules())
