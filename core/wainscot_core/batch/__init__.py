"""One cooking of a recipe: how much of it, in what, for whom, and what becomes of it."""
