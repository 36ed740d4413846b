"""The work around a case: what is charged, when one meets, and texts that are written again and again."""
