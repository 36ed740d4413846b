"""Read by the process that computing processes are born of: they find the facts there and share their memory."""

import gc

from library.facts import reference

from . import work as work

reference()
gc.freeze()
