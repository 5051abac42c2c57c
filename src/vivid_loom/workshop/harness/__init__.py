"""A harness as it is built: the tree of its branches, and how it is laid on a board."""
