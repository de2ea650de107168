"""Several benches, one shop: against a real PostgreSQL server, started for these tests; without one, left out."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from pathlib import Path
from queue import Queue
from typing import Any

import pytest
from click.testing import CliRunner
from sqlalchemy import func, inspect, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session as Store

from cordwainer.cli import cli
from cordwainer.core.errors import InputError
from cordwainer.core.shop.catalog import built_in
from cordwainer.files.crib import blank
from cordwainer.files.crib_changes import changes
from cordwainer.files.places import Settings, data_folder
from cordwainer.logbook import move as moving
from cordwainer.logbook.bench import BenchCopy, copy_path
from cordwainer.logbook.book import Book, Filter, LogbookError
from cordwainer.logbook.carry import as_data
from cordwainer.logbook.deeds import Conflict
from cordwainer.logbook.link import Link, News
from cordwainer.logbook.records import HoleMade, Taken
from cordwainer.logbook.server import PASSWORD, AwayError, Server, read_address
from cordwainer.logbook.sharing import join, joined, leave, put_shop, settle
from cordwainer.logbook.tables import downgrade, head, standing, upgrade
from tests.core.learning.test_oversize import drill
from tests.logbook import test_book
from tests.logbook.postgres import LEFT_OUT, OnServer, Postgres, folder_of_programs
from tests.logbook.test_book import Clock, measured, run

pytestmark = pytest.mark.skipif(folder_of_programs() is None, reason=LEFT_OUT)


@pytest.fixture(scope="module")
def postgres() -> Iterator[Postgres]:
    found = Postgres()
    page = (Path(__file__).parents[2] / "docs" / "shop_server.md").read_text()
    lines = page.partition("```sql\n")[2].partition("```")[0].strip().splitlines()
    assert len(lines) == 4
    for line in lines:
        found.sql(line.replace("cordwainer", "shop_page"))
    yield found
    found.close()


@pytest.fixture
def server(postgres: Postgres) -> Iterator[Server]:
    """A database of its own with tables in it, as its owner has it."""
    postgres.sql("DROP DATABASE IF EXISTS shop WITH (FORCE)")
    postgres.sql("CREATE DATABASE shop OWNER shop")
    postgres.sql("REVOKE CONNECT ON DATABASE shop FROM PUBLIC")
    found = Server(read_address(postgres.url("shop", "shop"))[0])
    found.prepare("bench")
    yield found
    found.close()


class Bench:
    """One bench: its copy, its book, and its line, gone over when it is told to."""

    def __init__(self, folder: Path, postgres: Postgres, name: str) -> None:
        self.copy = BenchCopy(folder / f"{name}.sqlite", Clock())
        self.book = Book(self.copy.path, Clock(), self.copy)
        self.news: list[News] = []
        self.heard: Queue[News] = Queue()
        address, _ = read_address(postgres.url("shop", "bench"))
        self.link = Link(self.copy, Server(address), name, Clock(), self._hear)

    def _hear(self, news: News) -> None:
        self.news.append(news)
        self.heard.put(news)

    def close(self) -> None:
        """Nothing of it goes on."""
        self.link.stop()
        self.book.close()


@pytest.fixture
def benches(server: Server, postgres: Postgres, tmp_path: Path) -> Iterator[Callable[[int], list[Bench]]]:
    made: list[Bench] = []

    def make(count: int) -> list[Bench]:
        made.extend(Bench(tmp_path, postgres, f"bench {len(made) + k}") for k in range(count))
        return made

    yield make
    for bench in made:
        bench.close()


def told(book: Book) -> dict[str, Any]:
    """All a book holds, without the numbers a database gives itself."""
    data = {name: rows for name, rows in as_data(book).items() if isinstance(rows, list)}
    return {
        name: sorted(({k: v for k, v in r.items() if k != "id" or name == "hole"} for r in rows), key=str)
        for name, rows in data.items()
    }


def everywhere(*benches: Bench) -> None:
    """Every line gone over until nothing moves."""
    for _ in range(2):
        for bench in benches:
            bench.link.sync()


SAME = (
    test_book.test_a_run_goes_in_once_however_often_it_is_taken,
    test_book.test_what_a_drill_cuts_is_learned_and_a_regrind_starts_again,
    test_book.test_holes_are_found_by_words_tool_material_and_verdict,
)


@pytest.mark.parametrize("same", SAME, ids=lambda test: test.__name__)
def test_the_book_on_the_server_is_the_same_book(
    server: Server, tmp_path: Path, same: Callable[[Book], None]
) -> None:
    same(Book(tmp_path / "none", Clock(), OnServer(server)))


def test_what_one_bench_logs_stands_at_the_other_and_struck_readings_stay_struck(
    server: Server, benches: Callable[[int], list[Bench]], tmp_path: Path
) -> None:
    one, other = benches(2)
    one.link.sync()
    for k in range(5):
        one.book.take_run(run(k))
        measured(one.book, run(k), 9.8)
    one.book.put_readings(run(1).id, [], "", "", None)
    one.book.put_diagnosis(run(2).id, {"dull": 0.7}, {"q_sound": "squeal"}, "dull")
    one.book.strike(run(3).id)
    one.book.regrind(drill().id)
    everywhere(one, other)
    assert told(one.book) == told(other.book) == told(Book(tmp_path / "none", Clock(), OnServer(server)))
    hole = other.book.hole(run(1).id)
    assert hole is not None and not hole.readings and other.book.count(Filter(text="ARM")) == 4
    assert other.book.causes() == {"dull": 1} and one.copy.count_waiting() == 0
    assert not [n for n in one.news if n.changed.get("hole")]  # its own come back to nobody


def test_a_deed_sent_twice_is_taken_once_and_in_order(
    server: Server, benches: Callable[[int], list[Bench]], monkeypatch: pytest.MonkeyPatch
) -> None:
    (one,) = benches(1)
    one.link.sync()
    for k in range(7):
        one.book.take_run(run(k))
        measured(one.book, run(k), 9.8)

    def cut_off(*_args: Any) -> None:
        raise AwayError("the plug was pulled after the server had it")

    with monkeypatch.context() as broken, pytest.raises(AwayError):
        broken.setattr(one.copy, "sent", cut_off)
        one.link.sync()
    assert one.copy.count_waiting() == 14
    one.link.sync()
    with Store(server.engine) as store:
        counted = [store.scalar(select(func.count()).select_from(table)) for table in (HoleMade, Taken)]
        keys = [key for (key,) in store.execute(text("SELECT key FROM change ORDER BY place"))]
    assert counted == [7, 14] and keys == [run(k).id for k in range(7) for _ in range(2)]


def test_the_server_dies_and_comes_back(
    postgres: Postgres, server: Server, benches: Callable[[int], list[Bench]]
) -> None:
    one, other = benches(2)
    everywhere(one, other)
    one.book.take_run(run(0))
    one.link.sync()
    postgres.kill()
    try:
        for k in range(1, 6):
            one.book.take_run(run(k))
        with pytest.raises(AwayError):
            one.link.sync()
        assert one.book.count() == 6 and one.copy.count_waiting() == 5
    finally:
        postgres.start()
    server.close()
    for bench in (one, other):
        with suppress(AwayError):  # its connections are those of the dead one; the next are not
            bench.link.sync()
    everywhere(one, other)
    assert other.book.count() == 6 and one.copy.count_waiting() == 0


def test_eight_benches_at_once(server: Server, benches: Callable[[int], list[Bench]]) -> None:
    every = benches(8)

    def work(bench: Bench) -> None:
        for k in range(12):
            bench.book.take_run(run(k, name=bench.link.bench))
            if k % 4 == 0:
                bench.link.sync()
        bench.link.sync()

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(work, every))
    everywhere(*every)
    assert [bench.book.count() for bench in every] == [96] * 8
    assert len({str(told(bench.book)) for bench in every}) == 1


def test_a_line_hears_of_others_without_being_asked(server: Server, benches: Callable[[int], list[Bench]]) -> None:
    one, other = benches(2)
    other.link.start()
    other.heard.get(timeout=60)  # the first whole copy
    one.book.take_run(run(1))
    one.link.sync()
    assert other.heard.get(timeout=60).changed == {"hole": {run(1).id}} and other.book.count() == 1
    other.book.take_run(run(2))  # what is logged wakes the line itself
    one.link.start()
    while run(2).id not in one.heard.get(timeout=60).changed["hole"]:
        pass
    assert other.link.state.linked


def test_two_at_one_hole_the_first_stands_and_it_is_said(
    server: Server, benches: Callable[[int], list[Bench]]
) -> None:
    one, other = benches(2)
    one.book.take_run(run(1))
    everywhere(one, other)
    measured(one.book, run(1), 9.81)
    measured(other.book, run(1), 9.95, "reject")
    everywhere(one, other)
    assert [r.size_mm for r in (other.book.hole(run(1).id) or HoleMade(readings=[])).readings] == [9.81]
    (what, key, why), *rest = other.copy.troubles()
    assert (what, key, rest) == ("readings", run(1).id, []) and "changed at another bench" in why
    assert [news.troubles for news in other.news if news.troubles] == [(why,)]
    assert told(one.book) == told(other.book)


def test_two_at_different_drawers_both_count_two_at_one_do_not(
    server: Server, benches: Callable[[int], list[Bench]]
) -> None:
    put_shop(server, "north bay", {"name": "north bay"}, blank("north bay"), "mill")
    one, other = benches(2)
    everywhere(one, other)

    def note(bench: Bench, tool: str, field: str, value: Any) -> None:
        row = bench.book.crib()
        assert row is not None
        after = blank("") | {"changed": {**row.notes["changed"]}}
        after["changed"][tool] = {**after["changed"].get(tool, {}), field: value}
        bench.book.change_crib("north bay", changes(row.notes, after))

    note(one, "d6", "out", 1)
    note(other, "d8", "condition", "worn")
    everywhere(one, other)
    rows = [bench.book.crib() for bench in (one, other)]
    assert [row.notes["changed"] for row in rows if row] == [{"d6": {"out": 1}, "d8": {"condition": "worn"}}] * 2
    note(one, "d6", "condition", "blunt")
    note(other, "d6", "condition", "chipped")
    everywhere(one, other)
    last = other.book.crib()
    assert (
        last is not None and last.notes["changed"]["d6"] == {"out": 1, "condition": "blunt"} and last.version == 4
    )
    assert "d6 condition became blunt at another bench meanwhile, not chipped" in other.copy.troubles()[0][2]
    with pytest.raises(Conflict):  # one that is late at its own bench is told at once
        other.book.change_crib("north bay", changes(blank(""), blank("") | {"changed": {"d6": {"out": 2}}}))


def test_a_bench_may_log_and_not_delete(postgres: Postgres, benches: Callable[[int], list[Bench]]) -> None:
    (one,) = benches(1)
    one.book.take_run(run(1))
    one.book.take_run(run(1, done=False))
    one.link.sync()
    assert one.copy.troubles() == [] and one.copy.count_waiting() == 0
    for table in ("hole", "operation", "reading", "taken", "change"):
        with pytest.raises(DBAPIError, match="permission denied"), one.link.server.engine.begin() as connection:
            connection.execute(text(f"DELETE FROM {table}"))


def test_tables_go_up_and_down_on_both(server: Server, tmp_path: Path) -> None:
    local = Book(tmp_path / "l.sqlite", Clock())
    local.take_run(run(1))
    moving.move(local.engine, server.engine, "mill")
    for engine in (local.engine, server.engine):
        downgrade(engine, "a1")
        assert not {"crib", "waiting", "diagnosis"} & set(inspect(engine).get_table_names())
        with engine.begin() as connection:
            upgrade(connection)
            assert standing(connection) == head()
        with Store(engine) as store:
            assert store.scalars(select(HoleMade)).one().version == 1
    local.close()


def test_a_server_of_another_version_is_left_alone(postgres: Postgres, server: Server) -> None:
    server.check()
    for version, words in (("a1", "older version"), ("z9", "newer program")):
        postgres.sql(f"UPDATE alembic_version SET version_num = '{version}'", "shop")
        with pytest.raises(LogbookError, match=words):
            server.check()
    with pytest.raises(LogbookError, match="newer program"):
        server.prepare()
    postgres.sql("DROP TABLE alembic_version", "shop")
    with pytest.raises(LogbookError, match="no tables yet"):
        server.check()


def test_a_logbook_is_carried_there_and_back_counted_and_checksummed(
    server: Server, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    books = [Book(tmp_path / f"{k}.sqlite", Clock()) for k in range(2)]
    for k in range(30):
        books[0].take_run(run(k))
        measured(books[0], run(k), 9.8 + k / 7000)
    books[0].regrind(drill().id)
    there = moving.move(books[0].engine, server.engine, "mill")
    back = moving.move(server.engine, books[1].engine, "mill")
    assert there == back and there.counts["hole"] == 30 and there.counts["regrind"] == 1 and there.there == 0
    assert told(books[0]) == told(books[1])
    assert moving.move(books[0].engine, server.engine, "mill").there == 30
    books[0].take_run(run(99))
    monkeypatch.setattr(
        moving, "_regrinds", lambda old, new, bench: new.execute(text("UPDATE hole SET name = 'x'")).rowcount
    )
    with pytest.raises(InputError, match="1 of 1 holes did not arrive"):
        moving.move(books[0].engine, server.engine, "mill")
    with Store(server.engine) as store:
        assert store.scalar(select(func.count()).select_from(HoleMade)) == 30
    for book in books:
        book.close()


@contextmanager
def at_home(folder: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Another computer."""
    with monkeypatch.context() as there:
        for name in ("CONFIG", "STATE", "DATA", "CACHE"):
            there.setenv(f"XDG_{name}_HOME", str(folder / name.lower()))
        yield


