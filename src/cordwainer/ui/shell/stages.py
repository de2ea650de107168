"""The stages: which there are, what each is given, where it stands in the rail; made when first asked for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QStackedWidget

from cordwainer.ui.commands import crib, leaving
from cordwainer.ui.commands.command import Shell
from cordwainer.ui.kit.stage import Stage

if TYPE_CHECKING:
    from cordwainer.ui.desk.desk import Desk

LEAST = (1036, 628)


def _first(desk: Desk, shell: Shell) -> Stage:
    from cordwainer.ui.stages.first.first_stage import FirstStage

    stage = FirstStage(desk.document, desk.selection, desk.settings)
    stage.recent_asked.connect(lambda path: leaving.open_recent(shell, Path(path)))
    stage.demo_asked.connect(lambda name: leaving.open_demo(shell, name))
    return stage


def _print(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.print_.print_stage import PrintStage

    return PrintStage(desk.document, desk.selection, desk.stock, desk.plans, desk.prints)


def _part(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.part.part_stage import PartStage

    return PartStage(desk.document, desk.selection, desk.stock)


def _sheet(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.sheet.sheet_stage import SheetStage

    return SheetStage(desk.prints)


def _plan(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.plan.plan_stage import PlanStage

    return PlanStage(
        desk.document,
        desk.selection,
        desk.stock,
        desk.plans,
        desk.readings,
        desk.forecasts,
        desk.sequence,
        desk.log,
    )


def _what_if(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.what_if.what_if_stage import WhatIfStage

    return WhatIfStage(desk.document, desk.selection, desk.stock, desk.plans, desk.forecasts)


def _practice(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.practice.practice_stage import PracticeStage

    return PracticeStage(desk.document, desk.selection, desk.stock, desk.plans, desk.effects)


def _batch(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.batch.batch_stage import BatchStage

    return BatchStage(desk.document, desk.selection, desk.stock, desk.plans, desk.batch)


def _cut(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.cut.cut_stage import CutStage

    return CutStage(
        desk.document, desk.selection, desk.stock, desk.plans, desk.round, desk.settings, desk.forecasts
    )


def _measure(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.measure.measure_stage import MeasureStage

    return MeasureStage(desk.document, desk.selection, desk.stock, desk.plans, desk.readings, desk.settings)


def _explain(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.desk.plan_change import PlanChanges
    from cordwainer.ui.stages.explain.explain_stage import ExplainStage

    return ExplainStage(
        desk.document, desk.selection, desk.stock, desk.plans, desk.readings, desk.causes,
        PlanChanges(desk.sequence),
    )  # fmt: skip


def _crib(desk: Desk, shell: Shell) -> Stage:
    from cordwainer.ui.stages.crib.crib_stage import CribStage

    stage = CribStage(desk.document, desk.selection, desk.stock, desk.plans)
    stage.check_asked.connect(partial(crib.check_point_of, shell))
    return stage


def _point(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.stages.point.point_stage import PointStage

    return PointStage(desk.document, desk.selection, desk.stock, desk.plans)


def _logbook(desk: Desk, shell: Shell) -> Stage:
    from cordwainer.ui.stages.logbook.logbook_stage import LogbookStage

    stage = LogbookStage(desk.selection, desk.stock, desk.log)
    stage.explain_asked.connect(partial(leaving.open_logged, shell))
    return stage


def _train(desk: Desk, _shell: Shell) -> Stage:
    from cordwainer.ui.desk.plan_try import PlanTry
    from cordwainer.ui.desk.quiz import Quiz
    from cordwainer.ui.stages.train.train_stage import TrainStage

    quiz, plan_try = Quiz(desk.training, desk.stock), PlanTry(desk.training, desk.background)
    return TrainStage(desk.training, quiz, plan_try, desk.selection)


@dataclass(frozen=True)
class StagePlace:
    """How a stage is made, which of the rail's stages it stands under, whether it needs a hole."""

    make: Callable[[Desk, Shell], Stage]
    under: str
    needs_hole: bool = True


STAGES = {
    "first": StagePlace(_first, "print", False),
    "print": StagePlace(_print, "print"),
    "part": StagePlace(_part, "print"),
    "sheet": StagePlace(_sheet, "print", False),
    "plan": StagePlace(_plan, "plan"),
    "what_if": StagePlace(_what_if, "plan"),
    "practice": StagePlace(_practice, "plan"),
    "batch": StagePlace(_batch, "plan"),
    "cut": StagePlace(_cut, "cut"),
    "measure": StagePlace(_measure, "measure"),
    "explain": StagePlace(_explain, "explain"),
    "crib": StagePlace(_crib, "crib", False),
    "point": StagePlace(_point, "crib", False),
    "logbook": StagePlace(_logbook, "logbook", False),
    "train": StagePlace(_train, "train", False),
}


class Stages:
    """The stages of one window by name. `want` runs a command a stage wants, `say` shows a line it says."""

    def __init__(
        self,
        desk: Desk,
        shell: Shell,
        stack: QStackedWidget,
        want: Callable[[str], None],
        say: Callable[[str], None],
    ) -> None:
        self.desk, self.shell, self.stack = desk, shell, stack
        self.want, self.say = want, say
        self.made: dict[str, Stage] = {}

    def __getitem__(self, name: str) -> Stage:
        """A stage, made and wired when it is first asked for."""
        if name not in self.made:
            stage = STAGES[name].make(self.desk, self.shell)
            stage.setMinimumSize(*LEAST)
            stage.wants.connect(self.want)
            stage.said.connect(self.say)
            self.stack.addWidget(stage)
            self.made[name] = stage
        return self.made[name]

    def __contains__(self, name: str) -> bool:
        return name in self.made
