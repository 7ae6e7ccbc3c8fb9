"""Backups taken while others write and put back, copies before an upgrade, and what the doctor says."""

import shutil
import sqlite3
import threading
import zipfile
from pathlib import Path

import pytest

from jigger.cli.commands import main
from jigger.core.design.many.editing import MoveParts
from jigger.core.errors import CommandRefused
from jigger.services.house import House, open_house
from jigger.services.keeping.backup import back_up, restore
from jigger.services.keeping.doctor import EXAMINATIONS, Examination, Looked, examined
from jigger.services.settings import Settings
from jigger.store.database import BACKUPS, DATABASE, CannotOpen, migrated_to, open_database
from jigger.store.migrating import newest_migration
from tests.services.edits.test_arranging import yard


def everything(house: House) -> dict[str, list]:
    """All designs with every state of theirs."""
    return {
        one.id: [house.designs.at(one.id, step.number) for step in house.versions.steps(one.id)]
        for one in house.designs.listed()
    }


@pytest.fixture
def kept(house: House) -> House:
    identity = house.designs.add(yard(), "a yard")
    for dx in range(5):
        house.designs.edit(identity, MoveParts(by={"disc": (dx + 1, 0)}))
    house.designs.create_plain("Merrow")
    house.pictures.keep(picture(), "plank.png")
    return house


def picture() -> bytes:
    from tests.services.supplies.test_pictures import picture as drawn

    return drawn()


def test_what_is_restored_is_what_was_kept(kept: House, settings_for: Settings, tmp_path: Path) -> None:
    made = back_up(settings_for.data)
    assert made.designs == 2 and made.file.parent == settings_for.data / BACKUPS
    there = restore(made.file, tmp_path / "new")
    assert there.designs == 2
    other = open_house(settings_for.model_copy(update={"data": tmp_path / "new"}))
    assert everything(other) == everything(kept) and len(everything(other)) == 2
    with sqlite3.connect(tmp_path / "new" / DATABASE) as database:
        assert database.execute("SELECT count(*) FROM picture").fetchone() == (1,)


def test_a_backup_taken_while_others_write_is_one_moment(kept: House, settings_for: Settings, tmp_path: Path) -> None:
    identity = next(one.id for one in kept.designs.listed() if one.name == "Yard")
    stop = threading.Event()

    def write() -> None:
        while not stop.is_set():
            kept.designs.edit(identity, MoveParts(by={"rope": (1, 1)}))

    writer = threading.Thread(target=write)
    writer.start()
    try:
        files = [back_up(settings_for.data, tmp_path / f"{n}.jigger-backup").file for n in range(4)]
    finally:
        stop.set()
        writer.join()
    for number, file in enumerate(files):
        restore(file, tmp_path / str(number))
        other = open_house(settings_for.model_copy(update={"data": tmp_path / str(number)}))
        opened = other.designs.open(identity)
        assert kept.designs.at(identity, opened.number) == opened.design and opened.number >= 6


def test_what_is_there_is_replaced_only_when_wished_and_backed_up_first(
    kept: House, settings_for: Settings, tmp_path: Path
) -> None:
    made = back_up(settings_for.data, tmp_path / "all.jigger-backup")
    late = kept.designs.create_plain("Later")
    with pytest.raises(CommandRefused, match="--replace"):
        restore(made.file, settings_for.data)
    restore(made.file, settings_for.data, replace=True)
    assert late not in everything(open_house(settings_for))
    before = next((settings_for.data / BACKUPS).glob("*.jigger-backup"))
    restore(before, tmp_path / "before")
    assert late in everything(open_house(settings_for.model_copy(update={"data": tmp_path / "before"})))


