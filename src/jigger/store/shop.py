"""What a shop keeps beside its materials, as JSON by ids: one kind of it."""

from collections.abc import Mapping

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from jigger.store.tables import ShopRow


class ShopStore:
    def __init__(self, engine: Engine, kind: str):
        self._engine, self._kind = engine, kind

    def all(self) -> dict[str, str]:
        """In the order in which they were first kept."""
        with Session(self._engine) as session, session.begin():
            rows = session.scalars(select(ShopRow).where(ShopRow.kind == self._kind))
            return {row.id: row.text for row in rows}

    def keep(self, texts: Mapping[str, str]) -> None:
        """All of them or none."""
        with self._writing() as session, session.begin():
            for identity, text in texts.items():
                session.merge(ShopRow(kind=self._kind, id=identity, text=text))

    def remove(self, *identities: str) -> None:
        with self._writing() as session, session.begin():
            for identity in identities:
                row = session.get(ShopRow, (self._kind, identity))
                if row is not None:
                    session.delete(row)

    def _writing(self) -> Session:
        return Session(self._engine.execution_options(writing=True))
