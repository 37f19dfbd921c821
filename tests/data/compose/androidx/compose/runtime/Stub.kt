package androidx.compose.runtime

@Target(AnnotationTarget.FUNCTION, AnnotationTarget.TYPE) annotation class Composable
class Local<T>(val current: T)
