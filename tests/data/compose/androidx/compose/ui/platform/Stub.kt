package androidx.compose.ui.platform

import androidx.compose.runtime.Local
import androidx.compose.ui.unit.LayoutDirection
val LocalLayoutDirection = Local(LayoutDirection.Ltr)
