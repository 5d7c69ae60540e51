"""Orders: lists of names made from a design, worked out by a queue, laid on sheets and cut."""
