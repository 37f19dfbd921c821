package androidx.compose.ui.draw

import androidx.compose.ui.Modifier
fun Modifier.scale(x: Float, y: Float): Modifier = this
