"""The tune as data: lists for programs, cells for small sound boards, and what a board would make of them."""
