"""Bringing a database to the tables that this Jigger works with."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from alembic.util import CommandError
from sqlalchemy import Engine

MIGRATIONS = Path(__file__).parent / "migrations"


class UnknownMigration(Exception):
    """A newer Jigger brought it further than this one knows."""


def newest_migration() -> str:
    """The migration that this Jigger brings a database to."""
    return str(ScriptDirectory.from_config(_config()).get_current_head())


def migrate(engine: Engine, version: str) -> None:
    """Bring a database to `version`, in one transaction. Raises UnknownMigration."""
    config = _config()
    try:
        with engine.execution_options(writing=True).begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, version)
    except CommandError as error:
        raise UnknownMigration from error


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return config
