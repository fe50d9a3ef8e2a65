#include "core/document/operation.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <filesystem>
#include <fstream>

#include "core/base/error.h"

namespace evenclay {

void check_range(const ParameterInfo& info, double value, const NumberRange& r) {
  if (!(value >= r.min && value <= r.max))
    throw Error(fmt::format("{} is {}; choose {} to {}{}{}.", info.label, value, r.min, r.max,
                            r.unit.empty() ? "" : " ", r.unit));
}

void check_range(const ParameterInfo& info, double value, const CountRange& r) {
  if (!(value >= r.min && value <= r.max && value == std::floor(value)))
    throw Error(fmt::format("{} is {}; choose a whole number from {} to {}.", info.label, value,
                            r.min, r.max));
}

namespace {

class CollectInputs : public ParameterVisitor {
 public:
  std::vector<PartRef> parts;
  void number(const ParameterInfo&, double&, const NumberRange&) override {}
  void count(const ParameterInfo&, int&, const CountRange&) override {}
  void toggle(const ParameterInfo&, bool&) override {}
  void choice(const ParameterInfo&, int&, std::span<const Choice>) override {}
  void part(const ParameterInfo&, PartRef& value) override {
    if (!value.empty()) parts.push_back(value);
  }
  void file(const ParameterInfo&, FileAttachment&, std::span<const std::string_view>) override {}
  void data(const ParameterInfo&, DataParameter&) override {}
};

double to_number(const ParameterInfo& info, std::string_view text) {
  double value = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
    throw Error(fmt::format("{} needs a number, not '{}'.", info.label, text));
  return value;
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
      throw Error(fmt::format("{} is on or off, not '{}'.", info.label, text_));
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
    throw Error(fmt::format("{} is one of {}, not '{}'.", info.label, list, text_));
  }
  // "12", or "12:34" for the part after one of its steps.
  void part(const ParameterInfo& info, PartRef& value) override {
    if (!take(info)) return;
    const auto colon = text_.find(':');
    const auto whole = [&](std::string_view text) {
      const double x = to_number(info, text);
      check_range(info, x, CountRange{0, 1'000'000'000});
      return static_cast<int>(x);
    };
    value = {whole(text_.substr(0, colon)),
             colon == std::string_view::npos ? 0 : whole(text_.substr(colon + 1))};
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
  if (error) throw FileError(fmt::format("{} cannot be read: there is no such file.", path));
  if (size > kMost) throw FileError(fmt::format("{} is larger than 1 GiB.", path));
  std::string bytes(size, '\0');
  std::ifstream in(path, std::ios::binary);
  in.read(bytes.data(), static_cast<std::streamsize>(size));
  if (!in) throw FileError(fmt::format("{} cannot be read.", path));
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
  return collect.parts;
}

OperationPtr with_parameter(const Operation& operation, std::string_view name,
                            std::string_view text) {
  const std::shared_ptr<Operation> copy = operation.clone();
  SetOne visitor(name, text);
  copy->describe(visitor);
  if (!visitor.found)
    throw Error(fmt::format("{} has no parameter '{}'. It has: {}.", operation.label(), name,
                            visitor.names.empty() ? "none" : visitor.names));
  return copy;
}

}  // namespace evenclay
