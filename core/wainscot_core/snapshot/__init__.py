"""What was computed, kept whole: a snapshot needs no library and no reference to be read again."""
