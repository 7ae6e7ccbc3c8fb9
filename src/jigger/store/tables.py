"""The tables."""

import zlib
from typing import Any

from sqlalchemy import Dialect, ForeignKey, ForeignKeyConstraint, Index, String
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column
from sqlalchemy.types import TypeDecorator

from jigger.store.deltas import MAGIC

LEVEL = 1  # of 9: an edit waits for it


class Base(DeclarativeBase):
    pass


class Compact(TypeDecorator[str | bytes]):
    """Text that is kept compressed: a document is mostly words that come again. What an earlier Jigger kept plain is
    read as it is; bytes that a delta was packed into are given as they are.
    """

    impl = String
    cache_ok = True

    def process_bind_param(self, value: str | bytes | None, dialect: Dialect) -> Any:
        return zlib.compress(value.encode(), LEVEL) if isinstance(value, str) else value

    def process_result_value(self, value: Any, dialect: Dialect) -> Any:
        if isinstance(value, bytes) and not value.startswith(MAGIC):
            return zlib.decompress(value).decode()
        return value


class DesignRow(Base):
    """A design: `head` is the revision it shows, `seq` grows with every move of the head. `tags`: one a line."""

    __tablename__ = "design"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    head: Mapped[int]
    seq: Mapped[int]
    created: Mapped[str]
    changed: Mapped[str]
    archived: Mapped[bool] = mapped_column(default=False)
    tags: Mapped[str] = mapped_column(default="")


