package androidx.compose.ui.text

import androidx.compose.ui.text.font.FontFamily
import androidx.compose.ui.unit.TextUnit
import androidx.compose.ui.graphics.Color
class TextStyle(val fontFamily: FontFamily, val fontSize: TextUnit, val lineHeight: TextUnit, val color: Color)
