"""Files of a directory are counted anew only where something has changed, and each directory is told with its change"""

from alembic import op

revision = "0040"
down_revision = "0039"
branch_labels = None
depends_on = None

_DIRECTORY = "case when strpos(path, '/') > 0 then regexp_replace(path, '/[^/]*$', '') else '' end"


def upgrade() -> None:
    for table in ("file", "entry", "finding"):
        op.execute(f"drop trigger tally_{table} on {table}")
    op.execute("drop function note_tally_change")
    for table in ("tally", "tally_change", "tally_done"):
        op.execute(f"drop table {table}")
    # What can be counted again is not written to the log of the database: after a crash it is counted anew.
    op.execute(
        "create unlogged table tally (folder_id integer not null, directory text not null, state text not null,"
        " files integer not null, others integer not null, bytes bigint not null)"
    )
    op.execute("create index ix_tally_folder_directory on tally (folder_id, directory text_pattern_ops)")
    op.execute("create unlogged table tally_change (folder_id integer not null, directory text not null)")
    op.execute("create unlogged table tally_done (at timestamptz not null, seconds double precision not null)")
    _files()
    _entries()
    _findings()


def _files() -> None:
    op.execute(
        "create function tally_files() returns trigger language plpgsql as $$ begin"
        " insert into tally_change select distinct folder_id, directory from changed; return null; end $$"
    )
    op.execute(
        "create trigger tally_file_new after insert on file referencing new table as changed"
        " for each statement execute function tally_files()"
    )
    op.execute(
        "create trigger tally_file_gone after delete on file referencing old table as changed"
        " for each statement execute function tally_files()"
    )
    op.execute(
        "create function tally_file() returns trigger language plpgsql as $$ begin"
        " insert into tally_change values (new.folder_id, new.directory);"
        " if (old.folder_id, old.directory) is distinct from (new.folder_id, new.directory) then"
        " insert into tally_change values (old.folder_id, old.directory); end if;"
        " return null; end $$"
    )
    counted = ("folder_id", "directory", "shown", "state", "kind", "size_bytes", "entry_id")
    differs = " or ".join(f"old.{name} is distinct from new.{name}" for name in counted)
    op.execute(
        f"create trigger tally_file_changed after update of {', '.join(counted)} on file"
        f" for each row when ({differs}) execute function tally_file()"
    )


def _entries() -> None:
    op.execute(
        "create function tally_entry() returns trigger language plpgsql as $$ begin"
        " insert into tally_change select distinct folder_id, directory from file where entry_id in ("
        " select new.id union all select child.id from entry child where child.parent_id = new.id"
        " union all select grand.id from entry child join entry grand on grand.parent_id = child.id"
        " where child.parent_id = new.id); return null; end $$"
    )
    op.execute(
        "create trigger tally_entry_changed after update of state, parent_id on entry"
        " for each row when (old.state is distinct from new.state or old.parent_id is distinct from new.parent_id)"
        " execute function tally_entry()"
    )


def _findings() -> None:
    op.execute(
        "create function tally_findings() returns trigger language plpgsql as $$ begin"
        f" insert into tally_change select distinct folder_id, {_DIRECTORY} from changed where path not like '%/';"
        " return null; end $$"
    )
    for name, event, which in (("new", "insert", "new"), ("gone", "delete", "old")):
        op.execute(
            f"create trigger tally_finding_{name} after {event} on finding referencing {which} table as changed"
            " for each statement execute function tally_findings()"
        )
    for name, which in (("from", "old"), ("to", "new")):
        op.execute(
            f"create trigger tally_finding_{name} after update on finding referencing {which} table as changed"
            " for each statement execute function tally_findings()"
        )


def downgrade() -> None:
    for name in ("new", "gone", "from", "to"):
        op.execute(f"drop trigger tally_finding_{name} on finding")
    op.execute("drop trigger tally_entry_changed on entry")
    for name in ("new", "gone", "changed"):
        op.execute(f"drop trigger tally_file_{name} on file")
    for name in ("findings", "entry", "file", "files"):
        op.execute(f"drop function tally_{name}")
    for table in ("tally", "tally_change", "tally_done"):
        op.execute(f"drop table {table}")
    op.execute(
        "create unlogged table tally (folder_id integer not null, directory text not null, state text not null,"
        " files integer not null, bytes bigint not null)"
    )
    op.execute("create index ix_tally_folder_directory on tally (folder_id, directory text_pattern_ops)")
    op.execute("create unlogged table tally_change (id bigserial)")
    op.execute("create unlogged table tally_done (at timestamptz not null, seconds double precision not null)")
    op.execute(
        "create function note_tally_change() returns trigger language plpgsql as"
        " $$ begin insert into tally_change default values; return null; end $$"
    )
    for table in ("file", "entry", "finding"):
        op.execute(
            f"create trigger tally_{table} after insert or update or delete on {table}"
            " for each statement execute function note_tally_change()"
        )
