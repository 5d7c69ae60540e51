"""Joining: where letters meet, how well, and how to make them meet better.

Terms, with a word seen from its side:

        left letter          right letter
            ___  ‥‥‥‥‥ notch: the sharp bay where two outlines cross
           /   \\__/|
          | left  X| |‥ stub: what sticks out past the far side
           \\___/ /\\|
                neck: the largest disc that passes from one side to the other

seam      two neighbours as they stand: gap or neck, and what disfigures them
necks     the neck: the bottleneck between two sides of a welded shape
reaches   a stroke end lengthened into its neighbour, and bridges
solve     the smallest disturbance that gives two neighbours the neck asked for
words     a whole line: who is whose neighbour, where each letter goes, what is added and taken off
smooth    notches at seams rounded by a radius, curves kept
marks     dots and accents kept, lowered or tied
bars      bridges laid by hand, ties of what is loose, underlines
rating    how a face joins at its natural spacing
wishes    what a maker wishes of joints
materials what materials hold
anchors   places on parts that things hold to

Everything here is in shares of the face's size (the em) unless a name says mm, so that what was
worked out for a pair of letters holds at every size and in every word.
"""
