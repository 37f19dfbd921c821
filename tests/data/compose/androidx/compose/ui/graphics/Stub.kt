package androidx.compose.ui.graphics

class Color { companion object { val Unspecified = Color() } }
