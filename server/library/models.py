"""The search index is a pair of FTS5 tables (see search.py); this row says what it was built from."""

from django.db import models


class IndexState(models.Model):
    """Fingerprint of the reference data that the search index holds."""

    fingerprint = models.CharField(max_length=64)

    def __str__(self) -> str:
        return self.fingerprint
