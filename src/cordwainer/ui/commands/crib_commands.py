"""Commands of the window that speak of the crib."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog

from cordwainer.core.errors import InputError
from cordwainer.files.documents import write_json
from cordwainer.ui.commands.hole_commands import HoleCommands

if TYPE_CHECKING:
    from cordwainer.core.shop.tool import Tool
    from cordwainer.ui.stages.crib.crib_stage import CribStage

LIST_FILES = "Lists (*.csv *.txt *.tsv);;All files (*)"


class CribCommands(HoleCommands):
    """Finding, noting, importing and exporting tools."""

    stage: str

    def crib_stage(self) -> CribStage:
        """The Crib stage, wired once."""
        from cordwainer.ui.stages.crib.crib_stage import CribStage

        fresh = "crib" not in self.stages
        stage = self.stages["crib"]
        assert isinstance(stage, CribStage)
        if fresh:
            stage.import_asked.connect(self.import_tools)
            stage.export_asked.connect(self.export_tools)
            stage.check_asked.connect(self.check_point_of)
        return stage

    def go_crib(self) -> None:
        """Stage Crib: the tools, and what an unmarked drill is."""
        self.go("crib")

    def go_logbook(self) -> None:
        """Stage Logbook: what each tool has cut."""
        self.go("logbook")

    def edit_machine(self) -> None:
        """To what is known of the job's machine."""
        from cordwainer.ui.stages.crib.machine_page import MachinePage

        self.go_crib()
        stage = self.crib_stage()
        stage.open_page("machines")
        page = stage.pages.currentWidget()
        if isinstance(page, MachinePage):
            page.show_machine(self.session.machine.id)
            page.fields["speeds_rpm"].setFocus()

    def find_tool(self) -> None:
        """To the crib's field that finds tools."""
        self.go_crib()
        find = self.crib_stage().finder
        find.setFocus()
        find.selectAll()

    def _chosen_tool(self) -> Tool:
        if self.stage != "crib" or self.crib_stage().chosen is None:
            raise InputError("", "no tool is chosen; choose one in the crib")
        tool = self.crib_stage().chosen
        assert tool is not None
        return tool

    def tool_out(self) -> None:
        """The tool chosen goes out, or back to its place."""
        self._chosen_tool()
        self.crib_stage().card.out_or_back()

    def tool_to_get(self) -> None:
        """The tool chosen is to get, or here after all."""
        self._chosen_tool()
        self.crib_stage().card.to_get()

    def one_more_tool(self) -> None:
        """One more of the tool chosen."""
        self._chosen_tool()
        self.crib_stage().card.one_more()

    def check_point(self) -> None:
        """Check the point of the drill chosen."""
        self.check_point_of(self._chosen_tool())

    def check_point_of(self, tool: Tool) -> None:
        """Check a drill's point."""
        from cordwainer.ui.stages.point.point_stage import PointStage

        if tool.kind != "drill":
            raise InputError("", "only a drill's point is checked here")
        fresh = "point" not in self.stages
        stage = self.stages["point"]
        assert isinstance(stage, PointStage)
        if fresh:
            stage.left.connect(self.go_crib)
        self.go("point")
        stage.show_drill(tool)

    # -- lists -----------------------------------------------------------------------------

    def import_tools(self) -> None:
        """Ask for a list of tools, show what can be taken, and take it."""
        name, _ = QFileDialog.getOpenFileName(self, "Import tools", "", LIST_FILES)
        if name:
            self.import_tools_from(Path(name))

    def import_tools_from(self, path: Path) -> None:
        """Show which rows of a list can be taken and which cannot, and why; take them when told to."""
        from cordwainer.files import tool_csv
        from cordwainer.files.crib import all_tools, take_rows
        from cordwainer.files.lists import refused_text
        from cordwainer.ui.dialogs.preview import Preview, PreviewDialog

        try:
            read = tool_csv.read_file(path, all_tools(self.session.shop))
        except InputError as bad:
            self.notice.say(f"{path.name} was not read. {bad}")
            return
        good = [f"{entry['diameter']}  {entry['kind'].replace('_', ' ')}" for entry in read.new]
        good += [f"{tool.name}, here already: what the list says is noted" for tool, _ in read.matched]
        extra = f"Columns not known and left out: {', '.join(read.unknown)}." if read.unknown else ""
        preview = Preview(
            f"Tools from {path.name}", "tools", good, read.refused, refused_text(read.head, read.refused), extra
        )
        if PreviewDialog(preview, self).exec():
            self.session.crib.edit(
                f"Import {read.good} tools", lambda data: take_rows(data, read.new, read.matched)
            )
            words = f"{read.good} tools taken from {path.name}. Undo takes them all out again."
            self.notice.say(words + (f" {len(read.refused)} rows were not read." if read.refused else ""))

    def export_tools(self) -> None:
        """Write the crib as a list, or as a shop file."""
        name, chosen = QFileDialog.getSaveFileName(
            self, "Export the crib", "crib.csv", "List (*.csv);;Shop file (*.shop.json)"
        )
        if name:
            self.export_tools_to(Path(name), shop="shop.json" in chosen or name.endswith(".shop.json"))

    def export_tools_to(self, path: Path, *, shop: bool = False) -> None:
        """Write every tool of the crib as CSV, or the whole shop as a shop file."""
        from cordwainer.files import tool_csv
        from cordwainer.files.crib import all_tools
        from cordwainer.files.shop_out import shop_data

        try:
            if shop:
                data = shop_data(self.session.shop)
                write_json(path, data)
                count = len(data["tools"])
            else:
                tools = all_tools(self.session.shop)
                tool_csv.write_file(path, tools)
                count = len(tools)
        except OSError as bad:
            self.notice.say(f"{path.name} could not be written: {bad.strerror}.")
            return
        self.notice.say(f"{count} tools written to {path.name}.")

    # -- many holes ------------------------------------------------------------------------

    def import_holes(self) -> None:
        """Ask for a list of holes, each written as printed."""
        name, _ = QFileDialog.getOpenFileName(self, "Import holes", "", LIST_FILES)
        if name:
            self.import_holes_from(Path(name))

    def open_part(self) -> None:
        """Where the holes stand, patterns, and what is left between them."""
        from cordwainer.ui.stages.part.part_stage import PartStage

        if self.session.empty:
            raise InputError("", "no hole yet; type one on the first screen, or take a drawing")
        fresh = "part" not in self.stages
        stage = self.stages["part"]
        if fresh and isinstance(stage, PartStage):
            stage.left.connect(lambda: self.go("print"))
            stage.drawing_asked.connect(self.import_drawing)
            stage.table_asked.connect(self.export_table)
        self.go("part")

    def import_drawing(self) -> None:
        """Ask for a drawing whose circles become holes."""
        name, _ = QFileDialog.getOpenFileName(self, "Holes from a drawing", "", "Drawings (*.dxf);;All files (*)")
        if name:
            self.import_drawing_from(Path(name))

    def import_drawing_from(self, path: Path) -> None:
        """Show the circles by layer and diameter, ask what the drawing does not say; take them when told."""
        from cordwainer.files import drawing
        from cordwainer.ui.dialogs.drawing_in import DrawingDialog

        try:
            read = drawing.read(path)
        except InputError as bad:
            self.notice.say(str(bad))
            return
        if not read.circles:
            self.notice.say(f"{path.name} has no circle that could be a hole.")
            return
        dialog = DrawingDialog(path.name, read, self.session, self)
        if dialog.exec() and dialog.found:
            entries = [hole.entry for hole in dialog.found]
            words = f"{len(entries)} holes from {path.name}"
            self.session.edit(words, lambda data: data["holes"].extend(entries))
            self.session.select_hole(len(self.session.job.holes) - len(entries))
            self.open_part()
            self.notice.say(f"{words}. Undo takes them all out again.")

    def export_table(self) -> None:
        """Ask where the hole table goes."""
        name, _ = QFileDialog.getSaveFileName(self, "Hole table", "holes.csv", "List (*.csv)")
        if name:
            self.export_table_to(Path(name))

    def export_table_to(self, path: Path) -> None:
        """Write every hole with its coordinates, a line a place."""
        from cordwainer.files.documents import write_text
        from cordwainer.files.hole_csv import table_of

        session = self.session
        try:
            write_text(path, table_of(session.data["holes"], session.job.file.general_tolerance, session.unit))
        except OSError as bad:
            self.notice.say(f"{path.name} could not be written: {bad.strerror}.")
            return
        self.notice.say(f"The hole table stands in {path.name}.")

    def import_holes_from(self, path: Path) -> None:
        """Show which lines are read as holes and which are not, and why; add them when told to."""
        from cordwainer.files import hole_csv
        from cordwainer.files.lists import refused_text
        from cordwainer.ui.dialogs.preview import Preview, PreviewDialog

        present = [hole.id for hole in self.session.job.holes]
        try:
            read = hole_csv.read_file(path, self.session.unit, present, self.session.job.file.general_tolerance)
        except InputError as bad:
            self.notice.say(f"{path.name} was not read. {bad}")
            return
        good = [f"{entry['id']}  {line}" for entry, line in zip(read.entries, read.lines, strict=True)]
        preview = Preview(
            f"Holes from {path.name}", "holes", good, read.refused, refused_text(read.head, read.refused)
        )
        if PreviewDialog(preview, self).exec():
            self.session.edit(f"Import {len(good)} holes", lambda data: data["holes"].extend(read.entries))
            self.go("print")
            self.notice.say(f"{len(good)} holes taken from {path.name}. Undo takes them all out again.")
