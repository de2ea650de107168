"""Starting up: arguments, fonts, the crash hook, the window."""

from __future__ import annotations

import sys
import traceback
from datetime import datetime
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QLibraryInfo, Qt, QTimer, QTranslator
from PyQt6.QtWidgets import QApplication

from cordwainer import __version__
from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import spoken, tr
from cordwainer.files.places import Settings, state_folder
from cordwainer.files.writing import write_text
from cordwainer.ui.desk.colors import colors_of
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.icon import application_icon
from cordwainer.ui.shell.ending import Ending
from cordwainer.ui.shell.warm_up import warm_up
from cordwainer.ui.shell.window import Window

KEPT_LOG_BYTES = 200_000
ICON_MS, WARM_UP_MS = 50, 250
SWITCH_S = 0.0005


def log_trouble(text: str) -> Path | None:
    """Add a trace to the log in the state folder; None where it cannot be written."""
    path = state_folder() / "trouble.log"
    try:
        old = path.read_bytes()[-KEPT_LOG_BYTES:].decode("utf-8", "replace") if path.is_file() else ""
        write_text(path, f"{old}\n{__version__}\n{text}", own=True)
    except (OSError, InputError):
        return None
    return path


def install_crash_hook(window: Window) -> None:
    """An exception never loses work: keep the recovery copy, say so plainly, log it."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if isinstance(error, CordwainerError):  # refused on purpose, by words of its own
            window.say(f"{error}.")
            return
        kept = window.desk.document.write_recovery()
        text = "".join(traceback.format_exception(kind, error, trace))
        sys.stderr.write(text)
        log_trouble(text)
        window.say_trouble(error, kept)

    sys.excepthook = hook
    window.desk.background.broke.connect(lambda error: hook(type(error), error, error.__traceback__))


def speak(application: QApplication) -> None:
    """The toolkit's own words, its file and color dialogs, in the language in force."""
    translator = QTranslator(application)
    folder = QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)
    if spoken() != "en" and translator.load(f"qtbase_{spoken()}", folder):
        application.installTranslator(translator)


def run(arguments: list[str]) -> int:
    """Open the window: a job file, the demo, or the first screen."""
    quit_when_shown = "--quit-when-shown" in arguments
    demo = "--demo" in arguments
    files = [a for a in arguments if not a.startswith("--")]
    unknown = [a for a in arguments if a.startswith("--") and a not in ("--quit-when-shown", "--demo")]
    if unknown or len(files) > 1:
        bad = unknown[0] if unknown else files[1]
        sys.stderr.write(
            tr("cordwainer: '{bad}' is not understood; write a job file, --demo, or a command (--help)\n", bad=bad)
        )
        return 2
    settings = Settings()
    if settings.get("text_size", 100) != 100:
        from cordwainer.ui.desk.text_size import prepare

        prepare(settings)
    application = QApplication.instance() or QApplication(["cordwainer"])
    if not isinstance(application, QApplication):
        return 1
    application.setApplicationName("cordwainer")
    application.setApplicationDisplayName("Cordwainer")
    application.setDesktopFileName("org.cordwainer.Cordwainer")
    speak(application)
    hints = application.styleHints()
    dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    theme.apply(application, colors_of(settings.get("colors"), dark, datetime.now()))
    window = Window(Desk(settings))
    install_crash_hook(window)
    ending = Ending(window, application)
    opened = window.begin(Path(files[0]) if files else None, demo=demo, ask=not quit_when_shown)
    window.show()
    if quit_when_shown:
        window.desk.quiet()  # nothing after the first frame, however long it took
        QTimer.singleShot(0, lambda: (window.repaint(), application.exit(0)))
    else:
        # Plans are worked out on another thread: once the first frame stands, painting gets its turn more often.
        QTimer.singleShot(ICON_MS, lambda: window.setWindowIcon(application_icon()))
        QTimer.singleShot(WARM_UP_MS, lambda: sys.setswitchinterval(SWITCH_S))
        QTimer.singleShot(WARM_UP_MS, lambda: window.desk.warm_up(warm_up, window.make_ready))
    status = application.exec()
    if quit_when_shown and not opened:
        sys.stderr.write(tr("cordwainer: {notice}\n", notice=window.notice.words.text()))
        status = 1
    if ending.signal:
        return ending.leave()
    window.desk.quiet()
    return status
