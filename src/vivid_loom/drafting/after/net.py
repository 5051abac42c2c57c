"""The net list of a draft: what the sheets describe, as parts, contacts and conductors."""

from collections.abc import Iterator, Mapping
from functools import partial

from vivid_loom.boat import SIGNAL_A, SOURCES, STATES, Load, Supply
from vivid_loom.boat.feeders import ANY
from vivid_loom.drafting.after.circuit_net import circuit_net
from vivid_loom.drafting.after.collected import BAR, Collected, terminal_id
from vivid_loom.drafting.after.links import link_fates
from vivid_loom.drafting.drafted import Draft, DraftedCircuit
from vivid_loom.drafting.helm.lamps import LAMPS
from vivid_loom.drafting.making.switch import HelmSwitch
from vivid_loom.drafting.places.feeders import MINUS_STUD
from vivid_loom.netlist import Conductor, Element, NetList, Terminal, TerminalId
from vivid_loom.quantities import Gauge
from vivid_loom.standards.colours import InsulationColour
from vivid_loom.standards.terminals import CONTACTS, Form

__all__ = ["intended_states", "lamp_element", "net_list"]

ROCKER_LAMP_A = 0.02  # a lit legend or a dot, one diode and its resistor; our choice


def lamp_element(place: str, lamp: int) -> str:
    """Return what the net list calls a lamp of a switch; lamps count from 0."""
    return f"{place} {LAMPS[lamp]} lamp"


