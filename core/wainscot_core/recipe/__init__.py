"""Lines of a recipe: amounts as people write them, grams, totals, proportions, the plan."""
