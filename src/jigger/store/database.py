"""Opening the database: durable writes, writers in line, migrations run at start."""

from pathlib import Path
from typing import Any
from urllib.parse import quote

from alembic import command
from alembic.config import Config
from alembic.util import CommandError
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import DatabaseError

from jigger.core.errors import JiggerError

DATABASE = "jigger.sqlite3"
MIGRATIONS = Path(__file__).parent / "migrations"


class CannotOpen(JiggerError):
    """A data folder that cannot be worked in, and why."""

    def __init__(self, folder: Path, why: str):
        self.folder = folder
        super().__init__(f"the data folder {folder} cannot be opened: {why}")


def open_database(folder: Path, version: str = "head") -> Engine:
    """The database of a data folder, created and brought up to date where it is not, or to an earlier `version`; only
    its owner reads it. Raises CannotOpen.

    """
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        folder.chmod(0o700)
        (folder / DATABASE).touch(mode=0o600)
        (folder / DATABASE).chmod(0o600)
    except OSError as error:
        raise CannotOpen(folder, f"it cannot be written ({error.strerror})") from None
    engine = create_engine(f"sqlite:///{folder / DATABASE}")
    event.listen(engine, "connect", _prepare)
    event.listen(engine, "begin", _begin)
    try:
        _migrate(engine, version)
    except CommandError:
        raise CannotOpen(folder, "a newer Jigger wrote it; start that one") from None
    except DatabaseError as error:
        full = "full" in str(error.orig) or "readonly" in str(error.orig) or "read-only" in str(error.orig)
        why = "the disk is full or cannot be written" if full else "it is damaged, or no database of Jigger's"
        raise CannotOpen(folder, why) from None
    return engine


def read_database(folder: Path) -> Engine:
    """The database of a data folder that is there and up to date, to be read only: no writer is waited for."""
    return create_engine(f"sqlite:///file:{quote(str((folder / DATABASE).resolve()))}?mode=ro&uri=true")


def _prepare(connection: Any, _record: Any) -> None:
    connection.isolation_level = None  # transactions are begun by `_begin`, not by the driver
    for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "busy_timeout=5000"):
        connection.execute(f"PRAGMA {pragma}")


def _begin(connection: Any) -> None:
    # A deferred transaction that turns into a writer fails at once when another writes; this one waits.
    writing = connection.get_execution_options().get("writing")
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writing else "BEGIN")


def _migrate(engine: Engine, version: str) -> None:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.execution_options(writing=True).begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, version)
