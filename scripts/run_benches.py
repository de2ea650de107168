"""Many benches on one server: each logs its holes at once, the server dies in the middle, one bench is cut off.

    .venv/bin/python scripts/run_benches.py [--benches 8] [--holes 2000] [--offline 500]
    .venv/bin/python scripts/run_benches.py --large 100000    search and history of so many, on both databases

Needs PostgreSQL's programs (Debian: postgresql). At the end every hole has to be there, once, and each bench's in
the order it was made.
"""

from __future__ import annotations

import argparse
import subprocess
import sys
import tempfile
import time
from collections import Counter
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parent.parent))

from sqlalchemy import func, select, text
from sqlalchemy.orm import Session as Store
from tests.logbook.postgres import OnServer, Postgres
from tests.logbook.test_book import DAY, run

from cordwainer.logbook.bench import BenchCopy
from cordwainer.logbook.book import Book, Filter, Measurement, run_rows
from cordwainer.logbook.link import Link
from cordwainer.logbook.move import move
from cordwainer.logbook.records import HoleMade, Taken
from cordwainer.logbook.server import Server, read_address

NOBODY = "postgresql+psycopg://bench@/cordwainer?host=/nowhere"


def now() -> datetime:
    """The time."""
    return datetime.now().astimezone()


def bench(folder: Path, url: str, number: int, holes: int, offline: int) -> None:
    """One bench: `offline` holes with nobody there, then as many more; it ends when nothing waits."""
    copy = BenchCopy(folder / f"bench{number}.sqlite", now)
    book = Book(copy.path, now, copy)
    links = [Link(copy, Server(read_address(where)[0]), f"bench {number}", now) for where in (NOBODY, url)]
    line = links[0] if offline else links[1]
    line.start()
    for k in range(holes):
        if offline and k == offline:
            line.stop()
            line = links[1]
            line.start()
        record = run(k, name=f"part {number}")
        book.take_run(record)
        if k % 3 == 0:
            book.put_readings(record.id, [Measurement(10, 0, 9.8, 9.8)], "gauge", "accept", 9.8)
    line.wake()
    while copy.count_waiting() or copy.seen is None:
        time.sleep(0.05)
    line.stop()
    print(number, len(copy.troubles()), flush=True)
    copy.close()


def large(server: Server, holes: int) -> None:
    """Search and history of many holes, the file beside the server; and how long they take to be carried there."""
    with tempfile.TemporaryDirectory() as folder:
        file = Book(Path(folder) / "large.sqlite", now)
        tables: dict[str, list[dict[str, Any]]] = {"hole": [], "operation": [], "evidence": [], "reading": []}
        for k in range(holes):
            record = run(k % 1000, name=f"part {k // 1000}", tool=f"drill-{k % 60}", at=DAY + timedelta(minutes=k))
            rows = run_rows(record)
            tables["hole"].append(rows["hole"])
            name = {"hole_id": record.id}
            tables["operation"] += [
                o | name | {"left_mm": 9.8 if o["place"] == 1 else None} for o in rows["operations"]
            ]
            tables["evidence"] += [name | {"question": q, "answer": a} for q, a in rows["evidence"].items()]
            sizes = {"depth_mm": 10.0, "direction_deg": 0.0, "size_mm": 9.8, "corrected_mm": 9.8, "gauge": "gauge"}
            tables["reading"].append(name | sizes)
        file.take_rows(tables)
        begun = time.monotonic()
        moved = move(file.engine, server.engine, "mill")
        took_s = time.monotonic() - begun
        print(f"{moved.counts['hole']} holes carried in {took_s:.0f} s, checksum {moved.checksum[:12]}")
        with server.engine.begin() as connection:
            connection.execute(text("ANALYZE"))
        for where, book in (("file", file), ("server", Book(Path(folder), now, OnServer(server)))):
            for name, ask in (
                ("newest 500", lambda b: b.search()),
                ("search by words", lambda b: b.search(Filter(text="part 77 9.7"))),
                ("count by tool", lambda b: b.count(Filter(tool_id="drill-7"))),
                ("history of a tool", lambda b: b.history("drill-7", 9.7)),
                ("tools", lambda b: b.tools()),
                ("holes since regrinds", lambda b: b.grinds()),
            ):
                took = []
                for _ in range(5):
                    begun = time.monotonic()
                    ask(book)
                    took.append(time.monotonic() - begun)
                print(f"{where:7} {name:22} {1000 * sorted(took)[2]:6.0f} ms")
        file.close()


def main() -> int:
    """All benches at once; what is wrong in the end."""
    parser = argparse.ArgumentParser(description=__doc__)
    for name, usual in (("benches", 8), ("holes", 2000), ("offline", 500), ("number", -1), ("large", 0)):
        parser.add_argument(f"--{name}", type=int, default=usual)
    parser.add_argument("--folder", type=Path)
    parser.add_argument("--url")
    told = parser.parse_args()
    if told.number >= 0:
        bench(told.folder, told.url, told.number, told.holes, told.offline if told.number == 0 else 0)
        return 0
    postgres = Postgres()
    try:
        postgres.sql("CREATE DATABASE cordwainer")
        url = postgres.url("cordwainer")
        server = Server(read_address(url)[0])
        server.prepare()
        if told.large:
            large(server, told.large)
            return 0
        begun = time.monotonic()
        with tempfile.TemporaryDirectory() as folder:
            own = [sys.executable, __file__, "--folder", folder, "--url", url, "--holes", str(told.holes)]
            own += ["--offline", str(told.offline)]
            benches = [subprocess.Popen([*own, "--number", str(n)]) for n in range(told.benches)]
            wanted = told.benches * told.holes
            while count(server) < wanted / 2:
                time.sleep(0.2)
            postgres.kill()
            time.sleep(1.0)
            postgres.start()
            for process in benches:
                process.wait(600)
            took = time.monotonic() - begun
            wrong = [f"bench ended with {p.returncode}" for p in benches if p.returncode]
            wrong += looked(server, told.benches, told.holes)
        print(f"{told.benches} benches x {told.holes} holes in {took:.0f} s; {len(wrong)} faults")
        print("\n".join(wrong))
        return 1 if wrong else 0
    finally:
        postgres.close()


def count(server: Server) -> int:
    """How many holes are there."""
    with Store(server.engine) as store:
        return store.scalar(select(func.count()).select_from(HoleMade)) or 0


def looked(server: Server, benches: int, holes: int) -> list[str]:
    """What is missing, double or out of order."""
    server.engine.dispose()
    with Store(server.engine) as store:
        counted = Counter(store.scalars(select(HoleMade.job)))
        wrong = [
            f"part {n}: {counted[f'part {n}']} holes" for n in range(benches) if counted[f"part {n}"] != holes
        ]
        deeds = store.scalar(select(func.count()).select_from(Taken))
        expected = benches * (holes + -(-holes // 3))
        wrong += [] if deeds == expected else [f"{deeds} deeds taken, not {expected}"]
        measured = store.scalar(select(func.count()).select_from(HoleMade).where(HoleMade.verdict == "accept"))
        wrong += [] if measured == benches * -(-holes // 3) else [f"{measured} holes measured"]
        order = "SELECT key FROM change WHERE kind = 'hole' ORDER BY place"
        seen: dict[str, int] = {}
        for (key,) in store.execute(text(order)):
            name, _, number = key.rpartition("-")
            if int(number) < seen.get(name, -1):
                wrong.append(f"{key} came after {name}-{seen[name]}")
            seen[name] = int(number)
    return wrong


if __name__ == "__main__":
    sys.exit(main())
