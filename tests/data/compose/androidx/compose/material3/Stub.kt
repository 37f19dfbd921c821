package androidx.compose.material3

import androidx.compose.runtime.Local
import androidx.compose.ui.graphics.Color
val LocalContentColor = Local(Color.Unspecified)
