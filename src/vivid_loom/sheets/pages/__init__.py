"""Tables and drawings laid out as the pages of books."""
