"""Which causes could be behind a hole at all, and what is known of it without asking."""

from __future__ import annotations

from collections.abc import Mapping

from cordwainer.core.diagnosis.evidence import Case, worked_out
from cordwainer.core.diagnosis.knowledge import causes, likelihoods

FLATS_TO_MM = 20.0
THIN_D, POINT_D, BLIND = 0.6, 0.3, "blind"
STARTED = {"center_drill": "center_drill", "spot_drill": "spot_drill"}
CENTER_CAUSES = ("cd_shallow", "cd_deep", "cd_pilot_broken", "cd_tailoff_ring")
SPOT_CAUSES = ("sp_narrow", "sp_small")
PILOT_CAUSES = ("pilot_small", "pilot_large", "pilot_ran", "step_big", "step_tiny")
SIZED_BY_PLAN = ("pilot_large", "pilot_small")  # the tool itself decides, no hand
PLACE_CAUSES = ("layout_off", "zero_off", "not_square", "column_swung", "rm_follow", "pilot_ran")
PLACE_ANSWERS = frozenset(
    {("q_layout", "mark_off"), ("q_layout", "zero_off"), ("q_square", "leans"), ("q_mouth", "off_the_mark")}
)
TOOLS_OWN, MENDED_IN_VAIN = 0.85, 1 / 12
UPSTREAM, UNMEASURED, FINE_BY_CALIPER = 0.4, 0.4, 0.4
OF_THE_START = ("center_pulled", "face_pip", "face_sloped")  # of the setup, but done with once a hole is begun
NOT_TAPPED, NOT_SUNK = ("q_thread", "not_tapped"), ("q_csk", "not_countersunk")
NOT_SO_STARTED = (("q_start_depth", "not_applicable"), ("q_start_angle", "not_applicable"))
ANOTHER_METAL = ("q_rake", "not_brass_or_plastic")
LATHE_CAUSES = ("tail_side", "tail_height", "center_pulled", "bo_headstock", "bent_stock", "cd_tailoff_ring")


def family(operation: str) -> str:
    """Start tools count as one family, drill and step drill as one."""
    if operation in ("center_drill", "spot_drill", "spot"):
        return "start"
    if operation in ("drill", "step_drill", "core_drill"):
        return "drill"
    return operation


def followed(case: Case) -> dict[str, str]:
    """What follows from the operations and the depth, unasked: how it was started, whether it is thin sheet."""
    found = {}
    for operation, answer in STARTED.items():
        if operation in case.operations:
            found["q_start"] = answer
            break
    if case.depth_mm is not None and case.depth_mm > THIN_D * case.diameter_mm:
        found["e_thin"] = "no"
    elif (
        case.depth_mm is not None
        and case.depth_mm < POINT_D * case.diameter_mm
        and case.answers.get("q_exit") != BLIND
    ):
        found["e_thin"] = "yes"
    return found


def answers_of(case: Case) -> dict[str, str]:
    """Everything known: what follows, the plan, the measuring, the numbers, what was said (the last wins)."""
    return {
        **followed(case),
        **case.planned,
        **case.measured,
        **_swapped(case),
        **worked_out(case),
        **case.answers,
    }


def never(case: Case) -> frozenset[tuple[str, str]]:
    """Answers, as (question, answer), that cannot be given of this hole, by what was done to it."""
    found = set[tuple[str, str]]()
    if "tap" in case.operations:
        found.add(NOT_TAPPED)
    if "countersink" in case.operations:
        found.add(NOT_SUNK)
    if set(STARTED) & set(case.operations):
        found.update(NOT_SO_STARTED)
    if case.answers.get("e_material") in ("brass_bronze", "plastic"):
        found.add(ANOTHER_METAL)
    return frozenset(found - set(case.answers.items()))


def _swapped(case: Case) -> dict[str, str]:
    """A tool ground or changed in vain is as good as a swap: with a good one the fault came back."""
    tool = (likelihoods().get(cause, {}).get("q_newtool", {}).get("gone", 0.0) for cause in case.mended)
    return {"q_newtool": "comes_back"} if any(share >= TOOLS_OWN for share in tool) else {}


def told(case: Case) -> int:
    """How many answers there are that somebody measured or gave; machine, material and depth are no answers."""
    return sum(question[0] in "qd" for question in {**worked_out(case), **case.answers})


def unsaid(case: Case, answers: Mapping[str, str]) -> set[str]:
    """Questions answered by the plan or the operations alone: nobody looked, measured or said so."""
    by_plan = {**followed(case), **case.planned}
    return {q for q, a in answers.items() if q[0] in "qd" and q not in case.answers and by_plan.get(q) == a}


