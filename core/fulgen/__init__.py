"""Fulgen's core: typed lettering turned into outlines a craft cutter can follow.

The rules and the computation live here, without Django, HTTP or a browser. Lengths are
millimetres and y points down, unless a name says otherwise.
"""

__version__ = "0.1.0"
