"""Circles packed into the smallest circle found: the cross-section of a bundle.

Circles are first seated one by one, largest first, each as near the middle as it goes; equal ones
also on rings. A sequence of small linear programs then moves all centres at once until no small
move makes the bundle thinner, and the best start is kept. Same input, same output: the orders
tried come from a fixed seed.
"""

from functools import lru_cache
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

__all__ = ["Packing", "pack", "pack_with_starts"]

Floats = NDArray[np.float64]

SEED: Final = 86
SETTLE_UP_TO: Final = 15  # circles; above it linear programs are quicker than quadratic ones
SETTLE_EQUAL_UP_TO: Final = 19  # equal ones stick at a poor optimum more easily
ALIKE: Final = 0.02  # spread of radii below which circles count as equal and rings are tried
TIGHTEN_UP_TO: Final = 150  # circles; above it the programs grow slow, and seating does well


class Packing(NamedTuple):
    """Centres (x, y) in mm about the middle of the bundle, and the bundle's diameter."""

    centres: tuple[tuple[float, float], ...]
    diameter_mm: float


class _Heap:
    """Circles placed so far and the seats still free, kept per radius that is yet to come.

    A seat touches two placed circles. Once another circle covers it, it stays covered.
    """

    def __init__(self, radii: Floats, first: int) -> None:
        self.radii = radii
        self.at = np.zeros((len(radii), 2))
        self.done = np.array([first])
        self._seats = {float(r): np.zeros((0, 2)) for r in np.unique(radii)}

    def place(self, index: int, to_come: set[float]) -> None:
        """Put a circle on the free seat nearest the middle; then see to the seats left."""
        radius = float(self.radii[index])
        at, radii = self.at[self.done], self.radii[self.done]
        if len(self.done) == 1:
            seat = at[0] + (radii[0] + radius, 0.0)
        else:
            middle = (radii[:, None] ** 2 * at).sum(axis=0) / (radii**2).sum()
            seats = self._seats[radius]
            seat = seats[np.argmin(((seats - middle) ** 2).sum(axis=1))]
        self.at[index] = seat
        self.done = np.append(self.done, index)
        for later in to_come:
            fresh = self._fresh(index, later)
            left = self._seats[later]
            clear = np.hypot(*(left - seat).T) >= (radius + later) * (1 - 1e-9)
            self._seats[later] = np.concatenate([left[clear], fresh])

    def _fresh(self, index: int, radius: float) -> Floats:
        """Return the free seats that touch circle ``index`` and another."""
        others = self.done[:-1]
        line = self.at[others] - self.at[index]
        apart = np.hypot(*line.T)
        near = apart < self.radii[others] + self.radii[index] + 2 * radius
        others, line, apart = others[near], line[near], apart[near]
        a, b = self.radii[index] + radius, self.radii[others] + radius
        along = (a**2 - b**2 + apart**2) / (2 * apart)
        unit = line / apart[:, None]
        foot = self.at[index] + along[:, None] * unit
        side = np.sqrt(np.maximum(0.0, a**2 - along**2))[:, None] * unit[:, ::-1] * (-1.0, 1.0)
        seats = np.concatenate([foot + side, foot - side])
        gap = seats[:, None, :] - self.at[None, self.done, :]
        clear = np.hypot(gap[..., 0], gap[..., 1]) - self.radii[self.done]
        return np.asarray(seats[clear.min(axis=1) >= radius * (1 - 1e-9)])


def _placed(radii: Floats, order: NDArray[np.int64]) -> Floats:
    """Place circles one by one in ``order``; return their centres, shape (n, 2)."""
    heap = _Heap(radii, int(order[0]))
    for position, index in enumerate(order[1:], start=2):
        heap.place(int(index), set(radii[order[position:]].tolist()))
    weight = radii**2
    return np.asarray(heap.at - (weight[:, None] * heap.at).sum(axis=0) / weight.sum())


def _rings(count: int) -> list[list[int]]:
    """Return ways to share equal circles over rings, inmost first."""
    if count <= 1:
        return [[count]] if count else [[]]
    most = count if count <= 5 else min(count, int(2.6 * np.sqrt(count)) + 2)
    least = max(2, most - 4)
    return [
        [*inner, outer]
        for outer in range(least, most + 1)
        if outer <= count
        for inner in _rings(count - outer)[:3]
    ]


