"""The questions on which the trade disagrees, as choices of the profile."""

from typing import Final, NamedTuple

from vivid_loom.order.profile import Profile

__all__ = ["CHOICES", "Choice", "choice_words"]

Value = str | float | int


class Choice(NamedTuple):
    """One question, its schools as (value, words), and why the default is what it is."""

    field: str
    question: str
    schools: tuple[tuple[Value, str], ...]
    why: str


CHOICES: Final = (
    Choice(
        "negative_colour",
        "DC negative",
        (("YE", "yellow"), ("BK", "black")),
        "Yellow cannot be taken for a live AC wire.",
    ),
    Choice(
        "colour_scheme",
        "Telling circuits apart",
        (
            ("function", "colour per function"),
            ("iso", "ISO: not black, yellow, green"),
            ("one", "one colour and labels"),
            ("sleeves", "one colour, a sleeve per circuit"),
        ),
        "Colour and label: readable with or without the drawing.",
    ),
    Choice(
        "alike",
        "Same colour in one bundle",
        (("label", "label"), ("tracer", "label, tracer")),
        "The label always tells; a tracer is one more drum to keep.",
    ),
    Choice(
        "shop_floor",
        "Thinnest wire the shop fits",
        (
            ("18 AWG", "18 AWG"),
            ("16 AWG", "16 AWG"),
            ("14 AWG", "14 AWG"),
            ("1 mm²", "1 mm²"),
            ("1.5 mm²", "1.5 mm²"),
            ("2.5 mm²", "2.5 mm²"),
        ),
        "Below it ends break in the crimp.",
    ),
    Choice(
        "school",
        "Rules of distance, bundles and sheath",
        (("ABYC", "ABYC"), ("ISO", "ISO")),
        "By where the boat is sold.",
    ),
    Choice(
        "series",
        "Conductors",
        (("AWG", "AWG, marine"), ("SAE", "road-vehicle gauge"), ("mm2", "mm²")),
        "Marine AWG has a tenth more copper than road-vehicle gauge of the same number.",
    ),
    Choice(
        "one_gauge",
        "Gauge of circuits",
        (
            ("", "each sized"),
            ("16 AWG", "16 AWG everywhere"),
            ("14 AWG", "14 AWG everywhere"),
            ("12 AWG", "12 AWG everywhere"),
            ("16 SAE", "16 SAE everywhere"),
            ("14 SAE", "14 SAE everywhere"),
            ("1.5 mm²", "1.5 mm² everywhere"),
            ("2.5 mm²", "2.5 mm² everywhere"),
            ("4 mm²", "4 mm² everywhere"),
        ),
        "Sized: copper where it is wanted. One gauge: one drum, one terminal, no mistakes.",
    ),
    Choice(
        "insulation_c",
        "Insulation of the wire, °C",
        (
            (60, "60"),
            (70, "70"),
            (75, "75"),
            (80, "80"),
            (90, "90"),
            (105, "105"),
            (125, "125"),
            (200, "200"),
        ),
        "Marine wire on the shelf is 105 °C.",
    ),
    Choice(
        "conductor_c",
        "Conductor temperature for the drop, °C",
        ((20.0, "20"), (30.0, "30"), (50.0, "50"), (70.0, "70")),
        "50 °C: warm boat, loaded wire.",
    ),
    Choice(
        "bundling",
        "Bundled wires count as loaded",
        (("off", "never"), ("loaded", "those above 30 % of their ampacity"), ("all", "all")),
        "Below 50 V practice differs; loaded wires are what heats a bundle.",
    ),
    Choice(
        "other_drop_percent",
        "Drop where it is not critical, %",
        ((3.0, "3"), (5.0, "5"), (10.0, "10")),
        "The standards' figure.",
    ),
    Choice(
        "critical_drop_percent",
        "Drop where it is critical, %",
        ((2.0, "2"), (3.0, "3"), (5.0, "5")),
        "The standards' figure.",
    ),
    Choice(
        "bilge_pump_drop",
        "Bilge pumps",
        (("other", "wide limit, 14 AWG or 2.5 mm² at least"), ("critical", "critical limit")),
        "The standards' list of critical loads does not name them; practice runs 14 AWG.",
    ),
    Choice(
        "pump_leads",
        "Automatic and manual lead of a pump",
        (("one_size", "one size"), ("by_length", "each by its own length")),
        "One size: nobody mixes them up. By length: the automatic lead is often the shorter.",
    ),
    Choice(
        "feeder_share",
        "Part of the critical drop that feeders may use",
        ((0.4, "two fifths"), (0.6, "three fifths"), (0.8, "four fifths")),
        "Branches of a small boat are long and thin, its feeders short and thick.",
    ),
    Choice(
        "tolerance",
        "Protection above the ampacity",
        (("never_above", "never"), ("next_standard", "next standard size up to 150 %")),
        "The wire is what the device protects.",
    ),
    Choice(
        "strip_from_loads",
        "Loads to the panel",
        ((0, "direct home run"), (10, "over strips from 10 loads"), (1, "always over strips")),
        "Strips give test points, and the panel's bundle is never disturbed again.",
    ),
    Choice(
        "helm_protection",
        "Protection at the helm",
        (
            ("as_fitted", "as the boat has it"),
            ("fuse_block", "fuse block and switches"),
            ("breaker_panel", "breaker panel, the breaker is the switch"),
            ("one_fuse", "one fuse per panel (existing boats only)"),
        ),
        "One device per circuit: one fault darkens one circuit.",
    ),
    Choice(
        "branching",
        "Several loads on one circuit",
        (
            ("least_copper", "joined where copper is least"),
            ("chain", "from one to the next"),
            ("star", "each by itself"),
        ),
        "Joins stand at loads only, where they can be reached; a joint takes two wires on.",
    ),
    Choice(
        "automatic_pump",
        "Automatic bilge pump",
        (
            ("one_point", "both leads from one always-live point"),
            ("helm_manual", "automatic direct, manual from the helm"),
            ("automatic_only", "automatic only"),
            ("manual_only", "manual only"),
        ),
        "One point cannot feed the helm backwards, and overrides with the boat off.",
    ),
    Choice(
        "pump_switch",
        "Switch of a three-lead pump",
        (
            ("always_live", "automatic always live, manual switch"),
            ("three_position", "auto – off – manual from one fuse"),
        ),
        "Always live: nobody leaves it in the middle.",
    ),
    Choice(
        "backlights",
        "Backlights",
        (
            ("own_way", "own protected way"),
            ("navigation_output", "off the navigation lights"),
            ("own_switch", "own switch"),
        ),
        "A chafed jumper must not put the lights out.",
    ),
    Choice(
        "second_lamp",
        "Second lamp of a rocker",
        (
            ("by_action", "indicator if latching, backlight if momentary"),
            ("own_side", "indicator of its side"),
            ("either_side", "indicator of either side"),
            ("backlight", "backlight"),
        ),
        "A momentary switch needs no lamp to say that it is on.",
    ),
    Choice(
        "negatives",
        "Negatives go to",
        (("nearest", "the nearest area bus"), ("main", "the main bus")),
        "The nearest bus saves wire; its feeder back is sized for it.",
    ),
    Choice(
        "negative_to_hull",
        "DC negative and a metal hull",
        (("isolated", "isolated"), ("one_point", "joined at one point")),
        "Isolated: no current can seek its way home through the hull.",
    ),
    Choice(
        "joint",
        "Joints",
        (
            ("crimp", "crimp with adhesive shrink"),
            ("solder", "solder and shrink"),
            ("crimp_and_solder", "crimp and solder"),
            ("solder_sleeve", "solder sleeves"),
        ),
        "A crimp can be inspected; solder never holds alone.",
    ),
    Choice(
        "switches_together",
        "Side by side on a panel",
        (("use", "switches of one use"), ("area", "switches for one area")),
        "Emergency switches come first either way; what was issued in a position stays.",
    ),
    Choice(
        "heavy_border",
        "Heavy conductors where harnesses meet",
        (
            ("gland", "pass whole, through a gland"),
            ("plug", "end at a heavy plug of one way"),
            ("post", "end at an insulated post, one each"),
        ),
        "Whole: no joint where most amps flow. Plug or post: every harness can be lifted off by "
        "itself.",
    ),
    Choice(
        "second_on_a_tab",
        "Two conductors on one tab",
        (
            ("piggyback", "one carries the other's blade"),
            ("doubler", "a doubler on the tab"),
            ("forked", "two jumpers in one push-on"),
        ),
        "Piggybacks are crimped one by one; a doubler is one part more; a fork ties two together.",
    ),
    Choice(
        "shrink",
        "Heat-shrink",
        (("at_once", "at once"), ("after_power_up", "after the circuit has been powered")),
        "Factory harnesses are rung out on the bench.",
    ),
    Choice(
        "grease",
        "Grease",
        (("none", "none"), ("in_barrel", "in the barrel"), ("at_landing", "at the landing")),
        "Adhesive does not bond to grease.",
    ),
    Choice(
        "tie_spacing_mm",
        "Ties and supports, mm",
        ((150.0, "150"), (230.0, "230"), (300.0, "300"), (450.0, "450")),
        "300 mm, closer near terminations.",
    ),
    Choice(
        "jumper_lengths",
        "Different lengths of jumpers of one kind",
        ((0, "each its own"), (2, "two"), (3, "three"), (5, "five")),
        "Ready-made jumpers in few lengths are cut by the batch; a little wire more.",
    ),
    Choice(
        "feed_lengths",
        "Different lengths of a panel's feeds of one gauge",
        ((0, "each its own"), (2, "two"), (3, "three"), (5, "five")),
        "Equal feeds are cut at one setting; a little wire more lies behind the panel.",
    ),
    Choice(
        "pull_every",
        "Crimps to a pull test",
        ((25, "25"), (50, "50"), (100, "100")),
        "Beside the first and last of a setting; a failed one holds back all since the last.",
    ),
    Choice(
        "growth_percent",
        "Room for growth in loom and conduit, %",
        ((0.0, "none"), (25.0, "25"), (50.0, "50"), (100.0, "100")),
        "A conduit that takes no more wire is cut open later.",
    ),
    Choice(
        "spare_allowance_a",
        "Counted for a spare helm position, A",
        ((0.0, "0"), (5.0, "5"), (10.0, "10")),
        "What comes later must find its feeder.",
    ),
    Choice(
        "one_fuse_a",
        "The one fuse of an old panel, A",
        ((15.0, "15"), (20.0, "20"), (30.0, "30")),
        "Only where one fuse feeds the whole panel.",
    ),
    Choice(
        "tail_mm",
        "Left at each end to land it once more, mm",
        ((50.0, "50"), (80.0, "80"), (150.0, "150")),
        "A terminal is cut off and crimped anew at least once in a boat's life.",
    ),
    Choice(
        "service_loop_mm",
        "Service loop at each device, mm",
        ((0.0, "none"), (150.0, "150"), (300.0, "300")),
        "The device comes out far enough to reach its back.",
    ),
    Choice(
        "cut_step_mm",
        "Cut lengths in steps of, mm",
        ((5.0, "5"), (10.0, "10"), (12.7, "half an inch"), (25.4, "an inch")),
        "What the builder reads off the bench without a second look.",
    ),
    Choice("units", "Lengths shown in", (("m", "metres"), ("ft", "feet")), "By the model."),
)


def choice_words(choice: Choice, profile: Profile) -> str:
    """Return the school that stands, in words; the bare value where it is none of them."""
    value = getattr(profile, choice.field)
    return next((words for school, words in choice.schools if school == value), str(value))
