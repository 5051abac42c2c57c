"""How a load gets its current: the ways there are, each with what it brings."""

from PySide6.QtWidgets import QComboBox, QDialog, QListWidget, QVBoxLayout, QWidget

from vivid_loom.boat import CircuitRequest, Feeding, Fit, Load
from vivid_loom.desktop.loads.dialog_controls import answer_buttons, ids_aboard
from vivid_loom.desktop.widgets.controls import small
from vivid_loom.drafting import Draft
from vivid_loom.drafting.patterns import PATTERNS
from vivid_loom.order import Edit, add_fit, remove_loads
from vivid_loom.order.new_loads import (
    at_battery,
    fed,
    given_up,
    lit,
    refed,
    sensed,
    sensing,
)
from vivid_loom.order.ways_of_feeding import FEEDINGS

__all__ = ["FeedDialog"]

LAMP = "lamp with the instruments' lamps"
SENSE, SENSOR = "sense lead at the battery", "sensor of an instrument"
_LEAD_WORDS = {
    LAMP: "Its lamp lead {onto}; its minus brings the lamp's current home. The circuit it has "
    "stays.",
    SENSE: "One conductor more, from the battery's post or the fused stud beside it to its sense "
    "lead, by a fuse of its own; "
    "nothing comes home by it. The circuit it has stays.",
    SENSOR: "Its sense and minus conductors go to the instrument; what feeds the instrument feeds "
    "them, and its device protects them.",
}
"""Ways of feeding one lead of a load, beside those of the load."""
_LEVELS = {
    "battery_direct": "alive with everything off",
    "unswitched": "behind the battery switch",
    "ignition": "behind the key",
}


class FeedDialog(QDialog):
    """The ways to feed one load; ``fit`` holds what was asked for."""

    def __init__(
        self, draft: Draft, load: Load, request: CircuitRequest | None, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Feed {load.name}")
        self.resize(460, 560)
        self._draft, self._load, self._request = draft, load, request
        self.ways, self.about, self.instrument = QListWidget(), small(""), QComboBox()
        self.battery = QComboBox()
        self.ways.addItems([*FEEDINGS, *_LEAD_WORDS])
        self.ways.setAccessibleName("Ways to feed it")
        self.instrument.setAccessibleName("Read by")
        aboard = sorted(draft.aboard.loads.values(), key=lambda x: x.name)
        for other in sorted(aboard, key=lambda x: not x.named("sense")):
            if other.id != load.id and other.id not in draft.aboard.unfed:
                self.instrument.addItem(f"read by {other.name}", other.id)
        self.battery.setAccessibleName("Battery it reads")
        network = draft.aboard.boat.network
        read = {b for c in self._sensing for b in network.batteries_behind(c.supply)}
        for battery in sorted(network.batteries.values(), key=lambda b: b in read):
            self.battery.addItem(f"reads {battery.name}", battery.id)
        layout = QVBoxLayout(self)
        layout.addWidget(self.ways, 1)
        layout.addWidget(self.about)
        layout.addWidget(self.instrument)
        layout.addWidget(self.battery)
        self.buttons = answer_buttons(self, "Feed it so")
        layout.addWidget(self.buttons)
        self.ways.currentTextChanged.connect(self._show)
        self.ways.setCurrentRow(self._row_now())

    def _row_now(self) -> int:
        """Return the row of the way the load is fed now; the first without a circuit."""
        if self._request is None:
            return 0
        if self._request.instrument:
            return self.ways.count() - 1
        alike = [
            row
            for row, way in enumerate(FEEDINGS.values())
            if way.pattern == self._request.pattern and way.level == self._request.level
        ]
        return alike[0] if alike else 0

    @property
    def way(self) -> str:
        """The way that is selected."""
        item = self.ways.currentItem()
        return item.text() if item else ""

    def _show(self) -> None:
        self.instrument.setVisible(self.way == SENSOR)
        self.battery.setVisible(self.way == SENSE and self.battery.count() > 1)
        self.buttons.setEnabled(self.way != SENSOR or self.instrument.count() > 0)
        self.about.setText(self._words())

    @property
    def _sensing(self) -> list[CircuitRequest]:
        """The circuits of the load's own sense leads."""
        circuits = self._draft.aboard.circuits
        return [c for c in circuits if c.lead == "sense" and self._load.id in c.loads]

    @property
    def _lamps(self) -> CircuitRequest | None:
        """The circuit of lamp leads that another joins."""
        return next((c for c in self._draft.aboard.circuits if c.lead == "lamp"), None)

    def _words(self) -> str:
        if self.way in _LEAD_WORDS:
            onto = f"joins {self._lamps.label}" if self._lamps else "gets a rocker and a way"
            return _LEAD_WORDS[self.way].format(onto=onto)
        way = FEEDINGS[self.way]  # type: ignore[index]
        known = {part.id: part.name for part in self._draft.catalogue.switches}
        told = [PATTERNS[way.pattern].title, _LEVELS[way.level]]
        told += ["straight from the battery's post"] if way.at_battery else []
        told += (
            ["through a contactor pair, whose coils have a fuse of their own"] if way.pair else []
        )
        told += [known.get(way.switch, way.switch)] if way.switch else []
        told += [f"{known.get(way.also, way.also)} beside it"] if way.also else []
        return "; ".join(told).capitalize() + ". It needs the leads " + ", ".join(way.leads) + "."

    @property
    def edit(self) -> Edit:
        """Feed the load so: its circuit and what it is switched with, and what goes for it.

        Raises:
            ValueError: the way takes one load, and the circuit has several.
        """
        words, put = f"feed {self._load.name} by {self.way}", add_fit(self.fit)[1]
        if self._request is None or self.way in _LEAD_WORDS:
            return words, put
        gone = given_up(self._request, self._draft.aboard.fit)
        leave = remove_loads(gone)[1] if gone else lambda order: order
        return words, lambda order: put(leave(order))

    @property
    def fit(self) -> Fit:
        """The load, its circuit and what it is switched with.

        Raises:
            ValueError: the way takes one load, and the circuit has several.
        """
        draft, load, request = self._draft, self._load, self._request
        taken, battery = ids_aboard(draft), draft.aboard.boat.battery.id
        if self.way == LAMP:
            return lit(load, self._lamps, taken)
        if self.way == SENSE:
            place = draft.aboard.boat.network.fused_post(self.battery.currentData())
            return sensing(load, place, taken, 1 + len(self._sensing))
        if self.way == SENSOR:
            instrument = draft.aboard.loads[self.instrument.currentData()]
            alone = request if request and len(request.loads) == 1 else None
            return sensed(load, instrument, alone, taken)
        feeding: Feeding = self.way  # type: ignore[assignment]
        volts = draft.aboard.boat.nominal_v
        if request is None:
            made = fed([load], feeding, load.name, taken, volts=volts)
            return at_battery(made, feeding, battery)
        again = refed(request, feeding, taken, draft.aboard.fit, draft.catalogue, volts)
        return at_battery(again, feeding, battery)
