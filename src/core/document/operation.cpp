#include "core/document/operation.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <filesystem>
#include <fstream>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

void check_range(const ParameterInfo& info, double value, const NumberRange& r) {
  if (!(value >= r.min && value <= r.max))
    throw Error(say("{} is {}; choose {} to {}{}{}.", info.label, value, r.min, r.max,
                    r.unit.empty() ? "" : " ", r.unit));
}

void check_range(const ParameterInfo& info, double value, const CountRange& r) {
  if (!(value >= r.min && value <= r.max && value == std::floor(value)))
    throw Error(
        say("{} is {}; choose a whole number from {} to {}.", info.label, value, r.min, r.max));
}

void check_range(const ParameterInfo& info, const std::vector<Pick>& picks, const PickRange& r) {
  if (picks.size() > static_cast<std::size_t>(r.most))
    throw Error(say("{} takes {} at most, not {}.", info.label, r.most, picks.size()));
  for (const Pick& p : picks) {
    if (std::find(r.kinds.begin(), r.kinds.end(), p.kind) == r.kinds.end())
      throw Error(say("{}: a picked {} does not fit here.", info.label, name_of(p.kind)));
    if (!(std::abs(p.near.x) < 1e9 && std::abs(p.near.y) < 1e9 && std::abs(p.near.z) < 1e9))
      throw Error(say("{}: a picked place is not a number in reach.", info.label));
  }
}

void check_range(const ParameterInfo& info, const std::vector<PartRef>& parts,
                 const PartsRange& r) {
  if (parts.size() > static_cast<std::size_t>(r.most))
    throw Error(say("{} takes {} parts at most, not {}.", info.label, r.most, parts.size()));
  for (std::size_t k = 0; k < parts.size(); ++k) {
    if (parts[k].empty()) throw Error(say("{} names no part.", info.label));
    if (std::find(parts.begin(), parts.begin() + static_cast<long>(k), parts[k]) !=
        parts.begin() + static_cast<long>(k))
      throw Error(say("{} names one part twice.", info.label));
  }
}

namespace {

// Without the blanks around them.
template <typename F>
void for_each_between_semicolons(std::string_view rest, const F& f) {
  while (!rest.empty()) {
    const auto semicolon = rest.find(';');
    std::string_view one = rest.substr(0, semicolon);
    rest = semicolon == std::string_view::npos ? "" : rest.substr(semicolon + 1);
    while (!one.empty() && one.front() == ' ') one.remove_prefix(1);
    while (!one.empty() && one.back() == ' ') one.remove_suffix(1);
    if (!one.empty()) f(one);
  }
}

class CollectInputs : public PartialVisitor {
 public:
  std::vector<PartRef> all;
  void part(const ParameterInfo&, PartRef& value) override {
    if (!value.empty()) all.push_back(value);
  }
  void parts(const ParameterInfo&, std::vector<PartRef>& value, const PartsRange&) override {
    all.insert(all.end(), value.begin(), value.end());
  }
};

double to_number(const ParameterInfo& info, std::string_view text) {
  double value = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
    throw Error(say("{} needs a number, not '{}'.", info.label, text));
  return value;
}

// "10,0,52"
bool read_place(std::string_view text, Vec3& place) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), place[axis]);
    if (error != std::errc()) return false;
    text.remove_prefix(static_cast<std::size_t>(end - text.data()));
    if (axis == 2) return text.find_first_not_of(' ') == std::string_view::npos;
    if (text.empty() || text.front() != ',') return false;
    text.remove_prefix(1);
  }
  return false;
}

