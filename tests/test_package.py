"""What `pip install .` puts on a machine: the command, its version, everything it reads, and what it needs."""

import ast
import importlib
import re
import subprocess
import sys
import tomllib
from fnmatch import fnmatch
from importlib.metadata import requires, version
from pathlib import Path

import jigger

HOME = Path(__file__).parents[1]
PACKAGE = tomllib.loads((HOME / "pyproject.toml").read_text())


def needed() -> set[str]:
    lines = (HOME / PACKAGE["tool"]["setuptools"]["dynamic"]["dependencies"]["file"][0]).read_text().split()
    return {line.lower().replace("_", "-") for line in lines}


def test_the_command_is_there_and_says_its_version() -> None:
    module, function = PACKAGE["project"]["scripts"]["jigger"].split(":")
    assert callable(getattr(importlib.import_module(module), function))
    said = subprocess.run([sys.executable, "-m", module, "--version"], capture_output=True, text=True, check=True)
    assert said.stdout == f"jigger {jigger.__version__}\n"
    assert PACKAGE["tool"]["setuptools"]["dynamic"]["version"]["attr"] == "jigger.__version__"
    newest = re.search(r"^## (\S+)", (HOME / "CHANGELOG.md").read_text(), re.MULTILINE)
    assert newest and newest[1] == jigger.__version__


def test_every_file_beside_the_code_is_taken_along() -> None:
    (pattern,) = PACKAGE["tool"]["setuptools"]["package-data"]["jigger"]
    source = HOME / "src" / "jigger"
    beside = [str(path.relative_to(source)) for path in source.rglob("*.*") if path.suffix not in (".py", ".pyc")]
    assert len(beside) > 100 and all(fnmatch(path, pattern.replace("**/", "*")) for path in beside)


def test_what_the_code_imports_it_asks_for() -> None:
    """Each foreign package that the sources import is asked for, or comes with one that is."""
    known = {"sqlalchemy", "uharfbuzz", "starlette", "jinja2", "pydantic_settings", "ots"}
    of = {"ots": "opentype-sanitizer", "PIL": "pillow", "pydantic_settings": "pydantic-settings"}
    with_others = {
        re.split(r"[\s<>=!~;\[(]", one, maxsplit=1)[0].lower() for name in needed() for one in requires(name) or []
    }
    found = set()
    for path in (HOME / "src").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                found |= {one.name.split(".")[0] for one in node.names}
            elif isinstance(node, ast.ImportFrom) and node.module:
                found.add(node.module.split(".")[0])
    foreign = found - set(sys.stdlib_module_names) - {"jigger", "bench"}
    assert known <= foreign, "this test reads the imports"
    assert {of.get(name, name).lower().replace("_", "-") for name in foreign} <= needed() | with_others
    assert all(version(name) for name in needed())
