"""The command line: the same core, for people who script it.

parser     the options
recipes    from options to a recipe
writing    letter, frame, build, pattern, import
checking   check
cutting    cut, simulate
libraries  faces, frames, shapes
output     files written whole or not at all, exit codes, words for figures
run        runs a command, and says in one line what went wrong
"""

from fulgen.cli.run import main

__all__ = ["main"]
