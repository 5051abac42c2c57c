"""Stage Loads."""
