"""What the next hour will need, loaded while nobody waits for it."""

from importlib import import_module

STAGES = ("print_", "crib", "point", "plan", "measure", "explain")
LATER = ("cut", "part", "what_if", "practice", "batch", "logbook")


def warm_up() -> None:
    """Load the planner, the models of job files, the stages, and the tools that are sold."""
    from cordwainer.core.diagnosis import explained
    from cordwainer.core.planning import plan
    from cordwainer.core.shop.identify import SYSTEMS, named_sizes
    from cordwainer.core.shop.stock import sold
    from cordwainer.core.shop.tool import KINDS
    from cordwainer.files import job_model, schedule

    _ = explained, plan, job_model, schedule
    for stage in (*STAGES, *LATER):
        import_module(f"cordwainer.ui.stages.{stage}.{stage.strip('_')}_stage")
    for kind in KINDS:
        sold(kind)
    for system in SYSTEMS:
        named_sizes(system)
