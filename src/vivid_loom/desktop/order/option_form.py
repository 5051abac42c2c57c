"""Options of this hull's own: made of what an order adds, and changed in words and conditions."""

from PySide6.QtWidgets import QInputDialog, QWidget

from vivid_loom.boat import Boat, Fit, Option
from vivid_loom.desktop.widgets.dialogs import answered
from vivid_loom.desktop.widgets.record_form import RecordDialog, Words
from vivid_loom.order import Edit, Order, change_option, make_option
from vivid_loom.order.new_loads import free_id, id_from_name

__all__ = ["asked_change", "asked_new", "option_words"]


def option_words(model: Boat, option: Option) -> Words:
    """Return how a form speaks of an option.

    What it adds is changed on Loads while it is ticked.
    """
    fit = model.fit
    named = [(x.id, x.name) for x in fit.loads]
    named += [(x.id, f"{x.id} {x.label}") for x in fit.circuits]
    named += [(x.id, f"switch {x.legend}") for x in fit.switches]
    known = {name for name, _ in named}
    named += [(name, name) for name in option.removes if name not in known]
    others = [(other.id, other.name) for other in model.options if other.id != option.id]
    return Words(
        labels={
            "id": "Id in orders",
            "name": "Name",
            "group": "Group",
            "text": "What the customer gets",
            "removes": "Takes off",
            "joins": "Joins: circuit load;",
            "requires": "Requires",
            "excludes": "Not together with",
        },
        values={},
        offers={"removes": named, "requires": others, "excludes": others},
        fresh={},
        fixed=frozenset({"id"}),
        left_out=frozenset({"adds"}),
    )


def _asked(option: Option, model: Boat, parent: QWidget) -> Option | None:
    words = option_words(model, option)
    dialog = RecordDialog(f"Option {option.name}", option, words, taking="Take it", parent=parent)
    return dialog.answer if answered(dialog) else None


def asked_new(order: Order, model: Boat, parent: QWidget) -> Edit | str | None:
    """Ask for an option made of what the order adds; the edit, or why there is none to make."""
    if order.added == Fit() and not order.removed:
        return "This order adds and takes off nothing of its own to make an option of."
    name, taken = QInputDialog.getText(parent, "Make an option", "What is it called?")
    name = name.strip()
    if not taken or not name:
        return None
    made = free_id(id_from_name(name), [option.id for option in model.options])
    option = Option(id=made, name=name, group="This hull", removes=order.removed)
    answer = _asked(option, model, parent)
    return make_option(answer) if answer else None


def asked_change(model: Boat, parent: QWidget) -> Edit | str | None:
    """Ask which option is changed, and how."""
    if not model.options:
        return "This model has no options yet."
    names = [option.name for option in model.options]
    chosen, taken = QInputDialog.getItem(
        parent, "Change an option", "Which?", names, 0, editable=False
    )
    if not taken:
        return None
    option = model.options[names.index(chosen)]
    answer = _asked(option, model, parent)
    return change_option(answer) if answer and answer != option else None
