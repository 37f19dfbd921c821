"""Stand-ins for the few types of the Compose libraries that generated code uses, so that it compiles without them."""

from __future__ import annotations

from support.project import ProjectFolder

STUBS = {
    "androidx/compose/foundation/text/stub.kt": "import androidx.compose.runtime.Composable\nimport"
    " androidx.compose.ui.Modifier\nimport androidx.compose.ui.text.TextStyle\n@Composable fun BasicText(text: String,"
    " modifier: Modifier, style: TextStyle) {}",
    "androidx/compose/runtime/stub.kt": "@Target(AnnotationTarget.FUNCTION, AnnotationTarget.TYPE) annotation class"
    " Composable\nclass Local<T>(val current: T)",
    "androidx/compose/ui/stub.kt": "interface Modifier { companion object : Modifier }",
    "androidx/compose/ui/draw/stub.kt": "import androidx.compose.ui.Modifier\nfun Modifier.scale(x: Float, y: Float):"
    " Modifier = this",
    "androidx/compose/ui/graphics/stub.kt": "class Color { companion object { val Unspecified = Color() } }",
    "androidx/compose/ui/platform/stub.kt": "import androidx.compose.runtime.Local\nimport"
    " androidx.compose.ui.unit.LayoutDirection\nval LocalLayoutDirection = Local(LayoutDirection.Ltr)",
    "androidx/compose/ui/semantics/stub.kt": "import androidx.compose.ui.Modifier\nclass Receiver { var"
    ' described: String? = null }\nvar Receiver.contentDescription: String\n  get() = described ?: ""\n  set(value) {'
    " described = value }\nfun Modifier.clearAndSetSemantics(block: Receiver.() -> Unit): Modifier = this",
    "androidx/compose/ui/text/stub.kt": "import androidx.compose.ui.text.font.FontFamily\nimport"
    " androidx.compose.ui.unit.TextUnit\nimport androidx.compose.ui.graphics.Color\nclass TextStyle(val fontFamily:"
    " FontFamily, val fontSize: TextUnit, val lineHeight: TextUnit, val color: Color)",
    "androidx/compose/ui/text/font/stub.kt": "class Font(val id: Int)\nclass FontFamily(vararg fonts: Font)",
    "androidx/compose/ui/unit/stub.kt": "enum class LayoutDirection { Ltr, Rtl }\nclass TextUnit(val value: Int)\nval"
    " Int.sp: TextUnit get() = TextUnit(this)",
}


def write_stubs(project: ProjectFolder, package: str, font: str) -> list[str]:
    """Write the stand-ins into a project, with the class of resources that an app has; return the files. font: the
    resource's name."""
    files = ["R.kt"]
    project.write("R.kt", f"package {package}\nobject R {{ object font {{ const val {font} = 1 }} }}\n")
    for path, stub in STUBS.items():
        package = path.rpartition("/")[0].replace("/", ".")
        (project.root / path).parent.mkdir(parents=True, exist_ok=True)
        project.write(path, f"package {package}\n{stub}\n")
        files.append(path)
    return files
