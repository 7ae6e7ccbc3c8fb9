"""Fonts that people added, by the hash of their bytes, and favourites."""

from dataclasses import dataclass

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session, defer

from jigger.store.tables import FavouriteRow, FontRow


@dataclass(frozen=True)
class OwnFont:
    id: str
    family: str
    removed: bool


class FontStore:
    def __init__(self, engine: Engine):
        self._engine = engine

    def add(self, identity: str, family: str, digest: str, data: bytes, now: str) -> None:
        """Keep a font; one that was removed comes back."""
        with self._writing() as session, session.begin():
            row = session.get(FontRow, identity)
            if row is None:
                session.add(FontRow(id=identity, family=family, digest=digest, data=data, added=now, removed=False))
            else:
                row.removed = False

    def remove(self, identity: str) -> None:
        """Take a font out of the case; its bytes stay for the designs that use it."""
        with self._writing() as session, session.begin():
            row = session.get(FontRow, identity)
            if row is not None:
                row.removed = True

    def all(self) -> list[OwnFont]:
        with Session(self._engine) as session, session.begin():
            rows = session.scalars(select(FontRow).options(defer(FontRow.data)).order_by(FontRow.family, FontRow.id))
            return [OwnFont(row.id, row.family, row.removed) for row in rows]

    def data(self, identity: str) -> tuple[str, bytes] | None:
        """Family and bytes of a font, removed or not."""
        with Session(self._engine) as session, session.begin():
            row = session.get(FontRow, identity)
            return (row.family, row.data) if row else None

    def favourites(self) -> set[str]:
        with Session(self._engine) as session, session.begin():
            return set(session.scalars(select(FavouriteRow.font)))

    def mark(self, font: str, marked: bool) -> None:
        with self._writing() as session, session.begin():
            row = session.get(FavouriteRow, font)
            if marked and row is None:
                session.add(FavouriteRow(font=font))
            elif not marked and row is not None:
                session.delete(row)

    def _writing(self) -> Session:
        return Session(self._engine.execution_options(writing=True))
