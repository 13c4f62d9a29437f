import os, random, shutil
from pathlib import Path
import pytest
from .conftest import declare, hollow, told
from .test_many_changes import Household, SEED, ROUNDS
from .test_many_kills import plain
SRC = Path("/tmp/demo-home/household")
class Real(Household):
    src = SRC
    def __init__(self, root, src, dice):
        self.src = src
        self.all = sorted(p for p in src.rglob("*") if p.is_file())
        super().__init__(root, [str(p.relative_to(src)) for p in self.all], dice)
    def _write(self, path):
        shutil.copy2(self._dice.choice([p for p in self.all if p.suffix.lower() == path.suffix.lower()] or self.all), path)
        os.utime(path, (1e9 + self._dice.random()*1e8,)*2)
    def rename(self):
        if self._dice.random() < 0.5: return super().rename()
        one = self._dice.choice(self.files()); other = self._dice.choice(self.files())
        target = other.with_name(other.stem + one.suffix)
        if self._is_free(target): one.rename(target)
@pytest.mark.parametrize("kind", ["photos", "music", "movies", "series", "home-videos"])
def test_x(tmp_path, database, scan, kind):
    dice = random.Random(f"{SEED} {kind}")
    src = SRC / {"photos": "Photos", "music": "Music", "movies": "Films", "series": "Series", "home-videos": "Home videos"}[kind]
    if not src.exists(): pytest.skip(str(os.listdir(SRC)))
    house = Real(tmp_path / "here", src, dice)
    shutil.copytree(src, house.root)
    fs = house.files()
    for f in dice.sample(fs, max(0, len(fs) - 70)): f.unlink()
    library = declare(database, house.root, kind)
    assert scan(library) == "done"
    for _ in range(ROUNDS):
        for _ in range(dice.randrange(1, 9)):
            bef = set(map(str, house.files())); house.do_something(); aft = set(map(str, house.files()))
            print("\nOP", sorted(x.split("/here/")[1] for x in bef - aft)[:4], sorted(x.split("/here/")[1] for x in aft - bef)[:4])
        assert scan(library) == "done"
        print("\nHOL", hollow(database, library))
        from sqlalchemy import text
        with database.begin() as db:
            for r in db.execute(text("select e.key, e.id, e.parent_id, e.added_at::time, (select count(*) from entry c where c.parent_id=e.id) from entry e where key like '%second sitting 2002%' or key like '%nocturnes%' or key like '%visitor knew%'")): print("\nROW", r)
            for r in db.execute(text("select shown, state, entry_id, serves, media->'tags', kind from file where shown like '%Nocturnes%'")): print("\nFIL", r)
    calm = declare(database, shutil.copytree(house.root, tmp_path / "calm" / "here"), kind)
    assert scan(calm) == "done"
    here, there = told(database, library), told(database, calm)
    bad = 0
    a, b = set(map(str, plain(here))), set(map(str, plain(there)))
    for x in sorted(a - b)[:5]: print("\nENT only here ", kind, x); bad = 1
    for x in sorted(b - a)[:5]: print("\nENT only fresh", kind, x); bad = 1
    a, b = set(map(str, here["findings"])), set(map(str, there["findings"]))
    for x in sorted(a - b)[:6]: print("\nDIFF only here ", kind, x); bad = 1
    for x in sorted(b - a)[:6]: print("\nDIFF only fresh", kind, x); bad = 1
    pa, pb = (sorted(d for *_, d in x["pictures"]) for x in (here, there))
    if pa != pb:
        A = {(d, r, o): k for k, r, o, d in here["pictures"]}; B = {(d, r, o): k for k, r, o, d in there["pictures"]}
        for x in set(A) - set(B): print("\nPICS only here", kind, A[x], x)
        for x in set(B) - set(A): print("\nPICS only fresh", kind, B[x], x)
    h, c = set(hollow(database, library)), set(hollow(database, calm))
    if h != c: print("\nHOLLOW", kind, h - c, c - h)
