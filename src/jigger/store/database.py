"""Opening the database: durable writes, writers in line, migrations run at start."""

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any
from urllib.parse import quote

from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import DatabaseError

from jigger.core.errors import JiggerError

DATABASE = "jigger.sqlite3"
BACKUPS = "backups"  # a folder in the data folder
KEPT_BEFORE = 5  # copies made before an upgrade that are kept


class CannotOpen(JiggerError):
    """A data folder that cannot be worked in, and why."""

    def __init__(self, folder: Path, why: str):
        self.folder = folder
        super().__init__(f"the data folder {folder} cannot be opened: {why}")


def open_database(folder: Path, version: str = "head") -> Engine:
    """The database of a data folder, created and brought up to date where it is not, or to an earlier `version`; only
    its owner reads it. Raises CannotOpen.
    """
    from jigger.store.migrating import UnknownMigration, migrate  # whoever only reads does without its library

    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        folder.chmod(0o700)
        (folder / DATABASE).touch(mode=0o600)
        (folder / DATABASE).chmod(0o600)
    except OSError as error:
        raise CannotOpen(folder, f"it cannot be written ({error.strerror})") from None
    _keep_before_upgrade(folder, version)
    engine = create_engine(
        f"sqlite:///{folder / DATABASE}", hide_parameters=True
    )  # the log has no words of a customer's
    event.listen(engine, "connect", _prepare)
    event.listen(engine, "begin", _begin)
    try:
        migrate(engine, version)
    except UnknownMigration:
        raise CannotOpen(folder, "a newer Jigger wrote it; start that one") from None
    except DatabaseError as error:
        full = "full" in str(error.orig) or "readonly" in str(error.orig) or "read-only" in str(error.orig)
        why = "the disk is full or cannot be written" if full else "it is damaged, or no database of Jigger's"
        raise CannotOpen(folder, why) from None
    return engine


def looked_into(database: Path) -> closing[sqlite3.Connection]:
    """A database that is only read, to be closed again. Raises sqlite3.DatabaseError."""
    return closing(sqlite3.connect(f"file:{quote(str(database.resolve()))}?mode=ro", uri=True))


def copy_database(source: Path, target: Path) -> None:
    """A copy of a database as it is at one moment, whoever writes to it meanwhile. Raises sqlite3.DatabaseError."""
    with looked_into(source) as here, closing(sqlite3.connect(target)) as there:
        here.backup(there)
        there.execute("PRAGMA journal_mode=DELETE")


def migrated_to(database: Path) -> str:
    """The migration that a database stands at, "" where it is new. Raises sqlite3.DatabaseError."""
    with looked_into(database) as opened:
        known = opened.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = opened.execute("SELECT version_num FROM alembic_version").fetchone() if known else None
        return str(row[0]) if row else ""


def _keep_before_upgrade(folder: Path, version: str) -> None:
    """A copy of a database that is about to be brought up to date; the last few of these are kept."""
    from jigger.store.migrating import newest_migration

    try:
        at = migrated_to(folder / DATABASE)
        if not at or version != "head" or at >= newest_migration():
            return
        place = folder / BACKUPS
        place.mkdir(exist_ok=True, mode=0o700)
        copy_database(folder / DATABASE, place / f"before-{newest_migration()}-from-{at}.sqlite3")
    except sqlite3.DatabaseError:
        return  # what is wrong with it is said when it is opened
    except OSError as error:
        raise CannotOpen(folder, f"it cannot be copied before it is brought up to date ({error.strerror})") from None
    for old in sorted(place.glob("before-*.sqlite3"))[:-KEPT_BEFORE]:
        old.unlink()


def read_database(folder: Path) -> Engine:
    """The database of a data folder that is there and up to date, to be read only: no writer is waited for."""
    return create_engine(
        f"sqlite:///file:{quote(str((folder / DATABASE).resolve()))}?mode=ro&uri=true", hide_parameters=True
    )


def _prepare(connection: Any, _record: Any) -> None:
    connection.isolation_level = None  # transactions are begun by `_begin`, not by the driver
    for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "busy_timeout=5000"):
        connection.execute(f"PRAGMA {pragma}")


def _begin(connection: Any) -> None:
    # A deferred transaction that turns into a writer fails at once when another writes; this one waits.
    writing = connection.get_execution_options().get("writing")
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writing else "BEGIN")
