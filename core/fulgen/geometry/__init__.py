"""Closed curves: what they are, how they are measured, welded, changed and checked.

outline    the Outline value and how it is walked and moved
placement  from one frame to the frame around it, and back
bezier     cubic curves: points, tangents, parts
pen        drawings taken down as outlines
measure    area, box, length and nodes of an outline, from its curves
flatten    an outline as rings of short straight lines, for the polygon engine
groups     what hangs together (union-find)
nesting    which contour lies inside which: pieces and holes
curves     the curve engine (keeps Béziers)
polygons   the polygon engine (checks the curve engine)
weld       the two engines together: the outline of everything that overlaps
pieces     what comes off the sheet
offset     grown or shrunk by an exact distance
fillet     sharp bays rounded
thin       where a disc of a given width cannot get into
nodes      an outline as nodes to be worked on by hand
fit        one smooth curve through many points
"""
