"""The data folder: whose it is, and what is said where it cannot be opened."""

import stat
from pathlib import Path

import pytest
from sqlalchemy import text

from jigger.store.database import DATABASE, CannotOpen, open_database


def test_only_its_owner_reads_it(tmp_path: Path) -> None:
    folder = tmp_path / "data"
    folder.mkdir(mode=0o755)
    engine = open_database(folder)
    with engine.execution_options(writing=True).begin() as connection:
        connection.execute(text("create table t (a)"))
    assert stat.S_IMODE(folder.stat().st_mode) == 0o700
    for file in folder.iterdir():
        assert stat.S_IMODE(file.stat().st_mode) == 0o600, file.name


def test_what_is_no_database_is_said_to_be_damaged(tmp_path: Path) -> None:
    (tmp_path / DATABASE).write_bytes(b"this is no database" * 400)
    with pytest.raises(CannotOpen, match="damaged"):
        open_database(tmp_path)


def test_a_newer_one_is_said_to_be(tmp_path: Path) -> None:
    engine = open_database(tmp_path)
    with engine.execution_options(writing=True).begin() as connection:
        connection.execute(text("update alembic_version set version_num = '9999'"))
    engine.dispose()
    with pytest.raises(CannotOpen, match="newer Jigger"):
        open_database(tmp_path)


def test_a_folder_that_cannot_be_made_is_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    with pytest.raises(CannotOpen, match="cannot be written"):
        open_database(tmp_path / "file" / "data")
