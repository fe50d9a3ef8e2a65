// Steps of a project file: their kind, parameters, formulas, and what a newer version wrote besides. Not for others than
// project_json.cpp.
#pragma once

#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/project_json.h"

namespace evenclay::stored {

using Json = nlohmann::ordered_json;

/// Bounds of what is believed of a file.
constexpr int kDeepest = 64;
constexpr std::size_t kMost = 10000;
constexpr int kGreatestId = 1'000'000'000;

/// A whole number in a range, whatever is written there. Throws Error.
int whole(const Json& j, int least, int most);

template <typename T>
T field(const Json& j, const char* name, const T& otherwise) {
  const auto it = j.find(name);
  return it == j.end() ? otherwise : it->get<T>();
}

/// What is there besides the fields that are known, as text; empty when nothing is.
inline std::string left_over(Json j, std::initializer_list<const char*> known) {
  for (const char* k : known) j.erase(k);
  return j.empty() ? std::string() : j.dump();
}

Json picks_json(const std::vector<Pick>& picks);
/// Throws Error.
std::vector<Pick> read_picks(const Json& j);

/// Adds the fields that a newer version wrote.
void merge_extra(Json& into, const std::string& extra);

Json parameters_of(const Operation& operation);
Json step_json(const Step& step);
/// Throws Error; what `make` does not know is kept as it is.
Step read_step(const Json& j, const OperationMaker& make, const StoredFiles* files);

}  // namespace evenclay::stored
