"""What is due is noted once more each time: one note for several changes was lost
where one of them was not yet committed"""

from alembic import op

revision = "0030"
down_revision = "0029"
branch_labels = None
depends_on = None

_NOTES = ("age_due", "trait_due")


def upgrade() -> None:
    for name in _NOTES:
        op.execute(f"alter table {name} drop constraint {name}_pkey")
        op.execute(f"alter table {name} add column id bigint generated always as identity primary key")
        op.execute(f"create index ix_{name}_entry_id on {name} (entry_id)")
        op.execute(f"insert into {name} select id from entry")  # for those that were lost


def downgrade() -> None:
    for name in _NOTES:
        op.execute(f"delete from {name} where id not in (select min(id) from {name} group by entry_id)")
        op.execute(f"drop index ix_{name}_entry_id")
        op.execute(f"alter table {name} drop column id")
        op.execute(f"alter table {name} add primary key (entry_id)")