def _ringed(radius: float, share: list[int]) -> Floats:
    """Return equal circles on rings, each ring just wide enough for its own."""
    at: list[tuple[float, float]] = []
    inner = 0.0
    for ring, count in enumerate(share):
        if not count:
            continue
        wide = radius / np.sin(np.pi / count) if count > 1 else 0.0
        inner = max(wide, inner + (1.75 * radius if ring and at else 0.0))
        turn = 0.37 * ring
        angles = 2 * np.pi * np.arange(count) / count + turn
        at += list(zip(inner * np.cos(angles), inner * np.sin(angles), strict=True))
    return np.array(at)


def _opened(radii: Floats, at: Floats) -> tuple[Floats, float]:
    """Scale centres up just enough that nothing overlaps; return them and the outer radius."""
    if len(radii) > 1:
        i, j = np.triu_indices(len(radii), 1)
        distance = np.sqrt(((at[i] - at[j]) ** 2).sum(axis=1)) + 1e-12
        at = at * ((radii[i] + radii[j]) / distance).max()
    return at, float((np.sqrt((at**2).sum(axis=1)) + radii).max())


def _step(radii: Floats, at: Floats, outer: float, trust: float) -> Floats | None:
    """Return the best small move of all centres by one linear program; None where there is none."""
    from scipy.optimize import Bounds, LinearConstraint, milp  # slow to load
    from scipy.sparse import coo_matrix

    n = len(radii)
    i, j = np.triu_indices(n, 1)
    gap = at[i] - at[j]
    distance = np.sqrt((gap**2).sum(axis=1)) + 1e-12
    near = distance - radii[i] - radii[j] < 2.9 * trust
    i, j, gap, distance = i[near], j[near], gap[near] / distance[near, None], distance[near]
    out = np.sqrt((at**2).sum(axis=1)) + 1e-12
    rim = out + radii > outer - 2.9 * trust
    k = np.flatnonzero(rim)
    unit = at[k] / out[k, None]
    pairs, rims = len(i), len(k)
    row = np.arange(pairs)
    row_rim = pairs + np.arange(rims)
    rows = np.concatenate([row, row, row, row, row_rim, row_rim, row_rim])
    cols = np.concatenate(
        [2 * i, 2 * i + 1, 2 * j, 2 * j + 1, 2 * k, 2 * k + 1, np.full(rims, 2 * n)]
    )
    vals = np.concatenate(
        [-gap[:, 0], -gap[:, 1], gap[:, 0], gap[:, 1], unit[:, 0], unit[:, 1], -np.ones(rims)]
    )
    limit = np.concatenate([distance - radii[i] - radii[j], -(out[k] + radii[k])])
    cost = np.zeros(2 * n + 1)
    cost[-1] = 1.0
    most = np.full(2 * n + 1, trust)
    least = -most
    least[-1], most[-1] = 0.0, np.inf
    matrix = coo_matrix((vals, (rows, cols)), shape=(pairs + rims, 2 * n + 1)).tocsc()
    done = milp(
        cost, constraints=LinearConstraint(matrix, -np.inf, limit), bounds=Bounds(least, most)
    )
    if done.x is None:
        return None
    return np.asarray(at + done.x[:-1].reshape(n, 2))


