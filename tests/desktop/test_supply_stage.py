"""The Supply stage in the window: look at states, add, change, re-feed, insert, remove."""

import dataclasses
import typing
from collections.abc import Callable
from typing import Any

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QDialog, QInputDialog
from pytestqt.qtbot import QtBot

from tests.desktop.hand import Answer, feeding, filling, put
from vivid_loom.boat import (
    Bond,
    ContactRequest,
    Fit,
    Geography,
    Grounding,
    HelmPanel,
    Recorded,
)
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.desktop.frame.window import LOADS, SUPPLY, THREADS, MainWindow
from vivid_loom.desktop.order.option_form import option_words
from vivid_loom.desktop.runs.dialogs import RunDialog, StationDialog
from vivid_loom.desktop.runs.hull_words import HULL_WORDS
from vivid_loom.desktop.supply.stage import SupplyStage
from vivid_loom.desktop.supply.words import words_for
from vivid_loom.desktop.widgets.record_form import RecordDialog, RecordForm, RecordList
from vivid_loom.desktop.work.record_words import circuit_words, load_words


@pytest.fixture
def stage(window: MainWindow) -> SupplyStage:
    window.open_stage(SUPPLY)
    view = window.view
    assert isinstance(view, SupplyStage)
    return view


def words(window: MainWindow) -> str:
    return window.message.text()


def test_the_picture_shows_every_part_way_and_bus_once(stage: SupplyStage) -> None:
    draft = stage.session.draft
    boat = draft.aboard.boat
    spots = [(spot.kind, spot.id) for spot in stage.view.spots()]
    once = [spot for spot in spots if spot[0] != "feeder"]  # a feeder and its return are two
    assert len(once) == len(set(once))
    at = {kind: {name for k, name in spots if k == kind} for kind, _ in spots}
    assert at["part"] == {supply.id for supply in boat.supplies}
    assert at["battery"] == {battery.id for battery in boat.batteries}
    assert at["bus"] == {bus.id for bus in boat.return_buses}
    assert at["panel"] == {panel.id for panel in boat.panels}
    assert at["way"] == {row.id for row in draft.circuits}
    assert at["feeder"] == set(boat.network.feeders)
    boxes = [spot.rect for spot in stage.view.spots() if spot.kind in ("part", "battery", "bus")]
    for i, (x, y, w, h) in enumerate(boxes):
        for ox, oy, ow, oh in boxes[i + 1 :]:
            assert x + w <= ox or ox + ow <= x or y + h <= oy or oy + oh <= y


