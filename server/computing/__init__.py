"""Work that is done by processes of its own: who computes what, and when it is ended. Nothing of Django."""
