"""The Qt application; the only package that imports PySide6."""

# Before Qt: PySide6 reads the source of every module that is imported after it.
import vivid_loom.drafting.rules.fixes
import vivid_loom.opening
import vivid_loom.sheets.drawings.threads
import vivid_loom.sheets.lists.stores  # noqa: F401
