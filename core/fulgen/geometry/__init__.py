"""Closed curves: what they are, how they are measured, welded and checked.

outline   the Outline value and how it is walked and moved
measure   area, box, length and nodes of an outline, from its curves
flatten   an outline as rings of short straight lines, for the polygon engine
nesting   which contour lies inside which: pieces and holes
curves    the curve engine (keeps Béziers)
polygons  the polygon engine (checks the curve engine)
weld      the two engines together: the outline of everything that overlaps
"""
