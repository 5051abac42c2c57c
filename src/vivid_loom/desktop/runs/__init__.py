"""Stage Runs."""
