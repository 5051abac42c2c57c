"""Beside the Runs picture: a trunk's cross-section, a station's loads, what a move does."""

from collections import Counter
from collections.abc import Mapping

from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from vivid_loom.boat import Run
from vivid_loom.desktop.widgets.controls import heading, scrolled
from vivid_loom.desktop.widgets.paint import play
from vivid_loom.desktop.widgets.plain import PlainLabel
from vivid_loom.desktop.widgets.theme import LIGHT
from vivid_loom.drafting import Draft
from vivid_loom.drafting.beside.occupants import Occupant
from vivid_loom.quantities import figure, length_text, percent_text
from vivid_loom.sheets.drawings.section_drawing import section_items
from vivid_loom.sheets.paper.tones import Tones
from vivid_loom.standards.conduit import CLEARANCE_MM
from vivid_loom.workshop.bundles import Section, departures
from vivid_loom.workshop.effects import effect, effect_words

__all__ = ["RunsPanel", "moved_words", "run_words"]


class _SectionPicture(QWidget):
    """A cross-section, to scale."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(268)
        self.setAccessibleName("Cross-section of the selected run")
        self.tones: Tones = LIGHT
        self._section: Section | None = None
        self._lit: frozenset[str] = frozenset()

    def show_section(self, section: Section | None, lit: frozenset[str]) -> None:
        self._section, self._lit = section, lit
        self.setVisible(section is not None)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._section:
            items = section_items(self._section, self.width(), self.height(), self.tones, self._lit)
            with QPainter(self) as painter:
                play(painter, items)


def run_words(draft: Draft, run: Run, section: Section | None) -> list[str]:
    """Return what there is to say of a run, line by line."""
    units = draft.aboard.profile.units
    area = next(a for a in draft.aboard.boat.areas if a.id == run.area)
    lines = [
        f"{length_text(run.length_m, units)} measured, {run.harness} harness, in {run.enclosure}"
    ]
    if run.swing:
        lines.append(
            f"Moving joint over {run.swing.sweep_deg:g}°: {1000 * run.swing.slack_m:.0f} mm of "
            f"slack on top, so {length_text(run.wire_m, units)} of wire"
        )
    if not run.permitted:
        lines.append(f"No wire may go here: {run.why_not}")
    if section and section.members:
        lines.append(
            f"{len(section.members)} wires pack to {section.diameter_mm:.1f} mm; with "
            f"{draft.aboard.profile.growth_percent:g} % room to grow {section.grown_mm:.1f} mm"
        )
        if run.enclosure != "open":
            bore = section.needed_bore_mm
            wants = f"{bore:g} mm bore" if bore else "a bore above the largest in stock"
            fitted = f"; {run.bore_mm:g} mm is fitted" if run.bore_mm else ""
            small = run.bore_mm and bore and run.bore_mm < bore
            lines.append(f"Wants {wants}{fitted}" + (": too small" if small else ""))
        if section.fill_percent is not None:
            limit = section.fill_limit_percent
            lines.append(
                f"{section.fill_percent:.0f} % full" + (f" of {limit:g} % allowed" if limit else "")
            )
        times = 10 if run.swing else 4
        lines.append(
            f"Bend no tighter than {section.bend_mm:.0f} mm ({times} × the bundle); "
            f"{section.supports} full spacings of {section.support_mm:g} mm between supports"
            + ("; a grommet where it enters the next area" if section.grommet else "")
        )
    heat = ", engine heat" if area.engine_heat else ""
    lines.append(f"{area.name}: {area.water}, {area.ambient_c:g} °C{heat}")
    for near in run.near:
        clear = CLEARANCE_MM[near.what]
        bad = near.distance_mm < clear
        lines.append(
            f"Passes {near.what} at {near.distance_mm:g} mm"
            + (f": wants {clear:g} mm" if bad else "")
        )
    return lines


def _departing(draft: Draft, run: Run, by_run: Mapping[str, tuple[Occupant, ...]]) -> list[str]:
    names = {station.id: station.name for station in draft.aboard.boat.stations}
    lines: list[str] = []
    for end, onward in departures(draft, run, dict(by_run)).items():
        parts = [
            f"{count} go on into {other}" if other else f"{count} end here"
            for other, count in sorted(onward.items(), key=lambda item: -item[1])
        ]
        if parts:
            lines.append(f"At {names[end]}: {', '.join(parts)}")
    return lines


def moved_words(before: Draft, after: Draft, load_id: str) -> list[str]:
    """Say what moving a load changes: its circuits, then the whole order."""
    units = before.aboard.profile.units
    lines: list[str] = []
    for row in after.circuits:
        old = before.circuit(row.id)
        if load_id not in row.planned.loads or not (old and old.sized and row.sized):
            continue
        was, now = old.sized, row.sized
        gauge = (
            f"stays {now.gauge.value}"
            if was.gauge.value == now.gauge.value
            else f"{was.gauge.value} → {now.gauge.value}"
        )
        lines.append(
            f"{row.id}: loop {length_text(was.loop_length_m, units)} → "
            f"{length_text(now.loop_length_m, units)}, {gauge}, "
            f"drop {percent_text(was.drop_percent)} → {percent_text(now.drop_percent)} "
            f"of {now.drop_limit_percent:g} %"
        )
    old_count, new_count = (
        {run: len(inside) for run, inside in d.occupants.items()} for d in (before, after)
    )
    moved = [
        f"{run} {old_count.get(run, 0)} → {new_count.get(run, 0)}"
        for run in sorted(old_count.keys() | new_count.keys())
        if old_count.get(run, 0) != new_count.get(run, 0)
    ]
    if moved:
        lines.append("Wires in the trunks: " + ", ".join(moved))
    lines.append(f"The order: {effect_words(effect(before, after))}")
    return lines


class RunsPanel(QWidget):
    """What is selected, in words and to scale. Never edits."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(318)
        self.title = heading("")
        self.title.setWordWrap(True)
        self.picture = _SectionPicture()
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.tried = PlainLabel()
        self.tried.setWordWrap(True)
        self.tried.setObjectName("what_a_move_does")
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 8, 0)
        column.addWidget(self.title)
        column.addWidget(self.picture)
        column.addWidget(self.words)
        column.addWidget(self.tried)
        column.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(inner))

    def set_tones(self, tones: Tones) -> None:
        """Use a theme's neutral colours."""
        self.picture.tones = tones
        self.picture.update()

    def show_run(
        self,
        draft: Draft,
        run: Run,
        section: Section | None,
        by_run: Mapping[str, tuple[Occupant, ...]],
        circuit: str,
    ) -> None:
        """Show a run's cross-section and figures."""
        names = {station.id: station.name for station in draft.aboard.boat.stations}
        self.title.setText(f"Run {run.id}: {names[run.ends[0]]} to {names[run.ends[1]]}")
        self.picture.show_section(section, frozenset((circuit,)))
        lines = [*run_words(draft, run, section), *_departing(draft, run, by_run)]
        colours = Counter(str(member.colour) for member in by_run.get(run.id, ()))
        if colours:
            lines.append("Colours: " + ", ".join(f"{c} {n}" for c, n in colours.most_common()))
        self.words.setText("\n".join(lines))

    def show_station(self, draft: Draft, station_id: str) -> None:
        """Show a station's loads and the runs that meet there."""
        boat = draft.aboard.boat
        station = next(s for s in boat.stations if s.id == station_id)
        area = next(a for a in boat.areas if a.id == station.area)
        loads = sorted(
            (x for x in draft.aboard.loads.values() if x.station == station_id),
            key=lambda x: x.name,
        )
        runs = [run for run in boat.runs if station_id in run.ends]
        side = "starboard" if station.y_m > 0 else "port"
        across = f"{abs(station.y_m):.2f} m to {side}" if station.y_m else "on the centre line"
        lines = [
            f"{area.name}: {station.x_m:.2f} m from the transom, {across}, "
            f"{station.z_m:.2f} m above the keel",
            "Runs: "
            + (
                ", ".join(
                    f"{r.id} {length_text(r.length_m, draft.aboard.profile.units)}" for r in runs
                )
                or "none"
            ),
            "",
        ]
        lines += [
            f"{x.name}   {figure(x.running_a)} A" if x.running_a else f"{x.name}   unknown"
            for x in loads
        ]
        blocks = [s.name for s in boat.supplies if s.station == station_id]
        blocks += [b.name for b in boat.return_buses if b.station == station_id]
        lines += blocks
        if not loads and not blocks:
            lines.append("Nothing stands here; a load can be dragged to it.")
        self.title.setText(station.name)
        self.picture.show_section(None, frozenset())
        self.words.setText("\n".join(lines))

    def show_nothing(self, draft: Draft) -> None:
        """Say how to begin, and which trunks are the fullest."""
        self.title.setText("Nothing selected")
        self.picture.show_section(None, frozenset())
        boat, inside = draft.aboard.boat, draft.occupants
        fullest = sorted(inside, key=lambda run: (-len(inside[run]), run))[:8]
        lines = ["Pick a run for its cross-section, or a station for its loads.", ""]
        lines.append("The fullest trunks:")
        for name in fullest:
            run = boat.runs_by_id[name]
            first, last = (boat.stations_by_id[end].name for end in run.ends)
            lines.append(f"{name}   {len(inside[name])} wires, {first} to {last}")
        self.words.setText("\n".join(lines))

    def show_tried(self, lines: list[str]) -> None:
        """Show what a move would do; nothing for no move."""
        self.tried.setText("\n".join(lines))
