if (free) { moor(); }
if (late) {
  sail();
}
