"""The reference data, loaded once per process."""

from functools import lru_cache

from django.conf import settings
from wainscot_core.dossier.reference import Reference, load


@lru_cache(maxsize=1)
def reference() -> Reference:
    """Catalogue, composition matrix, standards, hazards."""
    return load(settings.REFERENCE_DIR)
