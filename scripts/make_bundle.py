"""One folder that runs from anywhere, as dist/cordwainer-VERSION-MACHINE.tar.gz; nothing is installed."""

from __future__ import annotations

import platform
import shutil
import sys
import tarfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))
from packing import BUILD, DIST, ROOT, environment, pip, run, size_mb, told, version

SPEC = ROOT / "packaging" / "cordwainer.spec"


def main() -> None:
    """Build it into `dist`."""
    told("libraries of the bundle")
    python = environment(BUILD / "bundle-env", "build", "shop", "package")
    pip(python, "install", "--no-deps", "--no-build-isolation", ROOT)
    work = BUILD / "bundle"
    shutil.rmtree(work, ignore_errors=True)
    told("what the program loads")
    run(
        python,
        "-m",
        "PyInstaller",
        "--noconfirm",
        "--log-level",
        "ERROR",
        "--workpath",
        BUILD / "bundle-work",
        "--distpath",
        work,
        SPEC,
    )
    folder = work / "cordwainer"
    for name in ("LICENSE", "README.md"):
        shutil.copy(ROOT / name, folder / name)
    told(f"the folder has {size_mb(folder):.0f} MB")
    DIST.mkdir(exist_ok=True)
    target = DIST / f"cordwainer-{version()}-{platform.machine()}.tar.gz"
    with tarfile.open(target, "w:gz", compresslevel=6) as out:
        out.add(folder, f"cordwainer-{version()}")
    told(f"{target.relative_to(ROOT)}, {size_mb(target):.0f} MB")


if __name__ == "__main__":
    main()