@pytest.mark.parametrize("harm", ["no zip", "cut off", "no database", "scrambled", "missing"])
def test_a_backup_that_is_none_changes_nothing(kept: House, settings_for: Settings, tmp_path: Path, harm: str) -> None:
    file = back_up(settings_for.data, tmp_path / "harmed.jigger-backup").file
    if harm == "no zip":
        file.write_bytes(b"not a zip at all")
    elif harm == "cut off":
        file.write_bytes(file.read_bytes()[:-200])
    elif harm == "missing":
        file.unlink()
    else:
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr("about.json", "{}")
            if harm == "scrambled":
                archive.writestr("jigger.sqlite3", b"SQLite format 3\0" + b"x" * 9000)
    before = everything(kept)
    with pytest.raises(CommandRefused, match=r"no backup|damaged|no such file"):
        restore(file, settings_for.data, replace=True)
    assert everything(open_house(settings_for)) == before
    assert {one.name for one in settings_for.data.iterdir()} >= {DATABASE} and not list(settings_for.data.glob("tmp*"))


def test_a_database_is_copied_before_it_is_brought_up_to_date(tmp_path: Path) -> None:
    open_database(tmp_path, "0006").dispose()
    assert migrated_to(tmp_path / DATABASE) == "0006" and not (tmp_path / BACKUPS).exists()
    open_database(tmp_path).dispose()
    copies = list((tmp_path / BACKUPS).iterdir())
    assert [copy.name for copy in copies] == [f"before-{newest_migration()}-from-0006.sqlite3"]
    assert migrated_to(copies[0]) == "0006" and migrated_to(tmp_path / DATABASE) == newest_migration()
    open_database(tmp_path).dispose()
    assert len(list((tmp_path / BACKUPS).iterdir())) == 1, "it is up to date and is not copied again"


def test_a_database_that_cannot_be_copied_first_is_left_as_it_is(tmp_path: Path) -> None:
    open_database(tmp_path, "0006").dispose()
    (tmp_path / BACKUPS).write_text("in the way")
    with pytest.raises(CannotOpen, match="copied before"):
        open_database(tmp_path)
    assert migrated_to(tmp_path / DATABASE) == "0006"


def states(settings: Settings) -> dict[str, str]:
    return {one.id: one.state for one in examined(settings)}


def test_the_doctor_finds_nothing_wrong_with_what_is_well(kept: House, settings_for: Settings) -> None:
    found = states(settings_for)
    assert set(found) == set(EXAMINATIONS) and {
        found[one] for one in ("versions", "fonts", "folder", "database", "port")
    } == {"well"}
    assert found["plotter"] == "look"


def test_the_doctor_says_what_is_wrong_and_how_to_mend_it(
    kept: House, settings_for: Settings, tmp_path: Path, capsys
) -> None:
    data = settings_for.data
    for rest in ("-wal", "-shm"):
        (data / f"{DATABASE}{rest}").unlink(missing_ok=True)
    (data / DATABASE).write_bytes(b"SQLite format 3\0" + b"x" * 9000)
    assert states(settings_for)["database"] == "ill"
    assert main(["doctor", "--data", str(data)]) == 1
    assert "ILL   database" in (said := capsys.readouterr().out) and "./jigger restore FILE --replace" in said
    shutil.rmtree(data)
    assert states(settings_for)["database"] == "well", "none is there yet"
    newer = tmp_path / "newer"
    open_database(newer).dispose()
    with sqlite3.connect(newer / DATABASE) as database:
        database.execute("UPDATE alembic_version SET version_num = '9999'")
    assert states(settings_for.model_copy(update={"data": newer}))["database"] == "ill"

    def broken(settings: Settings) -> Looked:
        raise OSError("no such thing")

    with EXAMINATIONS.with_one_more(Examination("broken", broken)):
        assert states(settings_for)["broken"] == "ill"


def test_backup_and_restore_by_the_command_line(kept: House, settings_for: Settings, tmp_path: Path, capsys) -> None:
    file = tmp_path / "all.jigger-backup"
    assert main(["backup", str(file), "--data", str(settings_for.data)]) == 0
    assert "2 designs" in capsys.readouterr().out
    assert main(["restore", str(file), "--data", str(tmp_path / "again")]) == 0
    assert main(["restore", str(file), "--data", str(tmp_path / "again")]) == 2
    assert "--replace" in capsys.readouterr().err
    assert main(["backup", "--data", str(tmp_path / "nothing")]) == 2
