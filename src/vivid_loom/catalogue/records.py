"""Parts the shop keeps: wire and switches. All generic."""

from typing import Annotated, Final, Literal, NamedTuple

from annotated_types import Ge, Gt

from vivid_loom.quantities import GaugeText, Id, record
from vivid_loom.standards.colours import ColourText
from vivid_loom.standards.contacts import BOTH

__all__ = [
    "INTERLOCK",
    "Arrangement",
    "CableStock",
    "Catalogue",
    "Link",
    "Price",
    "SwitchPart",
    "WireStock",
]

Positive = Annotated[float, Gt(0)]
Arrangement = Literal["SPST", "SPDT", "DPST", "DPDT", "reversing pair", "make pair"]
Action = Literal["latching", "momentary", "mixed"]
Press = Literal["up", "down"]
Actuator = Literal["lever", "knob", "key", "coil", "float", "pressure", "thermostat"]


@record
class WireStock:
    """One size of marine wire on the shelf: stranded, tinned.

    Attributes:
        gauge: '16 AWG' or '1.5 mm²'.
        diameter_mm: over the insulation.
        mass_kg_per_km: of the whole wire.
        price_per_m: in the shop's currency.
        colours: bases it is kept in; () for all.
    """

    gauge: GaugeText
    diameter_mm: Positive
    mass_kg_per_km: Positive
    price_per_m: Positive
    colours: tuple[str, ...] = ()


@record
class CableStock:
    """Several cores under one jacket, or a twisted pair.

    Attributes:
        core_colours: one per core, the last the negative's.
        diameter_mm: over the jacket; one circle in a bundle.
        strip_mm: of the jacket at each end.
    """

    name: str
    cores: Annotated[int, Ge(2)]
    gauge: GaugeText
    core_colours: tuple[ColourText, ...]
    diameter_mm: Positive
    strip_mm: Positive
    mass_kg_per_km: Positive
    price_per_m: Positive
    twisted: bool = False
    jacket: ColourText = "WH"


INTERLOCK: Final = {"up": ("UF", "UC"), "down": ("DF", "DC")}
"""The break contact that the coil of each way is fed through: where its feed lands, then its coil.

The coil of the other way opens it.
"""


class Link(NamedTuple):
    """A contact: two terminals of a part and the states that it is closed in."""

    start: str
    end: str
    closed_in: tuple[str, ...]

    @property
    def ends(self) -> tuple[str, str]:
        """Both terminals."""
        return self.start, self.end


