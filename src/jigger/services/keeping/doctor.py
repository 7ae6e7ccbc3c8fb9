"""What a Jigger needs, looked at one thing after the other: what is wrong, and how it is mended."""

import importlib.metadata
import os
import shutil
import socket
import sqlite3
import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Literal
from urllib.request import urlopen

from jigger import __version__
from jigger.core.design.specimens import font_facts
from jigger.core.lettering.lettercase import SHIPPED, LetterCase
from jigger.core.table import Table
from jigger.services.keeping.logs import FILE, FOLDER
from jigger.services.queue.stations import stations_of
from jigger.services.settings import Settings
from jigger.store.database import DATABASE, looked_into, migrated_to
from jigger.store.migrating import newest_migration

State = Literal["well", "look", "ill"]
LEAST_FREE, LITTLE_FREE = 50 * 1024**2, 1024**3  # bytes on the disk
PACKAGES = ("fastapi", "shapely", "uharfbuzz", "sqlalchemy", "pydantic", "numpy", "pypdfium2", "zstandard")
BROWSERS = ("chromium", "chromium-headless-shell", "chromium-browser", "google-chrome")


@dataclass(frozen=True)
class Looked:
    """One thing looked at: `ill` keeps Jigger from working, `look` may. `mend`: what to do, if anything."""

    id: str
    words: str
    state: State
    mend: str = ""


@dataclass(frozen=True)
class Examination:
    """One thing to look at."""

    id: str
    look: Callable[[Settings], Looked]


def examined(settings: Settings) -> list[Looked]:
    """All of it; one that fails is said to be ill."""
    found = []
    for one in EXAMINATIONS.values():
        try:
            found.append(one.look(settings))
        except Exception as error:  # what keeps it from being looked at is what is to be known
            found.append(
                Looked(one.id, f"could not be looked at: {error}", "ill", "run ./jigger test, and say what it says")
            )
    return found


def _versions(settings: Settings) -> Looked:
    python = ".".join(map(str, sys.version_info[:3]))
    missing = []
    for package in PACKAGES:
        try:
            importlib.metadata.version(package)
        except importlib.metadata.PackageNotFoundError:
            missing.append(package)
    if missing:
        return Looked(
            "versions", f"missing: {', '.join(missing)}", "ill", "remove the folder .venv and start ./jigger again"
        )
    return Looked("versions", f"Jigger {__version__} on Python {python}, all packages there", "well")


def _fonts(settings: Settings) -> Looked:
    broken = []
    for entry in SHIPPED.values():
        try:
            if not font_facts(entry, LetterCase()).licence:
                broken.append(entry.id)
        except Exception:
            broken.append(entry.id)
    if broken:
        return Looked(
            "fonts", f"cannot be read: {', '.join(broken)}", "ill", "get Jigger's files anew; fonts ship with it"
        )
    return Looked("fonts", f"{len(SHIPPED)} fonts, each with its licence", "well")


def _folder(settings: Settings) -> Looked:
    folder = settings.data.absolute()
    place = folder if folder.exists() else next(one for one in folder.parents if one.exists())
    probe = place / ".jigger-probe"
    try:
        probe.write_bytes(b"")
        probe.unlink()
    except OSError as error:
        return Looked(
            "folder",
            f"{folder} cannot be written ({error.strerror})",
            "ill",
            "give yourself leave to write there, or choose another with --data",
        )
    return Looked("folder", f"{folder}{'' if folder.exists() else ', made when it is needed'}", "well")


def _disk(settings: Settings) -> Looked:
    folder = settings.data.absolute()
    place = folder if folder.exists() else next(one for one in folder.parents if one.exists())
    free = shutil.disk_usage(place).free
    words = f"{free / 1024**3:.1f} GB free"
    if free < LEAST_FREE:
        return Looked("disk", words, "ill", "make room on the disk: edits can no longer be kept")
    return (
        Looked("disk", words, "look", "make room on the disk soon")
        if free < LITTLE_FREE
        else Looked("disk", words, "well")
    )


