"""Alembic's entry: runs the migrations on the connection it is given."""

from alembic import context

from zevlo.store.tables import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata)
with context.begin_transaction():
    context.run_migrations()
