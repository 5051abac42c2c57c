"""The Qt application; the only package that imports PySide6."""
