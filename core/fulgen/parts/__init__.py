"""What a design is made of: one module for each kind of part, and the list of them (`kinds`).

A part says what other parts it needs, and is built from them in a frame of its own (`built_part`). Where it
then lies is its placement, and what it is cut from its film; building it knows neither.
"""
