// Reading and writing .evenclay files.
#pragma once

#include <filesystem>
#include <functional>
#include <string_view>

#include "core/document/project_json.h"

namespace evenclay {

/// Writes the zip container beside the file, syncs it, and renames it into place: a crash leaves
/// the old file or the new one, never half of one. Throws FileError.
void save_project(const Document& document, const std::filesystem::path& file);

/// Reads a .evenclay file or a bare project.json. At most 256 MiB of text are unpacked, whatever
/// the container claims. Throws FileError with a sentence for missing, truncated, foreign and
/// hostile files.
Document open_project(const std::filesystem::path& file, const OperationMaker& make);

/// Replaces the file by the bytes, in the same atomic way. Throws FileError.
void write_atomically(const std::filesystem::path& file, std::string_view bytes);
/// … by pieces that are made one after the other until one is empty, so that a large file needs little memory. What
/// `next` throws comes out, and nothing of the new file stays.
using Pieces = std::function<std::string_view()>;
void write_atomically(const std::filesystem::path& file, const Pieces& next);
/// Files that belong together: none is changed unless all could be written beside.
struct FileBytes {
  std::filesystem::path file;
  std::string_view bytes;
};
void write_together(std::span<const FileBytes> files);

}  // namespace evenclay
