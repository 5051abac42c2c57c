"""The figures of a load as fields: how each is shown, read and named."""

import dataclasses
import re
from collections.abc import Callable
from typing import Final, Literal, NamedTuple, get_args

from vivid_loom.boat import DeviceFamily, Evidence, Load, LoadState, MakerLength
from vivid_loom.drafting.after.scenarios import SCENARIOS
from vivid_loom.quantities import (
    GaugeError,
    QuantityError,
    figure,
    parse_amps,
    parse_gauge,
    parse_length_m,
)
from vivid_loom.standards.usage import USUAL

__all__ = ["FIELDS", "LoadField", "changed", "field_named"]

Read = Callable[[str, Load, float], Load]


class LoadField(NamedTuple):
    """One field of the load sheet.

    Attributes:
        options: words to choose from; () for free text.
        show: the load's value as text.
        read: text, load and nominal voltage → the changed load; raises ValueError.
    """

    name: str
    label: str
    hint: str
    options: tuple[str, ...]
    show: Callable[[Load], str]
    read: Read


def _amps(attribute: str, label: str, hint: str) -> LoadField:
    def show(load: Load) -> str:
        value = getattr(load, attribute)
        return "" if value is None else figure(value)

    def read(text: str, load: Load, nominal_v: float) -> Load:
        if not text.strip():
            return dataclasses.replace(load, **{attribute: None})  # type: ignore[arg-type]
        amps = parse_amps(text, nominal_v)
        if amps <= 0:
            raise QuantityError(text, "a current above zero")
        return dataclasses.replace(load, **{attribute: round(amps, 4)})  # type: ignore[arg-type]

    return LoadField(attribute, label, hint, (), show, read)


def _words(attribute: str, label: str, hint: str, options: tuple[str, ...]) -> LoadField:
    def read(text: str, load: Load, nominal_v: float) -> Load:
        value = text.replace(" ", "_") if attribute in ("state", "function") else text
        known = tuple(o.replace(" ", "_") for o in options) if attribute == "state" else options
        if options and attribute != "function" and value not in known:
            raise ValueError(f"found {text!r}, expected one of {', '.join(options)}")
        return dataclasses.replace(load, **{attribute: value})  # type: ignore[arg-type]

    def show(load: Load) -> str:
        return str(getattr(load, attribute)).replace("_", " ")

    return LoadField(attribute, label, hint, options, show, read)


def _running(text: str, load: Load, nominal_v: float) -> Load:
    """A figure that replaces an unknown is at best an estimate until evidence is given."""
    if text.strip().lower() in ("", "unknown", "?"):
        return dataclasses.replace(
            load, running_a=None, evidence=dataclasses.replace(load.evidence, kind="unknown")
        )
    amps = parse_amps(text, nominal_v)
    if amps <= 0:
        raise QuantityError(text, "a current above zero")
    kind = "estimate" if load.evidence.kind == "unknown" else load.evidence.kind
    return dataclasses.replace(
        load, running_a=round(amps, 4), evidence=dataclasses.replace(load.evidence, kind=kind)
    )


def _evidence(part: Literal["kind", "note", "date"], label: str, hint: str) -> LoadField:
    options = ("maker", "measured", "estimate", "unknown") if part == "kind" else ()

    def read(text: str, load: Load, nominal_v: float) -> Load:
        if part == "kind":
            if text not in options:
                raise ValueError(f"found {text!r}, expected one of {', '.join(options)}")
            if text != "unknown" and load.running_a is None:
                raise ValueError("give the current first; without it the figure is unknown")
        evidence = Evidence(**{**vars(load.evidence), part: text})
        return dataclasses.replace(load, evidence=evidence)

    return LoadField(
        f"evidence_{part}", label, hint, options, lambda load: getattr(load.evidence, part), read
    )


def _gauge(text: str, load: Load, nominal_v: float) -> Load:
    try:
        smallest = str(parse_gauge(text)) if text.strip() else None
    except GaugeError as error:
        raise ValueError(str(error)) from error
    return dataclasses.replace(load, maker_smallest=smallest)


