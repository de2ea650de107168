"""The program's tables against second tables of the same standards and handbooks, kept beside the tests."""

from __future__ import annotations

import csv
from pathlib import Path

import pytest

from cordwainer.core.planning.words.capable import processes
from cordwainer.core.shop.makers import drill_lengths
from cordwainer.core.shop.material import material

PUBLISHED = Path(__file__).parents[2] / "data" / "published"


def table(name: str) -> list[dict[str, str]]:
    with (PUBLISHED / f"{name}.csv").open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file))


def test_drill_lengths() -> None:
    # ISO 235 jobber and stub series, taper shank series: 137 sizes, row by row
    for row in table("drill_lengths"):
        series = {"taper_shank": "taper shank"}.get(row["series"], row["series"])
        expected = (float(row["flute_length_mm"]), float(row["overall_length_mm"]))
        assert drill_lengths(series, float(row["diameter_mm"])) == expected, row


@pytest.mark.parametrize(
    ("name", "identifier"),
    # Machinery's Handbook, work-material factor of drilling with a sharp drill
    [
        ("steel 200 HB", "medium_carbon_steel"),
        ("resulfurized", "free_machining_steel"),
        ("cast iron 150 HB", "cast_iron_gray"),
        ("most aluminum", "aluminum_wrought"),
        ("most magnesium", "magnesium_alloy"),
        ("most brasses", "bronze"),
        ("leaded brass", "brass_free_machining"),
        ("austenitic stainless", "stainless_austenitic"),
        ("titanium", "titanium_alloy"),
        ("nickel-base", "nickel_alloy"),
    ],
)
def test_force_factors(name: str, identifier: str) -> None:
    row = next(row for row in table("drill_force_kd") if row["work_material"].startswith(name))
    known = material(identifier)
    assert (known.kd_torque, known.kd_thrust) == (float(row["Kd_torque"]), float(row["Kd_thrust"]))


@pytest.mark.parametrize(
    ("name", "hardness", "identifier"),
    # Machinery's Handbook, drilling and reaming speeds with high-speed steel
    [
        ("plain carbon free-machining", "150-200", "free_machining_steel"),
        ("plain carbon 1006", "125-175", "low_carbon_steel"),
        ("plain carbon 1030", "175-225", "medium_carbon_steel"),
        ("alloy 4130", "175-225", "alloy_steel_annealed"),
        ("alloy 4130", "275-325", "alloy_steel_hardened"),
        ("cold-work", "200-250", "tool_steel_annealed"),
        ("stainless austenitic 304", "135-185", "stainless_austenitic"),
        ("gray cast iron class 20", "120-150", "cast_iron_gray"),
        ("gray cast iron class 45", "220-260", "cast_iron_hard"),
        ("copper alloys group 1", "", "brass_free_machining"),
        ("copper alloys group 3", "", "copper"),
    ],
)
def test_speeds_hold_the_handbooks(name: str, hardness: str, identifier: str) -> None:
    rows = table("cutting_speeds_handbook_hss_fpm")
    row = next(r for r in rows if r["material"].startswith(name) and r["hardness_bhn"] == hardness)
    known = material(identifier).speeds
    for column, operation in (("hss_drill_ft_min", "hss_drill"), ("hss_ream_ft_min", "hss_ream")):
        meters = float(row[column]) * 0.3048
        band = known[operation]
        assert 0.9 * band.low <= meters <= 1.1 * band.high, (operation, meters, band)


def test_tolerance_grades_of_processes() -> None:
    # Machinery's Handbook, relation of machining processes to tolerance grades
    ours = {p.name: (p.best_it, p.worst_it) for p in processes()}
    for theirs, name in (
        ("drilling", "twist drilling"), ("reaming", "machine reaming"), ("boring", "boring"),
        ("broaching", "broaching"), ("cylindrical grinding", "internal grinding"), ("punching", "punching"),
    ):  # fmt: skip
        row = next(r for r in table("process_it_handbook") if r["process"] == theirs)
        assert ours[name] == (int(row["it_best"]), int(row["it_worst"]))
