"""Readings of a finished draft: what lies in each run, scenarios, proposals."""
