"""Backups: all that a data folder holds in one file, taken while Jigger runs, and put back whole or not at all."""

import json
import os
import shutil
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from jigger import __version__
from jigger.core.errors import CommandRefused
from jigger.services.clock import now
from jigger.store.database import BACKUPS, DATABASE, copy_database, looked_into, open_database

SUFFIX = ".jigger-backup"
ABOUT, INSIDE = "about.json", "jigger.sqlite3"
LARGEST = 20 * 1024**3  # bytes of a database that is taken out of a backup


@dataclass(frozen=True)
class Backup:
    """What a backup says of itself."""

    version: str
    made: str
    designs: int
    file: Path


def back_up(folder: Path, file: Path | None = None) -> Backup:
    """Write all of a data folder to a file, beside its backups where none is named; consistent, whoever writes
    meanwhile. Raises CommandRefused.
    """
    if not (folder / DATABASE).exists():
        raise CommandRefused("Backup", f"there is nothing kept in {folder} yet")
    made = now()
    if file is None:
        stamp = made[:19].replace(":", "").replace("-", "").replace("T", "-")
        file = folder / BACKUPS / f"jigger-{stamp}{SUFFIX}"
    file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    with tempfile.TemporaryDirectory(dir=file.parent) as place:
        whole, packed = Path(place) / INSIDE, Path(place) / "packed"
        copy_database(folder / DATABASE, whole)
        about = Backup(__version__, made, _designs(whole), file)
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
            archive.writestr(ABOUT, json.dumps({"jigger": about.version, "made": made, "designs": about.designs}))
            archive.write(whole, INSIDE)
        packed.chmod(0o600)
        os.replace(packed, file)
    return about


def restore(file: Path, folder: Path, replace: bool = False) -> Backup:
    """Put a backup into a data folder. What is there already is only replaced where that is wished, and is backed up
    first. Raises CommandRefused, with the folder as it was.
    """
    there = (folder / DATABASE).exists()
    if there and not replace:
        raise CommandRefused(
            "Restore", f"{folder} holds designs already; say --replace to put the backup in their place"
        )
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    with tempfile.TemporaryDirectory(dir=folder) as place:
        about = _taken_out(file, Path(place))
        engine = open_database(Path(place))  # brought up to date, and refused where a newer Jigger wrote it
        engine.dispose()
        with closing(sqlite3.connect(Path(place) / DATABASE)) as database:
            database.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            database.execute("PRAGMA journal_mode=DELETE")
        if there:
            back_up(folder)
            for rest in ("-wal", "-shm"):
                (folder / f"{DATABASE}{rest}").unlink(missing_ok=True)
        os.replace(Path(place) / DATABASE, folder / DATABASE)
    return about


def backups_in(folder: Path) -> list[Path]:
    """The backups and copies that lie in a data folder, the newest first."""
    files = [one for one in (folder / BACKUPS).glob("*") if one.is_file()]
    return sorted(files, key=lambda one: one.stat().st_mtime, reverse=True)


def _taken_out(file: Path, place: Path) -> Backup:
    """The database of a backup, sound, in a folder."""
    what = f"“{file.name}”"
    try:
        with zipfile.ZipFile(file) as archive:
            if archive.getinfo(INSIDE).file_size > LARGEST:
                raise CommandRefused(what, "it is larger than any backup of Jigger's")
            said = json.loads(archive.read(ABOUT))
            with archive.open(INSIDE) as inside, (place / DATABASE).open("wb") as out:
                shutil.copyfileobj(inside, out)
        with looked_into(place / DATABASE) as database:
            sound = database.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        designs = _designs(place / DATABASE) if sound else 0
    except FileNotFoundError:
        raise CommandRefused(what, "there is no such file") from None
    except (zipfile.BadZipFile, KeyError, ValueError, sqlite3.DatabaseError, EOFError, NotImplementedError):
        sound, said, designs = False, {}, 0
    if not sound:
        raise CommandRefused(what, "it is no backup of Jigger's, or damaged; nothing was changed")
    return Backup(str(said.get("jigger", "")), str(said.get("made", "")), designs, file)


def _designs(database: Path) -> int:
    with looked_into(database) as opened:
        return int(opened.execute("SELECT count(*) FROM design").fetchone()[0])
