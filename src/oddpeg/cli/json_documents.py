"""The report that each command prints with `--json`, for the schema. No command imports this module."""

from __future__ import annotations

from oddpeg.building.report import BuildReport
from oddpeg.checking.run import CheckReport
from oddpeg.cli.compare import CompareReport
from oddpeg.cli.config import ConfigReport
from oddpeg.cli.find import FindReport
from oddpeg.cli.init import InitReport
from oddpeg.cli.outputs import OutputsReport
from oddpeg.cli.pegs import AdoptReport, ChangeReport, PegsReport, RenameReport, SettleReport
from oddpeg.diagnostics import Failure
from oddpeg.existing_fonts.inspect import InspectReport
from oddpeg.existing_fonts.repack import RepackReport
from oddpeg.lookup.use import UseReport
from oddpeg.proof.report import Proof
from oddpeg.usage.page.report import PageReport
from oddpeg.usage.report import UsageReport

DOCUMENTS: dict[str, type] = {  # by command
    "demo": BuildReport,
    "init": InitReport,
    "config": ConfigReport,
    "outputs": OutputsReport,
    "check": CheckReport,
    "build": BuildReport,
    "proof": Proof,
    "find": FindReport,
    "use": UseReport,
    "usage": UsageReport,
    "usage-page": PageReport,
    "pegs-list": PegsReport,
    "pegs-rename": RenameReport,
    "pegs-set": ChangeReport,
    "pegs-retire": ChangeReport,
    "pegs-restore": ChangeReport,
    "pegs-settle": SettleReport,
    "pegs-adopt": AdoptReport,
    "compare": CompareReport,
    "inspect": InspectReport,
    "repack": RepackReport,
    "faults": Failure,  # of any that cannot do its work
}
