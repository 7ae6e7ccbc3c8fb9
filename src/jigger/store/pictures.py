"""Pictures, by the hash of their bytes; none is ever taken away, as designs name them."""

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from jigger.store.tables import PictureRow


class PictureStore:
    def __init__(self, engine: Engine):
        self._engine = engine

    def add(self, identity: str, name: str, data: bytes, now: str) -> None:
        """Keep a picture; the same bytes are kept once, under their first name."""
        with Session(self._engine.execution_options(writing=True)) as session, session.begin():
            if session.get(PictureRow, identity) is None:
                session.add(PictureRow(id=identity, name=name, data=data, added=now))

    def has(self, identity: str) -> bool:
        """Without its bytes being read."""
        with Session(self._engine) as session, session.begin():
            return session.scalar(select(PictureRow.id).where(PictureRow.id == identity)) is not None

    def data(self, identity: str) -> bytes | None:
        """Its bytes alone."""
        found = self.one(identity)
        return found[1] if found else None

    def one(self, identity: str) -> tuple[str, bytes] | None:
        """Its name and bytes."""
        with Session(self._engine) as session, session.begin():
            row = session.get(PictureRow, identity)
            return (row.name, row.data) if row else None
