"""File formats, one module each, and the names of files that every system can keep."""
