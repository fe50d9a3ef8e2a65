// Parameters that are lists: places, places with legs, numbers.
#pragma once

#include <string>
#include <vector>

#include "core/document/parameters.h"
#include "core/source/profile.h"

namespace evenclay {

/// Places in space, as they are clicked or typed.
class PlacesData : public DataParameter {
 public:
  static constexpr std::size_t kMost = 2000;
  std::vector<Vec3> places;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  /// Without an address the whole list: "x,y,z x,y,z …"; "[i]" sets one place, "[n]" behind the last
  /// adds one. Throws Error.
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
};

/// Places of a profile, each with the leg that leads to it.
class ProfileData : public DataParameter {
 public:
  std::vector<ProfilePlace> places;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  /// As PlacesData; a place may have the word line, arc or curve behind it: "0,0,0 10,0,0:arc".
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
};

/// A few numbers, typed as "0, 12.5, -3".
class NumbersData : public DataParameter {
 public:
  std::vector<double> values;
  double reach = 1e6;  ///< none is farther from 0

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
  std::optional<std::string> typed() const override { return summary(); }
};

/// "line", "arc", "curve".
std::string_view name_of(Leg leg);

}  // namespace evenclay
