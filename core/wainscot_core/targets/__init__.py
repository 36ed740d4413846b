"""What a recipe is held against: standards, conditions, safe limits, and their merger."""
