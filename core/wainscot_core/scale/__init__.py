"""Scales: one small interface for all of them, a simulated one that stands in for a real one, and what is believed of
what they say."""
