"""Framing: places that frames offer for names, and the fit by which a name holds there.

Terms. A *frame* is material with *bands*: places for a name. The *edges* of a band are the material that the
name is to run into. The *fit* is the size and place at which a name overlaps these edges by a *depth*; *air*
is what stays free beside it. Everything is in mm, in the frame's own frame of reference, y down.
"""
