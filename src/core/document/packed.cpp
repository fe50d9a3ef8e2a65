#include "core/document/packed.h"

#include <zip.h>

#include <memory>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

struct DiscardZip {
  void operator()(zip_t* z) const { zip_discard(z); }
};
struct FreeSource {
  void operator()(zip_source_t* s) const { zip_source_free(s); }
};

}  // namespace

std::string packed(const std::vector<std::pair<std::string, std::string_view>>& entries) {
  zip_error_t error;
  zip_error_init(&error);
  std::unique_ptr<zip_source_t, FreeSource> memory(zip_source_buffer_create(nullptr, 0, 0, &error));
  if (!memory) throw FileError(say("There is not enough memory to pack the file."));
  zip_source_keep(memory.get());
  std::unique_ptr<zip_t, DiscardZip> archive(
      zip_open_from_source(memory.get(), ZIP_TRUNCATE, &error));
  if (!archive) throw FileError(say("The file cannot be packed."));
  for (const auto& [name, bytes] : entries) {
    zip_source_t* content = zip_source_buffer(archive.get(), bytes.data(), bytes.size(), 0);
    const auto index = zip_file_add(archive.get(), name.c_str(), content, ZIP_FL_ENC_UTF_8);
    if (index < 0) throw FileError(say("The file cannot be packed."));
    // A fixed time keeps equal contents equal byte for byte.
    zip_file_set_mtime(archive.get(), static_cast<zip_uint64_t>(index), 1577836800, 0);
  }
  if (zip_close(archive.release()) != 0) throw FileError(say("The file cannot be packed."));
  zip_source_open(memory.get());
  zip_source_seek(memory.get(), 0, SEEK_END);
  std::string bytes(static_cast<std::size_t>(zip_source_tell(memory.get())), '\0');
  zip_source_seek(memory.get(), 0, SEEK_SET);
  zip_source_read(memory.get(), bytes.data(), bytes.size());
  zip_source_close(memory.get());
  return bytes;
}

}  // namespace evenclay
