"""What is wrong with a draft, and the edits that clear it."""
