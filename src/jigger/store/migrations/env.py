"""Alembic's entry: migrations run on the connection they are given, in its transaction."""

from alembic import context

from jigger.store.tables import Base

context.configure(connection=context.config.attributes["connection"], target_metadata=Base.metadata)
context.run_migrations()
