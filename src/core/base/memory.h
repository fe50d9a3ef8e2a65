// How a program of ours treats freed memory.
#pragma once

namespace evenclay {

/// Freed blocks of any size are kept for the next use instead of being given back at once: shapes of
/// about the same size are made again and again during a drag, and fresh pages cost more than the
/// work on them. Up to 256 MiB are kept. Call once, first thing in main(). Nothing without glibc.
void keep_freed_memory();

}  // namespace evenclay
