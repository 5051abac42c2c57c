"""The why drawer and what is decided from it."""
