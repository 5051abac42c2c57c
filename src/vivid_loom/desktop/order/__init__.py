"""Stage Order."""
