"""Proofs on disk: links, and what is said to them."""

from dataclasses import dataclass, fields

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from jigger.store.tables import ProofRow, ProofWordRow


@dataclass(frozen=True)
class ProofLink:
    """A link by its `token`, to a revision of a design; `withdrawn`: when it was, or empty."""

    token: str
    design_id: str
    revision: int
    created: str
    withdrawn: str


@dataclass(frozen=True)
class ProofWord:
    """What someone said to a revision: `words`, or with `approved` that it is as it should be."""

    revision: int
    name: str
    words: str
    approved: bool
    created: str


class ProofStore:
    def __init__(self, engine: Engine):
        self._engine = engine

    def get(self, token: str) -> ProofLink | None:
        with Session(self._engine) as session:
            row = session.get(ProofRow, token)
            return _link(row) if row else None

    def of(self, design: str) -> ProofLink | None:
        """The newest link of a design that is not withdrawn."""
        with Session(self._engine) as session:
            mine = select(ProofRow).where(ProofRow.design_id == design, ProofRow.withdrawn == "")
            row = session.scalar(mine.order_by(ProofRow.created.desc()).limit(1))
            return _link(row) if row else None

    def add(self, token: str, design: str, revision: int, now: str) -> None:
        with self._writing() as session, session.begin():
            session.add(ProofRow(token=token, design_id=design, revision=revision, created=now))

    def show(self, token: str, revision: int) -> None:
        """Let a link show another revision."""
        with self._writing() as session, session.begin():
            session.get_one(ProofRow, token).revision = revision

    def withdraw(self, token: str, now: str) -> None:
        with self._writing() as session, session.begin():
            session.get_one(ProofRow, token).withdrawn = now

    def say(self, token: str, word: ProofWord) -> None:
        with self._writing() as session, session.begin():
            session.add(ProofWordRow(token=token, **{one.name: getattr(word, one.name) for one in fields(word)}))

    def count(self, token: str) -> int:
        """How many words there are to a link."""
        return len(self._words(ProofWordRow.token == token))

    def said(self, design: str) -> list[ProofWord]:
        """Everything that was said to any link of a design, the newest first."""
        links = select(ProofRow.token).where(ProofRow.design_id == design)
        return self._words(ProofWordRow.token.in_(links))

    def _words(self, which: object) -> list[ProofWord]:
        with Session(self._engine) as session:
            rows = session.scalars(select(ProofWordRow).where(which).order_by(ProofWordRow.id.desc()))  # type: ignore[arg-type]
            return [ProofWord(**{one.name: getattr(row, one.name) for one in fields(ProofWord)}) for row in rows]

    def _writing(self) -> Session:
        return Session(self._engine.execution_options(writing=True))


def _link(row: ProofRow) -> ProofLink:
    return ProofLink(row.token, row.design_id, row.revision, row.created, row.withdrawn)
