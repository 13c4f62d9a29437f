"""Runs migrations over the connection that :func:`indice.store.database.migrate` hands in."""

from alembic import context

from indice.store.models import Base

link = context.config.attributes["connection"]
context.configure(connection=link, target_metadata=Base.metadata)
with context.begin_transaction():
    context.run_migrations()
