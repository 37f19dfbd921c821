"""Every kind of diagnostic there is: one registry of codes, with how serious each is."""

from __future__ import annotations

from enum import Enum
from typing import NamedTuple


class Level(Enum):
    """How serious a diagnostic is. Only the config makes one SILENT."""

    SILENT = "silent"
    INFO = "info"
    WARNING = "warning"
    ERROR = "error"

    @property
    def rank(self) -> int:
        """The place in the order of seriousness, 0 for SILENT."""
        return _RANKS[self]


_RANKS = {level: rank for rank, level in enumerate(Level)}


class Code(NamedTuple):
    """The registration of one kind of diagnostic.

    Attributes:
        level: unless a config or the place that reports it says otherwise.
        alters: a drawing that has it may look or behave differently.
        summary: the general case, in a few words.
    """

    level: Level
    alters: bool
    summary: str


_I, _W, _E = Level.INFO, Level.WARNING, Level.ERROR

# what can be found on a drawing or in an icon table; the config may set other levels
FINDING_CODES: dict[str, Code] = {
    # how the drawing is written
    "shapes-converted": Code(_I, False, "rectangles, circles and the like became paths"),
    "strokes-outlined": Code(_I, False, "strokes became filled outlines"),
    "transforms-flattened": Code(_I, False, "transforms were applied to the coordinates"),
    "styles-resolved": Code(_I, False, "style sheets and style attributes were resolved"),
    "uses-expanded": Code(_I, False, "references were replaced by what they refer to"),
    "clip-resolved": Code(_I, False, "clip paths and masks were cut out"),
    "colours-merged": Code(_I, True, "several colours became one ink"),
    "editor-data": Code(_I, False, "data that editors leave behind was dropped"),
    "empty-parts": Code(_I, False, "groups and paths with nothing in them were dropped"),
    "hidden-parts": Code(_I, False, "parts that never show were dropped"),
    "white-erases": Code(_I, True, "white was taken as an eraser"),
    "white-ink": Code(_I, False, "everything is white: white was taken as the ink"),
    "gradient": Code(_I, True, "a gradient or pattern became solid ink"),
    "no-viewbox": Code(_I, False, "there is no viewBox; width and height were taken"),
    # what could not be kept
    "partial-opacity": Code(_W, True, "partly transparent paint became solid, or nothing"),
    "text": Code(_W, True, "text was ignored"),
    "bitmap": Code(_W, True, "a bitmap was ignored"),
    "filter": Code(_W, True, "a filter was ignored"),
    "animation": Code(_W, True, "only the first frame of an animation was taken"),
    "unknown-element": Code(_W, True, "an element that is not understood was ignored"),
    "unknown-paint": Code(_W, True, "a paint that is not understood was ignored"),
    "style-rule": Code(_W, True, "a style rule that is not understood was ignored"),
    "clip-path": Code(_W, True, "a clip path that cannot be found was ignored"),
    "mask": Code(_W, True, "a mask that cannot be found was ignored"),
    "missing-reference": Code(_W, True, "a reference leads nowhere"),
    "reference-loop": Code(_W, True, "a reference leads back to itself"),
    "bad-path": Code(_W, True, "path data is wrong; what comes before the error was kept"),
    "bad-length": Code(_W, True, "a length or number that is not understood was ignored"),
    "property-ignored": Code(_W, True, "a style property that glyphs cannot show was ignored"),
    "bad-transform": Code(_W, True, "a transform is not valid and was ignored"),
    "outside-frame": Code(_W, True, "shapes reach beyond the viewBox and were cut off"),
    "beyond-frame": Code(_I, False, "widened strokes reach beyond the frame; nothing was cut off"),
    "straight-lines": Code(_W, True, "drawn with straight lines, since its curves could not be kept"),
    "overlapping": Code(_W, True, "drawn with shapes that overlap"),
    "axis-fixed": Code(_W, False, "an icon does not vary along the weight axis"),
    "no-strokes": Code(_I, False, "a face asks for other strokes, and there are none"),
    "doubtful": Code(_E, True, "the glyph differs from the drawing"),
    # colours
    "colour-unnamed": Code(_W, False, "a colour that no entry of the palette names"),
    "colour-pattern": Code(_W, False, "a pattern, which layers of colour cannot show"),
    "colour-mean": Code(_I, False, "a gradient became its mean colour"),
    "colour-opaque": Code(_W, False, "paint in the text's colour lost its opacity"),
    # how it looks
    "not-square": Code(_I, False, "the frame is not square"),
    "off-centre": Code(_I, False, "the ink lies off the middle of its frame"),
    "touches-frame": Code(_I, False, "the ink touches the edge of its frame"),
    "small": Code(_W, False, "far smaller than the other icons"),
    "large": Code(_W, False, "far larger than the other icons"),
    "stroke-unlike": Code(_W, False, "a stroke width that the other icons do not have"),
    "grid-unlike": Code(_W, False, "drawn on another grid than the other icons"),
    "off-grid": Code(_I, False, "straight edges lie between the pixels of the design size"),
    "between-pixels": Code(_I, False, "the baseline lies between the lines of the drawing's grid"),
    "many-points": Code(_W, False, "far more points than an icon needs"),
    "fine-details": Code(_I, False, "details finer than a pixel at 16 px"),
    "twin": Code(_W, False, "the same outline as another icon"),
    # faces
    "size-gap": Code(_I, False, "an icon lacks the drawing for a size that another one has"),
    "size-alone": Code(_W, False, "an icon is drawn for a small size only"),
    "face-gap": Code(_I, False, "a face lacks an icon that another one has"),
    "face-frame": Code(_W, False, "an icon's faces differ in the width of their frame"),
    "face-weights": Code(_W, False, "two faces whose weights are hard to tell apart"),
    # names
    "name-changed": Code(_I, False, "the icon is not called what its file is called"),
    "name-alike": Code(_W, False, "a name that is nearly another one"),
    "name-unlike": Code(_W, False, "a name of another pattern than the other names"),
    # what is known of the icons
    "table-unreadable": Code(_W, False, "an icon table cannot be read"),
    "table-column": Code(_W, False, "an icon table has an unknown column, or lacks the one that names icons"),
    "table-unknown-icon": Code(_W, False, "an icon table names an icon that does not exist"),
    "table-repeated-icon": Code(_W, False, "an icon table names an icon twice"),
    "alias-clash": Code(_W, False, "an alias that something else is called"),
    "no-licence": Code(_E, False, "no licence, where the config asks for one"),
}

