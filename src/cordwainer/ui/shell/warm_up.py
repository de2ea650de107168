"""What the first edit will need, loaded while nobody waits for it."""


def warm_up() -> None:
    """Load the planner, the models of job files, the stages gone to next, and the drills that are sold."""
    from cordwainer.core.planning import plan
    from cordwainer.core.shop.identify import SYSTEMS, named_sizes
    from cordwainer.core.shop.stock import sold
    from cordwainer.files import job_model
    from cordwainer.ui.stages.crib import crib_stage
    from cordwainer.ui.stages.point import point_stage
    from cordwainer.ui.stages.print_ import print_stage

    _ = plan, job_model, crib_stage, point_stage, print_stage
    sold("drill")
    for system in SYSTEMS:
        named_sizes(system)
