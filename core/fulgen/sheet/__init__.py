"""Sheets: films laid out for the machine, and the order in which they are cut."""
