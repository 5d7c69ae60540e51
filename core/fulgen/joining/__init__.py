"""Joining: where letters meet, how well, and how to make them meet better.

Terms, with a word seen from its side:

        left letter          right letter
            ___  ‥‥‥‥‥ notch: the sharp bay where two outlines cross
           /   \\__/|
          | left  X| |‥ stub: what sticks out past the far side
           \\___/ /\\|
                neck: the largest disc that passes from one side to the other

A *seam* is two neighbours as they stand: a gap, or a neck and what disfigures it. A *mark* is a dot or an
accent that a letter has by nature. A *bar* is a straight bridge: a tie, or one laid by hand.

Everything here is in shares of the face's size (the em) unless a name says mm, so that what was
worked out for a pair of letters holds at every size and in every word.
"""
