"""The Debian package: the program with its own libraries under /opt, a menu entry, file types, a man page."""

from __future__ import annotations

import gzip
import hashlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))
from packing import (
    BUILD,
    DIST,
    NAME,
    ROOT,
    environment,
    loads,
    pip,
    run,
    size_mb,
    told,
    version,
    without_what_is_not_needed,
)

STAGE = BUILD / "deb"
OPT = Path("opt/cordwainer")
LIBRARIES = (
    "libc6 (>= 2.28), libstdc++6, libxcb-cursor0, libxcb-icccm4, libxcb-keysyms1, libxcb-image0, "
    "libxcb-render-util0, libxcb-shape0, libxcb-xinerama0, libxkbcommon-x11-0, libglib2.0-0 | libglib2.0-0t64, "
    "libegl1, libgl1, libdbus-1-3, libfontconfig1, libfreetype6, zlib1g"
)
LAUNCHER = """#!/usr/bin/python{python} -I
import sys

sys.dont_write_bytecode = True
sys.path.insert(0, "/opt/cordwainer/lib")
from cordwainer.__main__ import main

sys.exit(main())
"""
CONTROL = """Package: cordwainer
Version: {version}
Section: science
Priority: optional
Architecture: {machine}
Depends: python{python}, {libraries}
Recommends: desktop-file-utils, shared-mime-info
Suggests: libsecret-1-0
Installed-Size: {size}
Maintainer: The developers of Cordwainer <developers@cordwainer.invalid>
Description: plan, cut, measure and explain a hole
 A print goes in, a sequence comes out: center or spot drill, pilot, step,
 undersize drill and reamer, with speeds, feeds, depths and scale readings of
 the machine at hand. Measured sizes get a verdict with its uncertainty; a bad
 hole its likely causes, the next check and the mend.
"""
# Why each of what is usually frowned upon is so: one package for many releases carries its libraries along.
OVERRIDES = """# The libraries are carried along as they were tested together, none of them where others look.
cordwainer: dir-or-file-in-opt
cordwainer: embedded-library
cordwainer: unstripped-binary-or-object
cordwainer: shared-library-lacks-prerequisites
cordwainer: library-not-linked-against-libc
cordwainer: custom-library-search-path
cordwainer: hardening-no-relro
cordwainer: hardening-no-bindnow
cordwainer: hardening-no-fortify-functions
cordwainer: script-not-executable
cordwainer: executable-not-elf-or-script
cordwainer: extra-license-file
cordwainer: package-installs-python-bytecode
cordwainer: package-installs-python-pycache-dir
cordwainer: binary-from-other-architecture
cordwainer: no-code-sections
cordwainer: undeclared-elf-prerequisites
"""
SHELLS = {
    "bash": "usr/share/bash-completion/completions/cordwainer",
    "zsh": "usr/share/zsh/vendor-completions/_cordwainer",
    "fish": "usr/share/fish/vendor_completions.d/cordwainer.fish",
}


def main() -> None:
    """Build it into `dist`."""
    told("libraries of the Debian package")
    python = environment(BUILD / "env", "build")
    shutil.rmtree(STAGE, ignore_errors=True)
    lib = STAGE / OPT / "lib"
    lib.mkdir(parents=True)
    pip(python, "install", "--require-hashes", "--target", lib, "-r", ROOT / "requirements/shop.txt")
    pip(python, "install", "--no-deps", "--no-build-isolation", "--target", lib, ROOT)
    for name in ("bin", "share"):
        shutil.rmtree(lib / name, ignore_errors=True)
    told("without what the program never loads")
    before = size_mb(lib)
    without_what_is_not_needed(lib)
    loads(python, lib)
    told(f"{before:.0f} MB, {size_mb(lib):.0f} of them needed")
    number = subprocess.run(
        [python, "-c", "import sys; print('%d.%d' % sys.version_info[:2])"],
        check=True,
        capture_output=True,
        text=True,
    ).stdout.strip()
    run(python, "-m", "compileall", "-q", "-s", STAGE, "--invalidation-mode", "unchecked-hash", lib)
    launch = STAGE / OPT / "bin" / "cordwainer"
    launch.parent.mkdir()
    launch.write_text(LAUNCHER.format(python=number))
    _share(python, lib)
    (STAGE / "usr/bin").mkdir(parents=True)
    (STAGE / "usr/bin/cordwainer").symlink_to("/" + (OPT / "bin/cordwainer").as_posix())
    _modes(launch)
    target = _packed(number)
    told(f"{target.relative_to(ROOT)}, {size_mb(target):.0f} MB")


