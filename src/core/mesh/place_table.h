// Numbers for places: equal places have one number.
#pragma once

#include <bit>
#include <cstdint>
#include <vector>

#include "core/base/vec3.h"

namespace evenclay {

/// An open table of places, some 40 bytes each. −0 and 0 are the same.
class PlaceTable {
 public:
  explicit PlaceTable(std::size_t expected = 0) {
    std::size_t size = 1024;
    while (size < 2 * expected) size *= 2;
    slots_.assign(size, kEmpty);
    places_.reserve(expected);
  }
  /// The number of a place; a new one when it has not been seen.
  std::uint32_t number(const Vec3& place) {
    if (2 * (places_.size() + 1) > slots_.size()) grow();
    const Vec3 p{place.x + 0.0, place.y + 0.0, place.z + 0.0};
    std::size_t at = hash(p) & (slots_.size() - 1);
    while (slots_[at] != kEmpty) {
      if (places_[slots_[at]] == p) return slots_[at];
      at = (at + 1) & (slots_.size() - 1);
    }
    slots_[at] = static_cast<std::uint32_t>(places_.size());
    places_.push_back(p);
    return slots_[at];
  }
  const std::vector<Vec3>& places() const { return places_; }
  std::vector<Vec3> take() { return std::move(places_); }

 private:
  static constexpr auto kEmpty = static_cast<std::uint32_t>(-1);
  static std::size_t hash(const Vec3& p) {
    std::uint64_t h = std::bit_cast<std::uint64_t>(p.x) * 0x9E3779B97F4A7C15ULL;
    h = (h ^ (h >> 29) ^ std::bit_cast<std::uint64_t>(p.y)) * 0xBF58476D1CE4E5B9ULL;
    h = (h ^ (h >> 32) ^ std::bit_cast<std::uint64_t>(p.z)) * 0x94D049BB133111EBULL;
    return static_cast<std::size_t>(h ^ (h >> 31));
  }
  void grow() {
    std::vector<std::uint32_t> larger(2 * slots_.size(), kEmpty);
    for (std::uint32_t k = 0; k < places_.size(); ++k) {
      std::size_t at = hash(places_[k]) & (larger.size() - 1);
      while (larger[at] != kEmpty) at = (at + 1) & (larger.size() - 1);
      larger[at] = k;
    }
    slots_ = std::move(larger);
  }
  std::vector<std::uint32_t> slots_;
  std::vector<Vec3> places_;
};

}  // namespace evenclay
