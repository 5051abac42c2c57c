"""One name for one thing: what every sheet calls a place, and the key that explains its code."""

from typing import Final, NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.drafting.making.ending import BORDER_STUD
from vivid_loom.sheets.paper.table import Table

__all__ = ["KeyRow", "Names", "key"]


HOLDER: Final = " holder"


class KeyRow(NamedTuple):
    """A code that stands on labels and sheets, and what it stands for."""

    code: str
    what: str
    station: str
    station_name: str


def _parts(draft: Draft) -> list[tuple[str, str, str]]:
    """Return (code, what it is, station) of everything that labels name by a code."""
    boat, network = draft.aboard.boat, draft.aboard.boat.network
    found = [(b.id, b.name, b.station) for b in network.batteries.values()]
    found += [(s.id, s.name, s.station) for s in boat.supplies]
    found += [(b.id, b.name, b.station) for b in boat.return_buses]
    found += [
        (strip.id, f"strip, {strip.poles} poles of {strip.rated_a:g} A", strip.station)
        for strip in draft.allocation.strips
    ]
    for switch in draft.switches:
        panel = boat.panel_at(switch.position) if switch.position else None
        if panel:
            what = f"switch {switch.request.legend}"
            found.append((f"SW{switch.position}", what, panel.station))
    found += [
        (plug.id, f"{plug.ways}-way size {plug.contact}, key {plug.key}", plug.station)
        for plug in draft.assembled.plugs
    ]
    found += [
        (cable.id, f"cable, {cable.stock.name}", draft.aboard.loads[cable.load].station)
        for cable in draft.assembled.cables
    ]
    found += [
        (post.place, f"post {BORDER_STUD}, harnesses meet", post.station)
        for post in draft.assembled.posts
    ]
    labels = {row.id: row.planned.label for row in draft.rows}
    ends = {e.place: e.station for w in draft.assembled.wires for e in (w.start, w.end)}
    for place, station in sorted(ends.items()):
        circuit = place.removesuffix(HOLDER)
        if circuit in labels and circuit != place:
            found.append((place, f"device of {circuit}", station))
    by_id = boat.stations_by_id
    for run in boat.runs:
        first, last = (by_id[end] for end in run.ends)
        found.append((run.id, f"run to {last.name} from", first.id))
    return found


class Names:
    """What people call the things that a draft knows by an id."""

    def __init__(self, draft: Draft) -> None:
        self._stations = {s.id: s.name for s in draft.aboard.boat.stations}
        self._called = draft.aboard.called

    def station(self, station: str) -> str:
        """Return a station's name."""
        return self._stations.get(station, station)

    def place(self, place: str) -> str:
        """Return a device's name, or the code that the key explains, as labels have it."""
        return self._called.get(place, place)

    def lever(self, place: str, legend: str) -> str:
        """Return a switch's code and legend; what stands on no panel goes by its legend alone."""
        return self._called.get(place, f"{place} · {legend}")


def key(draft: Draft) -> Table[KeyRow]:
    """Return the key to the codes: supply, strips, switches, plugs, devices, runs."""
    names = Names(draft)
    rows = (KeyRow(code, what, at, names.station(at)) for code, what, at in _parts(draft))
    return Table("key", "Key to the codes", KeyRow, tuple(rows))
