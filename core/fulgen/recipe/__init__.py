"""The recipe: the document a maker keeps, and what it comes to.

model      what a recipe may say, with its limits
versions   reading recipes of any version, and saying plainly what is wrong with one
evaluate   a recipe's outlines, pieces and measures
"""
