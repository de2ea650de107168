"""The stages, each made when it is first asked for."""

from __future__ import annotations

from PyQt6.QtWidgets import QStackedWidget, QWidget

from cordwainer.ui.desk.session import Session

LEAST = (1036, 628)


class Stages(dict[str, QWidget]):
    """The stages by name, each made when it is first asked for."""

    def __init__(self, session: Session, stack: QStackedWidget) -> None:
        super().__init__()
        self.session, self.stack = session, stack

    def __missing__(self, name: str) -> QWidget:
        stage: QWidget
        if name == "print":
            from cordwainer.ui.stages.print_.print_stage import PrintStage

            stage = PrintStage(self.session)
        elif name == "plan":
            from cordwainer.ui.stages.plan.plan_stage import PlanStage

            stage = PlanStage(self.session)
        elif name == "cut":
            from cordwainer.ui.stages.cut.cut_stage import CutStage

            stage = CutStage(self.session)
        elif name == "measure":
            from cordwainer.ui.stages.measure.measure_stage import MeasureStage

            stage = MeasureStage(self.session)
        elif name == "crib":
            from cordwainer.ui.stages.crib.crib_stage import CribStage

            stage = CribStage(self.session)
        elif name == "logbook":
            from cordwainer.ui.stages.logbook.logbook_stage import LogbookStage

            stage = LogbookStage(self.session)
        elif name == "what_if":
            from cordwainer.ui.stages.what_if.what_if_stage import WhatIfStage

            stage = WhatIfStage(self.session)
        elif name == "part":
            from cordwainer.ui.stages.part.part_stage import PartStage

            stage = PartStage(self.session)
        elif name == "batch":
            from cordwainer.ui.stages.batch.batch_stage import BatchStage

            stage = BatchStage(self.session)
        elif name == "practice":
            from cordwainer.ui.stages.practice.practice_stage import PracticeStage

            stage = PracticeStage(self.session)
        elif name == "point":
            from cordwainer.ui.stages.point.point_stage import PointStage

            stage = PointStage(self.session)
        else:
            from cordwainer.ui.stages.explain.explain_stage import ExplainStage

            stage = ExplainStage(self.session)
        stage.setMinimumSize(*LEAST)
        self.stack.addWidget(stage)
        self[name] = stage
        return stage
