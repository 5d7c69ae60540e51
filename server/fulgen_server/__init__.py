"""The server: keeps designs, answers the workbench, and serves the built web app."""
