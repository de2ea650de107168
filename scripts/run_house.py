"""What the code is like, in figures: read from the source, and from three walks through the running window."""

from __future__ import annotations

import ast
import statistics
import sys
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from types import FrameType
from typing import Any

LONG = 60


def modules(root: Path) -> dict[str, Path]:
    """The program's modules by name."""
    source = root / "src"
    found = {}
    for path in sorted((source / "cordwainer").rglob("*.py")):
        parts = list(path.relative_to(source).with_suffix("").parts)
        found[".".join(parts[:-1] if parts[-1] == "__init__" else parts)] = path
    return found


def imports(tree: ast.AST, known: dict[str, Path]) -> set[str]:
    """Modules of the program that a module names, wherever and for whatever it does."""
    found = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {f"{node.module}.{alias.name}" for alias in node.names} | {node.module}
    return {name for name in found if name in known}


def circles(graph: dict[str, set[str]]) -> list[list[str]]:
    """Groups of modules that reach one another (Tarjan's strongly connected components)."""
    index: dict[str, int] = {}
    low: dict[str, int] = {}
    stack: list[str] = []
    found: list[list[str]] = []

    def visit(name: str) -> None:
        index[name] = low[name] = len(index)
        stack.append(name)
        for other in graph[name]:
            if other not in index:
                visit(other)
                low[name] = min(low[name], low[other])
            elif other in stack:
                low[name] = min(low[name], index[other])
        if low[name] == index[name]:
            group = []
            while True:
                group.append(stack.pop())
                if group[-1] == name:
                    break
            if len(group) > 1:
                found.append(group)

    sys.setrecursionlimit(10_000)
    for name in graph:
        if name not in index:
            visit(name)
    return found


def classes(trees: dict[str, ast.Module]) -> Iterator[tuple[str, ast.ClassDef]]:
    """Every class with its module."""
    for name, tree in trees.items():
        for node in ast.walk(tree):
            if isinstance(node, ast.ClassDef):
                yield name, node


def longest_chain(trees: dict[str, ast.Module]) -> list[str]:
    """The longest line of own classes that are each the next one's base."""
    bases = {
        node.name: [base.id for base in node.bases if isinstance(base, ast.Name)] for _, node in classes(trees)
    }

    def chain(name: str, seen: tuple[str, ...] = ()) -> list[str]:
        ways = [chain(base, (*seen, name)) for base in bases[name] if base in bases and base not in (*seen, name)]
        return [name, *max(ways, key=len, default=[])]

    return max((chain(name) for name in bases), key=len)


def private_reaches(trees: dict[str, ast.Module]) -> int:
    """How often a private name of another object is reached for."""
    found = 0
    for tree in trees.values():
        for node in ast.walk(tree):
            if isinstance(node, ast.Attribute) and node.attr.startswith("_") and not node.attr.startswith("__"):
                owner = node.value
                found += not (isinstance(owner, ast.Name) and owner.id in ("self", "cls"))
    return found


def read(root: Path) -> None:
    """Print what is read from the source."""
    known = modules(root)
    texts = {name: path.read_text(encoding="utf-8") for name, path in known.items()}
    trees = {name: ast.parse(text) for name, text in texts.items()}
    lines = {name: text.count("\n") for name, text in texts.items()}
    folders: Counter[str] = Counter()
    for name, count in lines.items():
        parts = name.split(".")
        folders[parts[1] if len(parts) > 1 else "top"] += count
    print("lines by folder          ", ", ".join(f"{k} {v}" for k, v in sorted(folders.items())))
    ui = [count for name, count in lines.items() if name.startswith("cordwainer.ui")]
    largest = max(lines, key=lambda name: lines[name])
    print(f"median module, ui         {statistics.median(lines.values()):.0f}, {statistics.median(ui):.0f}")
    print(f"largest module            {largest} {lines[largest]}")
    chain = longest_chain(trees)
    print(f"longest chain of classes  {len(chain)}: {' < '.join(chain)}")
    graph = {name: imports(tree, known) - {name} for name, tree in trees.items()}
    groups = circles(graph)
    print(f"import circles            {len(groups)}" + "".join(f"\n    {sorted(group)}" for group in groups))
    tests = sum(
        path.read_text(encoding="utf-8").count("# type: ignore") for path in (root / "tests").rglob("*.py")
    )
    print(f"type: ignore              {sum(t.count('# type: ignore') for t in texts.values())}, in tests {tests}")
    print(f"private reaches           {private_reaches(trees)}")
    sizes = {
        f"{module.rsplit('.', 1)[-1]}.{node.name}": sum(
            isinstance(item, ast.FunctionDef | ast.AsyncFunctionDef) for item in node.body
        )
        for module, node in classes(trees)
    }
    most = sorted(sizes, key=lambda name: -sizes[name])[:3]
    print("largest classes, methods ", ", ".join(f"{name} {sizes[name]}" for name in most))
    long = {
        f"{name}.{node.name}": (node.end_lineno or 0) - node.lineno + 1
        for name, tree in trees.items()
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef) and (node.end_lineno or 0) - node.lineno + 1 > LONG
    }
    print(f"functions over {LONG} lines   {len(long)}: {', '.join(f'{k} {v}' for k, v in long.items())}")
    names = Counter(node.name for _, node in classes(trees))
    twins = sorted(name for name, count in names.items() if count > 1)
    print(f"class names used twice    {len(twins)}: {', '.join(twins)}")


