"""The shape of the house: imports run one way, files stay small, what ships is whole."""

import ast
import json
import re
import subprocess
import sys
from pathlib import Path

import pytest

SOURCE = Path(__file__).resolve().parents[1] / "src" / "jigger"

# Each package may import itself and those after it on the same line, nothing else of Jigger's.
MAY_IMPORT = {
    "cli": {"web", "services", "machines", "core"},
    "web": {"services", "core"},
    "services": {"store", "machines", "core"},
    "store": set(),
    "machines": set(),
    "core.formats": {"core.cut", "core.design", "core.machines", "core.materials", "core.geometry"},
    "core.art": {"core.joinery", "core.geometry"},
    "core.cut": {"core.design", "core.machines", "core.materials", "core.geometry"},
    "core.checks": {"core.design", "core.joinery", "core.lettering", "core.materials", "core.geometry"},
    "core.design": {"core.joinery", "core.lettering", "core.materials", "core.geometry"},
    "core.machines": {"core.materials"},
    "core.joinery": {"core.geometry"},
    "core.lettering": {"core.geometry"},
    "core.materials": {"core.geometry"},
    "core.geometry": set(),
}
COMMON = {"core.errors", "core.cache", "core.patience", "core.progress", "core.table", "core.timing"}
INSIDE = {"shapely": {"core.geometry", "core.joinery"}, "uharfbuzz": {"core.lettering"}}
OUTSIDE_CORE = {
    "fastapi",
    "starlette",
    "sqlalchemy",
    "alembic",
    "jinja2",
    "os",
    "time",
    "datetime",
    "random",
    "secrets",
}


def modules() -> list[tuple[str, Path]]:
    return [
        (".".join(path.relative_to(SOURCE).with_suffix("").parts), path)
        for path in sorted(SOURCE.rglob("*.py"))
        if "migrations" not in path.parts
    ]


def package(module: str) -> str:
    parts = module.removesuffix(".__init__").split(".")
    return ".".join(parts[:2]) if parts[0] == "core" else parts[0]


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return found


@pytest.mark.parametrize(("module", "path"), modules(), ids=lambda value: value if isinstance(value, str) else "")
def test_imports_run_downward(module: str, path: Path) -> None:
    here = package(module)
    if here in ("__init__", "core.__init__", "core") or here in COMMON:
        return
    for name in imports(path):
        if not name.startswith("jigger."):
            library = name.split(".")[0]
            assert library not in INSIDE or here in INSIDE[library], f"{module} holds {library}"
            assert not (here.startswith("core") and library in OUTSIDE_CORE), f"{module} uses {library}"
            continue
        there = package(name.removeprefix("jigger."))
        allowed = {here, *MAY_IMPORT[here], *COMMON}
        assert there in allowed or there.split(".")[0] in allowed, f"{module} imports {name}"


@pytest.mark.parametrize(("module", "path"), modules(), ids=lambda value: value if isinstance(value, str) else "")
def test_files_stay_small(module: str, path: Path) -> None:
    assert len(path.read_text(encoding="utf-8").splitlines()) <= 420


@pytest.mark.parametrize(("module", "path"), modules(), ids=lambda value: value if isinstance(value, str) else "")
def test_what_areas_are_made_of_stays_inside(module: str, path: Path) -> None:
    """Other rooms ask an area; they do not take it apart."""
    if package(module) in ("core.geometry", "core.joinery"):
        return
    taken = [
        x.lineno for x in ast.walk(ast.parse(path.read_text())) if isinstance(x, ast.Attribute) and x.attr == "geometry"
    ]
    assert not taken, f"{module} takes an area apart in lines {taken}"


def test_templates_stay_small() -> None:
    for path in (SOURCE / "web" / "templates").rglob("*.html"):
        lines = path.read_text(encoding="utf-8").splitlines()
        assert len(lines) <= 420 and max(map(len, lines)) <= 660, f"{path.name} is too long, or has too long a line"


