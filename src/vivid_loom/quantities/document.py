"""Files: JSON read into records with errors that name file, place, found and expected."""

import json
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any, Final, TypeVar

from pydantic import TypeAdapter, ValidationError

from vivid_loom.quantities.atomic import write_atomically
from vivid_loom.quantities.limits import LimitError, one_line

__all__ = [
    "DocumentError",
    "Migration",
    "document_of",
    "document_text",
    "parsed_document",
    "read_document",
    "schema_of",
    "write_document",
]

T = TypeVar("T")
MOST_BYTES: Final = 256_000_000  # of a document; our choice

Migration = Callable[[dict[str, Any]], dict[str, Any]]
"""Body of a file of one version → body of the next."""


_adapters: dict[type[Any], TypeAdapter[Any]] = {}


def _adapter(record_type: type[Any]) -> TypeAdapter[Any]:
    """Return pydantic's reader of a record; making one takes far longer than using it."""
    if record_type not in _adapters:
        _adapters[record_type] = TypeAdapter(record_type)
    return _adapters[record_type]


class DocumentError(ValueError):
    """A file that cannot be taken: which file, where in it, what was found and expected."""

    def __init__(self, path: Path | str, place: str, problem: str) -> None:
        place, problem = one_line(place, 300), one_line(problem, 1000)
        where = one_line(str(path), 1000)
        super().__init__(f"{where}: {place}: {problem}" if place else f"{where}: {problem}")
        self.path, self.place, self.problem = str(path), place, problem


def _place(location: tuple[int | str, ...]) -> str:
    text = ""
    for part in location:
        text += f"[{part}]" if isinstance(part, int) else f".{part}" if text else str(part)
    return text


def _check_heading(path: Path, data: Any, kind: str, version: int) -> None:
    if not isinstance(data, dict):
        raise DocumentError(path, "", f"found {type(data).__name__}, expected an object")
    if data.get("format") != kind:
        raise DocumentError(path, "format", f"found {data.get('format')!r}, expected {kind!r}")
    found = data.get("version")
    if not isinstance(found, int) or isinstance(found, bool) or found < 1:
        raise DocumentError(path, "version", f"found {found!r}, expected a whole number from 1")
    if found > version:
        raise DocumentError(
            path, "version", f"found {found}, written by a newer program; this one reads {version}"
        )


def _migrated(
    path: Path, body: dict[str, Any], found: int, version: int, migrations: Mapping[int, Migration]
) -> dict[str, Any]:
    for step in range(found, version):
        try:
            body = migrations[step](body)
        except (AttributeError, KeyError, TypeError, ValueError) as error:
            found_words = f"found a file of version {step} that cannot be brought up to {step + 1}"
            raise DocumentError(path, "version", f"{found_words}: {error}") from error
    return body


def parsed_document(
    path: Path,
    text: str,
    record_type: type[T],
    kind: str,
    version: int,
    migrations: Mapping[int, Migration] = {},
) -> T:
    """Return the record that ``text`` holds; ``path`` is for the error only.

    Args:
        migrations: by the version they start from; older files are brought up step by step.

    Raises:
        DocumentError: not JSON, another format, a newer version, a bad field.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:  # a number of thousands of digits as well
        place = f"line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        raise DocumentError(path, place, f"found broken JSON ({error}), expected JSON") from error
    _check_heading(path, data, kind, version)
    body = {key: value for key, value in data.items() if key not in ("format", "version")}
    body = _migrated(path, body, data["version"], version, migrations)
    try:
        record: T = _adapter(record_type).validate_json(json.dumps(body), strict=True)
    except ValidationError as error:
        raise _refusal(path, error) from error
    except RecursionError as error:
        raise DocumentError(path, "", "found lists in lists without end") from error
    return record


def _refusal(path: Path, error: ValidationError) -> DocumentError:
    """Return the first thing that is wrong with a file: where, what was found, what expected."""
    first = error.errors()[0]
    location, limit = first["loc"], first.get("ctx", {}).get("error")
    if isinstance(limit, LimitError):
        told = f"found {one_line(repr(limit.found))}, expected {limit.expected}"
        return DocumentError(path, _place((*location, limit.field)), told)
    shown = "nothing" if first["type"] == "missing" else one_line(repr(first.get("input")))
    return DocumentError(path, _place(location), f"found {shown}, expected: {first['msg']}")


def read_document(
    path: Path,
    record_type: type[T],
    kind: str,
    version: int,
    migrations: Mapping[int, Migration] = {},
) -> T:
    """Read a JSON file into ``record_type``.

    Raises:
        DocumentError: unreadable, or see ``parsed_document``.
    """
    return parsed_document(path, document_of(path), record_type, kind, version, migrations)


def document_of(path: Path) -> str:
    """Return the text of a file.

    Raises:
        DocumentError: it cannot be read: a pipe or device is no file, and would never end.
    """
    try:
        if path.exists() and not path.is_file():
            raise DocumentError(path, "", "is no file, expected one")
        if path.stat().st_size > MOST_BYTES:
            raise DocumentError(path, "", f"is larger than {MOST_BYTES} bytes, expected a document")
        return path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        reason = getattr(error, "strerror", None) or str(error)
        raise DocumentError(path, "", f"cannot be read: {reason}") from error


def document_text(value: object, kind: str, version: int) -> str:
    """Return the canonical JSON of a record: sorted, stable, defaults left out."""
    body = _adapter(type(value)).dump_python(value, mode="json", exclude_defaults=True)
    document = {"format": kind, "version": version, **body}
    return json.dumps(document, ensure_ascii=False, indent=1, sort_keys=True) + "\n"


def write_document(path: Path, value: object, kind: str, version: int) -> None:
    """Write a record as JSON, atomically."""
    write_atomically(path, document_text(value, kind, version).encode())


def schema_of(record_type: type[Any], kind: str, version: int) -> dict[str, Any]:
    """Return the JSON Schema of a file holding ``record_type``."""
    schema = TypeAdapter(record_type).json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = kind
    schema["properties"] = {
        "format": {"const": kind},
        "version": {"type": "integer", "minimum": 1, "maximum": version},
        **schema["properties"],
    }
    schema["required"] = ["format", "version", *schema.get("required", [])]
    return schema
