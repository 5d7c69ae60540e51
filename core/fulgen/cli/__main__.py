"""Runs one command: `python -m fulgen.cli`."""

from fulgen.cli import main

raise SystemExit(main())