class Walk:
    """Counts the program's files entered, and how often a length is parsed, while something is done."""

    def __init__(self) -> None:
        self.files: set[str] = set()
        self.parsed = 0

    def __call__(self, frame: FrameType, event: str, _argument: Any) -> None:
        """One call."""
        if event != "call":
            return
        name = frame.f_code.co_filename
        if "/cordwainer/" in name:
            self.files.add(name)
            if frame.f_code.co_name == "parse" and name.endswith("core/lengths.py"):
                self.parsed += 1

    def told(self, words: str, act: Callable[[], object]) -> None:
        """Do something and print how far it went."""
        sys.setprofile(self)
        try:
            act()
        finally:
            sys.setprofile(None)
        parts = Counter(name.split("/cordwainer/")[1].split("/")[0] for name in self.files)
        split = ", ".join(f"{k} {v}" for k, v in sorted(parts.items()))
        print(f"{words:<38} {len(self.files)} files ({split}), {self.parsed} calls of parse")


def walks() -> None:
    """Three walks of a machinist through the window, each the second time, when all is loaded."""
    from PyQt6.QtCore import Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from cordwainer.files.places import Settings
    from cordwainer.ui.commands import leaving
    from cordwainer.ui.desk.desk import Desk
    from cordwainer.ui.kit import theme
    from cordwainer.ui.shell.window import Window
    from cordwainer.ui.stages.cut.cut_stage import CutStage
    from cordwainer.ui.stages.print_.print_stage import PrintStage

    application = QApplication([])
    theme.apply(application)
    window = Window(Desk(Settings(), inline=True))
    window.resize(1280, 800)
    leaving.open_demo(window, "demo_clicker.job.json")
    window.show()
    desk = window.desk
    printed = window.stages["print"]
    assert isinstance(printed, PrintStage)

    def typed(text: str) -> None:
        window.go("print")
        printed.typed.setFocus()
        printed.typed.setText(text)
        printed.typed.setModified(True)
        QTest.keyClick(printed.typed, Qt.Key.Key_Return)
        window.go("plan")
        window.repaint()
        application.processEvents()

    def measured(size: str) -> None:
        window.go("measure")
        desk.readings.put_reading(4.0, 0.0, size)
        window.go("explain")
        window.repaint()

    def cut() -> None:
        window.go("cut")
        stage = window.stages["cut"]
        assert isinstance(stage, CutStage)
        assert stage.cutting.route is not None
        while not stage.cutting.over:
            for caution in stage.cutting.unticked():
                stage.cutting.tick(caution.id)
            stage.cutting.done()
        window.go("plan")
        window.repaint()

    desk.selection.select_hole(1)
    typed("8.4 through 20")
    Walk().told("callout typed, to the painted plan", lambda: typed("8.5 through 20"))
    measured("8.51")
    Walk().told("size typed, to the first cause", lambda: measured("8.53"))
    cut()
    Walk().told("hole cut, to the next plan", cut)
    desk.quiet()


if __name__ == "__main__":
    here = Path(__file__).parents[1]
    other = [Path(argument) for argument in sys.argv[1:]]
    read(other[0] if other else here)
    if not other:
        walks()
