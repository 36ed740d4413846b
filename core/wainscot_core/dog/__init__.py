"""The dog: what is recorded of it, its energy, weight, life stage, intake."""
