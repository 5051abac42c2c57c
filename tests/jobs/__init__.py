"""Whole boats, built in the window from nothing as a wiring engineer would, their steps counted."""