def _share(python: Path, lib: Path) -> None:
    """Menu entry, icon, file types, man page, completion, copyright, changes, overrides."""
    packaging, share = ROOT / "packaging", STAGE / "usr/share"
    for source, target in (
        (f"{NAME}.desktop", f"applications/{NAME}.desktop"),
        (f"{NAME}.svg", f"icons/hicolor/scalable/apps/{NAME}.svg"),
        (f"{NAME}.metainfo.xml", f"metainfo/{NAME}.metainfo.xml"),
        (f"{NAME}.xml", f"mime/packages/{NAME}.xml"),
    ):
        (share / target).parent.mkdir(parents=True, exist_ok=True)
        shutil.copy(packaging / source, share / target)
    _zipped((packaging / "cordwainer.1").read_bytes(), share / "man/man1/cordwainer.1.gz")
    changes = f"cordwainer ({version()}) stable; urgency=medium\n\n  * See the change log beside this file.\n\n"
    when = subprocess.run(
        ["git", "log", "-1", "--format=%aD"], cwd=ROOT, capture_output=True, text=True
    ).stdout.strip()
    changes += f" -- The developers of Cordwainer <developers@cordwainer.invalid>  {when}\n"
    _zipped(changes.encode(), share / "doc/cordwainer/changelog.gz")
    _zipped((ROOT / "CHANGELOG.md").read_bytes(), share / "doc/cordwainer/CHANGELOG.md.gz")
    (share / "doc/cordwainer/copyright").write_text(_copyright(lib))
    overrides = share / "lintian/overrides/cordwainer"
    overrides.parent.mkdir(parents=True)
    overrides.write_text(OVERRIDES)
    for shell, at in SHELLS.items():
        made = subprocess.run(
            [python, "-m", "cordwainer", "completion", shell], env=os.environ | {"PYTHONPATH": str(lib)},
            capture_output=True, text=True, check=True,
        ).stdout  # fmt: skip
        path = STAGE / at
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(made)


def _zipped(data: bytes, path: Path) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(gzip.compress(data, 9, mtime=0))


def _copyright(lib: Path) -> str:
    """Whose each part is, as its own metadata has it."""
    lines = ["Cordwainer: GPL-3.0-or-later.", "See /usr/share/common-licenses/GPL-3.", "", "Carried along:"]
    for folder in sorted(lib.glob("*.dist-info")):
        told = dict(
            line.split(": ", 1)
            for line in (folder / "METADATA").read_text(errors="replace").splitlines()
            if ": " in line
        )
        terms = (told.get("License-Expression") or told.get("License") or "see its licenses folder").splitlines()[
            0
        ]
        lines.append(f"  {told.get('Name')} {told.get('Version')}: {terms}")
    return "\n".join(lines) + "\n"


def _modes(launch: Path) -> None:
    for path in STAGE.rglob("*"):
        if not path.is_symlink():
            path.chmod(0o755 if path.is_dir() else 0o644)
    launch.chmod(0o755)


def _packed(number: str) -> Path:
    """The package itself, owned by root whoever builds it."""
    debian = STAGE / "DEBIAN"
    debian.mkdir(mode=0o755)
    files = sorted(p for p in STAGE.rglob("*") if p.is_file() and not p.is_symlink() and debian not in p.parents)
    sums = [f"{hashlib.md5(p.read_bytes()).hexdigest()}  {p.relative_to(STAGE)}\n" for p in files]
    (debian / "md5sums").write_text("".join(sums))
    machine = subprocess.run(
        ["dpkg", "--print-architecture"], check=True, capture_output=True, text=True
    ).stdout.strip()
    size = sum(-(-p.stat().st_size // 1024) for p in files)
    told_of = {"version": version(), "machine": machine, "python": number, "libraries": LIBRARIES, "size": size}
    (debian / "control").write_text(CONTROL.format(**told_of))
    for name in ("control", "md5sums"):
        (debian / name).chmod(0o644)
    DIST.mkdir(exist_ok=True)
    target = DIST / f"cordwainer_{version()}_{machine}.deb"
    run("dpkg-deb", "--root-owner-group", "-Zxz", "-z6", "--build", STAGE, target, stdout=subprocess.DEVNULL)
    return target


if __name__ == "__main__":
    main()
