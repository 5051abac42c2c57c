"""Proving what was built: ringing out, pull tests, making alive, the log; and its devices."""
