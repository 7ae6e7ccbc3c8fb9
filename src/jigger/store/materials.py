"""Shop rules that people made or changed, as JSON by their ids."""

from collections.abc import Mapping

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from jigger.store.tables import MaterialRow


class MaterialStore:
    def __init__(self, engine: Engine):
        self._engine = engine

    def all(self) -> dict[str, str]:
        """In the order in which they were first kept."""
        with Session(self._engine) as session, session.begin():
            return {row.id: row.rules for row in session.scalars(select(MaterialRow))}

    def keep(self, rules: Mapping[str, str]) -> None:
        """All of them or none."""
        with self._writing() as session, session.begin():
            for identity, text in rules.items():
                session.merge(MaterialRow(id=identity, rules=text))

    def remove(self, *identities: str) -> None:
        with self._writing() as session, session.begin():
            for identity in identities:
                row = session.get(MaterialRow, identity)
                if row is not None:
                    session.delete(row)

    def _writing(self) -> Session:
        return Session(self._engine.execution_options(writing=True))
