"""Facts with their sources, and what follows from a fact alone: foods, nutrients, supplements,
allergens, hazards, medicines, preparations, labels, the rules of formulation as data."""