// "12" or "12:34".
PartRef reference(const ParameterInfo& info, std::string_view text) {
  const auto colon = text.find(':');
  const auto whole = [&](std::string_view number) {
    const double x = to_number(info, number);
    check_range(info, x, CountRange{0, 1'000'000'000});
    return static_cast<int>(x);
  };
  return {whole(text.substr(0, colon)),
          colon == std::string_view::npos ? 0 : whole(text.substr(colon + 1))};
}

class SetOne : public ParameterVisitor {
 public:
  SetOne(std::string_view name, std::string_view text)
      : name_(name.substr(0, name.find('['))),
        address_(name.substr(std::min(name.size(), name.find('[')))),
        text_(text) {}
  bool found = false;
  std::string names;

  void number(const ParameterInfo& info, double& value, const NumberRange& range) override {
    if (!take(info)) return;
    const double x = to_number(info, text_);
    check_range(info, x, range);
    value = x;
  }
  void count(const ParameterInfo& info, int& value, const CountRange& range) override {
    if (!take(info)) return;
    const double x = to_number(info, text_);
    check_range(info, x, range);
    value = static_cast<int>(x);
  }
  void toggle(const ParameterInfo& info, bool& value) override {
    if (!take(info)) return;
    if (text_ == "true" || text_ == "on" || text_ == "1")
      value = true;
    else if (text_ == "false" || text_ == "off" || text_ == "0")
      value = false;
    else
      throw Error(say("{} is on or off, not '{}'.", info.label, text_));
  }
  void choice(const ParameterInfo& info, int& value, std::span<const Choice> choices) override {
    if (!take(info)) return;
    std::string list;
    for (std::size_t k = 0; k < choices.size(); ++k) {
      if (choices[k].name == text_) {
        value = static_cast<int>(k);
        return;
      }
      list += fmt::format("{}{}", k == 0 ? "" : ", ", choices[k].name);
    }
    throw Error(say("{} is one of {}, not '{}'.", info.label, list, text_));
  }
  void part(const ParameterInfo& info, PartRef& value) override {
    if (take(info)) value = reference(info, text_);
  }
  // "12; 14:3": one behind the other; empty lets go of all.
  void parts(const ParameterInfo& info, std::vector<PartRef>& value,
             const PartsRange& range) override {
    if (!take(info)) return;
    std::vector<PartRef> read;
    for_each_between_semicolons(
        text_, [&](std::string_view one) { read.push_back(reference(info, one)); });
    check_range(info, read, range);
    value = std::move(read);
  }
  // "face 10,0,52; face 0,0,-52": each by a place near it; empty lets go of all.
  void picks(const ParameterInfo& info, std::vector<Pick>& value, const PickRange& range) override {
    if (!take(info)) return;
    std::vector<Pick> picks;
    for_each_between_semicolons(text_, [&](std::string_view one) {
      const auto space = one.find(' ');
      Vec3 at;
      if (space == std::string_view::npos || !read_place(one.substr(space + 1), at))
        throw Error(
            say("{}: '{}' does not say what is picked where. Write it as in: face "
                "10,0,52",
                info.label, one));
      picks.push_back({pick_kind(one.substr(0, space)), 0, at});
    });
    check_range(info, picks, range);
    value = std::move(picks);
  }
  void file(const ParameterInfo& info, FileAttachment& value,
            std::span<const std::string_view>) override {
    if (take(info)) value = read_attachment(std::string(text_));
  }
  void data(const ParameterInfo& info, DataParameter& value) override {
    if (take(info)) value.set(address_, text_);
  }

 private:
  bool take(const ParameterInfo& info) {
    names += fmt::format("{}{}", names.empty() ? "" : ", ", info.name);
    if (info.name != name_) return false;
    found = true;
    return true;
  }
  std::string name_, address_;
  std::string_view text_;
};

}  // namespace

FileAttachment read_attachment(const std::string& path) {
  constexpr std::uintmax_t kMost = 1ULL << 30;
  std::error_code error;
  const std::uintmax_t size = std::filesystem::file_size(path, error);
  if (error) throw FileError(say("{} cannot be read: there is no such file.", path));
  if (size > kMost) throw FileError(say("{} is larger than 1 GiB.", path));
  std::string bytes(size, '\0');
  std::ifstream in(path, std::ios::binary);
  in.read(bytes.data(), static_cast<std::streamsize>(size));
  if (!in) throw FileError(say("{} cannot be read.", path));
  return {std::filesystem::path(path).filename().string(),
          std::make_shared<const std::string>(std::move(bytes))};
}

void Memo::next_evaluation(std::size_t kept) {
  ++clock_;
  std::erase_if(entries_, [&](const auto& e) { return e.second.last_used + kept < clock_; });
}

std::vector<PartRef> Operation::inputs() const {
  CollectInputs collect;
  clone()->describe(collect);
  return collect.all;
}

OperationPtr with_parameter(const Operation& operation, std::string_view name,
                            std::string_view text) {
  const std::shared_ptr<Operation> copy = operation.clone();
  SetOne visitor(name, text);
  copy->describe(visitor);
  if (!visitor.found)
    throw Error(say("{} has no parameter '{}'. It has: {}.", operation.label(), name,
                    visitor.names.empty() ? "none" : visitor.names));
  return copy;
}

Vec3 place_of(const StepHandle& h) {
  if (h.path.empty()) return {};
  const double share = h.to != h.from ? (h.value - h.from) / (h.to - h.from) : 0.0;
  const double x = std::clamp(share, 0.0, 1.0) * static_cast<double>(h.path.size() - 1);
  const auto k = std::min(static_cast<std::size_t>(x), h.path.size() - 1);
  const auto next = std::min(k + 1, h.path.size() - 1);
  return h.path[k] + (h.path[next] - h.path[k]) * (x - static_cast<double>(k));
}

}  // namespace evenclay
