"""The stages, each made when it is first asked for."""

from __future__ import annotations

from PyQt6.QtWidgets import QStackedWidget, QWidget

from cordwainer.ui.session import Session

LEAST = (1036, 628)


class Stages(dict[str, QWidget]):
    """The stages by name, each made when it is first asked for."""

    def __init__(self, session: Session, stack: QStackedWidget) -> None:
        super().__init__()
        self.session, self.stack = session, stack

    def __missing__(self, name: str) -> QWidget:
        stage: QWidget
        if name == "print":
            from cordwainer.ui.stages.print_ import PrintStage

            stage = PrintStage(self.session)
        elif name == "plan":
            from cordwainer.ui.stages.plan import PlanStage

            stage = PlanStage(self.session)
        elif name == "cut":
            from cordwainer.ui.stages.cut import CutStage

            stage = CutStage(self.session)
        elif name == "measure":
            from cordwainer.ui.stages.measure import MeasureStage

            stage = MeasureStage(self.session)
        elif name == "crib":
            from cordwainer.ui.stages.crib import CribStage

            stage = CribStage(self.session)
        elif name == "logbook":
            from cordwainer.ui.stages.logbook import LogbookStage

            stage = LogbookStage(self.session)
        elif name == "what_if":
            from cordwainer.ui.stages.what_if import WhatIfStage

            stage = WhatIfStage(self.session)
        elif name == "part":
            from cordwainer.ui.stages.part import PartStage

            stage = PartStage(self.session)
        elif name == "batch":
            from cordwainer.ui.stages.batch import BatchStage

            stage = BatchStage(self.session)
        elif name == "practice":
            from cordwainer.ui.stages.practice import PracticeStage

            stage = PracticeStage(self.session)
        elif name == "point":
            from cordwainer.ui.stages.point import PointStage

            stage = PointStage(self.session)
        else:
            from cordwainer.ui.stages.explain import ExplainStage

            stage = ExplainStage(self.session)
        stage.setMinimumSize(*LEAST)
        self.stack.addWidget(stage)
        self[name] = stage
        return stage