class _Net(Collected):
    """Collects a net list from a draft."""

    def __init__(self, draft: Draft) -> None:
        super().__init__(draft.aboard)
        self.draft, self.network = draft, draft.aboard.boat.network
        self.coils = {supply.coil for supply in self.network.supplies.values()}
        self.coils |= {switch.coil for switch in draft.aboard.switches.values()}

    # what the boat has

    def batteries(self) -> None:
        for battery in self.network.batteries.values():
            self.part(battery.id, "battery", battery.name, battery.station)
            plus = self.terminal(battery.id, "plus post", "post")
            minus = self.terminal(battery.id, "minus post", "post")
            volts = self.network.nominal_v
            self.elements[battery.id] = Element(
                battery.id, battery.id, plus, minus, "source", volts=volts
            )

    def buses(self) -> None:
        for bus in self.draft.aboard.boat.return_buses:
            self.part(bus.id, "return bus", bus.name, bus.station)
            self.terminal(bus.id, BAR, BAR)

    def supply(self, supply: Supply) -> None:
        """Add a part that current passes, its inputs behind their contacts, its bar and studs."""
        self.part(supply.id, supply.kind, supply.name, supply.station)
        bar = self.terminal(supply.id, BAR, BAR)
        states = STATES.get(supply.kind)
        if states:
            coil = self._coil(supply.coil)
            self.actuator(supply.id, supply.id, tuple(states), coil)
        for feed in supply.feeds:
            inlet = self.terminal(supply.id, f"feed stud {feed.port}".strip(), "stud")
            if supply.kind == "combining_relay":
                name = self.actuator(supply.id, supply.id, ("open", "closed"))
                self.contact(supply.id, inlet, bar, by=(name, ("closed",)))
            elif supply.kind in SOURCES:
                self._source(supply, inlet)
            elif states:
                closed = tuple(s for s, p in states.items() if p == ANY or feed.port in p)
                self.contact(supply.id, inlet, bar, by=(supply.id, closed))
            elif self.network.converts(supply.id):
                self._source(supply, bar)
                name, minus = f"{supply.id} input", self.elements[supply.id].minus
                self.elements[name] = Element(name, supply.id, inlet, minus, "converter")
            else:
                self.contact(supply.id, inlet, bar)

    def _source(self, supply: Supply, plus: TerminalId) -> None:
        """Add what gives current by itself; it comes home by its own minus, or by its case."""
        at = self.network.minus_of(supply.id)
        if at == supply.id:
            minus = self.terminal(at, MINUS_STUD, "stud")
        else:
            is_battery = at in self.network.batteries
            minus = self.terminal(at, "minus post" if is_battery else BAR, BAR)
        volts = self.network.voltage(supply.id)
        self.elements[supply.id] = Element(supply.id, supply.id, plus, minus, "source", volts=volts)

    def _coil(self, load: str) -> str:
        loads = self.draft.aboard.loads
        if load not in loads:
            return ""
        return f"{load} up" if loads[load].lead("plus") is None else f"{load} plus"

    def switch(self, switch: HelmSwitch) -> None:
        """Add a switch, float, key or contactor with its contacts."""
        request, part, place = switch.request, switch.part, switch.place
        boat = self.draft.aboard.boat
        panel = boat.panel_at(switch.position)
        station = request.station or (panel.station if panel else boat.helm_station)
        self.part(place, part.actuator, request.legend, station)
        name = self.actuator(request.id, place, part.states, self._coil(request.coil))
        for terminal in part.terminals:
            self.terminal(place, terminal, part.lands_on(terminal))
        for link in part.links:
            first, last = (terminal_id(place, end) for end in link.ends)
            self.contact(place, first, last, by=(name, link.closed_in))
        for lamp in range(part.lamps):
            plus, minus = (terminal_id(place, end) for end in part.lamp_ends(lamp))
            element = lamp_element(place, lamp)
            self.elements[element] = Element(element, place, plus, minus, "lamp", ROCKER_LAMP_A)

    def breaker_lever(self, row: DraftedCircuit) -> None:
        """Join the bar of a breaker panel to a lever on it."""
        lever = self.draft.breaker_levers.get(row.id)
        if lever:
            bar, inlet = terminal_id(row.planned.source, BAR), terminal_id(lever.place, "1C")
            self.contact(row.planned.source, bar, inlet)

    def load(self, load: Load) -> None:
        """Add a consumer with its leads, and the contact inside it."""
        self.part(load.id, "load", load.name, load.station)
        leads = [lead.function for lead in load.leads]
        if "minus" not in leads:
            self._turned(load)
            return
        minus = self.terminal(load.id, "minus", "lead")
        law = "motor" if load.motor else "coil" if load.id in self.coils else "draw"
        amps = load.running_a or 0.0
        for function in ("plus", "automatic", "manual", "up", "down"):
            if function not in leads:
                continue
            lead = self.terminal(load.id, function, "lead")
            inner = function == "automatic" or (function == "plus" and load.contact_a)
            if inner:
                inside = self.terminal(load.id, "inside", "lead")
                name = self.actuator(f"{load.id} float", load.id, ("down", "up"))
                self.contact(load.id, lead, inside, by=(name, ("up",)))
                lead = inside
                if "manual" in leads:  # both lead to the one motor, its own element
                    self.contact(load.id, inside, self.terminal(load.id, "manual", "lead"))
                    continue
            element = f"{load.id} {function}"
            self.elements[element] = Element(element, load.id, lead, minus, law, amps)  # type: ignore[arg-type]
        if "lamp" in leads:
            lamp = self.terminal(load.id, "lamp", "lead")
            made = Element(f"{load.id} lamp", load.id, lamp, minus, "lamp", SIGNAL_A["lamp"])
            self.elements[made.id] = made

    def _turned(self, load: Load) -> None:
        """Add a motor of two leads: an element each way round."""
        if load.lead("up") is None or load.lead("down") is None:
            return
        up, down = (self.terminal(load.id, name, "lead") for name in ("up", "down"))
        for name, plus, minus in (("up", up, down), ("down", down, up)):
            element = f"{load.id} {name}"
            amps = load.running_a or 0.0
            self.elements[element] = Element(element, load.id, plus, minus, "motor", amps)

    def strips(self) -> None:
        for strip in self.draft.allocation.strips:
            self.part(strip.id, "strip", strip.id, strip.station)
            for pole in strip.used:
                into = self.terminal(strip.id, f"pole {pole.number} in", "screw")
                out = self.terminal(strip.id, f"pole {pole.number} out", "screw")
                self.contact(strip.id, into, out)

    def plugs(self) -> None:
        for plug in self.draft.assembled.plugs:
            self.part(plug.id, "plug", plug.id, plug.station)
            name = self.actuator(f"{plug.id} mating", plug.id, ("mated", "apart"))
            contact = next(c for c in CONTACTS if c.size == plug.contact)
            form = Form(f"size {plug.contact}", 1, contact.thickest_mm2, plug.contact_max_a)
            for cavity in plug.cavities:
                live, dead = (
                    self._cavity(plug.id, f"cavity {cavity.number} {side}", form)
                    for side in (plug.live, plug.dead)
                )
                self.contact(plug.id, live, dead, by=(name, ("mated",)))

    def posts(self) -> None:
        for post in self.draft.assembled.posts:
            self.part(post.place, "post", post.place, post.station)

    def _cavity(self, plug: str, name: str, form: Form) -> TerminalId:
        made = terminal_id(plug, name)
        self.terminals[made] = Terminal(made, plug, name, "cavity", form)
        return made

    def circuits(self, fixed: Mapping[TerminalId, Terminal]) -> None:
        """Add what circuits and feeders add, each as before where it is made from the same.

        Args:
            fixed: terminals of the batteries, the supply and the buses.
        """
        aboard, kept = self.aboard, self.draft.kept
        terminals: dict[TerminalId, Terminal] = {}
        for row in self.draft.rows:
            held = row.sized.protection.value if row.sized and row.sized.protection else None
            added = kept.take_beyond(
                "net",
                row.id,
                (row.planned, row.wires, held, aboard.boat),
                partial(circuit_net, row, aboard, fixed),
            )
            self.parts |= added.parts
            terminals |= added.terminals
            self.actuators |= added.actuators
            self.contacts |= added.contacts
            self.conductors |= added.conductors
        self.terminals = terminals | self.terminals  # what a part says of its own goes before


