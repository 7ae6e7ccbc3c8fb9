"""Opening the database: durable writes, writers in line, migrations run at start."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event

DATABASE = "jigger.sqlite3"
MIGRATIONS = Path(__file__).parent / "migrations"


def open_database(folder: Path) -> Engine:
    """The database of a data folder, created and brought up to date where it is not."""
    folder.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{folder / DATABASE}")
    event.listen(engine, "connect", _prepare)
    event.listen(engine, "begin", _begin)
    _migrate(engine)
    return engine


def _prepare(connection, _record) -> None:
    connection.isolation_level = None  # transactions are begun by `_begin`, not by the driver
    for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "busy_timeout=5000"):
        connection.execute(f"PRAGMA {pragma}")


def _begin(connection) -> None:
    # A deferred transaction that turns into a writer fails at once when another writes; this one waits.
    writing = connection.get_execution_options().get("writing")
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writing else "BEGIN")


def _migrate(engine: Engine) -> None:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.execution_options(writing=True).begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
