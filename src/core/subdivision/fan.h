// The faces around a point of a form in order; what refinement and limits share.
#pragma once

#include "core/subdivision/form.h"

namespace evenclay {

/// Counter-clockwise seen from outside: face k lies between edge k and edge k + 1 (the first again behind the last where
/// the fan is closed). Begins at a border, else at a sharp edge, else anywhere.
struct Fan {
  std::vector<std::uint32_t> faces;
  std::vector<std::uint32_t>
      ends;  ///< the other points of the edges; one more than faces at a border
  std::vector<std::uint32_t> diagonals;  ///< of each face the point opposite, where it has four
  bool closed = true;
};
Fan fan_of(const Form& form, const FormTopology& topology, std::uint32_t point);

/// Whether an edge stays sharp in the limit (a border, or a crease of kSharp).
bool is_sharp(const Form& form, const FormTopology& topology, std::uint32_t a, std::uint32_t b);

}  // namespace evenclay
