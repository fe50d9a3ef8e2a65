#include "core/points/poles.h"

namespace evenclay {

std::vector<std::vector<PointIndex>> pole_rows(const Surface& s) {
  std::vector<std::vector<PointIndex>> rows;
  for (const Edge edge : kEdges) {
    if (!is_pole(s, edge, kPoleTolerance)) continue;
    const bool of_u = edge == Edge::UMin || edge == Edge::UMax;
    const bool begin = edge == Edge::UMin || edge == Edge::VMin;
    const int last = (of_u ? s.points.rows() : s.points.columns()) - 1;
    const PointIndex corner =
        begin ? PointIndex{} : PointIndex{0, of_u ? last : 0, of_u ? 0 : last};
    const Selection row = row_through(s, corner, !of_u);
    rows.emplace_back(row.begin(), row.end());
  }
  return rows;
}

}  // namespace evenclay
