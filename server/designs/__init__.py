"""Designs: kept, listed, evaluated and saved as files."""
