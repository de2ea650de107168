"""Where the run record of a job lies, and that it goes with the job."""

from __future__ import annotations

from pathlib import Path

from cordwainer.files.places import name_for, state_folder
from cordwainer.ui.desk.document import Document


def run_record_of(document: Document) -> Path | None:
    """Beside the job's file, else in the state folder under its own id; None for one that has never been cut."""
    if document.path is not None:
        from cordwainer.files import run as run_files

        return run_files.path_beside(document.path)
    own = document.data.get("id")
    return state_folder() / "runs" / f"{name_for(str(own))}.run.jsonl" if own else None


def take_along(document: Document, target: Path) -> None:
    """The runs of a job into the record beside the file it is saved as; an older file of its own keeps its own.

    Raises `InputError` where they cannot be written there.
    """
    from cordwainer.files import run as run_files

    source = run_record_of(document)
    if source is not None and source.exists():
        run_files.carry(source, run_files.path_beside(target), stays=document.path is not None)
