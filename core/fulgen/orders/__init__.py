"""Orders: a design and a list of names, worked out row by row, laid on sheets together and handed out.

A *field* is what a row may say otherwise than the design: the words of a lettering, its film, face or size,
and how many are cut. A row *gives way* where it cannot be made as the design is, by what the order allows.
"""
