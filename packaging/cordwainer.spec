# The one-folder bundle: the program with its data and every module of it, Qt without what it never loads.
from PyInstaller.utils.hooks import collect_data_files, collect_submodules

LEFT_OUT = ("libQt6Quick", "libQt6Qml", "libQt6Multimedia", "libQt6VirtualKeyboard", "libQt6Designer", "libav", "libsw")

found = Analysis(
    ["start.py"],
    datas=collect_data_files("cordwainer") + collect_data_files("ezdxf"),
    hiddenimports=collect_submodules("cordwainer") + ["psycopg", "keyring.backends.SecretService"],
    excludes=["tkinter", "matplotlib", "PIL.ImageTk", "PyQt6.QtQml", "PyQt6.QtQuick", "IPython", "pytest"],
)
found.binaries = [b for b in found.binaries if not any(name in b[0] for name in LEFT_OUT)]
found.datas = [d for d in found.datas if "qtbase_de" in d[0] or ("Qt6/translations" not in d[0] and "Qt6/qml" not in d[0])]
program = EXE(PYZ(found.pure), found.scripts, exclude_binaries=True, name="cordwainer", console=True)
COLLECT(program, found.binaries, found.datas, name="cordwainer")
