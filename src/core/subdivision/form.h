// Subdivision forms as plain values: polygons over shared points, with creases.
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <memory>
#include <utility>
#include <vector>

#include "core/body/body.h"

namespace evenclay {

/// An edge by its two points, the lower number first.
using FormEdge = std::array<std::uint32_t, 2>;
FormEdge form_edge(std::uint32_t a, std::uint32_t b);

/// A polygon, counter-clockwise seen from outside.
struct FormFace {
  Tag tag = 0;
  std::vector<std::uint32_t> points;
};

/// Creases are sharpnesses: 0 smooth, up to kSharp, from which on an edge stays sharp for ever; between them it is
/// sharp for as many subdivisions (T. DeRose, M. Kass, T. Truong 1998). Edges that are not named are smooth; borders
/// are always sharp. Tags name points and faces through all edits that do not make them anew.
struct FormLinks;
struct Form {
  std::vector<Vec3> points;
  std::vector<Tag> point_tags;  ///< one for each point
  std::vector<FormFace> faces;
  std::map<FormEdge, double> creases;
  /// What hangs together, when it has been worked out (linked()); whoever changes anything but places drops it.
  std::shared_ptr<const FormLinks> links = {};

  double crease(std::uint32_t a, std::uint32_t b) const;
};
inline constexpr double kSharp = 10.0;

/// Numbers of edges by their points: a table that is filled once and looked into often.
class EdgeNumbers {
 public:
  using Entry = std::pair<FormEdge, std::uint32_t>;
  EdgeNumbers() = default;
  explicit EdgeNumbers(std::vector<Entry> entries);
  /// Null when there is no such edge.
  const Entry* find(const FormEdge& edge) const;
  const Entry* end() const { return nullptr; }
  bool contains(const FormEdge& edge) const { return find(edge) != nullptr; }
  /// The edge must be there.
  std::uint32_t at(const FormEdge& edge) const { return find(edge)->second; }

 private:
  std::vector<Entry> entries_;
  std::vector<std::uint32_t> slots_;  // open addressing; a power of two
};

/// What hangs together, derived and never stored.
struct FormTopology {
  struct Edge {
    FormEdge points{};
    std::array<std::int32_t, 2> faces{-1, -1};  ///< −1: none, at a border
    bool border() const { return faces[1] < 0; }
  };
  std::vector<Edge> edges;  ///< in the order of their points
  EdgeNumbers number;
  std::vector<std::vector<std::uint32_t>> edges_of_point, faces_of_point;
  std::size_t borders = 0;  ///< closed chains of border edges
  std::size_t shells = 0;   ///< pieces that hang together
  /// V − E + F over all shells, which is the sum of 2 − 2g − b (L. Euler).
  int euler = 0;
};
/// Throws Error as check() does.
FormTopology topology(const Form& form);

/// All of a form but its places and creases, shared between forms that differ in those only.
struct FormLinks {
  std::vector<Tag> point_tags;
  std::vector<FormFace> faces;
  FormTopology topology;
};
/// The form with its links worked out once for all who ask. Throws Error as check() does.
Form linked(Form form);
/// Those it has, else worked out now.
std::shared_ptr<const FormLinks> links_of(const Form& form);
/// A copy that may be changed.
Form unlinked(const Form& form);

/// Lasting name of an edge, made from those of its ends; 0 is none.
Tag edge_tag(const std::vector<Tag>& point_tags, const FormEdge& edge);
Tag edge_tag(const Form& form, const FormEdge& edge);
/// Places by names; nothing when the name is gone.
std::map<Tag, std::uint32_t> faces_by_tag(const Form& form);
std::map<Tag, FormEdge> edges_by_tag(const Form& form);

/// Throws Error with a sentence when the form is no oriented manifold: a face with less than three points or one
/// twice, an edge of three faces or of two that run the same way, a point whose faces do not hang together, a point
/// that is no number, a point without a face, tags that are missing or twice, a crease that is not on an edge or out
/// of 0 … kSharp.
void check(const Form& form);

/// Diagonal of the box of all points.
double size(const Form& form);

}  // namespace evenclay
