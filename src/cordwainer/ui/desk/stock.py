"""What there is to work with: the shop in use, what its people noted of it, what the logbook has learned."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import tr
from cordwainer.core.shop.machines import machines as built_in_machines
from cordwainer.files.crib import machine_with
from cordwainer.files.job import practice_in
from cordwainer.ui.desk.crib_book import CribBook
from cordwainer.ui.desk.document import Document, Origin

if TYPE_CHECKING:
    from cordwainer.core.learning.oversize import Belief
    from cordwainer.core.planning.words.practice import Practice
    from cordwainer.core.shop.machine import Machine
    from cordwainer.core.shop.shop import Shop
    from cordwainer.core.shop.shop_law import ShopLaw

BUILT_IN = ("demo", "catalog")


class Stock(QObject):
    """The shop of the open job, read when it is first asked for."""

    changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.beliefs: dict[str, Belief] = {}
        self.laws: dict[str, ShopLaw] = {}
        self.belief_key = 0
        self.crib = CribBook(document.undo)
        self.crib.changed.connect(self._fit)
        self.crib.said.connect(self.said)
        self._base: Shop | None = None
        self._found: Shop | None = None
        document.replacing.connect(self._turn)

    def _turn(self, origin: Origin) -> None:
        if self._base is not None and self.crib.shop_name != origin.shop:
            self._base = self._found = None

    @property
    def known(self) -> bool:
        """Whether the shop's tools have been read yet."""
        return self._found is not None

    @property
    def shop(self) -> Shop:
        """The shop in use; an unreadable one gives way to the catalog."""
        if self._found is None:
            document = self.document
            try:
                found = load_shop(document.shop_name)
            except CordwainerError as bad:
                document.shop_name = "catalog"
                self.said.emit(tr("The shop file was not read, the catalog stands in. {bad}", bad=bad))
                found = load_shop("catalog")
            self._base = replace(found, machines=self._own_machines(found.machines))
            self._turn_crib()
            self._found = self._believing(self.crib.applied(self._base))
        return self._found

    def _turn_crib(self) -> None:
        name = self.document.shop_name
        self.crib.use(name, name == self.document.own_shop)

    def use_shop(self, name: str, *, keep: bool = True) -> None:
        """Plan with another shop; `keep` makes it the user's own from now on. Raises for an unreadable one."""
        if name not in BUILT_IN:
            load_shop(name)
        self.document.shop_name = name
        if keep:
            self.document.settings.put("shop", name)
        self._base = self._found = None
        self.changed.emit()

    def believe(self, beliefs: dict[str, Belief]) -> None:
        """Plan with what the logbook has learned by now."""
        if beliefs != self.beliefs:
            self.beliefs = beliefs
            self.belief_key += 1
            self._fit()

    def learn_shop(self, machine_id: str, law: ShopLaw | None) -> None:
        """Plan with what the shop's own holes teach of it at a machine; None forgets it."""
        known = self.laws.get(machine_id)
        if law is known or (law is not None and law.same(known)):
            return
        self.laws = {key: value for key, value in self.laws.items() if key != machine_id}
        if law is not None:
            self.laws[machine_id] = law
        self.belief_key += 1
        self._fit()

    def _with_laws(self, machines: tuple[Machine, ...]) -> tuple[Machine, ...]:
        return tuple(replace(m, law=self.laws.get(m.id)) for m in machines) if self.laws else machines

    def _believing(self, shop: Shop) -> Shop:
        """A shop whose tools carry what the logbook has learned of them, and its gauges what holds today."""
        today = date.today().isoformat()
        if any(gauge.due for gauge in shop.gauges):
            shop = replace(shop, gauges=tuple(gauge.as_of(today) for gauge in shop.gauges))
        if self.laws:
            shop = replace(shop, machines=self._with_laws(shop.machines))
        if not self.beliefs:
            return shop
        from cordwainer.core.learning.oversize import with_belief

        tools = [with_belief(t, self.beliefs[t.id]) if t.id in self.beliefs else t for t in shop.tools]
        return replace(shop, tools=tuple(tools))

    def _fit(self) -> None:
        """The shop with what the crib holds and what is believed of it now."""
        if self._base is not None:
            self._found = self._believing(self.crib.applied(self._base))
        self.changed.emit()

    # -- machines and practice -----------------------------------------------------------------

    @property
    def machines(self) -> tuple[Machine, ...]:
        """The machines of the shop in use, known without its tools where it is built in."""
        if self._found is None and self.document.shop_name in BUILT_IN:
            self._turn_crib()
            if self.crib.untouched:
                return self._with_laws(self._own_machines(built_in_machines()))
        return self.shop.machines

    def _own_machines(self, known: tuple[Machine, ...]) -> tuple[Machine, ...]:
        own = self.document.settings.get("machines", {})
        machines = []
        for machine in known:
            entry = own.get(machine.id, {}) if isinstance(own, dict) else {}
            speeds, power = entry.get("speeds_rpm"), entry.get("power_kw")
            if speeds:
                machine = replace(machine, speeds_rpm=tuple(float(n) for n in speeds), speed_range_rpm=None)
            if power:
                machine = replace(machine, power_kw=float(power))
            machines.append(machine)
        return tuple(machines)

    @property
    def machine(self) -> Machine:
        """The machine of the job; the first of the shop where the job's is not there."""
        wanted = self.document.job.file.machine
        return next((m for m in self.machines if m.id == wanted), self.machines[0])

    def set_machine_fields(self, machine_id: str, **fields: Any) -> None:
        """Note what a machine of the shop has; undoable, kept with the crib. Raises `InputError`."""
        machine = next(m for m in self.shop.machines if m.id == machine_id)
        machine_with(machine, fields)
        self.crib.edit(
            tr("Change {machine}", machine=machine.name),
            lambda data: data["machines"].setdefault(machine_id, {}).update(fields),
        )

    @property
    def practice(self) -> Practice:
        """The way of working: the job's over the shop's, where the shop is known already."""
        job = self.document.job
        return practice_in(job, self._found) if self._found is not None else job.practice


def load_shop(name: str) -> Shop:
    """A built-in shop, or a shop file (whose models are only loaded then)."""
    if name in BUILT_IN:
        from cordwainer.core.shop.catalog import built_in

        return built_in(name)
    from cordwainer.files import shop as shop_files

    return shop_files.load(name)
