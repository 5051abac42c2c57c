"""Ruff, mypy, the import contract and the size figures, in one go."""

import ast
import statistics
import subprocess
import sys
from pathlib import Path

SOURCE = Path(__file__).parent.parent / "src" / "vivid_loom"


def body_lines(node: ast.FunctionDef) -> int:
    """Return the lines of a function's body without its docstring."""
    body = node.body[1:] if ast.get_docstring(node) else node.body
    return (body[-1].end_lineno or 0) - body[0].lineno + 1 if body else 0


def print_sizes() -> None:
    """Print how long files and functions are."""
    files, bodies = [], []
    for path in sorted(SOURCE.rglob("*.py")):
        text = path.read_text(encoding="utf-8")
        files.append((text.count("\n"), str(path.relative_to(SOURCE))))
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.FunctionDef):
                bodies.append((body_lines(node), f"{path.name}: {node.name}"))
    bodies.sort()
    lengths = [n for n, _ in bodies]
    print(
        f"{len(files)} files, median {statistics.median(n for n, _ in files):.0f} lines, "
        f"longest {max(files)}; {len(bodies)} functions, median body "
        f"{statistics.median(lengths):.0f}, p90 {lengths[int(0.9 * len(lengths))]}, "
        f"longest {bodies[-1]}"
    )


def main() -> int:
    """Run every check; the first that fails decides the exit code."""
    scripts = Path(sys.executable).parent
    for command in (
        [sys.executable, "-m", "ruff", "check", "."],
        [sys.executable, "-m", "ruff", "format", "--check", "."],
        [sys.executable, "-m", "mypy"],
        [str(scripts / "lint-imports")],
    ):
        result = subprocess.run(command, check=False)
        if result.returncode:
            return result.returncode
    print_sizes()
    return 0


if __name__ == "__main__":
    sys.exit(main())
