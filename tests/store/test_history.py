"""Histories: heads move, bursts are one step, nothing is deleted, all of it outlives the process."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import create_engine, inspect, text

from jigger.core.cut.paths.path_text import read_path
from jigger.core.formats.hpgl import hpgl_of
from jigger.store.database import open_database
from jigger.store.history import DesignStore, NoSuchDesign
from jigger.store.jobs import LINED_UP, ON, STOPPED, JobStore, NewJob
from jigger.store.materials import MaterialStore
from jigger.store.shop import ShopStore
from jigger.store.tables import Base

NOW = "2026-01-01T00:00:00+00:00"


@pytest.fixture
def store(tmp_path: Path) -> DesignStore:
    store = DesignStore(open_database(tmp_path))
    store.add("one", "One", "s0", "start", NOW)
    return store


def record(store: DesignStore, snapshot: str, burst: str | None = None) -> None:
    with store.writing("one") as history:
        history.record("One", snapshot, f"edit {snapshot}", "{}", burst, NOW)


def shown(store: DesignStore) -> str:
    with store.reading("one") as history:
        return history.head.snapshot


def step(store: DesignStore, way: str) -> bool:
    with store.writing("one") as history:
        return getattr(history, way)(NOW)


def test_undo_and_redo_walk_and_stop_at_the_ends(store: DesignStore) -> None:
    for snapshot in ("s1", "s2"):
        record(store, snapshot)
    assert [(step(store, "undo"), shown(store)) for _ in range(3)] == [
        (True, "s1"),
        (True, "s0"),
        (False, "s0"),
    ]
    assert [(step(store, "redo"), shown(store)) for _ in range(3)] == [
        (True, "s1"),
        (True, "s2"),
        (False, "s2"),
    ]


def test_a_burst_is_one_step_but_every_post_is_kept(store: DesignStore) -> None:
    record(store, "s1")
    for snapshot in ("a", "ab", "abc"):
        record(store, snapshot, "typing #1")
    record(store, "b1", "typing #2")
    assert [step(store, "undo") and shown(store) for _ in range(3)] == ["abc", "s1", "s0"]
    assert [step(store, "redo") and shown(store) for _ in range(3)] == ["s1", "abc", "b1"]
    with store.reading("one") as history:
        assert [history.snapshot_at(seq) for seq in range(1, 7)] == ["s0", "s1", "a", "ab", "abc", "b1"]


def test_editing_after_undo_branches_and_redo_takes_the_newest(store: DesignStore) -> None:
    record(store, "s1")
    step(store, "undo")
    record(store, "t1")
    assert not step(store, "redo") and step(store, "undo") and step(store, "redo")
    assert shown(store) == "t1"
    with store.reading("one") as history:
        assert history.snapshot_at(2) == "s1", "the other branch is still there"


def test_redo_goes_into_the_burst_that_was_looked_at_last_though_another_way_was_made_since(store: DesignStore) -> None:
    for letter in "abc":
        record(store, letter, "burst")
    step(store, "undo")
    record(store, "another")
    step(store, "undo")
    with store.writing("one") as history:
        history.go_to(4, NOW)  # the end of the burst, from the list of steps
    step(store, "undo")
    assert step(store, "redo") and shown(store) == "c"


def test_seq_grows_with_every_move_and_labels_say_the_steps(store: DesignStore) -> None:
    record(store, "s1")
    step(store, "undo")
    with store.reading("one") as history:
        assert (history.head.seq, history.head.number) == (3, 1)
        assert (history.head.undo, history.head.redo) == (None, "edit s1")


@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=30))
def test_any_walk_is_the_walk_of_two_stacks(tmp_path_factory: pytest.TempPathFactory, walk: list[str]) -> None:
    store = DesignStore(open_database(tmp_path_factory.mktemp("walk")))
    store.add("one", "One", "s0", "start", NOW)
    past: list[str] = ["s0"]
    future: list[str] = []
    for number, what in enumerate(walk):
        if what == "edit":
            record(store, f"s{number + 1}")
            past, future = [*past, f"s{number + 1}"], []
        elif what == "undo":
            assert step(store, "undo") == (len(past) > 1)
            future += [past.pop()] if len(past) > 1 else []
        else:
            assert step(store, "redo") == bool(future)
            past += [future.pop()] if future else []
        assert shown(store) == past[-1]


def test_everything_is_there_when_opened_again(tmp_path: Path, store: DesignStore) -> None:
    record(store, "s1")
    again = DesignStore(open_database(tmp_path))
    assert shown(again) == "s1" and step(again, "undo") and shown(again) == "s0"


def test_an_edit_that_fails_leaves_nothing_behind(store: DesignStore) -> None:
    with pytest.raises(RuntimeError), store.writing("one") as history:
        history.record("One", "half", "edit", "{}", None, NOW)
        raise RuntimeError
    assert shown(store) == "s0"


def test_a_design_put_away_is_off_the_shelf(store: DesignStore) -> None:
    with store.writing("one") as history:
        history.archive()
    assert store.listed() == []
    with pytest.raises(NoSuchDesign), store.reading("one"):
        pass


def test_migrations_make_the_tables_the_code_means(tmp_path: Path) -> None:
    migrated = inspect(open_database(tmp_path))
    meant_engine = create_engine("sqlite://")
    Base.metadata.create_all(meant_engine)
    meant = inspect(meant_engine)
    for table in meant.get_table_names():
        columns = {(c["name"], str(c["type"]), c["nullable"]) for c in meant.get_columns(table)}
        assert {(c["name"], str(c["type"]), c["nullable"]) for c in migrated.get_columns(table)} == columns


def test_writes_are_durable_and_writers_wait(tmp_path: Path) -> None:
    with open_database(tmp_path).connect() as connection:
        pragmas = {
            name: connection.execute(text(f"PRAGMA {name}")).scalar()
            for name in ("journal_mode", "synchronous", "foreign_keys", "busy_timeout")
        }
    assert pragmas == {"journal_mode": "wal", "synchronous": 2, "foreign_keys": 1, "busy_timeout": 5000}


def test_jobs_are_taken_in_order_and_stopped_when_orphaned(tmp_path: Path, store: DesignStore) -> None:
    jobs = JobStore(open_database(tmp_path))
    first, second = (jobs.add(NewJob("one", "One", 1, "film", 2.0, "IN;", 1, "plotter"), NOW) for _ in range(2))
    assert jobs.take_next("table", NOW) is None
    taken = jobs.take_next("plotter", NOW)
    assert taken and taken.id == first and taken.state == ON
    jobs.remove(first)
    assert jobs.get(first), "a job on the machine cannot be removed"
    jobs.stop_running("restarted", NOW)
    assert [job.state for job in jobs.all()] == [LINED_UP, STOPPED]
    jobs.remove(second)
    assert [job.id for job in jobs.all()] == [first] and jobs.take_next("plotter", NOW) is None


def test_jobs_of_before_become_tool_paths(tmp_path: Path) -> None:
    """What would have been sent is what is sent: every point, speed and force of it."""
    program = "IN;PA;\nSP1;VS30;FS90;\nPU40,80;PD80,80,80,120,40,80;\nSP2;VS3;FS120;\nPU0,0;PD0,400,400,400,0,0;\nPU0,0;SP0;\n"
    engine = open_database(tmp_path, "0004")
    with engine.execution_options(writing=True).begin() as connection:
        connection.execute(text("INSERT INTO design VALUES ('d', 'D', 1, 1, 'now', 'now', 0)"))
        connection.execute(
            text(
                "INSERT INTO job (id, design_id, title, revision, material, state, message, done, total, program, picture,"
                " created, changed) VALUES (7, 'd', 'D', 1, 'Vinyl', 'lined up', '', 0, 1, :program, '', 'now', 'now')"
            ),
            {"program": program},
        )
    engine.dispose()
    job = JobStore(open_database(tmp_path)).get(7)
    sent = hpgl_of(read_path(job.path)).text
    assert sent.replace("\n", "") == program.replace("\n", "")


def test_documents_are_kept_compact_and_plain_ones_of_before_are_read(tmp_path: Path) -> None:
    document = json.dumps([{"kind": "lettering", "id": f"part{number}", "text": "Merrow"} for number in range(2000)])
    store = DesignStore(open_database(tmp_path))
    store.add("one", "One", document, "start", NOW)
    with store._engine.execution_options(writing=True).begin() as connection:
        kept = connection.execute(text("SELECT length(snapshot) FROM revision")).scalar_one()
        assert kept < len(document) / 8
        connection.execute(text("UPDATE revision SET snapshot = 'as it was'"))
    with store.reading("one") as history:
        assert history.snapshot == "as it was"


def test_materials_of_before_give_their_speed_and_force_to_the_machine(tmp_path: Path) -> None:
    rules = {"id": "own", "process": "plasma", "name": "Own", "speed": 33.5, "force": 12, "kerf": 1.0}
    engine = open_database(tmp_path, "0005")
    with engine.execution_options(writing=True).begin() as connection:
        connection.execute(text("INSERT INTO material VALUES ('own', :rules)"), {"rules": json.dumps(rules)})
    engine.dispose()
    engine = open_database(tmp_path)
    kept = json.loads(MaterialStore(engine).all()["own"])
    assert kept == {"id": "own", "process": "plasma", "name": "Own", "kerf": 1.0}
    (setting,) = map(json.loads, ShopStore(engine, "setting").all().values())
    assert setting == {"machine": "plate-table", "material": "own", "speed": 33.5, "force": 12}
    assert ShopStore(engine, "stock").all() == {}, "kinds are kept apart"
