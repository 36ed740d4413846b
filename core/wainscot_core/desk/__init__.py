"""What is due today, of which dog, for whom and why."""
