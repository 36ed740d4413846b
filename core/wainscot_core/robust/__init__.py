"""Whether a diet survives a kitchen: what is left out or measured wrong, and what a table does not know."""
