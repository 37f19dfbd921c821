package androidx.compose.foundation.text

import androidx.compose.runtime.Composable
import androidx.compose.ui.Modifier
import androidx.compose.ui.text.TextStyle
@Composable fun BasicText(text: String, modifier: Modifier, style: TextStyle) {}
