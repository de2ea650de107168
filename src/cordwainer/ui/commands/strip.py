"""What the strip along the top chooses: job name, material, machine, crib."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtWidgets import QMenu

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import sentence, tr
from cordwainer.core.shop.material import materials
from cordwainer.ui.commands.command import Shell
from cordwainer.ui.commands.crib import edit_machine, new_shop
from cordwainer.ui.kit.passing import once
from cordwainer.ui.kit.plain import on_menu

SHOPS = (("demo", tr("Demo crib, a drawer with gaps")), ("catalog", tr("Catalog, every size sold")))


def rename_job(shell: Shell) -> None:
    """Name the job."""
    document = shell.desk.document
    text = shell.questions.text("Job", "Name of the job", document.job.file.name)
    if text is not None:
        document.edit(tr("Name the job"), lambda data: data.__setitem__("name", text.strip()))


def choose_material(shell: Shell) -> None:
    """Choose the material from a menu."""
    named = [(key, sentence(found.name)) for key, found in materials().items()]
    now = shell.desk.document.job.material.id
    menu = _menu(shell, named, now, lambda key: set_field(shell, tr("Material"), "material", key))
    shell.popup(menu, "material")


def choose_machine(shell: Shell) -> None:
    """Choose the machine from a menu, or change what is known of it."""
    stock = shell.desk.stock
    named = [(machine.id, machine.name) for machine in stock.machines]
    menu = _menu(shell, named, stock.machine.id, lambda key: set_field(shell, tr("Machine"), "machine", key))
    menu.addSeparator()
    mine = menu.addAction(tr("My machine…"))
    if mine is not None:
        mine.triggered.connect(lambda: edit_machine(shell))
    shell.popup(menu, "machine")


def choose_shop(shell: Shell) -> None:
    """Choose the crib: the demo's, every size sold, or a shop file."""
    from cordwainer.files.new_shop import own_shops

    shops = [*SHOPS, *((path, name) for name, path in own_shops().items())]
    menu = _menu(shell, shops, shell.desk.document.shop_name, shell.desk.stock.use_shop)
    new = menu.addAction(tr("New shop…"))
    if new is not None:
        new.triggered.connect(lambda: new_shop(shell))
    action = menu.addAction(tr("A shop file…"))
    if action is not None:
        action.triggered.connect(lambda: open_shop(shell))
    shell.popup(menu, "shop")


def open_shop(shell: Shell) -> None:
    """Ask for a shop file and plan with it."""
    path = shell.questions.file_to_open(tr("Open a shop file"), tr("Shop files (*.shop.json);;All files (*)"))
    if path is not None:
        try:
            shell.desk.stock.use_shop(str(path))
        except CordwainerError as bad:
            shell.say(tr("{path} was not read. {bad}", path=path.name, bad=bad))


def set_field(shell: Shell, words: str, key: str, value: str) -> None:
    """Another material or machine of the job; what cannot be is said."""
    try:
        shell.desk.document.edit(words, lambda data: data.__setitem__(key, value))
    except CordwainerError as bad:
        shell.say(str(bad))


def _menu(shell: Shell, named: Iterable[tuple[str, str]], now: str, take: Callable[[str], object]) -> QMenu:
    menu = once(QMenu(shell.parent_widget))
    for key, words in named:
        action = menu.addAction(on_menu(words))
        if action is not None:
            action.setCheckable(True)
            action.setChecked(key == now)
            action.triggered.connect(lambda _=False, k=key: take(k))
    return menu
