#include "core/subdivision/fan.h"

#include <algorithm>

namespace evenclay {

namespace {

// The points before and behind `p` in a face.
struct Beside {
  std::uint32_t previous, next;
  std::uint32_t diagonal;
};
Beside beside(const FormFace& face, std::uint32_t p) {
  const auto n = face.points.size();
  const auto at = static_cast<std::size_t>(std::find(face.points.begin(), face.points.end(), p) -
                                           face.points.begin());
  return {face.points[(at + n - 1) % n], face.points[(at + 1) % n], face.points[(at + 2) % n]};
}

}  // namespace

bool is_sharp(const Form& form, const FormTopology& t, std::uint32_t a, std::uint32_t b) {
  return t.edges[t.number.at(form_edge(a, b))].border() || form.crease(a, b) >= kSharp;
}

Fan fan_of(const Form& form, const FormTopology& t, std::uint32_t p) {
  const auto& around = t.faces_of_point[p];
  std::uint32_t first = around.front();
  Fan fan;
  bool sharp_start = false;
  for (const std::uint32_t f : around) {
    const std::uint32_t next = beside(form.faces[f], p).next;
    if (t.edges[t.number.at(form_edge(p, next))].border()) {
      first = f;
      fan.closed = false;
      break;
    }
    if (!sharp_start && form.crease(p, next) >= kSharp) {
      first = f;
      sharp_start = true;
    }
  }
  std::uint32_t f = first;
  do {
    const Beside b = beside(form.faces[f], p);
    fan.faces.push_back(f);
    fan.ends.push_back(b.next);
    fan.diagonals.push_back(b.diagonal);
    const auto& across = t.edges[t.number.at(form_edge(p, b.previous))];
    if (across.border()) {
      fan.ends.push_back(b.previous);
      break;
    }
    f = static_cast<std::uint32_t>(across.faces[0]) == f
            ? static_cast<std::uint32_t>(across.faces[1])
            : static_cast<std::uint32_t>(across.faces[0]);
  } while (f != first);
  return fan;
}

}  // namespace evenclay
