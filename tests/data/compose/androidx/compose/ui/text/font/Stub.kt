package androidx.compose.ui.text.font

class Font(val id: Int)
class FontFamily(vararg fonts: Font)
