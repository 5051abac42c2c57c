"""Stage 6, switch: which circuit goes through which contact, and what its lamps show."""

from typing import NamedTuple

from vivid_loom.boat import SwitchRequest
from vivid_loom.catalogue import Catalogue, SwitchPart, instead_of
from vivid_loom.drafting.errors import DraftError
from vivid_loom.drafting.helm.lamps import LampUse
from vivid_loom.drafting.helm.laying import Lamps
from vivid_loom.drafting.intake.resolve import Aboard
from vivid_loom.drafting.places.allocate import Allocation, switch_place
from vivid_loom.quantities import computed

__all__ = ["ContactUse", "HelmSwitch", "helm_switches"]


class ContactUse(NamedTuple):
    """One pole fed by one circuit and the lever positions in which it is live."""

    circuit: str
    pole: int
    throws: tuple[str, ...]


@computed
class HelmSwitch:
    """A switch in its position with everything wired to it.

    Attributes:
        place: its code on labels, or its id at a station of its own.
        lamps: what becomes of each of its lamps.
    """

    request: SwitchRequest
    part: SwitchPart
    position: int
    place: str
    uses: tuple[ContactUse, ...]
    lamps: tuple[LampUse, ...] = ()

    def tab_place(self, name: str) -> str:
        """Say where a terminal sits on the back: '1U' is upper or lower by the part."""
        if self.part.is_pair:
            return self.part.lands_on(name)
        if name[0] in "AB":
            return "above all rows" if name[0] == "A" else "below all rows"
        if name == "L-":
            return "above all rows"
        if name.endswith("C"):
            return "middle row"
        upper = name.endswith("U") == (self.part.live_side == "same")
        return "upper row" if upper else "lower row"


def helm_switches(
    aboard: Aboard, allocation: Allocation, catalogue: Catalogue, lamps: Lamps
) -> tuple[HelmSwitch, ...]:
    """Return the helm's switches by position.

    Raises:
        DraftError: a part the catalogue does not have, or a pole or throw the part lacks.
    """
    wired: dict[str, list[ContactUse]] = {}
    for circuit in allocation.circuits:
        for contact in circuit.request.contacts if circuit.request else ():
            use = ContactUse(circuit.id, contact.pole, contact.throws)
            wired.setdefault(contact.switch, []).append(use)
    found: list[HelmSwitch] = []
    for request in aboard.switches.values():
        part = catalogue.switch(request.part)
        if part is None:
            known = ", ".join(p.id for p in catalogue.switches)
            raise DraftError(
                f"switches.{request.id}.part",
                f"found unknown part {request.part!r}, expected one of {known}",
            )
        uses = tuple(wired.get(request.id, ()))
        for use in uses:
            if use.pole > part.poles or len(use.throws) > part.throws:
                poles, throws = use.pole, len(use.throws)
                others = instead_of(
                    part,
                    catalogue,
                    lambda p, n=poles, t=throws: p.poles >= n and p.throws >= t,  # type: ignore[misc]
                )
                raise DraftError(
                    f"circuits.{use.circuit}.contact",
                    f"found pole {use.pole} with throws {', '.join(use.throws)}, expected what "
                    f"a {part.arrangement} has; {others}",
                )
        position = allocation.positions.get(request.id, 0)
        found.append(
            HelmSwitch(
                request=request,
                part=part,
                position=position,
                place=switch_place(request, position),
                uses=uses,
                lamps=lamps.get(request.id, ()),
            )
        )
    return tuple(sorted(found, key=lambda s: (s.position or 999, s.request.id)))
