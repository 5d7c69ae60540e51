"""The recipe: the document a maker keeps, and what it comes to.

model      what a recipe may say, with its limits
versions   reading recipes of any version, and saying plainly what is wrong with one
graph      which parts have to be made before which
evaluate   a recipe's outlines, pieces and measures
changes    from one recipe to another: what remedies are made of
"""