def test_no_two_public_classes_have_one_name() -> None:
    homes: dict[str, list[str]] = {}
    for module, path in modules():
        for node in ast.parse(path.read_text(encoding="utf-8")).body:
            if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
                homes.setdefault(node.name, []).append(module)
    assert not {name: where for name, where in homes.items() if len(where) > 1}


def test_public_functions_of_the_core_say_what_they_do() -> None:
    """At least nine of ten; what a base class says of its methods holds for those that override them."""
    said, silent = 0, []
    trees = {
        module: ast.parse(path.read_text(encoding="utf-8")) for module, path in modules() if module.startswith("core")
    }
    classes = [node for tree in trees.values() for node in tree.body if isinstance(node, ast.ClassDef)]
    told = {
        (one.name, method.name)
        for one in classes
        for method in one.body
        if isinstance(method, ast.FunctionDef) and ast.get_docstring(method)
    }
    bases = {one.name: {ast.unparse(base).split("[")[0] for base in one.bases} for one in classes}

    def inherited(name: str, method: str) -> bool:
        return any((base, method) in told or inherited(base, method) for base in bases.get(name, ()))

    for module, tree in trees.items():
        for node in tree.body:
            owner = node.name if isinstance(node, ast.ClassDef) else ""
            functions = node.body if isinstance(node, ast.ClassDef) else [node]
            for one in functions:
                if isinstance(one, ast.FunctionDef) and not one.name.startswith("_") and not owner.startswith("_"):
                    if ast.get_docstring(one) or inherited(owner, one.name):
                        said += 1
                    else:
                        silent.append(f"{module}: {owner}.{one.name}")
    assert said >= 9 * len(silent), silent


def test_rooms_stay_small() -> None:
    """A folder of the core, the services or the store holds what one can look through."""
    rooms = [SOURCE / name for name in ("core", "services", "store", "machines", "cli")]
    for folder in [*rooms, *(path for room in rooms for path in room.rglob("*") if path.is_dir())]:
        assert len(list(folder.glob("*.py"))) <= 20, f"{folder.name} wants inner rooms"


def test_the_code_is_tidy() -> None:
    home = SOURCE.parents[1]
    for check in (["check", "."], ["format", "--check", "."]):
        done = subprocess.run([sys.executable, "-m", "ruff", "-q", *check], cwd=home, capture_output=True, text=True)
        assert done.returncode == 0, done.stdout


def test_types_hold() -> None:
    """Strictly in the sources, and as far as they are said in tests and benches."""
    home = SOURCE.parents[1]
    done = subprocess.run([sys.executable, "-m", "mypy"], cwd=home, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout


def test_own_javascript_stays_small() -> None:
    lines = [
        line for path in (SOURCE / "web" / "static" / "js").rglob("*.js") for line in path.read_text().splitlines()
    ]
    assert len(lines) <= 1600


def test_own_scripts_look_at_the_page_once_for_an_answer() -> None:
    """Not once for each of its parts, of which an edit's has dozens."""
    for path in (SOURCE / "web" / "static" / "js").rglob("*.js"):
        assert "htmx:after:settle" not in path.read_text(encoding="utf-8"), path.name


def test_nothing_is_fetched_at_run_time() -> None:
    """No address of another host in what the browser gets."""
    for path in (SOURCE / "web").rglob("*"):
        if path.suffix in (".html", ".css", ".js") and "vendor" not in path.parts:
            found = re.findall(r"https?://(?!www\.w3\.org)[^\s\"']+", path.read_text(encoding="utf-8"))
            assert not found, f"{path.name}: {found}"


def test_vendored_files_say_what_they_are() -> None:
    for folder in (SOURCE / "web" / "static" / "vendor").iterdir():
        assert (folder / "LICENSE").exists()
        assert {"package", "version", "licence"} <= set(json.loads((folder / "VERSIONS.json").read_text()))