# what leaves nothing of a drawing to use: always an error
UNUSABLE_CODES: dict[str, Code] = {
    "broken-gzip": Code(_E, False, "a compressed drawing cannot be unpacked"),
    "too-large": Code(_E, False, "a file larger than any icon"),
    "empty-file": Code(_E, False, "an empty file"),
    "broken-xml": Code(_E, False, "not well-formed XML"),
    "not-svg": Code(_E, False, "XML, but not SVG"),
    "bad-viewbox": Code(_E, False, "the viewBox is not valid"),
    "no-frame": Code(_E, False, "neither a viewBox nor a width and height"),
    "flat-frame": Code(_E, False, "a frame without area"),
    "odd-frame": Code(_E, False, "a frame that no icon can use"),
    "no-ink": Code(_E, False, "nothing is drawn inside the frame"),
    "runaway": Code(_E, False, "more elements, nesting or segments than any icon needs"),
    "tangled": Code(_E, False, "so many lines across each other that they cannot be united in reasonable time"),
    "too-wide": Code(_E, False, "wider than a glyph can be"),
    "too-many-points": Code(_E, False, "more points than a glyph can hold"),
}

PROJECT_CODES: dict[str, Code] = {
    # the config
    "config-missing": Code(_E, False, "there is no oddpeg.toml"),
    "config-exists": Code(_E, False, "there is an oddpeg.toml already"),
    "config-unreadable": Code(_E, False, "oddpeg.toml cannot be read"),
    "config-syntax": Code(_E, False, "oddpeg.toml is not valid TOML"),
    "config-unknown-key": Code(_E, False, "a key that does not exist"),
    "config-missing-key": Code(_E, False, "a key that is required is missing"),
    "config-choice": Code(_E, False, "a value that is none of the possible ones"),
    "config-value": Code(_E, False, "a value out of its limits"),
    "config-renamed": Code(_I, False, "a key of oddpeg.toml has a new name"),
    "config-type": Code(_E, False, "a value of the wrong type"),
    "drawing-unmatched": Code(_W, False, "a drawing that no pattern of the config matches"),
    "placement-kept": Code(_W, False, "other units per em or another baseline would suit the drawings"),
    "output-without-font": Code(_W, False, "an output that needs a font which its bundle does not hold"),
    "package-typescript": Code(_W, False, "a package whose code is in TypeScript only"),
    "usage-undecidable": Code(_W, False, "code computes a name, so the icon cannot be resolved"),
    "only-used": Code(_I, False, "a bundle that holds what code uses leaves out the rest"),
    "class-without-base": Code(_E, False, "code has the class of an icon without the base class"),
    "class-base-alone": Code(_E, False, "code has the base class without an icon"),
    "class-two-icons": Code(_W, False, "code has the classes of two icons on one element"),
    "class-misspelled": Code(_E, False, "code has a class that is an icon's but for its prefix"),
    "class-unknown": Code(_E, False, "code has the class of a size, colour, face or palette that is not there"),
    "family-unknown": Code(_E, False, "code names the font's family with a mistake"),
    "family-redefined": Code(_W, False, "a font face of the project gives the family another file"),
    "content-backslash": Code(_E, False, "a style sheet has a codepoint without its backslash"),
    "codepoint-unknown": Code(_E, False, "a style sheet has a codepoint that no icon has"),
    "style-override": Code(_W, False, "a rule of the project changes how icons are drawn"),
    "link-broken": Code(_E, False, "code names a delivered file where it is not"),
    "link-outdated": Code(_E, False, "code names a delivered file of an earlier build"),
    "loaded-twice": Code(_W, False, "a page loads two versions of the font"),
    "page-unreadable": Code(_E, False, "a page cannot be looked at, or there is no browser"),
    "page-no-character": Code(_E, False, "an element of a page has no character to show"),
    "page-other-character": Code(_E, False, "an element of a page shows another character than its icon's"),
    "page-other-family": Code(_E, False, "an element of a page is drawn in another family"),
    "page-fallback": Code(_E, False, "a page's icon is drawn with a fallback font, since its own did not load"),
    "page-no-glyph": Code(_E, False, "the font that a page loads has no glyph for an icon"),
    "page-no-size": Code(_E, False, "a page's icon has no area"),
    "page-same-colour": Code(_E, False, "a page's icon has the colour of its ground"),
    "page-covered": Code(_E, False, "a page's icon paints no pixel: it is covered, or moved away"),
    "page-clipped": Code(_W, False, "a part of a page's icon is clipped"),
    "page-control-unnamed": Code(_W, False, "a control of a page holds an icon only, and has no name"),
    "page-announced": Code(_W, False, "assistive technology reads out an icon's character"),
    "usage-place": Code(_E, False, "a place to look for uses that does not exist, or lies outside of the project"),
    "pattern-unmatched": Code(_W, False, "a pattern in oddpeg.toml that no icon matches"),
    "class-clash": Code(_E, False, "an icon's class is the base class, or that of a size or colour"),
    "empty-bundle": Code(_E, False, "a bundle leaves out every icon"),
    "font-rights": Code(_E, False, "the embedding rights of a font do not permit this"),
    "font-name-reserved": Code(_W, False, "a font's licence reserves its name for unmodified versions"),
    "nothing-left": Code(_E, False, "no glyph of a font matches the selection"),
    "unknown-face": Code(_E, False, "there is no face of that name"),
    "unknown-witness": Code(_E, False, "there is no renderer of that name, or it is not installed"),
    "unknown-bundle": Code(_E, False, "a bundle that does not exist"),
    "template-unreadable": Code(_E, False, "a template cannot be read"),
    "template-syntax": Code(_E, False, "a template is not valid"),
    "template-failed": Code(_E, False, "a template cannot be filled in"),
    # files and folders
    "bad-pattern": Code(_E, False, "a glob that cannot be used"),
    "no-drawings": Code(_E, False, "there are no drawings"),
    "no-name": Code(_E, False, "a file name without a letter or digit"),
    "name-not-text": Code(_E, False, "a file name that is not UTF-8"),
    "name-taken": Code(_E, False, "two files make one icon name"),
    "no-file": Code(_E, False, "a drawing's name on something that is no file of the project"),
    "file-unreadable": Code(_E, False, "a file cannot be read"),
    "folder-unreadable": Code(_E, False, "a folder cannot be listed"),
    "not-a-folder": Code(_E, False, "a folder is needed"),
    "write-failed": Code(_E, False, "a file cannot be written"),
    "file-exists": Code(_E, False, "a file is there already"),
    # building
    "project-busy": Code(_E, False, "another process is at work in the project"),
    "build-interrupted": Code(_E, False, "an earlier build was interrupted"),
    "change-incomplete": Code(_E, False, "only part of a change could be made"),
    "no-glyphs": Code(_E, False, "no drawing could become a glyph"),
    "too-many-layers": Code(_E, False, "more glyphs, layers of colour among them, than a font can hold"),
    "too-many-icons": Code(_E, False, "more icons than a font can hold"),
    "ligature-too-short": Code(_W, False, "a name of one letter cannot be typed as a ligature"),
    "renamed-drawing": Code(_E, False, "a drawing came under a new name"),
    "glyph-missing": Code(_E, False, "the font lacks an icon"),
    "no-font": Code(_E, False, "there is no finished font"),
    "journal-untrusted": Code(_W, False, "an unfinished change that was not begun here was not obeyed"),
    "internal-error": Code(_E, False, "a drawing made Odd Peg itself fail"),
    # delivery
    "state-folder": Code(_E, False, "something else stands where Odd Peg keeps its records"),
    "reserved-place": Code(_E, False, "a file would lie where nothing is ever delivered"),
    "through-link": Code(_E, False, "a file would be reached through a link"),
    "bad-place": Code(_E, False, "a file name that the file system cannot hold"),
    "same-target": Code(_E, False, "two outputs go to one file"),
    "outside-project": Code(_E, False, "a file would lie outside the project"),
    "among-drawings": Code(_E, False, "a file would lie among the drawings"),
    "folder-is-file": Code(_E, False, "a file stands where a folder is needed"),
    "file-is-folder": Code(_E, False, "a folder stands where a file is needed"),
    "foreign-file": Code(_E, False, "a file that Odd Peg did not write has the name of an output"),
    "edited-file": Code(_E, False, "a delivered file was edited since the last build"),
    "stale-edited": Code(_E, False, "a stale file was kept, since it was edited since the last build"),
    # the pegboard
    "pegboard-lost": Code(_E, False, "there is no pegboard although fonts were delivered"),
    "pegboard-link": Code(_E, False, "the pegboard is a link"),
    "pegboard-unreadable": Code(_E, False, "the pegboard cannot be read"),
    "peg-syntax": Code(_E, False, "a line of the pegboard is not icon,codepoint,state"),
    "peg-twice": Code(_E, False, "duplicate icon in the pegboard"),
    "codepoint-clash": Code(_E, False, "two icons hold one codepoint"),
    "orphan-alias": Code(_E, False, "an alias of a codepoint that no icon holds"),
    "conflict-marker": Code(_E, False, "a file holds the conflict of a merge"),
    "bad-codepoint": Code(_E, False, "not a codepoint"),
    "unsafe-codepoint": Code(_E, False, "a codepoint that cannot carry an icon"),
    "bad-state": Code(_E, False, "not a state of a peg"),
    "alias-drawing": Code(_E, False, "a drawing has the name of an alias"),
    "codepoints-used-up": Code(_E, False, "no codepoint is free"),
    "unknown-peg": Code(_E, False, "the pegboard holds no such icon"),
    "peg-is-alias": Code(_E, False, "only an alias"),
    "peg-name-taken": Code(_E, False, "a name that another peg has"),
    "codepoint-taken": Code(_E, False, "a codepoint that another icon holds"),
    "codepoint-delivered": Code(_E, False, "an icon that was delivered would move"),
    "two-drawings": Code(_E, False, "drawings of both names"),
    "drawing-elsewhere": Code(_E, False, "a drawing that cannot be renamed from here"),
    "drawing-gone": Code(_E, False, "the drawing is gone"),
    "folder-in-name": Code(_E, False, "a name that the drawing's folder forbids"),
    "history-unknown": Code(_E, False, "the git history does not show which icon was delivered first"),
    # other files, and how commands are used
    "map-unreadable": Code(_E, False, "a font or map cannot be understood"),
    "map-empty": Code(_E, False, "a font or map without names and codepoints"),
    "map-nameless": Code(_E, False, "a font or map with codepoints, but without names"),
    "not-comparable": Code(_E, False, "nothing that can be compared"),
    "bad-map": Code(_E, False, "not a glyph map"),
    "bad-font": Code(_E, False, "not a sound font"),
    "unknown-icon": Code(_E, False, "an icon that does not exist"),
    "unknown-place": Code(_E, False, "a place that no bundle serves"),
    "unknown-platform": Code(_E, False, "a platform that `init` has no bundle for"),
    "bad-option": Code(_E, False, "an option with an impossible value"),
    "bad-environment": Code(_E, False, "an environment variable with an impossible value"),
    "bad-name": Code(_E, False, "not a name as icons have them"),
    "no-specimen": Code(_E, False, "no bundle has a specimen"),
    "port-taken": Code(_E, False, "a port that cannot be listened on"),
}

CODES: dict[str, Code] = {**FINDING_CODES, **UNUSABLE_CODES, **PROJECT_CODES}
