"""What happened after a plan was issued, and what follows from it."""
