"""From typed words to letters with outlines: faces, shaping, layout, and what is changed of single
letters."""
