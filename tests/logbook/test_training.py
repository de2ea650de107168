"""Results of learners in the logbook's database, and out as a class's list."""

from __future__ import annotations

from datetime import UTC, date, datetime
from pathlib import Path

from click.testing import CliRunner

from cordwainer.cli import cli
from cordwainer.core.training.spacing import Result
from cordwainer.files.places import data_folder
from cordwainer.logbook.book import Book
from cordwainer.logbook.training import as_csv, keep_result, results

AT = datetime(2026, 3, 2, 9, 0, tzinfo=UTC)


def test_results_are_kept_by_learner_and_given_out(tmp_path: Path) -> None:
    folder = data_folder()
    folder.mkdir(parents=True, exist_ok=True)
    book = Book(folder / "logbook.sqlite", lambda: AT)
    made = [
        Result(
            name, "points", 2**31 - 1 - k, "arm_pin", ("dull", "lips_length")[: k % 3], AT.date(), k > 0, 12.5, 8
        )
        for k, name in enumerate(("Ida", "Ida", "=Ole"))
    ]
    for result in made:
        keep_result(book, result, AT)
    assert results(book) == made and results(book, "Ida") == made[:2] and results(book, "") == []
    assert made[0].on == date(2026, 3, 2)
    lines = as_csv(results(book)).splitlines()
    assert (
        lines[0].startswith("learner,lesson") and lines[1].split(",")[4] == "none" and not lines[3].startswith("=")
    )
    book.close()
    out = tmp_path / "class.csv"
    told = CliRunner().invoke(cli, ["train", "--results", str(out)])
    assert told.exit_code == 0 and "3 results" in told.stdout and out.read_text().count("points") == 4
    assert CliRunner().invoke(cli, ["train", "--results", str(out)]).exit_code == 2


def test_lessons_and_exercises_on_the_terminal(tmp_path: Path) -> None:
    told = CliRunner().invoke(cli, ["train"])
    assert told.exit_code == 0 and "reamers: Reamers" in told.stdout
    told = CliRunner().invoke(cli, ["train", "--lesson", "reamers", "--seed", "5", "--json"])
    again = CliRunner().invoke(cli, ["train", "--lesson", "reamers", "--seed", "5", "--json"])
    assert told.exit_code == 0 and told.stdout == again.stdout and '"truth"' in told.stdout
    assert CliRunner().invoke(cli, ["train", "--lesson", "none"]).exit_code == 2
    bad = tmp_path / "mine.json"
    bad.write_text("{")
    told = CliRunner().invoke(cli, ["train", "--course", str(bad)])
    assert told.exit_code == 2 and "no course" in told.stderr
