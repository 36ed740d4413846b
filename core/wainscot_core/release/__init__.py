"""From a draft to a plan that may be fed: what must be settled first, who may settle it, and which state
follows which. No plan leaves the bench but by way of here."""
