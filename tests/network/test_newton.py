"""Newton's method and hurried steps: where they end, and how soon."""

import dataclasses
from collections.abc import Callable
from itertools import pairwise

import numpy as np
import pytest
from scipy.optimize import root

from vivid_loom.network import Branch, Converter, Draw, Network, Solver, Source
from vivid_loom.network.laws import Bent
from vivid_loom.network.newton import newton

DICE = np.random.default_rng(23)


def boat(share: float) -> Network:
    """A battery, a ladder of wires with a load of each law at every rung, a 24 to 12 V converter.

    Args:
        share: of what the wires can bear, what the loads take.
    """
    names = [f"n{i}" for i in range(12)]
    branches = tuple(
        Branch(f"w{i}", a, b, float(DICE.uniform(0.01, 0.03)))
        for i, (a, b) in enumerate(pairwise(names))
    )
    laws = ("current", "power", "resistance")
    draws = tuple(
        Draw(f"load {i}", name, "0", laws[i % 3], share * float(DICE.uniform(1, 3)), 24.0, 16.0)  # type: ignore[arg-type]
        for i, name in enumerate(names[1:])
    )
    out = Source("CNV", "low", "0", 13.0, 0.05, 20.0)
    lamps = Draw("lamps", "low", "0", "power", 12 * share, 12.0, 9.0)
    return Network(
        branches=branches,
        sources=(Source("BAT", "n0", "0", 25.6, 0.01), out),
        draws=(*draws, lamps),
        converters=(Converter("CNV in", "CNV", "n11", "0", 0.9, 18.0),),
        reference="0",
    )


def over_bent(network: Network) -> tuple[Bent, tuple[np.ndarray, ...]]:
    """Return the laws, and by dense algebra what the wires do to what bends."""
    solver = Solver(network)
    standing = solver.standing()
    inverse = np.linalg.inv(solver.matrix(standing, standing.slopes).toarray())
    live = standing.live
    inverse = inverse * (live[:, None] & live[None, :])
    plus, minus = solver.bent_ends
    per_ampere = solver.over_bent(inverse[:, plus] - inverse[:, minus])
    return standing.bent, (
        standing.slopes,
        per_ampere,
        solver.over_bent(inverse @ (solver.driven * live)),
    )


def counted(monkeypatch: pytest.MonkeyPatch, of: object, name: str) -> list[int]:
    """Count the calls of a function from now on."""
    calls, real = [0], getattr(of, name)

    def call(*args: object, **kwargs: object) -> object:
        calls[0] += 1
        return real(*args, **kwargs)

    monkeypatch.setattr(of, name, call)
    return calls


def test_ends_where_a_root_finder_does_and_sooner(monkeypatch: pytest.MonkeyPatch) -> None:
    solved = counted(monkeypatch, np.linalg, "solve")
    for _ in range(40):
        bent, (slopes, per_ampere, undrawn) = over_bent(boat(float(DICE.uniform(0.2, 0.9))))
        begin = np.concatenate((0.95 * bent.volts, 0.98 * bent.source_v, [22.0]))
        solved[0] = 0
        found = newton(bent, slopes, per_ampere, undrawn, begin)
        assert solved[0] <= 4, "a converter's input follows from its output: that is told too"

        def off(
            v: np.ndarray,
            bent: Bent = bent,
            linear: tuple[np.ndarray, ...] = (slopes, per_ampere, undrawn),
        ) -> np.ndarray:
            return v - linear[2] + linear[1] @ (bent.currents(v) - linear[0] * v)

        assert np.abs(off(found)).max() < 1e-7
        theirs = root(off, found + 0.01, method="hybr", tol=1e-12).x
        assert np.allclose(found, theirs, atol=1e-6)


def test_where_no_step_is_better_than_another_it_stays() -> None:
    bent, (_, _, undrawn) = over_bent(boat(0.5))
    begin = np.full(len(undrawn), 20.0)
    slopes = bent.slopes(begin) + 1.0
    unit = np.eye(len(undrawn))
    assert (newton(bent, slopes, unit, undrawn, begin) == begin).all()


def _steps(monkeypatch: pytest.MonkeyPatch, work: Callable[[], object]) -> int:
    with monkeypatch.context() as patch:
        calls = counted(patch, Solver, "into_nodes")
        work()
        return calls[0]


def test_steps_hurry_where_they_shrink_alike(monkeypatch: pytest.MonkeyPatch) -> None:
    """Far from their rated voltage, constant powers leave each step a like share of the last."""
    took = []
    for _ in range(20):
        solver = Solver(dataclasses.replace(boat(1.6), converters=()))
        took.append(_steps(monkeypatch, solver.point))
        point = solver.point()
        assert point.imbalance_a < 1e-6
    assert max(took) <= 4, took
