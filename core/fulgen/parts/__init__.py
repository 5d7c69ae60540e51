"""What a design is made of: one module for each kind of part.

made       what every part comes to: its shapes, and the places on it that things can be anchored to
lettering  live text, joined
seams      where letters of a part meet, in figures and words
touchups   repairs of a welded outline, replayed after every change

A kind of part says what other parts it needs, and makes from them a Made in its own frame; where that lies on
the work is the part's placement, and what film it is cut from its film, neither of which the making knows.
"""
