"""The tables of the logbook. Snapshots of hole and plan are kept as they were: no migration recomputes history."""

from __future__ import annotations

from typing import Any

from sqlalchemy import JSON, BigInteger, Float, ForeignKey, Index, Integer, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

STRUCK = "struck"


class Base(DeclarativeBase):
    """All tables."""

    type_annotation_map = {dict[str, Any]: JSON}  # noqa: RUF012


class HoleMade(Base):
    """One hole of one part. Lengths in mm; times ISO 8601; `removed` rows are struck through, never deleted.

    `version` rises with every change, so that two benches at one hole do not write over each other unseen.
    """

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
    version: Mapped[int] = mapped_column(Integer, default=1)
    operations: Mapped[list[OperationDone]] = relationship(
        primaryjoin=f"and_(HoleMade.id == OperationDone.hole_id, OperationDone.state != '{STRUCK}')",
        back_populates="hole",
        cascade="all",
        order_by="OperationDone.place",
    )
    readings: Mapped[list[ReadingTaken]] = relationship(
        primaryjoin="and_(HoleMade.id == ReadingTaken.hole_id, ReadingTaken.struck == 0)",
        back_populates="hole",
        cascade="all",
        order_by="ReadingTaken.id",
    )
    evidence: Mapped[list[Seen]] = relationship(back_populates="hole", cascade="all, delete-orphan")
    diagnoses: Mapped[list[Diagnosed]] = relationship(
        back_populates="hole", cascade="all, delete-orphan", order_by="Diagnosed.id"
    )


class OperationDone(Base):
    """One operation of a hole as it was carried out. `left_mm` is what was measured after it, where it was.

    One that a later record of the hole no longer has is `struck` and names no tool; nothing is deleted.
    """

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
    struck: Mapped[int] = mapped_column(Integer, default=0)
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


class CribKept(Base):
    """The shop of a server: its file as it was begun with, and the notes on its crib."""

    __tablename__ = "crib"

    shop: Mapped[str] = mapped_column(String(200), primary_key=True)
    version: Mapped[int] = mapped_column(Integer, default=1)
    base: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    notes: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)


class Waiting(Base):
    """One deed that a bench still owes the server, in the order it was done; `trouble` is why it was not taken."""

    __tablename__ = "waiting"

    place: Mapped[int] = mapped_column(Integer, primary_key=True)
    id: Mapped[str] = mapped_column(String(40), unique=True)
    at: Mapped[str] = mapped_column(String(40))
    what: Mapped[str] = mapped_column(String(20))
    key: Mapped[str] = mapped_column(String(200))
    data: Mapped[dict[str, Any]] = mapped_column(JSON)
    trouble: Mapped[str] = mapped_column(Text, default="")


class Taken(Base):
    """A deed the server has taken in: sent again, it changes nothing."""

    __tablename__ = "taken"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    bench: Mapped[str] = mapped_column(String(80))
    at: Mapped[str] = mapped_column(String(40))


class Changed(Base):
    """What was changed on the server, in the order it was; `copy` is the bench's copy that sent it."""

    __tablename__ = "change"

    place: Mapped[int] = mapped_column(Integer, primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    key: Mapped[str] = mapped_column(String(200))
    bench: Mapped[str] = mapped_column(String(80))
    copy: Mapped[str] = mapped_column(String(40))
    at: Mapped[str] = mapped_column(String(40))


class Standing(Base):
    """How far a bench's copy has come, by name."""

    __tablename__ = "standing"

    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    value: Mapped[str] = mapped_column(Text)


class Trained(Base):
    """One exercise of a learner, of this bench alone; `causes` with commas between, `minutes` spent."""

    __tablename__ = "trained"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    learner: Mapped[str] = mapped_column(String(80))
    lesson: Mapped[str] = mapped_column(String(80))
    seed: Mapped[int] = mapped_column(BigInteger)
    setting: Mapped[str] = mapped_column(String(60))
    causes: Mapped[str] = mapped_column(String(200))
    at: Mapped[str] = mapped_column(String(40))
    right: Mapped[int] = mapped_column(Integer)
    points: Mapped[float] = mapped_column(Float)
    minutes: Mapped[float] = mapped_column(Float)


Index("hole_of_job", HoleMade.job_id)
Index("hole_begun", HoleMade.begun)
Index("operation_of_hole", OperationDone.hole_id)
Index("operation_of_tool", OperationDone.tool_id)
Index("operation_of_tool_name", OperationDone.tool)
Index("reading_of_hole", ReadingTaken.hole_id)
Index("evidence_of_hole", Seen.hole_id)
Index("diagnosis_of_hole", Diagnosed.hole_id)
Index("regrind_of_tool", Regrind.tool_id)

TABLES = (HoleMade, OperationDone, ReadingTaken, Seen, Diagnosed, Regrind)
