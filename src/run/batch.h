// Tables of numbers in, measures and files out.
#pragma once

#include <map>
#include <string>
#include <vector>

namespace evenclay {

/// Rows of a table by the names in its head.
struct Table {
  std::vector<std::string> head;
  std::vector<std::vector<std::string>> rows;  ///< each as long as the head
};

/// Reads comma-separated values (RFC 4180: quotes, doubled quotes, line ends of both kinds); blank lines are passed over. Throws
/// FileError with the line that has another number of fields than the head, or when there is no head.
Table read_table(const std::string& text);
/// The same, written: fields with commas, quotes or line ends in quotes.
std::string write_table(const Table& table);

}  // namespace evenclay