@record
class SwitchPart:
    """A switch, float, key or contactor as bought.

    Attributes:
        arrangement: contacts; two poles for DPST and DPDT. A pair has two coils: 'reversing', with
            studs for plus, minus and a motor of two leads, both on minus at rest; 'make', with one
            for plus and one for either lead of a motor that has one each way.
        interlock: of a pair, what keeps both coils from pulling at once: something 'inside' it,
            or its break 'contacts', which the coils' leads are then fed through; '' for nothing.
        action: 'latching', 'momentary', or 'mixed': up springs back, down stays.
        rest: where an untouched lever may stand: in an off, or in 'down' as on an on-on switch.
        rated_a: resistive rating of one contact, up to ``rated_v``.
        motor_factor: share of ``rated_a`` that a motor may draw.
        intermittent_a: what a motor may draw that runs briefly, by the maker; None where he does
            not say: a short time on spares the contact heat, not the arc.
        lamps: how many it has, 'A' above and 'B' below.
        lamp_wiring: 'independent' lamps have a plus tab of their own; a 'dependent' one hangs
            inside on the first pole's throw of its own side.
        lamp_minus: one minus tab for both lamps, or one each.
        marks: the maker's mark of a terminal, by our name for it, where it is another.
        upright: the feature that stays when the lever moves, by which front and back are told.
        depth_mm: behind the panel, its tabs and push-ons included.
        cut_out: the hole it wants in a panel, as '37 × 21 mm' or '12 mm round'; '' for none.
        guard, lever_colour: of the lever.
        prewired: what arrives wired to it; '' for nothing.
        actuator: what moves it; a 'knob' is a dimmer's, from off to full.
        terminal: what its conductors land on.
        ingress, ignition_protected: what it stands.
        live_side: which terminals close when the lever is up; most close the lower ones.
        breaker: its lever is that of a breaker on its panel's bar, which is made up to ``rated_a``.
    """

    id: Id
    name: str
    arrangement: Arrangement
    action: Action
    rated_a: Positive
    rated_v: Positive = 14.0
    motor_factor: Annotated[float, Gt(0)] = 0.5
    intermittent_a: Positive | None = None
    live_side: Literal["opposite", "same"] = "opposite"
    lamps: Annotated[int, Ge(0)] = 2
    actuator: Actuator = "lever"
    terminal: Literal["tab", "screw", "stud", "tail"] = "tab"
    ingress: Literal["dry", "spray", "submersible"] = "dry"
    ignition_protected: bool = False
    rest: Literal["off", "down"] = "off"
    lamp_wiring: Literal["independent", "dependent"] = "independent"
    lamp_minus: Literal["shared", "own"] = "shared"
    marks: tuple[tuple[str, str], ...] = ()
    upright: str = ""
    depth_mm: Annotated[float, Ge(0)] = 0.0
    cut_out: str = ""
    guard: bool = False
    lever_colour: ColourText = "BK"
    prewired: str = ""
    breaker: bool = False
    interlock: Literal["", "inside", "contacts"] = ""

    @property
    def is_pair(self) -> bool:
        """Whether it has a coil each way."""
        return self.arrangement.endswith(" pair")

    @property
    def poles(self) -> int:
        """Number of poles; the second of a reversing pair is its minus stud."""
        return 2 if self.arrangement.startswith(("DP", "reversing")) else 1

    @property
    def throws(self) -> int:
        """Number of throws a pole has."""
        return 2 if self.arrangement.endswith(("DT", "pair")) else 1

    @property
    def presses(self) -> tuple[Press, ...]:
        """The presses that close something."""
        return ("up", "down") if self.throws == 2 else ("up",)

    @property
    def states(self) -> tuple[str, ...]:
        """The states of its lever or coils, the one at rest first."""
        if self.is_pair and self.interlock != "inside":
            return ("off", *self.presses, BOTH)
        return ("down", "up") if self.rest == "down" else ("off", *self.presses)

    @property
    def links(self) -> tuple[Link, ...]:
        """Its contacts."""
        if not self.is_pair:
            poles, presses = range(1, self.poles + 1), self.presses
            return tuple(Link(f"{p}C", f"{p}{x[0].upper()}", (x,)) for p in poles for x in presses)
        up, down = ("up", BOTH), ("down", BOTH)
        found = [Link("1C", "1U", up), Link("1C", "1D", down)]
        if self.poles > 1:
            found += [Link("2C", "1U", ("off", "down")), Link("2C", "1D", ("off", "up"))]
        if self.interlock == "contacts":
            found += [
                Link(*INTERLOCK["up"], ("off", "up")),
                Link(*INTERLOCK["down"], ("off", "down")),
            ]
        return tuple(found)

    def bears_a(self, *, motor: bool, briefly: bool = False) -> float:
        """Return what one of its contacts may carry, in A.

        Args:
            motor: what it switches is one.
            briefly: it runs for a short time, with rests between.
        """
        steady = self.rated_a * (self.motor_factor if motor else 1.0)
        return max(steady, self.intermittent_a or 0.0) if motor and briefly else steady

    def springs_back(self, press: str) -> bool:
        """Tell whether the lever returns by itself from a press."""
        return self.action == "momentary" or (self.action == "mixed" and press == "up")

    @property
    def lamp_tabs(self) -> tuple[str, ...]:
        """The terminals of its lamps that conductors land on."""
        names = "AB"[: self.lamps]
        plus = [f"{name}+" for name in names] if self.lamp_wiring == "independent" else []
        shared = self.lamps and self.lamp_minus == "shared"
        return (*plus, *(["L-"] if shared else [f"{name}-" for name in names]))

    def lamp_ends(self, lamp: int) -> tuple[str, str]:
        """Return the terminals a lamp hangs between inside, plus first; lamps count from 0."""
        name = "AB"[lamp]
        inner = f"1{'UD'[lamp]}" if self.throws > lamp else "1U"
        plus = f"{name}+" if self.lamp_wiring == "independent" else inner
        return plus, "L-" if self.lamp_minus == "shared" else f"{name}-"

    @property
    def terminals(self) -> tuple[str, ...]:
        """All its terminals by our names, poles first, then lamps."""
        if self.is_pair:
            return tuple(dict.fromkeys(end for link in self.links for end in link.ends))
        throws = [press[0].upper() for press in self.presses]
        poles = [f"{p}{name}" for p in range(1, self.poles + 1) for name in ("C", *throws)]
        return (*poles, *self.lamp_tabs)

    def lands_on(self, terminal: str) -> Literal["tab", "screw", "stud", "tail"]:
        """Return what a conductor lands on at one of its terminals."""
        breaks = {end for ends in INTERLOCK.values() for end in ends}
        return "screw" if terminal in breaks else self.terminal

    def mark(self, terminal: str) -> str:
        """Return what is printed beside a terminal on the part."""
        return dict(self.marks).get(terminal, terminal)


@record
class Price:
    """What a part costs.

    Attributes:
        item: how the part's name begins; of several that fit, the longest is meant.
        price: for one ``unit``, in the catalogue's currency.
    """

    item: str
    price: Positive
    unit: str = "pcs"


@record
class Catalogue:
    """Everything the shop can draw on.

    Attributes:
        currency: of all prices.
    """

    name: str
    wires: tuple[WireStock, ...]
    switches: tuple[SwitchPart, ...]
    cables: tuple[CableStock, ...] = ()
    prices: tuple[Price, ...] = ()
    currency: str = "EUR"

    def price_of(self, item: str, unit: str) -> float | None:
        """Return what one of an item costs; None where the list does not say."""
        fit = [p for p in self.prices if p.unit == unit and item.startswith(p.item)]
        return max(fit, key=lambda p: len(p.item)).price if fit else None

    def switch(self, part_id: str) -> SwitchPart | None:
        """Return the switch with this id, if the shop keeps it."""
        return next((part for part in self.switches if part.id == part_id), None)
