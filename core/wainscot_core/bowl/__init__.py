"""What may be in this dog's bowl: reactions, trials, hazards, sourcing."""