def _factory_links(net: _Net, draft: Draft) -> None:
    """Add what stays of the chains that panels arrive with."""
    for number, fate in enumerate(link_fates(draft), 1):
        if fate.stays and fate.start.switch and fate.end.switch:
            ends = [terminal_id(e.switch.place, e.tab) for e in (fate.start, fate.end) if e.switch]
            name = f"{fate.panel.id} link {number}"
            net.conductors[name] = Conductor(
                name,
                fate.panel.id,
                (ends[0], ends[1]),
                "lamp",
                Gauge.parse(fate.link.gauge),
                InsulationColour("BK", ""),
                fate.link.length_mm / 1000,
            )


def net_list(draft: Draft) -> NetList:
    """Return the net list of a draft: contacts inside loads, switches and plugs are part of it."""
    net = _Net(draft)
    net.batteries()
    net.buses()
    for supply in draft.aboard.boat.supplies:
        net.supply(supply)
    fixed = dict(net.terminals)
    for switch in draft.switches:
        net.switch(switch)
    for load in draft.aboard.loads.values():
        net.load(load)
    net.strips()
    net.plugs()
    net.posts()
    _factory_links(net, draft)
    for row in draft.circuits:
        net.breaker_lever(row)
    net.circuits(fixed)
    return net.whole()


def intended_states(draft: Draft, row: DraftedCircuit) -> Iterator[dict[str, str]]:
    """Yield the states in which a circuit's loads are meant to run, one a contact it goes through.

    Battery switches and keys are on, relays pulled, floats up, selectors on their first battery.
    """
    on: dict[str, str] = {}
    for supply in draft.aboard.boat.supplies:
        states = tuple(STATES.get(supply.kind, ()))
        if states:
            on[supply.id] = states[1]
    for name in row.planned.loads:
        on[f"{name} float"] = "up"
    contacts = row.planned.request.contacts if row.planned.request else ()
    if not contacts:
        yield on
    for contact in contacts:
        for throw in contact.throws:
            yield {**on, contact.switch: throw}
