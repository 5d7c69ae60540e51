"""Cutters and the lines to them: the simulated one, and machines of the shop's own. Nothing of Django."""
