"""Readiness: what stands in the way of a good cut, and how to repair it."""