def test_states_are_turned_and_tell_what_is_alive(stage: SupplyStage, qtbot: QtBot) -> None:
    assert "Dead: Ignition relay, Ignition block." in stage.told.text()
    spot = next(s for s in stage.view.spots() if (s.kind, s.id) == ("state", "IGR"))
    x, y, w, h = spot.rect
    at = QPointF(x + w / 2, y + h / 2)
    press = QMouseEvent(
        QMouseEvent.Type.MouseButtonPress,
        at,
        at,
        Qt.MouseButton.LeftButton,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    stage.view.mousePressEvent(press)
    assert stage.states["IGR"] == "pulled" and "Nothing is dead" in stage.told.text()
    # with the selector off nothing pulls the relay, whatever its coil was told
    stage.view.select("part", "BSW")
    while stage.states["BSW"] != "off":
        qtbot.keyClick(stage.view, Qt.Key.Key_Space)
    assert "5 of" in stage.told.text() or "4 of" in stage.told.text()
    assert "Ignition block" in stage.told.text() and "Helm fuse block" in stage.told.text()


def test_keys_walk_the_power_path_and_open_the_reason(
    window: MainWindow, stage: SupplyStage, qtbot: QtBot
) -> None:
    stage.view.select("battery", "BAT")
    seen = []
    for _ in range(6):
        qtbot.keyClick(stage.view, Qt.Key.Key_Right)
        seen.append(stage.view.selected)
    kinds = {kind for kind, _ in seen}
    assert "part" in kinds and len(set(seen)) > 3
    stage.view.select("feeder", "F05")
    stage._picked("feeder", "F05")
    assert window.session.selected == "F05"
    qtbot.keyClick(stage.view, Qt.Key.Key_W)
    assert window.why.isVisible()


def test_a_part_is_added_changed_refed_and_removed(
    window: MainWindow, stage: SupplyStage, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = window.session.order
    stage.view.select("part", "BSW")
    answer(filling(id="AFT", name="Aft block", station="aft_trunk", ways="4"))
    stage.hands.ask_part()
    added = window.session.boat.supplies_by_id["AFT"]
    assert added.feeds[0].source == "BSW" and added.feeds[0].id == "F14"
    assert "add Aft block" in words(window) and stage.view.selected == ("part", "AFT")
    row = window.session.draft.circuit("F14")
    assert row is not None and row.sized is not None and row.wires
    answer(filling(total_max_a="45,5", feeds=[{"distance_mm": "150"}]))
    stage.hands.ask_change()
    assert window.session.boat.supplies_by_id["AFT"].total_max_a == 45.5
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_, **__: ("HB Heavy bus", True))
    stage.hands.ask_feed()
    assert window.session.boat.network.chains("AFT")[0][:2] == ("F14", "F03")
    stage.hands.remove()
    assert "AFT" not in window.session.boat.supplies_by_id
    for _ in range(4):
        window.session.undo_stack.undo()
    assert window.session.order == before


def test_a_bad_answer_stays_in_the_dialog_with_its_reason(
    window: MainWindow, stage: SupplyStage, answer: Answer
) -> None:
    told: list[str] = []

    def bad(dialog: QDialog) -> None:
        assert isinstance(dialog, RecordDialog)
        for fields in ({"total_max_a": "-3"}, {"ways": "few"}, {"id": "HFB"}, {"id": " "}):
            kept = {name: dialog.form.fields[name].text() for name in fields}  # type: ignore[attr-defined]
            put(dialog.form, **fields)
            dialog._accept()
            told.append(dialog.problem.text())
            assert dialog.isVisible()
            put(dialog.form, **kept)

    stage.view.select("part", "BSW")
    answer(bad)
    stage.hands.ask_part()
    assert told[0].startswith("Bears in all, A: found -3")
    assert told[1] == "Ways: found few, expected a whole number"
    assert "which something aboard has already" in told[2] and "found nothing" in told[3]
    assert not window.session.undo_stack.count()


def test_a_part_is_taken_from_the_catalogue(
    window: MainWindow, stage: SupplyStage, answer: Answer
) -> None:
    def pick(dialog: QDialog) -> None:
        assert isinstance(dialog, RecordDialog)
        put(dialog.form, id="AFT", name="Typed", station="aft_trunk")
        dialog.templates.setCurrentText("Breaker panel, 8 ways, 60 A")
        dialog._accept()

    stage.view.select("part", "BSW")
    answer(pick)
    stage.hands.ask_part()
    fitted = window.session.boat.supplies_by_id["AFT"]
    assert (fitted.kind, fitted.ways, fitted.family) == ("breaker_panel", 8, "breaker")
    assert fitted.station == "aft_trunk" and fitted.feeds[0].source == "BSW"


def test_what_feeds_others_is_not_taken_off(window: MainWindow, stage: SupplyStage) -> None:
    for kind, name, reason in (
        ("part", "HFB", "feed that from elsewhere first"),
        ("part", "BSW", "feeds Heavy bus, Helm fuse block, Helm breaker panel"),
        ("battery", "BST", "feeds"),
        ("bus", "NB0", ""),
    ):
        stage.view.select(kind, name)
        stage.hands.remove()
        assert reason in words(window), name
    stage.view.select("part", "ALT")
    stage.hands.remove()
    assert "ALT" not in window.session.boat.supplies_by_id


def test_a_switch_is_put_into_a_feeder(
    window: MainWindow, stage: SupplyStage, answer: Answer
) -> None:
    stage.view.select("part", "HBP")
    answer(filling(id="CUT", name="Galley switch", kind="battery_switch"))
    stage.hands.insert()
    network = window.session.boat.network
    assert network.chains("HBP")[0][1] == "F04" and network.fed_by("F04") == "CUT"
    assert network.states("CUT") == ("off", "on")
    window.session.undo_stack.undo()
    assert "CUT" not in window.session.boat.supplies_by_id


def test_batteries_buses_panels_bonds_records_and_hull(
    window: MainWindow, stage: SupplyStage, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    def new(*_: Any, **__: Any) -> tuple[str, bool]:
        return "A new one…", True

    monkeypatch.setattr(QInputDialog, "getItem", new)
    steps: tuple[tuple[Callable[[], None], dict[str, Any]], ...] = (
        (stage.hands.ask_battery, {"id": "B3", "name": "Winch battery", "internal_ohm": "0,004"}),
        (stage.hands.ask_bus, {"id": "NB9", "name": "Aft bus", "station": "aft_trunk"}),
        (stage.hands.ask_panel, {"id": "aft", "name": "Aft panel", "positions": "3"}),
        (stage.hands.ask_bonds, {"id": "shaft", "name": "Shaft brush", "station": "aft_bilge"}),
        (stage.hands.ask_recorded, {"id": "shore", "name": "Shore inlet", "start": "transom"}),
        (stage.hands.ask_grounding, {"ac_aboard": "Europe", "hull_joins": ("battery",)}),
    )
    for do, fields in steps:
        answer(filling(**fields))
        do()
    boat = window.session.boat
    assert boat.network.batteries["B3"].internal_ohm == 0.004
    assert boat.network.homes("NB9") and boat.buses_by_id["NB9"].homes[0].to == "NB0"
    assert boat.positions == 33 and boat.ac_aboard == "Europe" and boat.hull_joins == ("battery",)
    assert any(bond.id == "shaft" for bond in boat.bonds)
    assert any(item.id == "shore" for item in boat.recorded)
    codes = {f.code for f in window.session.draft.findings if "B3" in f.subjects}
    assert "P21" in codes  # a battery whose minus nobody has joined
    for _ in steps:
        window.session.undo_stack.undo()
    assert len(window.session.boat.batteries) == 2


def _records(value: Any) -> list[Any]:
    """Return a record with every record in it; what an option adds is changed on Loads."""
    found = [value]
    if isinstance(value, Fit):
        return []
    for field in dataclasses.fields(value):
        inner = getattr(value, field.name)
        for item in inner if isinstance(inner, tuple) else (inner,):
            if dataclasses.is_dataclass(item) and not isinstance(item, type):
                found += _records(item)
    return found


def _forms(form: RecordForm) -> list[RecordForm]:
    found = [form]
    for widget in form.fields.values():
        if isinstance(widget, RecordList):
            for inner in widget.forms:
                found += _forms(inner)
    return found


def test_an_editor_reaches_every_field_of_every_record(window: MainWindow) -> None:
    """Whatever a supply, circuit, switch or load holds can be changed on screen."""
    draft = window.session.draft
    boat, aboard = draft.aboard.boat, draft.aboard
    supply, circuit, load = (
        words_for(draft, new=False),
        circuit_words(draft),
        load_words(draft),
    )
    either = next(c for c in aboard.circuits if c.also)
    held: list[tuple[Any, Any]] = [
        *((part, supply) for part in (*boat.batteries, *boat.supplies, *boat.return_buses)),
        (HelmPanel(id="p", name="P", station="helm", positions=2), supply),
        (Bond(id="b", name="B", station="helm"), supply),
        (
            Recorded(id="r", name="R", kind="mains", start="helm", end="dash", diameter_mm=9.0),
            supply,
        ),
        (Grounding(hull_joins=("helm",)), supply),
        (either, circuit),
        *((switch, circuit) for switch in aboard.switches.values()),
        *((item, load) for item in aboard.loads.values()),
        (Geography(hull=boat.hull, areas=boat.areas, assemblies=boat.assemblies), HULL_WORDS),
        *((dataclasses.replace(o, adds=Fit()), option_words(boat, o)) for o in boat.options),
    ]
    kinds = set()
    for value, spoken in held:
        form = RecordForm(value, spoken)
        inside = _forms(form)
        assert len(inside) == len(_records(value))
        for record, shown in zip(_records(value), inside, strict=True):
            names = {field.name for field in dataclasses.fields(record)}
            assert set(shown.fields) == names - spoken.left_out, type(record)
            kinds.add(type(record).__name__)
        assert form.record() == value, value  # what is not touched stays as it is
    assert kinds >= {"Battery", "Supply", "Feed", "ReturnBus", "Home", "HelmPanel", "Bond"}
    assert kinds >= {"Recorded", "Grounding", "CircuitRequest", "ContactRequest", "SwitchRequest"}
    assert kinds >= {"Load", "Lead", "Evidence", "Hull", "Area", "Assembly", "Option"}


def test_an_editor_reaches_every_field_of_runs_and_stations(window: MainWindow) -> None:
    """Ids stay, a run's ends are split, joined and laid anew; the rest is in their dialogs."""
    boat = window.session.boat
    run = next(r for r in boat.runs if r.permitted and not r.swing and not r.low)
    dialog = RunDialog(run, boat, "m", window)
    dialog.length.setText(f"{run.length_m + 1} m")
    for box in (dialog.enclosure, dialog.bore, dialog.harness, dialog.area):
        box.setCurrentIndex((box.currentIndex() + 1) % box.count())
    dialog.near.setText("fuel line 80 mm")
    dialog.swing.setText("0.3 m, 0.25 m, 70°, 120°")
    dialog.support.setText("123 mm")
    dialog.why.setText("hatch")
    for check in (dialog.low, dialog.barred):
        check.setChecked(not check.isChecked())
    assert _same_fields(run, dialog.run) == {"id", "ends"}
    station = boat.stations[0]
    put_elsewhere = StationDialog(boat, station, window, "Station")
    put_elsewhere.name.setText("elsewhere")
    put_elsewhere.area.setCurrentIndex((put_elsewhere.area.currentIndex() + 1) % len(boat.areas))
    for place in put_elsewhere.place:
        place.setValue(place.value() + 0.5)
    put_elsewhere.apart.setValue(0.45)
    assert _same_fields(station, put_elsewhere.station) == {"id"}


def _same_fields(old: Any, new: Any) -> set[str]:
    names = (field.name for field in dataclasses.fields(old))
    return {name for name in names if getattr(old, name) == getattr(new, name)}


def test_findings_about_the_supply_lead_here(window: MainWindow) -> None:
    window.files.open_order(DEMO_FOLDER / "hull-0423.loom.json")
    window.open_stage(THREADS)
    window.reveal("IGN")
    assert window.view is window.views[SUPPLY]
    assert window.views[SUPPLY].view.selected == ("part", "IGN")


def test_circuits_and_switches_are_changed_by_their_forms(
    window: MainWindow, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.open_stage(LOADS)
    stage: Any = window.view
    stage.select_loads(("washdown",))
    answer(filling(also=[], cable=""))
    stage.hands.ask_circuit()
    stage.select_loads(("washdown",))
    answer(filling(legend="WASH", rank="1"))
    stage.hands.ask_switch()
    request = next(c for c in window.session.draft.aboard.circuits if "washdown" in c.loads)
    assert isinstance(request.contact, ContactRequest)
    assert window.session.draft.aboard.switches[request.contact.switch].legend == "WASH"
    stage.select_loads(("washdown",))
    answer(filling(heat_c="70"))
    stage.hands.ask_load()
    assert window.session.draft.aboard.loads["washdown"].heat_c == 70.0
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Tank pumps", True))
    stage.select_loads(("tank_pump_p", "tank_pump_s"))
    stage.hands.put_together()
    rows = [r for r in window.session.draft.circuits if "tank_pump_p" in r.planned.loads]
    assert len(rows) == 1 and set(rows[0].planned.loads) == {"tank_pump_p", "tank_pump_s"}
    stage.select_loads(("washdown",))
    answer(feeding("helm and second station"))
    stage.hands.ask_feed()
    request = next(c for c in window.session.draft.aboard.circuits if "washdown" in c.loads)
    assert request.pattern == "either_contact" and len(request.contacts) == 2
    away = window.session.draft.aboard.switches[request.also[0].switch]
    assert away.station == "washdown"
    assert typing.get_type_hints(type(away))["station"] is not None


@pytest.mark.parametrize("name", ["", "F99"])
def test_a_feeder_that_is_not_there_is_no_part(stage: SupplyStage, name: str) -> None:
    """As before anything is selected, or once it was removed."""
    stage.view.mark("feeder", name)
    assert stage.part is None
    said: list[str] = []
    stage.said.connect(said.append)
    stage.hands.ask_change()
    assert said == ["Pick a battery, a part, a bus or a panel first."]


def test_a_charger_gets_its_sense_lead(
    window: MainWindow, stage: SupplyStage, monkeypatch: pytest.MonkeyPatch
) -> None:
    """It asks for the battery, a part that charges nothing is told so, and the charger stays."""
    asked: list[list[str]] = []

    def pick(*given: Any, **_: Any) -> tuple[str, bool]:
        asked.append(given[3])
        return given[3][-1], True

    monkeypatch.setattr(QInputDialog, "getItem", pick)
    stage.view.select("part", "BSW")
    stage.hands.ask_sense()
    assert asked == []
    stage.view.select("part", "ALT")
    stage.hands.ask_sense()
    draft = window.session.draft
    batteries = draft.aboard.boat.batteries
    (load,) = [x for x in draft.aboard.loads.values() if x.lead_of == "ALT"]
    (row,) = [r for r in draft.circuits if load.id in r.planned.loads]
    assert asked == [[b.name for b in batteries]]
    assert row.planned.source == batteries[-1].id and row.planned.signals
    stage.hands.remove()
    assert "ALT" in window.session.draft.aboard.boat.supplies_by_id
