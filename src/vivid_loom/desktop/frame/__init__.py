"""The window around the stages: rail, head line, keel strip, finder, findings, files."""
