"""The demo jobs that ship with the program, by file, in words."""

DEMO_DRAWINGS = {"skiver_arm.pdf": "A drawing to be read: skiver arm (PDF)", "skiver_arm.dxf": "The same as DXF"}
DEMOS = {
    "demo.job.json": "Skiver rebuild, presser arm (mm, lathe)",
    "demo_strap.job.json": "Strap cutter, roller bracket (in, mill)",
    "demo_splitter.job.json": "Band splitter, roll housing (mm, lathe)",
    "demo_clicker.job.json": "Clicker press, guide plate (mm, drill press)",
}
