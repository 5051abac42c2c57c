"""DXF backend: plays layers of primitives at full size, in mm, y up."""

import io
from collections.abc import Mapping, Sequence
from typing import Any, Final

from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect

__all__ = ["APP_ID", "dxf_bytes"]

APP_ID: Final = "VIVID_LOOM"
"""Under which the id of an item stands in its extended data, as group 1000."""

_SIGNS: Final = {"start": "LEFT", "middle": "CENTER", "end": "RIGHT"}


def _colour(shade: str) -> int:
    """Return a colour as 24 bits."""
    return int(shade.lstrip("#"), 16)


def _played(space: Any, item: Primitive, layer: str) -> Any:
    """Add an item to the drawing and return it."""
    if isinstance(item, Line):
        points = [(x, -y) for x, y in item.points]
        look = {"layer": layer, "true_color": _colour(item.colour), "const_width": item.width}
        return space.add_lwpolyline(points, dxfattribs=look)
    if isinstance(item, Rect):
        x, y, right, low = item.x, -item.y, item.x + item.w, -item.y - item.h
        look = {"layer": layer, "true_color": _colour(item.stroke or item.fill)}
        corners = [(x, y), (right, y), (right, low), (x, low)]
        return space.add_lwpolyline(corners, close=True, dxfattribs=look)
    if isinstance(item, Circle):
        look = {"layer": layer, "true_color": _colour(item.stroke or item.fill)}
        return space.add_circle((item.x, -item.y), item.r, dxfattribs=look)
    look = {"layer": layer, "true_color": _colour(item.colour)}
    from ezdxf.enums import TextEntityAlignment  # slow to load

    text = space.add_text(item.text, height=item.size * 0.72, dxfattribs=look)
    return text.set_placement((item.x, -item.y), align=TextEntityAlignment[_SIGNS[item.anchor]])


def dxf_bytes(layers: Mapping[str, Sequence[tuple[str, Primitive]]]) -> bytes:
    """Return a drawing as DXF; the same layers give the same bytes.

    Args:
        layers: (id, item) by the layer's name; '' for no id.
    """
    from ezdxf import units  # slow to load
    from ezdxf._options import options
    from ezdxf.document import Drawing

    # ezdxf stamps times and ids of its own, which would make every file differ
    options.write_fixed_meta_data_for_testing = True
    document = Drawing.new("R2010")
    document.units = units.MM
    document.appids.add(APP_ID)
    space = document.modelspace()
    for name, items in layers.items():
        document.layers.add(name)
        for told, item in items:
            entity = _played(space, item, name)
            if told:
                entity.set_xdata(APP_ID, [(1000, told)])
    for kind in sorted(document.entitydb.dxf_types_in_use()):  # ezdxf adds them in a set's order
        document.classes.add_class(kind)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode("utf-8")
