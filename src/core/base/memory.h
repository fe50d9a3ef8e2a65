// How a program of ours treats memory, fresh and freed.
#pragma once

#include <cstddef>
#include <vector>

namespace evenclay {

/// Freed blocks of any size are kept for the next use instead of being given back at once: shapes of
/// about the same size are made again and again during a drag, and fresh pages cost more than the
/// work on them. Up to 256 MiB are kept. Call once, first thing in main(). Nothing without glibc.
void keep_freed_memory();

/// Asks the system for large pages under memory that has not been written yet. Does nothing where there are none, or below a few
/// of them.
void want_large_pages(void* begin, std::size_t bytes);

/// Reserves room for `count` values in all that are to be written soon. Of a million places most of the time is the system's,
/// making small pages one by one.
template <typename T>
void make_room(std::vector<T>& values, std::size_t count) {
  if (count <= values.capacity()) return;
  values.reserve(count);
  want_large_pages(static_cast<void*>(values.data() + values.size()),
                   (values.capacity() - values.size()) * sizeof(T));
}

}  // namespace evenclay
