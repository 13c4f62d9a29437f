"""How many entries have each trait, kept as sums: a shelf that is not narrowed down is not counted anew"""

from alembic import op

revision = "0034"
down_revision = "0033"
branch_labels = None
depends_on = None

_TABLE = """
create table trait_sum (
  kind text not null, library_id integer not null, age smallint, limit_age smallint not null,
  trait text not null, count integer not null
)
"""
_ADD = "insert into trait_sum (kind, library_id, age, limit_age, trait, count)"
_OF_ONE_KIND = """
create function sum_traits_{name}() returns trigger language plpgsql as $$
begin
  {add} select kind, library_id, age, limit_age, unnest(traits), {sign} count(*) from told
    where traits <> '{{}}' group by 1, 2, 3, 4, 5;
  return null;
end $$;
create trigger trait_sum_{name} after {event} on entry referencing {which} table as told
  for each statement execute function sum_traits_{name}()
"""
_CHANGED = """
create function sum_traits_changed() returns trigger language plpgsql as $$
begin
  {add} select kind, library_id, age, limit_age, trait, sum(one) from (
    select was.kind, was.library_id, was.age, was.limit_age, unnest(was.traits) as trait, -1 as one
      from was join told using (id)
      where (was.traits, was.kind, was.library_id, was.age, was.limit_age)
        is distinct from (told.traits, told.kind, told.library_id, told.age, told.limit_age)
    union all
    select told.kind, told.library_id, told.age, told.limit_age, unnest(told.traits), 1
      from was join told using (id)
      where (was.traits, was.kind, was.library_id, was.age, was.limit_age)
        is distinct from (told.traits, told.kind, told.library_id, told.age, told.limit_age)
  ) as each group by 1, 2, 3, 4, 5 having sum(one) <> 0;
  return null;
end $$;
create trigger trait_sum_changed after update on entry referencing old table as was new table as told
  for each statement execute function sum_traits_changed()
"""


def upgrade() -> None:
    op.execute(_TABLE)
    op.execute("create index ix_trait_sum_kind on trait_sum (kind) include (library_id, age, limit_age, trait, count)")
    op.execute(_OF_ONE_KIND.format(name="new", add=_ADD, sign="", event="insert", which="new"))
    op.execute(_OF_ONE_KIND.format(name="gone", add=_ADD, sign="-", event="delete", which="old"))
    op.execute(_CHANGED.format(add=_ADD))
    op.execute(
        f"{_ADD} select kind, library_id, age, limit_age, unnest(traits), count(*) from entry"
        " where traits <> '{}' group by 1, 2, 3, 4, 5"
    )


def downgrade() -> None:
    for name in ("new", "gone", "changed"):
        op.execute(f"drop trigger trait_sum_{name} on entry")
        op.execute(f"drop function sum_traits_{name}()")
    op.execute("drop table trait_sum")
