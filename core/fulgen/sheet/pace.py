"""How fast a carriage goes. No numpy here: the simulated machine is a small process."""

LIFTED_TIMES = 4.0
"""A carriage goes so many times as fast with its tool up. (†)"""