def _percent(attribute: str, label: str, hint: str) -> LoadField:
    def read(text: str, load: Load, nominal_v: float) -> Load:
        plain = text.replace("%", "").replace(",", ".").strip()
        if not plain and attribute == "efficiency_percent":
            return dataclasses.replace(load, efficiency_percent=None)
        value = float(plain) if plain.replace(".", "", 1).isdigit() else -1.0
        if not 0 < value <= 100:
            raise ValueError(f"found {text!r}, expected a percentage above 0, at most 100")
        return dataclasses.replace(load, **{attribute: value})  # type: ignore[arg-type]

    def show(load: Load) -> str:
        value = getattr(load, attribute)
        return "" if value is None else f"{value:g}"

    return LoadField(attribute, label, hint, (), show, read)


def _minutes(text: str, load: Load, nominal_v: float) -> Load:
    plain = text.replace("min", "").replace(",", ".").strip()
    if not plain:
        return dataclasses.replace(load, longest_on_min=None)
    if not plain.replace(".", "", 1).isdigit() or float(plain) <= 0:
        raise ValueError(f"found {text!r}, expected minutes above zero, or nothing")
    return dataclasses.replace(load, longest_on_min=float(plain))


def _output(text: str, load: Load, nominal_v: float) -> Load:
    """A converter's output in W; with its efficiency it gives the current drawn."""
    plain = text.lower().replace("w", "").replace(",", ".").strip()
    if not plain:
        return dataclasses.replace(load, output_w=None)
    if not plain.replace(".", "", 1).isdigit() or float(plain) <= 0:
        raise ValueError(f"found {text!r}, expected watts such as '30 W', or nothing")
    watts = float(plain)
    share = (load.efficiency_percent or 100.0) / 100
    amps = round(watts / share / nominal_v, 4)
    return dataclasses.replace(load, output_w=watts, running_a=amps)


_SHORT: Final = {
    "under way by day": "h a day",
    "under way by night": "h a night",
    "at anchor": "h at anchor",
    "moored and left": "h left alone",
}


def _families(text: str, load: Load, nominal_v: float) -> Load:
    names = tuple(part.strip() for part in text.split(",") if part.strip())
    known = get_args(DeviceFamily)
    for name in names:
        if name not in known:
            raise ValueError(f"found {name!r}, expected some of {', '.join(known)}")
    return dataclasses.replace(load, fuse_families=names)  # type: ignore[arg-type]


def _maker_lengths(text: str, load: Load, nominal_v: float) -> Load:
    """Read '3 m 14 AWG, 6 m 12 AWG'; 'one way' in front doubles the lengths to loops."""
    plain = text.strip()
    factor = 2.0 if plain.lower().startswith("one way") else 1.0
    plain = re.sub(r"(?i)^(one way|loop)[:\s]*", "", plain)
    rows: list[MakerLength] = []
    for part in filter(None, (piece.strip() for piece in plain.split(","))):
        match = re.match(r"^([\d.]+\s*(?:m|ft|mm|cm|in))\s+(.+)$", part)
        if match is None:
            raise ValueError(f"found {part!r}, expected a length and a gauge: 3 m 14 AWG")
        length = factor * parse_length_m(match.group(1))
        rows.append(MakerLength(loop_length_m=length, gauge=str(parse_gauge(match.group(2)))))
    return dataclasses.replace(load, maker_lengths=tuple(rows))


def _show_lengths(load: Load) -> str:
    return ", ".join(f"{row.loop_length_m:g} m {row.gauge}" for row in load.maker_lengths)


def _yes(attribute: str, label: str, hint: str) -> LoadField:
    def read(text: str, load: Load, nominal_v: float) -> Load:
        if text not in ("yes", "no"):
            raise ValueError(f"found {text!r}, expected yes or no")
        return dataclasses.replace(load, **{attribute: text == "yes"})  # type: ignore[arg-type]

    return LoadField(
        attribute,
        label,
        hint,
        ("no", "yes"),
        lambda load: "yes" if getattr(load, attribute) else "no",
        read,
    )