def test_the_first_bench_brings_the_shop_the_second_finds_it(
    server: Server, postgres: Postgres, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    address = postgres.url("shop", "bench")
    for name in ("one", "two"):
        with at_home(tmp_path / name, monkeypatch):
            settings = Settings()
            found = join(settings, address, name, "demo" if name == "one" else "catalog")
            assert joined(Settings()) is None  # until it is settled
            settle(settings, found)
            assert found.title == built_in("demo").name
            assert Path(found.shop).is_file() and settings.get("shop") == found.shop
            again = joined(Settings())
            assert again == found and join(Settings(), address, name, "catalog").shop == found.shop
            leave(settings)
            assert joined(Settings()) is None and Path(found.shop).is_file()
    for words, wrong in (
        ("mysql://x@y/z", "no server"),
        ("what", "no address"),
        (address.replace("/shop", "/"), "database"),
    ):
        with pytest.raises(InputError, match=wrong):
            join(Settings(), words, "x", "catalog")


def test_a_password_goes_nowhere_but_into_the_store(
    server: Server, postgres: Postgres, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    import keyring

    kept: dict[tuple[str, str], str] = {}
    monkeypatch.setattr(keyring, "set_password", lambda *to: kept.update({to[:2]: to[2]}))
    monkeypatch.setattr(keyring, "get_password", lambda service, name: kept.get((service, name)))
    address = postgres.url("shop", "bench").replace("bench@", "bench:sesame@")
    found = join(Settings(), address, "mill", "catalog")
    settle(Settings(), found)
    assert kept == {("cordwainer", found.address.text): "sesame"} and found.address.password() == "sesame"
    away = Server(read_address("postgresql+psycopg://bench@/shop?host=/nowhere")[0], "sesame")
    with pytest.raises(AwayError) as said:
        away.check()
    written = [p.read_bytes() for p in data_folder().parent.rglob("*") if p.is_file()]
    assert not any(b"sesame" in content for content in written) and "sesame" not in caplog.text
    assert "sesame" not in str(said.value) and "sesame" not in repr(said.value.__context__)
    monkeypatch.setenv(PASSWORD, "from the environment")
    assert found.address.password() == "from the environment"
    monkeypatch.setattr(keyring, "set_password", lambda *_: 1 / 0)
    with pytest.raises(InputError, match="no secret store") as refused:
        found.address.keep_password("sesame")
    assert "sesame" not in str(refused.value)


def test_by_command_prepared_joined_carried_and_left(server: Server, postgres: Postgres, tmp_path: Path) -> None:
    def command(*words: str) -> str:
        done = CliRunner().invoke(cli, ["server", *words], catch_exceptions=False)
        assert done.exit_code == 0, done.output
        return done.output

    address = postgres.url("shop", "bench")
    own = Book(data_folder() / "logbook.sqlite", Clock())
    for k in range(3):
        own.take_run(run(k))
    own.close()
    assert "bench may log, not delete" in command("prepare", postgres.url("shop", "shop"), "--bench", "bench")
    assert "mill shares" in command("join", address, "--bench", "mill")
    assert "carried 3 hole" in command("move", "to") and "3 holes were there already" in command("move", "to")
    assert "answers; 0 deeds wait" in command("state")
    assert copy_path(read_address(address)[0]).exists()
    assert "carried 3 hole" in command("move", "from", "--logbook", str(tmp_path / "back.sqlite"))
    assert "left shop" in command("leave") and "joined no server" in command("state")
