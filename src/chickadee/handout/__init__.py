"""Pages made from a tune, worked out in millimetres as plain shapes and words, without Qt."""
