"""File formats, one module each.

svg    Scalable Vector Graphics 2 (W3C)
names  names of files that every system can keep
"""
