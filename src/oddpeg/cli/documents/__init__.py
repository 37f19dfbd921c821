"""What `--json` prints, as types: commands are checked against them, and the JSON Schema of the documents is made of
them. Nothing here is loaded when a command runs."""

from __future__ import annotations

from oddpeg.cli.documents.build import BuildDocument, CheckDocument, FaultsDocument, ProofDocument
from oddpeg.cli.documents.fonts import InspectDocument, RepackDocument
from oddpeg.cli.documents.maintain import (
    AdoptDocument,
    CompareDocument,
    ConfigDocument,
    InitDocument,
    OutputsDocument,
    PegsChangeDocument,
    PegsDocument,
    RenameDocument,
    SettleDocument,
)
from oddpeg.cli.documents.use import FindDocument, UsageDocument, UseDocument

DOCUMENTS: dict[str, type] = {  # by command
    "demo": BuildDocument,
    "init": InitDocument,
    "config": ConfigDocument,
    "outputs": OutputsDocument,
    "check": CheckDocument,
    "build": BuildDocument,
    "proof": ProofDocument,
    "find": FindDocument,
    "use": UseDocument,
    "usage": UsageDocument,
    "pegs-list": PegsDocument,
    "pegs-rename": RenameDocument,
    "pegs-retire": PegsChangeDocument,
    "pegs-restore": PegsChangeDocument,
    "pegs-settle": SettleDocument,
    "pegs-adopt": AdoptDocument,
    "compare": CompareDocument,
    "inspect": InspectDocument,
    "repack": RepackDocument,
    "faults": FaultsDocument,  # of any that cannot do its work
}
