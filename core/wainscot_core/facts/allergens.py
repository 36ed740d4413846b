"""Find source groups a dog may react to in an ingredient statement."""

import re
from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class AllergenWords:
    """Patterns by source group."""

    groups: Mapping[str, re.Pattern[str]]

    @classmethod
    def from_data(cls, data: Mapping[str, str]) -> "AllergenWords":
        """Build from reference/library/allergens.yaml."""
        return cls({key: re.compile(pattern, re.I) for key, pattern in data.items()})

    def found_in(self, statement: str) -> dict[str, str]:
        """Groups named in a statement, with the word that names each."""
        found = {}
        for group, pattern in self.groups.items():
            match = pattern.search(statement)
            if match:
                found[group] = match[0]
        return found
