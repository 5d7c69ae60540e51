"""Closed curves: what they are, how they are measured, welded, changed and checked.

The curves give the shape, the polygon engine (GEOS) decides what is covered. Lengths are in mm and y is down;
outer contours wind positive, holes negative.
"""