def bare(case: Case, answers: Mapping[str, str]) -> bool:
    """Whether there is nothing to go by yet: no measurement, no answer, only what was planned."""
    told = {q for q in answers if q[0] in "qd"} - unsaid(case, answers) - case.measured.keys()
    sizes, offset = case.sizes, case.offset
    measured = sizes.entry or sizes.middle or sizes.exit or offset.entry_mm is not None
    return not told and not measured


def candidates(case: Case, answers: dict[str, str] | None = None) -> list[str]:
    """Causes that could apply: of the operations used, of the setup and of measuring, less what cannot be."""
    used = {family(op) for op in case.operations} | {"setup", "measure"}
    if not case.operations:
        used |= {"start", "drill"}
    out = ruled_out(case, answers_of(case) if answers is None else answers)
    return [c.id for c in causes().values() if family(c.operation) in used and c.id not in out]


def ruled_out(case: Case, answers: dict[str, str]) -> set[str]:
    """Causes that cannot be, by what the hole, the machine and the operations are."""
    out: set[str] = set()
    machine, pilot = answers.get("e_machine"), answers.get("q_pilot")
    if case.last_sizing == "bore":
        out |= {"tail_side", "tail_height"}
    if case.diameter_mm > FLATS_TO_MM or answers.get("q_gauge") not in (None, "caliper"):
        out.add("me_flats")
    if answers.get("q_hot") == "cool":
        out.add("me_hot")
    if machine not in (None, "lathe"):
        out.update(LATHE_CAUSES)
    if machine == "lathe":
        out.add("not_square")
    if machine not in (None, "round_column_mill"):
        out.add("column_swung")
    if answers.get("e_thin") == "no":
        out.add("thin_sheet")
    if answers.get("q_crosses") == "no":
        out.add("cross_hole")
    if answers.get("e_material") not in (None, "brass_bronze", "plastic"):
        out.add("grab_brass")
    if answers.get("q_start") in ("center_drill", "spot_drill", "guide_bush"):
        out.add("dr_none_start")
    if case.operations:
        if "center_drill" not in case.operations:
            out.update(CENTER_CAUSES)
        if not set(STARTED) & set(case.operations):
            out.update(SPOT_CAUSES)
        if "spot_drill" not in case.operations:
            out.add("sp_small")
        drills = [op for op in case.operations if family(op) == "drill"]
        if len(drills) < 2 and pilot in (None, "none"):
            out.update(PILOT_CAUSES)
        if len(drills) > 1 or pilot in ("web_to_half", "over_half"):
            out.add("web_thick")
    if "q_pilot" in unsaid(case, answers) - case.departs:
        out.update(SIZED_BY_PLAN)
    return out


def upstream(case: Case, cause_id: str) -> bool:
    """Whether a later sizing tool has been through since the cause's own operation."""
    return sized_since(cause_id, case.last_sizing)


def prior_share(case: Case, cause_id: str) -> float:
    """What is left of a cause's prior by what this hole is, before anything is weighed. Assumed.

    Less for a cause mended in vain (one mend in twelve is not done right), for the earlier tool where a later one
    made the size, for a wrong place where only other things were told, and for a caliper's jaws where a reamer or
    bar was used and nobody said that it was a caliper.
    """
    share = UPSTREAM if upstream(case, cause_id) else 1.0
    if cause_id in PLACE_CAUSES and _nothing_of_place(case):
        share *= UNMEASURED
    if cause_id in case.mended:
        share *= MENDED_IN_VAIN
    if cause_id == "me_flats" and case.finished and "q_gauge" not in {**case.measured, **case.answers}:
        share *= FINE_BY_CALIPER
    return share


def _nothing_of_place(case: Case) -> bool:
    """Whether something else was measured or told, and nothing of where the hole is."""
    sizes, offset = case.sizes, case.offset
    if offset.entry_mm is not None or offset.exit_mm is not None:
        return False
    if "d_drift" in case.answers or PLACE_ANSWERS & case.answers.items():
        return False
    sized = bool(sizes.entry or sizes.middle or sizes.exit)
    return sized or any(question[0] in "qd" for question in case.answers)


def sized_since(cause_id: str, last: str | None) -> bool:
    """Whether the tool that made the size, `last`, came after a cause's own operation."""
    own = family(causes()[cause_id].operation)
    if cause_id in OF_THE_START:
        return last in ("ream", "bore")
    if last is None or own in ("setup", "measure", "tap", "countersink"):
        return False
    return (last in ("ream", "bore") and own in ("start", "drill")) or (last == "bore" and own == "ream")
