"""The owner's address to cook by."""

from records.links import found_by

from .models import CookLink


def cook_link_of(token: str) -> CookLink:
    """The link of an address. Raises as records.links.found_by, and InputError for a batch that was thrown away."""
    return found_by(
        CookLink, token, "batch__recipe__case__dog__client__practice",
        "batch__recipe__case__practice", "batch__release_version",
    )  # fmt: skip
