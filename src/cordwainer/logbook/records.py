"""The tables of the logbook. Snapshots of hole and plan are kept as they were: no migration recomputes history."""

from __future__ import annotations

from typing import Any

from sqlalchemy import JSON, Float, ForeignKey, Index, Integer, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship


class Base(DeclarativeBase):
    """All tables."""

    type_annotation_map = {dict[str, Any]: JSON}  # noqa: RUF012


class HoleMade(Base):
    """One hole of one part. Lengths in mm; times ISO 8601; `removed` rows are struck through, never deleted."""

    __tablename__ = "hole"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    job_id: Mapped[str] = mapped_column(String(64), default="")
    job: Mapped[str] = mapped_column(String(200), default="")
    name: Mapped[str] = mapped_column(String(80), default="")
    number: Mapped[int] = mapped_column(Integer, default=1)
    material: Mapped[str] = mapped_column(String(60), default="")
    machine: Mapped[str] = mapped_column(String(60), default="")
    nominal_mm: Mapped[float | None] = mapped_column(Float, default=None)
    lower_mm: Mapped[float | None] = mapped_column(Float, default=None)
    upper_mm: Mapped[float | None] = mapped_column(Float, default=None)
    begun: Mapped[str] = mapped_column(String(40), default="")
    ended: Mapped[str] = mapped_column(String(40), default="")
    state: Mapped[str] = mapped_column(String(12), default="begun")
    verdict: Mapped[str] = mapped_column(String(12), default="")
    cause: Mapped[str] = mapped_column(String(60), default="")
    snapshot: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    removed: Mapped[str] = mapped_column(String(40), default="")
    operations: Mapped[list[OperationDone]] = relationship(
        back_populates="hole", cascade="all, delete-orphan", order_by="OperationDone.place"
    )
    readings: Mapped[list[ReadingTaken]] = relationship(back_populates="hole", cascade="all, delete-orphan")
    evidence: Mapped[list[Seen]] = relationship(back_populates="hole", cascade="all, delete-orphan")
    diagnoses: Mapped[list[Diagnosed]] = relationship(
        back_populates="hole", cascade="all, delete-orphan", order_by="Diagnosed.id"
    )


class OperationDone(Base):
    """One operation of a hole as it was carried out. `left_mm` is what was measured after it, where it was."""

    __tablename__ = "operation"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    hole_id: Mapped[str] = mapped_column(ForeignKey("hole.id", ondelete="CASCADE"))
    place: Mapped[int] = mapped_column(Integer)
    kind: Mapped[str] = mapped_column(String(20))
    role: Mapped[str] = mapped_column(String(20), default="")
    tool_id: Mapped[str] = mapped_column(String(64), default="")
    tool: Mapped[str] = mapped_column(String(120), default="")
    diameter_mm: Mapped[float | None] = mapped_column(Float, default=None)
    previous_mm: Mapped[float] = mapped_column(Float, default=0.0)
    rpm: Mapped[float | None] = mapped_column(Float, default=None)
    minutes: Mapped[float | None] = mapped_column(Float, default=None)
    state: Mapped[str] = mapped_column(String(12), default="done")
    reason: Mapped[str] = mapped_column(Text, default="")
    left_mm: Mapped[float | None] = mapped_column(Float, default=None)
    hole: Mapped[HoleMade] = relationship(back_populates="operations")


class ReadingTaken(Base):
    """One reading of a hole, corrected to 20 °C and for its gauge."""

    __tablename__ = "reading"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    hole_id: Mapped[str] = mapped_column(ForeignKey("hole.id", ondelete="CASCADE"))
    depth_mm: Mapped[float] = mapped_column(Float)
    direction_deg: Mapped[float] = mapped_column(Float, default=0.0)
    size_mm: Mapped[float] = mapped_column(Float)
    corrected_mm: Mapped[float] = mapped_column(Float)
    gauge: Mapped[str] = mapped_column(String(60), default="")
    hole: Mapped[HoleMade] = relationship(back_populates="readings")


class Seen(Base):
    """One thing seen, heard, felt or answered about a hole."""

    __tablename__ = "evidence"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    hole_id: Mapped[str] = mapped_column(ForeignKey("hole.id", ondelete="CASCADE"))
    question: Mapped[str] = mapped_column(String(60))
    answer: Mapped[str] = mapped_column(String(60))
    hole: Mapped[HoleMade] = relationship(back_populates="evidence")


class Diagnosed(Base):
    """What was made of a hole: the causes by chance as they stood, and, where somebody found it, the true one."""

    __tablename__ = "diagnosis"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    hole_id: Mapped[str] = mapped_column(ForeignKey("hole.id", ondelete="CASCADE"))
    at: Mapped[str] = mapped_column(String(40))
    leading: Mapped[str] = mapped_column(String(60))
    confirmed: Mapped[str] = mapped_column(String(60), default="")
    ranking: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    hole: Mapped[HoleMade] = relationship(back_populates="diagnoses")


class Regrind(Base):
    """A tool reground: learning about it starts again, with what was known counting for little."""

    __tablename__ = "regrind"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    tool_id: Mapped[str] = mapped_column(String(64))
    at: Mapped[str] = mapped_column(String(40))
    how: Mapped[str] = mapped_column(Text, default="")


Index("hole_of_job", HoleMade.job_id)
Index("hole_begun", HoleMade.begun)
Index("operation_of_hole", OperationDone.hole_id)
Index("operation_of_tool", OperationDone.tool_id)
Index("reading_of_hole", ReadingTaken.hole_id)
Index("evidence_of_hole", Seen.hole_id)
Index("diagnosis_of_hole", Diagnosed.hole_id)
Index("regrind_of_tool", Regrind.tool_id)

TABLES = (HoleMade, OperationDone, ReadingTaken, Seen, Diagnosed, Regrind)
