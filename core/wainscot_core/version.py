"""The program's own version, which every snapshot names."""

VERSION = "0.1.0"
