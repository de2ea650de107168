"""A PostgreSQL server of the tests' own: made in a folder, reached by a socket in it, gone with it."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.orm import Session as Store

from cordwainer.logbook.deeds import Deed
from cordwainer.logbook.server import Server

LEFT_OUT = "no PostgreSQL server here (Debian: postgresql); what needs one was left out"


def folder_of_programs() -> Path | None:
    """Where the server's programs are; None where there are none."""
    named = shutil.which("initdb")
    places = [Path(named).resolve().parent] if named else []
    places += sorted(Path("/usr/lib/postgresql").glob("*/bin"), reverse=True)
    return next((place for place in places if (place / "postgres").exists()), None)


class Postgres:
    """One server. A server never runs as root: then it is the user `postgres`, else whoever runs the tests."""

    def __init__(self) -> None:
        programs = folder_of_programs()
        assert programs is not None, LEFT_OUT
        self.programs = programs
        self.user = "postgres" if os.geteuid() == 0 else None
        self.folder = Path(tempfile.mkdtemp(prefix="cw-pg-"))
        if self.user:
            shutil.chown(self.folder, self.user)
        self.data = self.folder / "data"
        self._run("initdb", "-D", self.data, "-U", "postgres", "-A", "trust", "--no-sync", "-E", "UTF8")
        self.start()

    def _run(self, program: str, *words: object) -> None:
        command = [str(self.programs / program), *map(str, words)]
        done = subprocess.run(
            command,
            user=self.user,
            cwd=self.folder,
            capture_output=True,
            text=True,
            env=os.environ | {"LC_ALL": "C.UTF-8"},
        )
        assert done.returncode == 0, done.stderr or done.stdout

    def start(self) -> None:
        """Up, and ready to be asked."""
        how = f"-k {self.folder} -c listen_addresses= -c max_connections=60"
        self._run("pg_ctl", "-D", self.data, "-w", "-l", self.folder / "log", "-o", how, "start")

    def kill(self) -> None:
        """Gone at once, as when the plug is pulled."""
        self._run("pg_ctl", "-D", self.data, "-m", "immediate", "stop")

    def url(self, database: str, role: str = "postgres") -> str:
        """The address of one of its databases."""
        return f"postgresql+psycopg://{role}@/{database}?host={self.folder}"

    def sql(self, words: str, database: str = "postgres") -> None:
        """Said to the server as its owner."""
        self._run(
            "psql", "-h", self.folder, "-U", "postgres", "-d", database, "-v", "ON_ERROR_STOP=1", "-c", words
        )

    def close(self) -> None:
        """Gone, with all it held."""
        self.kill()
        shutil.rmtree(self.folder, ignore_errors=True)


class OnServer:
    """What a book straight on the server lies in, with nothing in between."""

    def __init__(self, server: Server) -> None:
        self.engine: Engine = server.engine
        self.said: list[str] = []
        self.read_only = False
        self.trouble_told = server.trouble_told

    def note(self, store: Store, deed: Deed) -> None:
        """Done."""

    def noted(self) -> None:
        """Done."""

    def close(self) -> None:
        """Nothing to let go."""
