"""Wainscot's rules and computation: no Django, no HTTP, no clock, no hidden files."""
