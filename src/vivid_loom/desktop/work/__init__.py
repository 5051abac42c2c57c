"""The order being worked on, and work off the GUI thread."""
