package androidx.compose.ui.unit

enum class LayoutDirection { Ltr, Rtl }
class TextUnit(val value: Int)
val Int.sp: TextUnit get() = TextUnit(this)