class RevisionRow(Base):
    """One accepted edit with the whole document after it; nothing here is ever changed or deleted.

    `parent` is the revision before it, `step_from` the one that undo goes to: the parent of its burst's first.
    `window`: the window of a browser that it came from, `who`: the person's name. `base`: the revision that the
    snapshot is a delta of, None where it is kept whole.
    """

    __tablename__ = "revision"
    design_id: Mapped[str] = mapped_column(ForeignKey("design.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    parent: Mapped[int | None]
    step_from: Mapped[int | None]
    label: Mapped[str]
    command: Mapped[str]
    snapshot: Mapped[str | bytes] = mapped_column(Compact)
    burst: Mapped[str | None]
    created: Mapped[str]
    window: Mapped[str] = mapped_column(default="")
    who: Mapped[str] = mapped_column(default="")
    base: Mapped[int | None]
    __table_args__ = (Index("revision_step", "design_id", "step_from"),)


class VersionNameRow(Base):
    """The name that a person gave a revision."""

    __tablename__ = "version_name"
    design_id: Mapped[str] = mapped_column(primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    created: Mapped[str]


class HeadMoveRow(Base):
    """Which revision the design showed at each `seq`; `window` and `who` made it, as of a revision."""

    __tablename__ = "head_move"
    design_id: Mapped[str] = mapped_column(primary_key=True)
    seq: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int]
    window: Mapped[str] = mapped_column(default="")
    who: Mapped[str] = mapped_column(default="")
    __table_args__ = (
        ForeignKeyConstraint(["design_id", "revision"], ["revision.design_id", "revision.number"]),
        Index("head_move_revision", "design_id", "revision"),
    )


class JobRow(Base):
    """A job of the queue: its tool path is pinned when it is lined up. Lengths in mm.

    `begun`: when it last went to the machine. `loaded`: a person said that its material is in the machine. `place`:
    among those lined up, then by number. `reached`: how many of its `strokes` the machine says are done. `stray`: how
    far its picture lies beside the path, mm. `pen`: it is drawn on paper. `settings`: in words, what it is cut with.
    `list_id`, `run`: the cut list and run it is a sheet of; `used` mm of the piece `stock` are taken off once it is
    cut, or all but its `rest`, as JSON, which `booked` says.
    """

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("design.id"))
    title: Mapped[str]
    revision: Mapped[int]
    material: Mapped[str]
    state: Mapped[str]
    message: Mapped[str] = mapped_column(default="")
    done: Mapped[float] = mapped_column(default=0.0)
    total: Mapped[float]
    path: Mapped[str]
    picture: Mapped[str] = mapped_column(default="")
    created: Mapped[str]
    changed: Mapped[str]
    layer: Mapped[str] = mapped_column(default="")
    colour: Mapped[str] = mapped_column(default="")
    begun: Mapped[str] = mapped_column(default="")
    loaded: Mapped[bool] = mapped_column(default=False)
    machine: Mapped[str] = mapped_column(default="roll-plotter")
    place: Mapped[int] = mapped_column(default=0)
    reached: Mapped[int] = mapped_column(default=0)
    strokes: Mapped[int] = mapped_column(default=0)
    stray: Mapped[float | None]
    pen: Mapped[bool] = mapped_column(default=False)
    settings: Mapped[str] = mapped_column(default="")
    list_id: Mapped[str] = mapped_column(default="")
    run: Mapped[str] = mapped_column(default="")
    stock: Mapped[str] = mapped_column(default="")
    used: Mapped[float] = mapped_column(default=0.0)
    rest: Mapped[str] = mapped_column(default="")
    booked: Mapped[str] = mapped_column(default="")
    __table_args__ = (Index("job_state", "machine", "state"),)


class FontRow(Base):
    """A font that a person added, its bytes cleaned; one that was removed stays for the designs that use it."""

    __tablename__ = "font"
    id: Mapped[str] = mapped_column(primary_key=True)
    family: Mapped[str]
    digest: Mapped[str]
    data: Mapped[bytes]
    added: Mapped[str]
    removed: Mapped[bool] = mapped_column(default=False)


class MaterialRow(Base):
    """A material's shop rules as JSON: one that a person made, or a shipped one that a person changed."""

    __tablename__ = "material"
    id: Mapped[str] = mapped_column(primary_key=True)
    rules: Mapped[str]


class ShopRow(Base):
    """What else a shop keeps, as JSON by kind and id: machines, settings of materials on them, stock."""

    __tablename__ = "shop"
    kind: Mapped[str] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(primary_key=True)
    text: Mapped[str]


class CutListRow(Base):
    """A cut list: `head` is the state it shows, `seq` grows with every move of the head."""

    __tablename__ = "cut_list"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    head: Mapped[int]
    seq: Mapped[int]
    created: Mapped[str]
    changed: Mapped[str]
    archived: Mapped[bool] = mapped_column(default=False)


class CutListStateRow(Base):
    """A cut list after one edit; nothing here is ever changed or deleted."""

    __tablename__ = "cut_list_state"
    list_id: Mapped[str] = mapped_column(ForeignKey("cut_list.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    parent: Mapped[int | None]
    label: Mapped[str]
    text: Mapped[str] = mapped_column(Compact)
    created: Mapped[str]


class PictureRow(Base):
    """A picture that a person brought in, by the hash of its bytes."""

    __tablename__ = "picture"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    data: Mapped[bytes]
    added: Mapped[str]


class FavouriteRow(Base):
    """A font, shipped or own, that a person marked."""

    __tablename__ = "favourite"
    font: Mapped[str] = mapped_column(primary_key=True)


class ProofRow(Base):
    """A link by which a customer looks at a revision of one design; `withdrawn`: when it was, or empty."""

    __tablename__ = "proof"
    token: Mapped[str] = mapped_column(primary_key=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("design.id"))
    revision: Mapped[int]
    created: Mapped[str]
    withdrawn: Mapped[str] = mapped_column(default="")
    __table_args__ = (Index("proof_design", "design_id"),)


class ProofWordRow(Base):
    """What someone said to a proof, of the revision that it showed then: a remark, or that it is approved."""

    __tablename__ = "proof_word"
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    token: Mapped[str] = mapped_column(ForeignKey("proof.token"))
    revision: Mapped[int]
    name: Mapped[str]
    words: Mapped[str]
    approved: Mapped[bool]
    created: Mapped[str]
    __table_args__ = (Index("proof_word_token", "token"),)
