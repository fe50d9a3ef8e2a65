#include "core/document/project_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>
#include <zip.h>

#include <atomic>
#include <cstring>
#include <fstream>
#include <memory>
#include <utility>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/packed.h"

namespace evenclay {

namespace {

constexpr std::uint64_t kMostText = 256ULL << 20;
constexpr const char* kEntry = "project.json";

struct CloseZip {
  void operator()(zip_t* z) const { zip_discard(z); }
};
struct CloseEntry {
  void operator()(zip_file_t* f) const { zip_fclose(f); }
};
struct FreeSource {
  void operator()(zip_source_t* s) const { zip_source_free(s); }
};

[[noreturn]] void cannot_write(const std::filesystem::path& file, const std::string& why) {
  throw FileError(say("{} cannot be written: {}.", file.string(), why));
}

// Packs the text in memory; the bytes are then written atomically like any file.
std::string packed_project(const std::string& text,
                           const std::map<std::string, FileAttachment>& files) {
  std::vector<std::pair<std::string, std::string_view>> entries{{kEntry, text}};
  for (const auto& [name, file] : files) entries.emplace_back(name, *file.bytes);
  return packed(entries);
}

std::string read_plain(const std::filesystem::path& file) {
  std::error_code error;
  const auto size = std::filesystem::file_size(file, error);
  if (error || size > kMostText)
    throw FileError(say("{} is too large to be an Even Clay project.", file.string()));
  std::ifstream in(file, std::ios::binary);
  std::string text(size, '\0');
  in.read(text.data(), static_cast<std::streamsize>(size));
  if (!in) throw FileError(say("{} cannot be read.", file.string()));
  return text;
}

using Archive = std::unique_ptr<zip_t, CloseZip>;

Archive opened_archive(const std::filesystem::path& file) {
  int code = 0;
  Archive archive(zip_open(file.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &code));
  if (!archive)
    throw FileError(say(
        "{} is not a complete Even Clay project: the container is damaged or breaks off. Open a "
        "saved or recovery copy instead.",
        file.string()));
  return archive;
}

std::string unpacked(zip_t* archive, const std::string& name, const std::filesystem::path& file) {
  zip_stat_t stat;
  if (zip_stat(archive, name.c_str(), 0, &stat) != 0)
    throw FileError(
        say("{} is not a whole Even Clay project: it holds no {}.", file.string(), name));
  if (stat.size > kMostText)
    throw FileError(say("{} would unpack to more than any Even Clay project ({} MiB).",
                        file.string(), stat.size >> 20));
  const std::unique_ptr<zip_file_t, CloseEntry> entry(zip_fopen(archive, name.c_str(), 0));
  if (!entry) throw FileError(say("{} cannot be unpacked.", file.string()));
  // The stated size is not trusted: reading stops at the bound whatever comes.
  std::string text;
  std::string block(1 << 20, '\0');
  for (;;) {
    const auto n = zip_fread(entry.get(), block.data(), block.size());
    if (n < 0) throw FileError(say("{} is damaged: it cannot be unpacked.", file.string()));
    if (n == 0) return text;
    text.append(block, 0, static_cast<std::size_t>(n));
    if (text.size() > kMostText)
      throw FileError(say("{} would unpack to more than any Even Clay project.", file.string()));
  }
}

// Only what a project writes itself: no way out of its folder.
void check_stored_name(const std::string& name) {
  const bool plain = name.starts_with("files/") && name.find("..") == std::string::npos &&
                     name.find('/', 6) == std::string::npos && name.size() < 200;
  if (!plain) throw FileError(say("The project names an attached file that cannot be its own."));
}

}  // namespace

void write_atomically(const std::filesystem::path& file, std::string_view bytes) {
  write_atomically(file, [&] { return std::exchange(bytes, {}); });
}

namespace {

// The bytes beside the file, safely on the disk; gives its name.
std::filesystem::path written_beside(const std::filesystem::path& file, const Pieces& next) {
  // Two writers of one process must not share the file beside.
  static std::atomic<unsigned> number{0};
  const std::filesystem::path beside =
      file.string() + fmt::format(".{}-{}.part", getpid(), number.fetch_add(1));
  const int fd = ::open(beside.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
  if (fd < 0) cannot_write(file, std::strerror(errno));
  const auto give_up = [&](int error) {
    ::close(fd);
    ::unlink(beside.c_str());
    cannot_write(file, std::strerror(error));
  };
  const auto piece = [&] {
    try {
      return next();
    } catch (...) {
      ::close(fd);
      ::unlink(beside.c_str());
      throw;
    }
  };
  for (std::string_view bytes = piece(); !bytes.empty(); bytes = piece())
    for (std::size_t done = 0; done < bytes.size();) {
      const auto n = ::write(fd, bytes.data() + done, bytes.size() - done);
      if (n < 0 && errno == EINTR) continue;
      if (n < 0) give_up(errno);
      done += static_cast<std::size_t>(n);
    }
  if (::fsync(fd) != 0) give_up(errno);
  ::close(fd);
  return beside;
}

void put_in_place(const std::filesystem::path& beside, const std::filesystem::path& file) {
  std::error_code error;
  std::filesystem::rename(beside, file, error);
  if (error) {
    ::unlink(beside.c_str());
    cannot_write(file, error.message());
  }
}

}  // namespace

void write_atomically(const std::filesystem::path& file, const Pieces& next) {
  put_in_place(written_beside(file, next), file);
}

void write_together(std::span<const FileBytes> files) {
  std::vector<std::filesystem::path> beside;
  try {
    for (const FileBytes& f : files) {
      std::string_view bytes = f.bytes;
      beside.push_back(written_beside(f.file, [&] { return std::exchange(bytes, {}); }));
    }
  } catch (...) {
    for (const auto& b : beside) ::unlink(b.c_str());
    throw;
  }
  for (std::size_t k = 0; k < files.size(); ++k) put_in_place(beside[k], files[k].file);
}

void save_project(const Document& document, const std::filesystem::path& file) {
  const std::string text = to_project_json(document);
  const std::map<std::string, FileAttachment> files = attachments(document);
  if (file.extension() != ".json") {
    write_atomically(file, packed_project(text, files));
    return;
  }
  // Beside a bare project.json the files lie in a folder of their own.
  for (const auto& [name, attached] : files) {
    const std::filesystem::path stored = file.parent_path() / name;
    std::error_code error;
    std::filesystem::create_directories(stored.parent_path(), error);
    if (!std::filesystem::exists(stored, error)) write_atomically(stored, *attached.bytes);
  }
  write_atomically(file, text);
}

Document open_project(const std::filesystem::path& file, const OperationMaker& make) {
  std::ifstream in(file, std::ios::binary);
  std::error_code error;
  if (!in || std::filesystem::is_directory(file, error))
    throw FileError(
        say("{} cannot be read: there is no such file, or it is not yours.", file.string()));
  char magic[2] = {};
  in.read(magic, 2);
  const bool zipped = in && magic[0] == 'P' && magic[1] == 'K';
  in.close();
  try {
    if (!zipped) {
      const StoredFiles beside = [&](const std::string& name) {
        check_stored_name(name);
        return read_attachment((file.parent_path() / name).string()).bytes;
      };
      return from_project_json(read_plain(file), make, &beside);
    }
    const Archive archive = opened_archive(file);
    std::map<std::string, std::shared_ptr<const std::string>> known;
    const StoredFiles inside = [&](const std::string& name) {
      check_stored_name(name);
      auto& bytes = known[name];
      if (!bytes) bytes = std::make_shared<const std::string>(unpacked(archive.get(), name, file));
      return bytes;
    };
    return from_project_json(unpacked(archive.get(), kEntry, file), make, &inside);
  } catch (const std::bad_alloc&) {
    throw FileError(say("{} needs more memory than there is.", file.string()));
  }
}

}  // namespace evenclay
