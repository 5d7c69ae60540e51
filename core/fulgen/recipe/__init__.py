"""The recipe: the document a maker keeps, its versions, and what it comes to."""
