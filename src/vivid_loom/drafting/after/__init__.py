"""Readings of a finished draft: scenarios and proposals."""
