#include "core/points/selection.h"

namespace evenclay {

Selection row_through(const Surface& s, PointIndex at, bool along_u) {
  Selection result;
  const int count = along_u ? s.points.rows() : s.points.columns();
  for (int k = 0; k < count; ++k)
    result.insert(along_u ? PointIndex{at.surface, k, at.j} : PointIndex{at.surface, at.i, k});
  return result;
}

Selection points_where(const Surface& s, int number,
                       const std::function<bool(const Vec3&)>& inside) {
  Selection result;
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j)
      if (inside(s.points(i, j))) result.insert({number, i, j});
  return result;
}

Selection with_whole_poles(const Surface& s, const Selection& selection, double tolerance) {
  Selection result = selection;
  for (const Edge edge : kEdges) {
    if (!is_pole(s, edge, tolerance)) continue;
    const bool of_u = edge == Edge::UMin || edge == Edge::UMax;
    const int last = of_u ? s.points.rows() - 1 : s.points.columns() - 1;
    const int fixed = edge == Edge::UMax || edge == Edge::VMax ? last : 0;
    for (const PointIndex& p : selection)
      if ((of_u ? p.i : p.j) == fixed) {
        const Selection row = row_through(s, p, !of_u);
        result.insert(row.begin(), row.end());
      }
  }
  return result;
}

}  // namespace evenclay
