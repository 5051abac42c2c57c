"""Vivid Loom: from one customer order to circuit schedule and harness build sheets."""

import os

__version__ = "0.1.0"

# Our matrices are tiny: a second thread only spins, and eats seven times the processor. The
# library reads this once, when NumPy is loaded.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# We use no plugins of it: looking for some reads what is told of every package installed.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
