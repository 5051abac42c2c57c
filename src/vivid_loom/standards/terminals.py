"""Terminals, jaws, strip lengths, studs and sealed contacts."""

from functools import lru_cache
from math import inf
from typing import Final, NamedTuple

from vivid_loom.quantities import Gauge
from vivid_loom.standards.conductor import area_mm2
from vivid_loom.standards.source import NotInTableError, Source

__all__ = [
    "CONTACTS",
    "CONTACT_SOURCE",
    "HEAVY",
    "MAX_CONDUCTORS_PER_TAB",
    "MAX_JOINT_STEPS",
    "MAX_RINGS_PER_STUD",
    "SHELL_MM",
    "STEPPED_BUTTS",
    "STRIP_POLES",
    "STUD_MAX_A",
    "TERMINAL_SOURCE",
    "THREADED",
    "TORQUE_NM",
    "WAY_THICKEST_MM2",
    "Barrel",
    "Contact",
    "Form",
    "barrel_for",
    "barrel_for_area",
    "cavity_rows",
    "closed_end_for",
    "contact_for",
    "form_of",
    "pull_n",
    "strip_rating_a",
    "tensile_n",
]

TERMINAL_SOURCE: Final = Source("common practice", "insulated terminal colour code", "no source")
CONTACT_SOURCE: Final = Source("common practice", "sealed plug contact sizes, generic", "no source")
TENSILE_SOURCE: Final = Source("ABYC E-11", "tensile test of connections, 1 min", "from memory")

MAX_RINGS_PER_STUD: Final = 4  # ABYC E-11, 33 CFR 183.445
MAX_CONDUCTORS_PER_TAB: Final = 2  # common practice, no source
STRIP_POLES: Final = {20.0: 12, 30.0: 8, 60.0: 6}  # rating of a pole in A: poles of one strip
STUD_MAX_A: Final = {"M4": 30.0, "M5": 65.0, "M6": 100.0, "M8": 250.0, "M10": 400.0}
"""What a stud's thread carries; generic, from memory, look up the maker's."""
TORQUE_NM: Final = {"M4": 1.5, "M5": 2.5, "M6": 5.0, "M8": 10.0, "M10": 18.0}
"""What a clean stud's nut is tightened to; from memory: the maker's figure rules."""
MOST_IN_A_JOINT: Final = 6  # conductors and tails under one closed end; our choice
STEPPED_BUTTS: Final = frozenset(
    (a, b) for pair in (("red", "blue"), ("blue", "yellow")) for a, b in (pair, pair[::-1])
)
"""Barrels of the two sides of a stepped butt, (this, that); common practice, no source."""
MAX_JOINT_STEPS: Final = 2  # trade sizes under one closed end; common practice, no source


class Form(NamedTuple):
    """What a terminal is and takes.

    Attributes:
        size: of its thread or blade; '' where its part says.
        most: conductors on it.
        thickest_mm2: conductor that its terminal, barrel or cavity is made for.
        rated_a: inf where its part is rated as a whole.
    """

    size: str
    most: int
    thickest_mm2: float
    rated_a: float


WAY_THICKEST_MM2: Final = 6.05  # 10 AWG or 6 mm²: the thickest a 6.3 mm tab or a way's ring takes
_LUG_THICKEST_MM2: Final = {
    "M4": WAY_THICKEST_MM2,
    "M5": 25.0,
    "M6": 55.0,
    "M8": 125.0,
    "M10": 185.0,
}
"""The heaviest lug made with a hole for the thread; generic, from memory."""


THREADED: Final = ("way", "screw", "stud", "post")
"""Kinds of terminals whose thread says what they take."""

_TAB: Final = Form("6.3 mm", MAX_CONDUCTORS_PER_TAB, WAY_THICKEST_MM2, inf)
_JOINED: Final = Form("", MOST_IN_A_JOINT, inf, inf)


def form_of(kind: str, thread: str) -> Form:
    """Return what a kind of terminal takes.

    Args:
        kind: 'tab', 'way', 'screw', 'stud', 'post', or one that takes what it is joined to.
        thread: of a way, screw, stud or post.
    """
    if kind == "tab":
        return _TAB
    if kind not in THREADED:
        return _JOINED
    if kind == "way":
        return Form("", MAX_CONDUCTORS_PER_TAB, _LUG_THICKEST_MM2[thread], inf)
    if kind == "screw":
        return Form(thread, MAX_RINGS_PER_STUD, _LUG_THICKEST_MM2[thread], STUD_MAX_A[thread])
    thickest, bears = _LUG_THICKEST_MM2.get(thread, inf), STUD_MAX_A.get(thread, inf)
    return Form(thread, MAX_RINGS_PER_STUD, thickest, bears)


def strip_rating_a(device_a: float) -> float:
    """Return the weakest pole that bears a device, in A; the strongest where none does."""
    return next((rated for rated in STRIP_POLES if rated >= device_a), max(STRIP_POLES))


class Barrel(NamedTuple):
    """The crimp barrel that fits a conductor."""

    colour: str  # of the insulated terminal; 'bare' for heavy lugs
    jaw: str
    strip_mm: float


_INSULATED: Final = (
    # area from, to (mm²), barrel: red 22–18, blue 16–14, yellow 12–10 AWG
    (0.0, 1.05, Barrel("red", "red", 7.0)),  # thinner strands are doubled over
    (1.05, 2.55, Barrel("blue", "blue", 7.0)),
    (2.55, 6.05, Barrel("yellow", "yellow", 9.0)),
)


