"""Commands of the server: the demo shop loaded, and descriptions written."""
