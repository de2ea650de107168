"""What both packages are made of: the pinned libraries, the program, and what Qt is needed for."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import venv
from pathlib import Path

ROOT = Path(__file__).parents[1]
BUILD, DIST = ROOT / "build", ROOT / "dist"
NAME = "org.cordwainer.Cordwainer"
VERSION = re.search(r'^version = "(.+)"', (ROOT / "pyproject.toml").read_text(), re.M)
# The libraries of Qt the window needs, by the names of their files, and the kinds of its plugins.
QT = {
    "Core", "Gui", "Widgets", "DBus", "PrintSupport", "Pdf", "Svg", "Network", "OpenGL", "OpenGLWidgets", "XcbQpa",
    "WaylandClient", "WaylandEglClientHwIntegration", "WlShellIntegration",
}  # fmt: skip
PLUGINS = {
    "platforms", "xcbglintegrations", "imageformats", "iconengines", "printsupport", "platformthemes",
    "platforminputcontexts", "wayland-shell-integration", "wayland-decoration-client",
    "wayland-graphics-integration-client",
}  # fmt: skip
BINDINGS = {
    "QtCore", "QtGui", "QtWidgets", "QtDBus", "QtPrintSupport", "QtPdf", "QtSvg", "QtNetwork", "QtOpenGL",
    "QtOpenGLWidgets", "sip",
}  # fmt: skip
EVERY_MODULE = """
import importlib, pkgutil, sys
sys.path.insert(0, sys.argv[1])
import cordwainer
for found in pkgutil.walk_packages(cordwainer.__path__, "cordwainer."):
    if not found.name.endswith("__main__") and "migrations" not in found.name:
        importlib.import_module(found.name)
import pyqtgraph, ezdxf, reportlab.pdfgen.canvas, scipy.optimize, scipy.stats, psycopg, keyring
"""
UNUSED = ("tests", "test", "testing", "__pycache__")
KEPT_TESTING = ("numpy/testing", "numpy/_core/tests/_natype")


def version() -> str:
    """The version as `pyproject.toml` has it."""
    assert VERSION is not None
    return VERSION[1]


def run(*command: str | Path, **more: object) -> None:
    """A command that has to come to a good end."""
    subprocess.run([str(part) for part in command], check=True, **more)  # type: ignore[call-overload]


def environment(folder: Path, *requirements: str) -> Path:
    """A fresh environment with pinned requirements; gives its Python."""
    shutil.rmtree(folder, ignore_errors=True)
    venv.create(folder, with_pip=True)
    python = folder / "bin" / "python"
    for name in requirements:
        pip(python, "install", "--require-hashes", "-r", ROOT / "requirements" / f"{name}.txt")
    return python


def pip(python: Path, *arguments: str | Path) -> None:
    """Pip without a word while all goes well."""
    run(python, "-m", "pip", "--disable-pip-version-check", "--quiet", *arguments, stderr=subprocess.DEVNULL)


SPOKEN = ("qtbase_de.qm",)  # the toolkit's own words in the languages the program speaks


def without_what_is_not_needed(lib: Path) -> None:
    """Take out what the program never loads: most of Qt, and the tests of libraries."""
    qt = lib / "PyQt6"
    for name in ("qml", "qsci", "libexec", "resources"):
        shutil.rmtree(qt / "Qt6" / name, ignore_errors=True)
    for path in (qt / "Qt6" / "translations").glob("*"):
        if path.name not in SPOKEN:
            path.unlink()
    for name in ("bindings", "lupdate"):
        shutil.rmtree(qt / name, ignore_errors=True)
    for path in (qt / "Qt6" / "lib").glob("libQt6*.so*"):
        if re.sub(r"libQt6(.+?)\.so.*", r"\1", path.name) not in QT:
            path.unlink()
    for path in [*(qt / "Qt6" / "lib").glob("libav*"), *(qt / "Qt6" / "lib").glob("libsw*")]:
        path.unlink()
    for path in (qt / "Qt6" / "plugins").iterdir():
        if path.name not in PLUGINS:
            shutil.rmtree(path)
    for path in qt.glob("*.so"):
        if path.name.split(".")[0] not in BINDINGS:
            path.unlink()
    for path in qt.glob("*.pyi"):
        path.unlink()
    shutil.rmtree(lib / "reportlab" / "fonts", ignore_errors=True)  # the sheet is set in the program's own
    for name in UNUSED:
        for path in list(lib.rglob(name)):
            at = path.relative_to(lib).as_posix()
            if path.is_dir() and "cordwainer" not in at and not at.startswith(KEPT_TESTING):
                shutil.rmtree(path)


def loads(python: Path, lib: Path) -> None:
    """See that every module of the program still loads from a folder alone."""
    surroundings = {"QT_QPA_PLATFORM": "offscreen", "PATH": os.environ["PATH"], "PYTHONDONTWRITEBYTECODE": "1"}
    run(python, "-I", "-c", EVERY_MODULE, lib, env=surroundings)


def size_mb(path: Path) -> float:
    """Megabytes of a file, or of all files below a folder."""
    files = [path] if path.is_file() else [p for p in path.rglob("*") if p.is_file() and not p.is_symlink()]
    return sum(p.stat().st_size for p in files) / 1e6


def told(words: str) -> None:
    """Say what is going on."""
    sys.stdout.write(f"package: {words}\n")
    sys.stdout.flush()
