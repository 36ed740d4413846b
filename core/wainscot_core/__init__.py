"""Wainscot's rules and computation: no Django, no HTTP, no clock, no hidden files."""

import os

# Matrices are small here: threads that share the work of one would only wait for each other, and on a busy machine for
# everybody else. Read when numpy is first imported, which only what is in here does.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
