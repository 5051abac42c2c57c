"""Direct current in a network of nodes: operating points, what a change does, SPICE.

Nothing here knows a boat. Nodes are names, ``records`` is what joins them; ``islands`` tells what
cannot carry current, ``solve`` finds the operating point of one network, ``changed`` those of
many that differ from it in a few branches.
"""

from vivid_loom.network.changed import Change, Changed, Changes
from vivid_loom.network.records import Branch, Converter, Draw, Law, Network, Source
from vivid_loom.network.solve import NoOperatingPointError, OperatingPoint, Solver, solve
from vivid_loom.network.spice import spice_text

__all__ = [
    "Branch",
    "Change",
    "Changed",
    "Changes",
    "Converter",
    "Draw",
    "Law",
    "Network",
    "NoOperatingPointError",
    "OperatingPoint",
    "Solver",
    "Source",
    "solve",
    "spice_text",
]