def _settled(radii: Floats, at: Floats) -> Floats:
    """Return a local optimum by sequential quadratic programming; quick for a dozen circles."""
    from scipy.optimize import minimize  # slow to load

    n = len(radii)
    i, j = np.triu_indices(n, 1)
    reach2 = (radii[i] + radii[j]) ** 2
    pair, ring = np.arange(len(i)), np.arange(n)

    def room(x: Floats) -> Floats:
        c = x[:-1].reshape(n, 2)
        gap = c[i] - c[j]
        return np.concatenate(
            [(gap**2).sum(axis=1) - reach2, (x[-1] - radii) ** 2 - (c**2).sum(axis=1)]
        )

    def slope(x: Floats) -> Floats:
        c = x[:-1].reshape(n, 2)
        gap = 2 * (c[i] - c[j])
        made = np.zeros((len(i) + n, 2 * n + 1))
        for k in (0, 1):
            made[pair, 2 * i + k] = gap[:, k]
            made[pair, 2 * j + k] = -gap[:, k]
            made[len(i) + ring, 2 * ring + k] = -2 * c[:, k]
        made[len(i) :, -1] = 2 * (x[-1] - radii)
        return made

    at, outer = _opened(radii, at)
    cost = np.append(np.zeros(2 * n), 1.0)
    done = minimize(
        lambda x: x[-1],
        np.append(at.ravel(), outer),
        jac=lambda _: cost,
        method="SLSQP",
        constraints={"type": "ineq", "fun": room, "jac": slope},
        options={"maxiter": 60, "ftol": 1e-6 * outer},
    )
    return np.asarray(done.x[:-1].reshape(n, 2))


def _tightened(radii: Floats, at: Floats) -> tuple[Floats, float]:
    """Return a local optimum near ``at``, or ``at`` itself opened up where it is no worse."""
    best, outer = _opened(radii, at)
    if len(radii) <= (SETTLE_EQUAL_UP_TO if _alike(radii) else SETTLE_UP_TO):
        tried, size = _opened(radii, _settled(radii, best))
        return (tried, size) if size < outer else (best, outer)
    return _squeezed(radii, best, outer, 8 if len(radii) <= TIGHTEN_UP_TO else 0)


def _squeezed(radii: Floats, best: Floats, outer: float, rounds: int) -> tuple[Floats, float]:
    """Squeeze by linear programs; every accepted step is a whole packing."""
    trust = 0.3 * float(radii.mean())
    for _ in range(rounds):
        moved = _step(radii, best, outer, trust)
        if moved is None:
            break
        tried, size = _opened(radii, moved)
        gain = 1 - size / outer
        if gain > 0:
            best, outer = tried, size
        if gain < 3e-5:
            trust *= 0.35
            if trust < 0.003 * radii.mean():
                break
    return best, outer


def _alike(radii: Floats) -> bool:
    return bool(np.ptp(radii) <= ALIKE * radii.max())


def _starts(radii: Floats, count: int) -> list[Floats]:
    rng = np.random.default_rng(SEED)
    n = len(radii)
    orders = [np.argsort(-radii, kind="stable")]
    orders += [np.argsort(-radii * np.exp(0.25 * rng.normal(size=n))) for _ in range(count - 1)]
    made = [_placed(radii, order) for order in orders]
    if n <= 30 and _alike(radii):
        rings = [_ringed(float(radii.max()), share) for share in _rings(n)]
        made = made[:1] + sorted(rings, key=lambda at: _opened(radii, at)[1])[: 2 * count]
    return made


def pack_with_starts(diameters_mm: tuple[float, ...], starts: int) -> Packing:
    """Pack circles, trying ``starts`` arrangements; see ``pack``."""
    n = len(diameters_mm)
    if n == 0:
        return Packing((), 0.0)
    radii = np.array(diameters_mm, dtype=float) / 2
    if not np.isfinite(radii).all() or radii.min() <= 0:
        raise ValueError(f"found diameters {diameters_mm}, expected finite ones above zero")
    if n == 1:
        return Packing(((0.0, 0.0),), float(diameters_mm[0]))
    tries = [_tightened(radii, at) for at in _starts(radii, starts)]
    at, outer = min(tries, key=lambda item: item[1])
    return Packing(tuple((float(x), float(y)) for x, y in at), 2 * outer)


@lru_cache(maxsize=4096)
def pack(diameters_mm: tuple[float, ...]) -> Packing:
    """Return circles of these diameters packed into the smallest circle found.

    Centres keep the order given. More arrangements are tried the fewer circles there are.

    Raises:
        ValueError: a diameter that is not finite and above zero.
    """
    n = len(diameters_mm)
    return pack_with_starts(diameters_mm, 14 if n <= 8 else 8 if n <= 15 else 3 if n <= 30 else 1)
