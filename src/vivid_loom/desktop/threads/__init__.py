"""Stage Threads."""
