"""A recipe in a kitchen: what is cooked, what goes in when it is cool, how it is kept."""
