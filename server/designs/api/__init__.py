"""The API, a router for each noun.

designs      kept on the shelf: the only calls that keep anything
evaluations  what a recipe comes to, its seams, and its files
building     shapes to choose from, what operations would leave, and edges to point at
artwork      drawings read from files
findings     what the check finds, and remedies
ready        what making ready does, and what stands at the gate
bars, letters, touch_ups   what is laid and changed on the work by hand
cutting      sheets, files, tickets, and jobs made ready
jobs         the cutter, and what it is sent
shop         machines, and notes on pressing
faces, shapes, materials   what there is to choose from

Calls about the work keep nothing: the browser sends the whole recipe. Places are on the work, never mirrored:
that is for the view.
"""
