"""A recipe in words becomes lines: amounts, foods, what was guessed, and what is no ingredient."""
