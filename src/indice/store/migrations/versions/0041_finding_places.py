"""What findings are about is found by an index, whatever path of a finding names it"""

from alembic import op

revision = "0041"
down_revision = "0040"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # Every path of a finding, and every folder above it with its slash.
    op.execute(
        """
        create function finding_places(path text, fix text, wanted text, also jsonb) returns text[]
        language sql immutable parallel safe as $$
          select array_agg(distinct place) from (
            select unnest(array[path, fix, wanted]) as name
            union all
            select told.value from jsonb_array_elements(also) as move, jsonb_each_text(move) as told
          ) as named
          cross join lateral string_to_array(name, '/') as parts
          cross join lateral (
            select name as place
            union all
            select array_to_string(parts[1:step], '/') || '/' from generate_series(1, cardinality(parts) - 1) as step
          ) as above
          where name <> ''
        $$
        """
    )
    op.execute("create index ix_finding_places on finding using gin (finding_places(path, fix, wanted, also))")


def downgrade() -> None:
    op.execute("drop index ix_finding_places")
    op.execute("drop function finding_places")