def _database(settings: Settings) -> Looked:
    file = settings.data / DATABASE
    if not file.exists():
        return Looked("database", "none yet; it is made when Jigger is served", "well")
    try:
        with looked_into(file) as database:
            said = database.execute("PRAGMA integrity_check").fetchone()[0]
            designs = database.execute("SELECT count(*) FROM design").fetchone()[0]
        at = migrated_to(file)
    except sqlite3.DatabaseError as error:
        return Looked(
            "database",
            f"it cannot be read ({error})",
            "ill",
            "put a backup in its place: ./jigger restore FILE --replace",
        )
    if said != "ok":
        return Looked(
            "database",
            f"it is damaged: {said[:80]}",
            "ill",
            "put a backup in its place: ./jigger restore FILE --replace",
        )
    if at > newest_migration():
        return Looked("database", "a newer Jigger wrote it", "ill", "start that Jigger")
    size = file.stat().st_size / 1024**2
    return Looked("database", f"sound, {designs} designs, {size:.1f} MB", "well")


def _port(settings: Settings) -> Looked:
    place = f"{settings.host}:{settings.port}"
    if not _answers((settings.host, settings.port)):
        return Looked("port", f"{place} is free", "well")
    try:
        with urlopen(f"http://{place}/", timeout=3) as answer:
            ours = b"Jigger" in answer.read(4000)
    except OSError:
        ours = False
    if ours:
        return Looked("port", f"Jigger is served at {place}", "well")
    return Looked("port", f"something else is served at {place}", "ill", "choose another port with --port")


def _machine(identity: str) -> Callable[[Settings], Looked]:
    def look(settings: Settings) -> Looked:
        station = stations_of(settings)[identity]
        where, words = f"{station.line[0]}:{station.line[1]}", station.words.lower()
        if _answers(station.line):
            return Looked(words, f"something answers at {where}", "well")
        variable = f"JIGGER_{station.command.split()[-1].upper()}"
        mend = f"start it with {station.command}, or say where it is with {variable}"
        return Looked(words, f"nothing answers at {where}", "look", mend)

    return look


def _browser(settings: Settings) -> Looked:
    found = os.environ.get("JIGGER_CHROMIUM") or next(filter(None, map(shutil.which, BROWSERS)), None)
    if found:
        return Looked("browser", f"{Path(found).name} is there for the tests", "well")
    return Looked(
        "browser",
        "no Chromium; only the tests need it",
        "look",
        "install Debian's chromium, or name one in JIGGER_CHROMIUM",
    )


def _log(settings: Settings) -> Looked:
    file = settings.data / FOLDER / FILE
    if not file.exists():
        return Looked("log", "none yet; it is kept when Jigger is served", "well")
    failed = [line for line in file.read_text(encoding="utf-8").splitlines() if '"level": "error"' in line]
    if failed:
        return Looked(
            "log",
            f"{len(failed)} failure{'s' * (len(failed) > 1)} in {file.absolute()}",
            "look",
            "pass that file on with what you did",
        )
    return Looked("log", f"kept in {file.absolute()}, no failures in it", "well")


def port_answers(settings: Settings) -> bool:
    """Whether something is served where Jigger would be."""
    return _answers((settings.host, settings.port))


def _answers(place: tuple[str, int]) -> bool:
    with socket.socket() as probe:
        probe.settimeout(2.0)
        return probe.connect_ex(place) == 0


EXAMINATIONS: Table[Examination] = Table(
    "examination",
    Examination("versions", _versions),
    Examination("fonts", _fonts),
    Examination("folder", _folder),
    Examination("disk", _disk),
    Examination("database", _database),
    Examination("port", _port),
    Examination("plotter", _machine("roll-plotter")),
    Examination("plate table", _machine("plate-table")),
    Examination("log", _log),
    Examination("browser", _browser),
)
