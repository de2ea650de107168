"""The demo jobs that ship with the program, by file, in words."""

from cordwainer.core.language import tr

DEMO_DRAWINGS = {
    "skiver_arm.pdf": tr("A drawing to be read: skiver arm (PDF)"),
    "skiver_arm.dxf": tr("The same as DXF"),
}
DEMOS = {
    "demo.job.json": tr("Skiver rebuild, presser arm (mm, lathe)"),
    "demo_strap.job.json": tr("Strap cutter, roller bracket (in, mill)"),
    "demo_splitter.job.json": tr("Band splitter, roll housing (mm, lathe)"),
    "demo_clicker.job.json": tr("Clicker press, guide plate (mm, drill press)"),
}
