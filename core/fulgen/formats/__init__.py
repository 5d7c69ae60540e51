"""File formats, one module each.

svg   Scalable Vector Graphics 2 (W3C)
"""
