package androidx.compose.ui.semantics

import androidx.compose.ui.Modifier
class Receiver { var described: String? = null }
var Receiver.contentDescription: String
  get() = described ?: ""
  set(value) { described = value }
fun Modifier.clearAndSetSemantics(block: Receiver.() -> Unit): Modifier = this
enum class Role { Image }
var Receiver.role: Role
  get() = Role.Image
  set(value) { described = value.name }
