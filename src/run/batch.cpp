#include "run/batch.h"

#include <fmt/format.h>

#include "core/base/error.h"

namespace evenclay {

namespace {

// One record from `at` on; `line` counts line ends, also those in quotes.
std::vector<std::string> record(const std::string& text, std::size_t& at, std::size_t& line) {
  std::vector<std::string> fields(1);
  bool quoted = false;
  for (; at < text.size(); ++at) {
    const char c = text[at];
    if (c == '\n') ++line;
    if (quoted) {
      if (c == '"' && at + 1 < text.size() && text[at + 1] == '"')
        fields.back() += text[++at];
      else if (c == '"')
        quoted = false;
      else
        fields.back() += c;
    } else if (c == '"' && fields.back().empty()) {
      quoted = true;
    } else if (c == ',') {
      fields.emplace_back();
    } else if (c == '\n') {
      ++at;
      return fields;
    } else if (c != '\r') {
      fields.back() += c;
    }
  }
  if (quoted) throw FileError("A quote in the table is not closed.");
  return fields;
}

}  // namespace

Table read_table(const std::string& text) {
  Table table;
  std::size_t at = text.starts_with("\xEF\xBB\xBF") ? 3 : 0;  // of a spreadsheet's text files
  std::size_t line = 1;
  while (at < text.size()) {
    const std::size_t began = line;
    std::vector<std::string> fields = record(text, at, line);
    if (fields.size() == 1 && fields[0].empty()) continue;
    if (table.head.empty()) {
      table.head = std::move(fields);
    } else if (fields.size() != table.head.size()) {
      throw FileError(fmt::format("Line {} of the table has {} fields; its head has {}.", began,
                                  fields.size(), table.head.size()));
    } else {
      table.rows.push_back(std::move(fields));
    }
  }
  if (table.head.empty()) throw FileError("The table is empty. Its first line names the numbers.");
  return table;
}

std::string write_table(const Table& table) {
  std::string text;
  const auto add = [&](const std::vector<std::string>& fields) {
    for (std::size_t k = 0; k < fields.size(); ++k) {
      if (k > 0) text += ',';
      if (fields[k].find_first_of(",\"\r\n") == std::string::npos) {
        text += fields[k];
        continue;
      }
      text += '"';
      for (const char c : fields[k]) text += c == '"' ? std::string("\"\"") : std::string(1, c);
      text += '"';
    }
    text += '\n';
  };
  add(table.head);
  for (const std::vector<std::string>& row : table.rows) add(row);
  return text;
}

}  // namespace evenclay