_LARGE_CLOSED_END: Final = (10.6, Barrel("large", "hex 10 mm²", 12.0))
"""The total section it takes, 8 AWG or 10 mm²; generic, from memory."""


def barrel_for_area(area_mm2: float) -> Barrel | None:
    """Return the insulated barrel that takes a total section; None where none does."""
    fits = (barrel for low, high, barrel in _INSULATED if low <= area_mm2 < high)
    return next(fits, None)


def closed_end_for(total_mm2: float) -> Barrel | None:
    """Return the closed end that takes all that meets in it; None where none does."""
    most_mm2, large = _LARGE_CLOSED_END
    return barrel_for_area(total_mm2) or (large if total_mm2 < most_mm2 else None)


@lru_cache(maxsize=256)
def barrel_for(gauge: Gauge) -> Barrel:
    """Return the barrel, jaw and strip length (mm) for a conductor."""
    area = area_mm2(gauge)
    if insulated := barrel_for_area(area):
        return insulated
    # barrel depth of generic heavy lugs grows with the wire; from memory
    strip = 12.0 if area < 20 else 16.0 if area < 40 else 20.0
    return Barrel("bare", f"hex {gauge}", strip)


SHELL_MM: Final = {
    (20, 2): 18.0,
    (16, 2): 22.0,
    (16, 3): 24.0,
    (16, 4): 26.0,
    (16, 6): 30.0,
    (16, 8): 35.0,
    (16, 12): 44.0,
    (12, 2): 27.0,
    (12, 4): 35.0,
    (8, 2): 36.0,
    (4, 2): 42.0,
    (2, 1): 34.0,
    (0, 1): 44.0,
}
"""The hole that a sealed plug passes, by (contact size, ways); generic, from memory."""


class Contact(NamedTuple):
    """A sealed-plug contact size."""

    size: int
    max_a: float
    thinnest_mm2: float
    thickest_mm2: float
    strip_mm: float


CONTACTS: Final = (
    Contact(20, 7.5, 0.32, 1.5, 5.0),  # 22–16 AWG
    Contact(16, 13.0, 0.50, 2.5, 6.5),  # 20–14
    Contact(12, 25.0, 2.0, 6.0, 7.0),  # 14–10
    Contact(8, 60.0, 5.0, 10.0, 10.0),  # 10–8
    Contact(4, 100.0, 13.0, 16.0, 13.0),  # 6
    Contact(2, 150.0, 16.5, 35.0, 16.0),  # 4–2, heavy plugs of one way from here
    Contact(0, 250.0, 35.5, 70.0, 20.0),  # 1–2/0
)
HEAVY: Final = frozenset({2, 0})
"""Contact sizes of heavy plugs, for conductors that otherwise pass a border whole."""


@lru_cache(maxsize=1024)
def contact_for(
    gauge: Gauge, protection_a: float, *, smallest: int = 16, heavy: bool = False
) -> Contact | None:
    """Return the smallest contact that takes the wire and bears the device upstream.

    Plugs of one shop are kept to size 16 and up (``smallest``): our choice, fewer families.

    Args:
        heavy: heavy plugs are taken as well.
    """
    area = area_mm2(gauge)
    for contact in CONTACTS:
        if contact.size in HEAVY and not heavy:
            continue
        fits = contact.thinnest_mm2 <= area <= contact.thickest_mm2
        if contact.size <= smallest and fits and contact.max_a >= protection_a:
            return contact
    return None


_POUND_N: Final = 4.4482216
_TENSILE_LBF: Final = {
    18: 10,
    16: 15,
    14: 30,
    12: 35,
    10: 40,
    8: 45,
    6: 50,
    4: 70,
    3: 80,
    2: 90,
    1: 100,
    0: 125,
    -1: 150,
    -2: 175,
    -3: 225,
}
_TENSILE_N: Final = {
    0.75: 40,
    1: 60,
    1.5: 130,
    2.5: 150,
    4: 170,
    6: 200,
    10: 220,
    16: 260,
    25: 310,
    35: 350,
}


def tensile_n(gauge: Gauge) -> float:
    """Return the pull a crimp must bear for one minute, in N.

    Raises:
        NotInTableError: no printed row for the size.
    """
    try:
        if gauge.series != "mm2":
            return _TENSILE_LBF[int(gauge.size)] * _POUND_N
        return float(_TENSILE_N[gauge.size])
    except KeyError:
        raise NotInTableError(TENSILE_SOURCE, gauge) from None


def pull_n(gauge: Gauge) -> float:
    """Return the pull a crimp must bear for one minute, in N, for every size that is stocked.

    A metric size beyond the printed rows bears what the thickest printed AWG bears that is no
    thicker than it; our choice.

    Raises:
        NotInTableError: thinner than every row.
    """
    try:
        return tensile_n(gauge)
    except NotInTableError:
        below = [n for n in _TENSILE_LBF if area_mm2(Gauge("AWG", n)) <= area_mm2(gauge)]
        if not below:
            raise
        return tensile_n(Gauge("AWG", min(below)))


def cavity_rows(ways: int) -> tuple[tuple[int, ...], ...]:
    """Return a shell's cavities by row as seen from the wire side, counted along the rows.

    Up to three ways stand in one row, more in two: a generic shell, ours.
    """
    if ways <= 3:
        return (tuple(range(1, ways + 1)),)
    half = ways // 2
    return tuple(range(1, half + 1)), tuple(range(half + 1, ways + 1))
