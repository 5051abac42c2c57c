"""The sneak proof of a draft: what its levels of 'on' and its switches' intents allow."""

from collections.abc import Mapping

from vivid_loom.boat import STATES
from vivid_loom.drafting.after.meant import meaning_of
from vivid_loom.drafting.drafted import Draft
from vivid_loom.netlist import NetList
from vivid_loom.power.sneak import Proof, prove
from vivid_loom.power.ties import ties

__all__ = ["prove_draft"]

_BATTERY_OFF = frozenset({"battery_switch", "selector"})


class _Allowed:
    """What may run in which states."""

    def __init__(self, draft: Draft, net: NetList) -> None:
        self._draft = draft
        self._meaning = meaning_of(draft)
        self._elements = {element.id: element for element in net.elements}
        levels = draft.aboard.levels
        self._levels: dict[str, set[str]] = {}
        for row in draft.circuits:
            for name in row.planned.loads:
                self._levels.setdefault(name, set()).add(levels[row.planned.source])
        supplies = draft.aboard.boat.supplies
        self._cut = [s.id for s in supplies if s.kind in _BATTERY_OFF]
        self._keys = [s.id for s in supplies if s.kind == "key_switch"]
        self._keys += [s.request.id for s in draft.switches if s.part.actuator == "key"]

    def __call__(self, element: str, states: Mapping[str, str]) -> bool:
        """Tell whether an element may run."""
        load = self._elements[element].part
        levels = self._levels.get(load, set())
        if levels and "battery_direct" not in levels:
            if self._cut and not any(name in states for name in self._cut):
                return False
            if levels == {"ignition"} and self._keys and not any(k in states for k in self._keys):
                return False
        if element not in self._meaning.elements or states.get(f"{load} float") == "up":
            return True
        return self._meaning.runs(element, states)


def prove_draft(draft: Draft, net: NetList) -> Proof:
    """Return the sneak proof of a draft."""
    network = draft.aboard.boat.network
    supply = [
        s.id for s in draft.aboard.boat.supplies if s.kind in STATES or s.kind == "combining_relay"
    ]
    proof = prove(net, supply, tuple(network.batteries), _Allowed(draft, net))
    return proof._replace(sneaks=(*proof.sneaks, *ties(draft, net)))
