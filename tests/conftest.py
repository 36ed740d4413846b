"""One profile for every generated example; the seeds are given on the command line."""

from hypothesis import settings

settings.register_profile("wainscot", deadline=None, database=None, print_blob=True)
settings.load_profile("wainscot")
