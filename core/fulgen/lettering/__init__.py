"""Lettering: from typed words to letters with outlines.

fontfile    a font file of any kind, checked, as plain sfnt bytes
faces       Face and Family: letters' outlines and what a face can do
catalogue   the families that ship with Fulgen
setting     how words are set, as a recipe keeps it
letters     what a maker decides about single letters
shaping     a line of text as a row of letters (HarfBuzz)
alternates  other shapes that a face offers for a letter
reshape     a letter's nodes changed by hand
stand_ins   shapes in place of letters and marks
bodies      which bits of a letter hang with the word, and which float
layout      rows as lines, at the size a maker measures
"""
