"""What the pages of a case show: energy, intake, targets."""
