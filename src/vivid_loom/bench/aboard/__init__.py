"""Aboard: the list by which a boat is made alive, and what the readings mean."""
