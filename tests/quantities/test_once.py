"""What is asked of the same thing again is worked out once, and goes when the thing goes."""

import gc

from vivid_loom.quantities.once import once


class Thing:
    """Something with an identity."""


def test_the_same_thing_is_asked_once_and_others_anew() -> None:
    asked: list[tuple[int, int]] = []

    @once
    def made(thing: Thing, by: int = 1) -> list[int]:
        asked.append((id(thing), by))
        return [by]

    one, other = Thing(), Thing()
    assert made(one) is made(one)
    assert made(one, 2) == [2] and made(one, 2) is made(one, 2)
    assert made(other) is not made(one)
    assert asked == [(id(one), 1), (id(one), 2), (id(other), 1)]


def test_what_was_made_goes_with_the_thing() -> None:
    made: list[object] = []

    @once
    def kept(thing: Thing) -> Thing:
        made.append(Thing())
        return made[-1]  # type: ignore[return-value]

    for _ in range(3):  # ids of things that are gone come back: never their values
        thing = Thing()
        first = kept(thing)
        assert first is made[-1]
        del thing
        gc.collect()
    assert len(made) == 3
