"""Lettering: from typed words to letters with outlines.

fontfile   a font file of any kind, checked, as plain sfnt bytes
faces      Face and Family: letters' outlines and what a face can do
catalogue  the families that ship with Fulgen
shaping    a line of text as a row of letters (HarfBuzz)
layout     rows as lines on the work, at the size a maker measures
"""
