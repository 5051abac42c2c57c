"""The net list: parts with terminals, contacts and elements, joined by conductors.

Records are in ``records``, what follows from them (nodes, loops, what is alive) in ``derive``,
what a press of a switch changes in ``pressed``, what a coil then moves in ``coils``.
A *terminal* is where a conductor lands. A *contact* joins two terminals of a part, always or in
some states of an *actuator*; with a device in it, until that opens. An *element* gives or takes
current. A *node* is what is one potential for a set of states: derived, never stored.
"""

from vivid_loom.netlist.coils import COIL_LEADS, moved_by
from vivid_loom.netlist.derive import Loop, Nodes, devices_between, live_terminals, loops, nodes
from vivid_loom.netlist.pressed import Pressed, Presses
from vivid_loom.netlist.records import (
    Actuator,
    Conductor,
    Contact,
    Device,
    Element,
    Law,
    NetList,
    Part,
    Role,
    Terminal,
    TerminalId,
)
from vivid_loom.netlist.sets import Sets

__all__ = [
    "COIL_LEADS",
    "Actuator",
    "Conductor",
    "Contact",
    "Device",
    "Element",
    "Law",
    "Loop",
    "NetList",
    "Nodes",
    "Part",
    "Pressed",
    "Presses",
    "Role",
    "Sets",
    "Terminal",
    "TerminalId",
    "devices_between",
    "live_terminals",
    "loops",
    "moved_by",
    "nodes",
]
