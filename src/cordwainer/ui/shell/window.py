"""The window: strip, rail and stages around one desk."""

from __future__ import annotations

import gc
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PyQt6.QtCore import QByteArray, QPoint, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QMainWindow, QMenu, QScrollArea, QStackedWidget, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.files.places import shop_words
from cordwainer.ui.commands import holes, leaving
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.desk.text_size import factor_of
from cordwainer.ui.kit.basics import Room, put_in_scroll
from cordwainer.ui.kit.layout import NONE, across, down, fill
from cordwainer.ui.kit.plain import in_title
from cordwainer.ui.kit.questions import Questions
from cordwainer.ui.shell.actions import Actions
from cordwainer.ui.shell.ask_line import AskLine
from cordwainer.ui.shell.frame import JobStrip, LongWork, Notice, Rail
from cordwainer.ui.shell.stages import LEAST, STAGES, Stages

if TYPE_CHECKING:
    from cordwainer.ui.commands.command import CribActs, PlanActs, PointActs, PrintActs

READY = ("plan", "print", "measure", "explain", "crib", "logbook", "batch", "practice", "what_if")
READY_MS = 200
DROPPED = {
    ".json": leaving.drop_job,
    ".dxf": holes.import_drawing_from,
    ".pdf": holes.import_drawing_from,
    ".csv": holes.import_holes_from,
}


PLACE = "window"