def _hours(scenario: str) -> LoadField:
    def show(load: Load) -> str:
        return next((f"{h:g}" for name, h in load.hours if name == scenario), "")

    def read(text: str, load: Load, nominal_v: float) -> Load:
        kept = tuple((name, h) for name, h in load.hours if name != scenario)
        plain = text.replace("h", "").replace(",", ".").strip()
        if not plain:
            return dataclasses.replace(load, hours=kept)
        if not plain.replace(".", "", 1).isdigit() or float(plain) > 24:
            raise ValueError(f"found {text!r}, expected hours from 0 to 24, or nothing")
        return dataclasses.replace(load, hours=(*kept, (scenario, float(plain))))  # type: ignore[arg-type]

    return LoadField(
        f"hours_{scenario}",
        _SHORT[scenario],
        "hours in use; empty for what is usual",
        (),
        show,
        read,
    )


def _name(text: str, load: Load, nominal_v: float) -> Load:
    if not text.strip():
        raise ValueError("a load wants a name")
    return dataclasses.replace(load, name=text.strip())


_STATES = tuple(state.replace("_", " ") for state in get_args(LoadState))
FIELDS: Final = (
    LoadField("name", "Name", "", (), lambda load: load.name, _name),
    LoadField(
        "running_a",
        "Running",
        "A, or W at nominal voltage: 3,8 A or 45 W",
        (),
        lambda load: "" if load.running_a is None else figure(load.running_a),
        _running,
    ),
    _evidence("kind", "Figure from", "where the running current came from"),
    _evidence("note", "Note", "which paper, which meter, who said so"),
    _evidence("date", "Looked up", "date"),
    _amps("peak_a", "Starting peak", "A or W"),
    _amps("locked_rotor_a", "Shaft held", "A with the rotor locked"),
    _yes("self_protected", "Self-protected", "outlasts a stall by its own cut-out"),
    _amps("contact_a", "Inner contact", "A its float, thermostat or pressure contact bears"),
    _amps("maker_fuse_best_a", "Maker's fuse", "A the maker recommends"),
    _amps("maker_fuse_a", "at most", "A the maker allows"),
    LoadField(
        "maker_smallest",
        "Smallest wire",
        "18 ga, 1.5 mm²",
        (),
        lambda load: load.maker_smallest or "",
        _gauge,
    ),
    LoadField(
        "fuse_families",
        "Kinds of fuse",
        "that the maker allows; empty for any",
        (),
        lambda load: ", ".join(load.fuse_families),
        _families,
    ),
    LoadField(
        "maker_lengths",
        "Maker's table",
        "loop 3 m 14 AWG, 6 m 12 AWG; or: one way …",
        (),
        _show_lengths,
        _maker_lengths,
    ),
    _yes("motor", "Motor", "its switch is derated"),
    _yes("replaceable", "Comes off", "at a polarised pair of plugs on its tails"),
    _words("ingress", "Stands", "water it stands", ("dry", "spray", "submersible")),
    _yes("ignition_protected", "Ignition-prot.", "may stand in fuel vapour"),
    _words("safety", "Safety word", "loads of one word share no fuse, plug or return", ()),
    _words(
        "function",
        "Function",
        "decides colour and usual hours",
        tuple(sorted(name.replace("_", " ") for name in USUAL)),
    ),
    _words("demand", "Demand class", "A runs when it must, B now and then", ("A", "B")),
    _words("drop", "Drop limit", "critical or other", ("critical", "other")),
    _words("state", "State", "", _STATES),
    _percent("duty_percent", "Duty %", "share of the time it draws while in use"),
    LoadField(
        "longest_on_min",
        "Longest run",
        "minutes at a stretch; empty for continuous",
        (),
        lambda load: "" if load.longest_on_min is None else f"{load.longest_on_min:g}",
        _minutes,
    ),
    LoadField(
        "output_w",
        "Output",
        "W a converter gives; its loss is drawn on top",
        (),
        lambda load: "" if load.output_w is None else f"{load.output_w:g}",
        _output,
    ),
    _percent("efficiency_percent", "Efficiency %", "of a converter"),
    *(_hours(scenario) for scenario in SCENARIOS),
)


def field_named(name: str) -> LoadField:
    """Return the field of this name."""
    return next(field for field in FIELDS if field.name == name)


def changed(
    loads: tuple[Load, ...], field: LoadField, text: str, nominal_v: float
) -> tuple[Load, ...]:
    """Return the loads whose value ``text`` changes, changed.

    Raises:
        ValueError: text that the field cannot take, in words.
    """
    made = [(load, field.read(text.strip(), load, nominal_v)) for load in loads]
    return tuple(after for before, after in made if before != after)
