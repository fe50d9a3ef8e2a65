#include "core/operations/set_degree.h"

#include <fmt/format.h>

#include "core/base/say.h"
#include "core/grid/set_degree.h"
#include "core/operations/common.h"

namespace evenclay {

void SetDegreeOperation::suit(const Beginning& b) {
  const Surface* s = first_surface(b.before);
  if (s == nullptr) return;
  degree_u = s->u.degree;
  degree_v = s->v.degree;
}

void SetDegreeOperation::describe(ParameterVisitor& v) {
  v.count({"degree_u", "Degree along u", "Higher is smoother; 1 gives flat facets."}, degree_u,
          {1, 11});
  v.count({"degree_v", "Degree along v", "Higher is smoother; 1 gives flat facets."}, degree_v,
          {1, 11});
}

std::string SetDegreeOperation::summary() const {
  return say("degree {} × {}", degree_u, degree_v);
}

Outcome SetDegreeOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  return each_surface(before, label(), [&](const Surface& s) {
    return set_degree(s, degree_u, degree_v, progress);
  });
}

}  // namespace evenclay