class Window(QMainWindow):
    """One job in one window."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.questions = Questions(self)
        self.stage = "print"
        self.begun = False
        self.setWindowTitle("Cordwainer")
        self.resize(*_fitting(1280, 800))
        self._stand_as_before()
        self.setAcceptDrops(True)
        self.setMinimumSize(560, 400)
        self.strip, self.rail, self.notice, self.working = JobStrip(), Rail(), Notice(), LongWork()
        self.stack = QStackedWidget()
        self._lay_out()
        self.actions_ = Actions(self, self)
        self.stages = Stages(desk, self, self.stack, self.run, self.say)
        self._connect()

    def _stand_as_before(self) -> None:
        """Where and as large as it was left; on a screen that is gone, where it fits."""
        kept = self.desk.settings.get(PLACE)
        if isinstance(kept, str):
            self.restoreGeometry(QByteArray.fromBase64(kept.encode("ascii", "ignore")))

    def _lay_out(self) -> None:
        body = QWidget()
        body.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        body.setAccessibleName("Cordwainer")
        self.setCentralWidget(body)
        column = down(body, NONE, 0)
        column.addWidget(self.strip)
        lower = QWidget()
        column.addWidget(lower, 1)
        row = across(lower, NONE, 0)
        row.addWidget(self.rail)
        right = down(gap=0)
        fill(right, self.notice, self.working)
        # Smaller than this nothing is squeezed, it scrolls: large text on a small screen.
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        put_in_scroll(self.area, Room(self.stack, LEAST))
        right.addWidget(self.area, 1)
        row.addLayout(right, 1)
        self.ask_line = AskLine(self, body, self.rail)

    def _connect(self) -> None:
        desk, strip = self.desk, self.strip
        for told in (
            desk.document.edited,
            desk.document.saved,
            desk.document.keeper.told,
            desk.selection.unit_changed,
            desk.stock.changed,
        ):
            told.connect(self.refresh)
        for told in (desk.selection.moved, desk.plans.arrived):
            told.connect(self.refresh_rail)
        desk.said.connect(self.say)
        desk.background.long.connect(self.working.say)
        self.working.stopped.connect(self.stop_long)
        self.rail.chosen.connect(self.go)
        strip.logo.clicked.connect(self.actions_.open_menu)
        strip.unit_chosen.connect(desk.selection.set_unit)
        for part, name in (
            (strip.job, "rename_job"),
            (strip.material, "choose_material"),
            (strip.machine, "choose_machine"),
            (strip.shop, "choose_shop"),
            (strip.ask, "ask"),
        ):
            part.clicked.connect(partial(self._pressed, name))
        application = QApplication.instance()
        if isinstance(application, QApplication):
            application.focusChanged.connect(self._follow_focus)

    def _pressed(self, name: str, _checked: bool = False) -> None:
        self.run(name)

    def _follow_focus(self, _old: QWidget | None, now: QWidget | None) -> None:
        """In a window too small for its stage, what has the focus is scrolled into view."""
        if now is not None and self.stack.isAncestorOf(now):
            self.area.ensureWidgetVisible(now)

    # -- what commands are done on ---------------------------------------------------------------

    @property
    def parent_widget(self) -> QWidget:
        """What dialogs stand over."""
        return self

    def run(self, name: str) -> None:
        """Do a command of the table."""
        self.actions_.run(name)

    def say(self, words: str) -> None:
        """A line at the top of the stage, or nothing."""
        self.notice.say(words)

    def popup(self, menu: QMenu, under: str) -> None:
        """A menu under a part of the strip."""
        part = {
            "logo": self.strip.logo,
            "job": self.strip.job,
            "material": self.strip.material,
            "machine": self.strip.machine,
            "shop": self.strip.shop,
        }[under]
        menu.popup(part.mapToGlobal(QPoint(0, part.height())))

    def print_acts(self) -> PrintActs:
        """The Print stage."""
        return cast("PrintActs", self.stages["print"])

    def plan_acts(self) -> PlanActs:
        """The Plan stage."""
        return cast("PlanActs", self.stages["plan"])

    def crib_acts(self) -> CribActs:
        """The Crib stage."""
        return cast("CribActs", self.stages["crib"])

    def point_acts(self) -> PointActs:
        """The page of a drill's point."""
        return cast("PointActs", self.stages["point"])

    def ask(self) -> None:
        """Show the line where small questions are asked."""
        self.ask_line.ask()

    def set_text_size(self, percent: int) -> None:
        """Another size of everything, in the windows that are open."""
        self.desk.settings.put("text_size", percent)
        QTimer.singleShot(
            0, partial(self._rescale, factor_of(percent))
        )  # the menu it was chosen from is gone by then

    def _rescale(self, factor: float) -> None:
        from cordwainer.ui.kit.scale import set_scale

        if not set_scale(factor):
            self.say(tr("The new size is taken at the next start."))

    def close_window(self) -> None:
        """Leave."""
        self.close()

    def stop_long(self) -> None:
        """Give up what takes long."""
        for words in self.desk.background.stop_long():
            self.say(tr("{words}: stopped.", words=words))

    # -- what is shown ---------------------------------------------------------------------------

    def begin(self, path: Path | None, *, demo: bool = False, ask: bool = True) -> bool:
        """Start on a file, the demo, a recovered job, or the first screen; False for a file not opened."""
        opened = True
        if path is not None:
            opened = leaving.open_path(self, path)
        elif demo:
            leaving.open_demo(self)
        elif ask:
            leaving.offer_recovery(self)
        said = [self.notice.words.text(), *self.desk.document.settings.said, *self.desk.document.recovery.said]
        if path is not None and ask:
            said.append(leaving.told_left(self))
        self.say(" ".join(filter(None, said)))
        self.desk.document.settings.said.clear()
        self.desk.document.recovery.said.clear()
        self.begun = True
        self.refresh()
        return opened

    def refresh(self) -> None:
        """Mirror the desk in strip and rail."""
        document, stock = self.desk.document, self.desk.stock
        job, empty = document.job, document.empty
        self.strip.job.set_value(job.file.name or (tr("Untitled") if not empty else tr("none yet")))
        self.strip.material.set_value(sentence(job.material.name))
        self.strip.machine.set_value(stock.machine.name)
        self.strip.shop.set_value(shop_words(document.shop_name))
        self.strip.show_unit(self.desk.selection.unit)
        if document.read_only:
            words, saved = "Read-only", True
        elif empty and not document.dirty:
            words, saved = tr("Nothing to save"), False
        else:
            words, saved = (
                (tr("Not saved"), False) if document.dirty or document.path is None else (tr("Saved"), True)
            )
            if document.unkept and not saved:
                words = tr("Not saved, no copy")
        self.strip.show_saved(words, saved)
        name = document.path.name if document.path else (job.file.name or tr("Untitled"))
        changed, only = (
            "*" if document.dirty and not document.read_only else "",
            " (read-only)" if document.read_only else "",
        )
        self.setWindowTitle(
            tr("{changed}{in_title}{only} – Cordwainer", changed=changed, in_title=in_title(name), only=only)
        )
        self.actions_.name_undo()
        self.show_stage()
        self.refresh_rail()

    def refresh_rail(self) -> None:
        """Mark how far the hole in hand is."""
        desk = self.desk
        empty, plan = desk.document.empty, desk.plans.plan
        finding = None if empty else desk.readings.finding()
        self.rail.show_status("print", None if empty else "accept")
        halted = plan is not None and plan.hole.id in desk.plans.halted
        planned = None if plan is None or halted else ("accept" if plan.routes else "reject")
        self.rail.show_status("plan", planned)
        self.rail.show_status("measure", finding.verdict if finding else None)
        for stage, button in self.rail.buttons.items():
            button.setEnabled(not empty or stage == "print" or not STAGES[stage].needs_hole)

    def show_stage(self) -> None:
        """Show the stage chosen, or the first screen while there is no hole."""
        missing = self.desk.document.empty and STAGES[self.stage].needs_hole
        name = "first" if missing else self.stage
        wanted = self.stages[name]
        if self.stack.currentWidget() is not wanted:
            self.stack.setCurrentWidget(wanted)
        self.rail.show_stage(STAGES[name].under)
        at_machine = name == "cut"
        self.strip.setVisible(not at_machine)
        self.rail.setVisible(not at_machine)
        if at_machine:
            wanted.setFocus()

    def make_ready(self) -> None:
        """Make the stages one after the other while nobody waits, so that going to one is at once."""
        missing = next((name for name in READY if name not in self.stages), None)
        if self.desk.background.closed:
            return
        if missing is not None:
            _ = self.stages[missing]
            QTimer.singleShot(READY_MS, self.make_ready)
            return
        # What is made by now stays for good; not looked through again, a search for garbage holds this thread a
        # quarter as long.
        gc.freeze()

    def go(self, stage: str) -> None:
        """Go to a stage."""
        if self.stage == "measure" != stage:
            self.desk.log.learn()
        self.stage = stage
        if self.begun:  # before that there is no job to show yet
            self.show_stage()

    def say_trouble(self, error: BaseException, kept: bool) -> None:
        """After an exception: plain words, nothing lost."""
        saved = (
            tr("Your work is kept in a recovery copy.") if kept else tr("Save your work now under another name.")
        )
        self.say(
            tr(
                "Something went wrong inside the program ({name}). {saved} You can go on.",
                name=type(error).__name__,
                saved=saved,
            )
        )

    # -- Qt --------------------------------------------------------------------------------------

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Leave only when nothing is lost."""
        if event is None:
            return
        if leaving.may_leave(self):
            self.desk.settings.put(PLACE, bytes(self.saveGeometry().toBase64().data()).decode())
            self.desk.close()
            event.accept()
        else:
            event.ignore()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Job files, drawings and lists may be let go here. They are read: whoever gives them keeps them."""
        if event is not None and _dropped(event.mimeData()) is not None:
            event.setDropAction(Qt.DropAction.CopyAction)
            event.accept()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """A file let go on the window is opened, a drawing or list taken in, once the giver has its answer."""
        path = _dropped(event.mimeData()) if event is not None else None
        if event is None or path is None:
            return
        event.setDropAction(Qt.DropAction.CopyAction)
        event.accept()
        QTimer.singleShot(0, partial(self._take_dropped, path))

    def _take_dropped(self, path: Path) -> None:
        try:
            DROPPED[path.suffix.lower()](self, path)
        except InputError as bad:
            self.say(str(bad))


def _fitting(width: int, height: int) -> tuple[int, int]:
    """A size no larger than the screen has room for."""
    screen = QApplication.primaryScreen()
    if screen is None:
        return width, height
    room = screen.availableGeometry()
    return min(width, room.width()), min(height, room.height())


def _dropped(data: object) -> Path | None:
    """The one local file of a drop that can be taken, or None."""
    urls = data.urls() if data is not None and hasattr(data, "urls") else []
    paths = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
    found = [path for path in paths if path.suffix.lower() in DROPPED]
    return found[0] if len(found) == 1 and len(paths) == 1 else None
