"""Lists of a boat that is powered up: volts at every load, and what the chafe scan found."""

from collections.abc import Iterable
from typing import NamedTuple

from vivid_loom.drafting import Draft
from vivid_loom.netlist import NetList
from vivid_loom.power.powered import Powered
from vivid_loom.power.profile import Losses, Profiles
from vivid_loom.power.scan import Scanned, is_safety
from vivid_loom.sheets.paper.table import Table
from vivid_loom.sheets.words.helm_words import element_words
from vivid_loom.sheets.words.power_words import PROBES, device_words, lost_words

__all__ = ["LoadRow", "ScanRow", "load_table", "scan_table"]


class LoadRow(NamedTuple):
    """Something that draws, as it stands in one setting.

    Attributes:
        lost_percent: between its source and itself, of the source's volts; then the parts of it
            in copper of its own circuits, in copper that it shares, and in contacts, devices and
            crimped ends.
        inside_v: lost within the source.
    """

    load: str
    element: str
    circuit_id: str
    volts: str
    amps: str
    lost_percent: str
    own_percent: str
    feeders_percent: str
    joints_percent: str
    inside_v: str
    state: str


class ScanRow(NamedTuple):
    """A fault that the chafe scan tried in one scenario."""

    fault: str
    place: str
    circuit_id: str
    scenario: str
    opens: str
    early_s: str
    late_s: str
    fault_a: str
    flows_on_a: str
    hottest: str
    hottest_c: str
    safety_lost: str
    sound_lost: str
    own_lost: str


def load_table(now: Powered) -> Table[LoadRow]:
    """Return every load of a boat as it stands, the lamps of switches left out."""
    draft, board = now.board.draft, now.board
    fed = {name: row.id for row in draft.circuits for name in row.planned.loads}
    rows, ways = [], Profiles(now)
    for element in board.net.elements:
        if element.part not in draft.aboard.loads or element.id not in board.volts:
            continue
        volts, way = now.volts_at(element.id), ways.of(element.id)
        runs = now.runs(element.id)
        low = element.id in now.point.gave_up
        state = "runs" if runs else "gives up" if low else "off"
        amps = now.amps.get(element.id, 0.0)
        losses = ways.losses(way) if way else Losses(0.0, 0.0, 0.0, 0.0)
        per_volt = 100 / way.source_v if way and way.source_v else 0.0
        rows.append(
            LoadRow(
                load=element_words(draft, element.id),
                element=element.id,
                circuit_id=fed.get(element.part, ""),
                volts=f"{volts + 0.0:.3f}",
                amps=f"{amps + 0.0:.3f}",
                lost_percent=f"{(way.lost_v if way else 0.0) * per_volt + 0.0:.2f}",
                own_percent=f"{losses.own_v * per_volt:.2f}",
                feeders_percent=f"{losses.feeders_v * per_volt:.2f}",
                joints_percent=f"{losses.joints_v * per_volt:.2f}",
                inside_v=f"{losses.inside_v:.3f}",
                state=state,
            )
        )
    rows.sort(key=lambda row: (row.state != "runs", row.load))
    return Table("loads", "Volts at every load", LoadRow, tuple(rows))


def scan_table(draft: Draft, net: NetList, rows: Iterable[Scanned]) -> Table[ScanRow]:
    """Return what the chafe scan found, in the order given."""
    return Table(
        "scan",
        "Chafe scan",
        ScanRow,
        tuple(
            ScanRow(
                PROBES[row.probe.kind],
                row.probe.at,
                row.probe.circuit,
                row.scenario,
                "; ".join(device_words(net, name) for name in row.opens),
                f"{row.early_s:.4f}" if row.opens else "",
                f"{row.late_s:.4f}" if row.opens else "",
                f"{row.amps:.1f}" if row.amps else "",
                f"{row.flows_on:.1f}" if row.flows_on else "",
                row.burnt[0],
                f"{row.burnt[1]:.0f}" if row.burnt[0] else "",
                lost_words(draft, [e for e in row.lost if is_safety(draft, e)]),
                lost_words(draft, [e for e in row.lost if not is_safety(draft, e)]),
                lost_words(draft, row.own),
            )
            for row in rows
        ),
    )
