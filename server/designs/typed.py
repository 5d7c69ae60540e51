"""What people type for names, kept on one line."""


def one_line(text: str, most: int) -> str:
    """A text on one line, without signs that cannot be seen, of so many letters at most."""
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())[:most]
