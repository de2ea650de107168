"""Where the run record of a job lies."""

from __future__ import annotations

from pathlib import Path

from cordwainer.files import run as run_files
from cordwainer.files.places import state_folder
from cordwainer.ui.desk.document import Document


def run_record_of(document: Document) -> Path | None:
    """Beside the job's file, else in the state folder under its own id; None for one that has never been cut."""
    if document.path is not None:
        return run_files.path_beside(document.path)
    own = document.data.get("id")
    return state_folder() / "runs" / f"{Path(str(own)).name}.run.jsonl" if own else None
