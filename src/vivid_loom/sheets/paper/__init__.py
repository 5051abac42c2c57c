"""The display list, tables and pages, and what renders them: paper, screen, files."""
