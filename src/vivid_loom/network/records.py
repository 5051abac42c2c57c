"""What a network is made of."""

from typing import Final, Literal, NamedTuple

from vivid_loom.quantities import computed

__all__ = ["IDLE_SHARE", "LEAK_S", "Branch", "Converter", "Draw", "Law", "Network", "Source"]

LEAK_S: Final = 1e-6
"""Conductance across everything that draws: insulation of 1 MΩ, so that no node hangs in the air.

Our choice: a wet boat has less, and 12 µA at 12 V is a thousandth of what any lamp draws."""

IDLE_SHARE: Final = 0.05
"""Below this share of its voltage a constant current or power draws nothing at all; our choice.

So the millivolts between one minus and another drive no current through what is off."""

Law = Literal["resistance", "current", "power"]


class Branch(NamedTuple):
    """A resistance between two nodes.

    Attributes:
        ohm: 0 makes one node of the two.
    """

    id: str
    a: str
    b: str
    ohm: float


class Source(NamedTuple):
    """A voltage behind a resistance.

    Attributes:
        volts: with nothing drawn.
        ohm: above zero.
        limit_a: it gives no more than this, and takes nothing back; None for a battery.
    """

    id: str
    plus: str
    minus: str
    volts: float
    ohm: float
    limit_a: float | None = None


class Draw(NamedTuple):
    """Something that takes current.

    Attributes:
        amps: what it takes at ``volts``.
        least_v: below this a constant current or power gives up: it falls off in proportion to
            nothing at ``IDLE_SHARE``, so that there is always an operating point.
        both_ways: it takes current turned round as well; else a diode stands before it.
    """

    id: str
    plus: str
    minus: str
    law: Law
    amps: float
    volts: float
    least_v: float
    both_ways: bool = False


class Converter(NamedTuple):
    """What a source takes from elsewhere to give its power.

    Attributes:
        source: id of the source that is its output.
        plus, minus: where it takes it.
        efficiency: of the power taken, the share that is given; above 0, at most 1.
        least_v: below this it gives up, as a draw does.
    """

    id: str
    source: str
    plus: str
    minus: str
    efficiency: float
    least_v: float


@computed
class Network:
    """Nodes joined by branches, sources and draws.

    Attributes:
        reference: the node that is 0 V where it can be reached; elsewhere the minus of the first
            source.
    """

    branches: tuple[Branch, ...]
    sources: tuple[Source, ...]
    draws: tuple[Draw, ...] = ()
    converters: tuple[Converter, ...] = ()
    reference: str = ""

    @property
    def stiff(self) -> tuple[Source, ...]:
        """The sources without a limit."""
        return tuple([source for source in self.sources if source.limit_a is None])

    @property
    def limited(self) -> tuple[Source, ...]:
        """The sources with a limit."""
        return tuple([source for source in self.sources if source.limit_a is not None])
