"""Adjust a recipe to its requirement set: the model, the passes, the impasses, the help.

`problem` says what is asked, `model` turns it into arrays, `solver` is the one place that knows
HiGHS, `passes` solves goal after goal, `impasse` finds what cannot hold together, `helpful`
prices the library, `proposal` puts the answer into words.
"""
