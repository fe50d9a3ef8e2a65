#include "core/operations/lifted_points.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/points/shaping.h"

namespace evenclay {

namespace {

constexpr std::array<std::string_view, 4> kWays{"x", "y", "z", "off"};

std::string address_of(const LiftRow& r) {
  if (r.numbers == 1) return fmt::format("[{}]", r.point.i);
  if (r.numbers == 2) return fmt::format("[{},{}]", r.point.i, r.point.j);
  return fmt::format("[{},{},{}]", r.point.net, r.point.i, r.point.j);
}

LiftRow row_in(std::string_view text) {
  const auto end = text.find(']');
  if (text.empty() || text.front() != '[' || end == std::string_view::npos)
    throw Error(say("'{}' is no row. Write a point's number and a way, as in [4,2] off.", text));
  const std::vector<double> at = numbers_in(text.substr(1, end - 1));
  if (at.empty() || at.size() > 3)
    throw Error(say("A point has one, two or three numbers, as in [4,2]."));
  for (const double x : at)
    if (!(x >= 0.0 && x < 1e6 && x == std::floor(x)))
      throw Error(say("A point's numbers are whole numbers from 0 on."));
  LiftRow row;
  row.numbers = static_cast<int>(at.size());
  if (at.size() == 3) row.point.net = static_cast<int>(at[0]);
  row.point.i = static_cast<int>(at[at.size() == 3 ? 1 : 0]);
  if (at.size() > 1) row.point.j = static_cast<int>(at.back());
  std::string_view way = text.substr(end + 1);
  while (!way.empty() && way.front() == ' ') way.remove_prefix(1);
  while (!way.empty() && way.back() == ' ') way.remove_suffix(1);
  if (way.empty()) return row;
  const auto found = std::find(kWays.begin(), kWays.end(), way);
  if (found == kWays.end())
    throw Error(say("A point is lifted along x, y or z, or off the skin (off), not '{}'.", way));
  row.way = static_cast<LiftWay>(found - kWays.begin());
  return row;
}

std::vector<LiftRow> rows_in(std::string_view text) {
  std::vector<LiftRow> rows;
  while (!text.empty()) {
    const auto end = std::min(text.find(';'), text.size());
    std::string_view one = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    while (!one.empty() && one.front() == ' ') one.remove_prefix(1);
    if (!one.empty()) rows.push_back(row_in(one));
  }
  if (rows.size() > LiftRows::kMost)
    throw Error(
        say("{} rows are more than the {} that can be used.", rows.size(), LiftRows::kMost));
  return rows;
}

}  // namespace

std::optional<std::string> LiftRows::typed() const {
  std::string text;
  for (const LiftRow& r : rows)
    text += fmt::format("{}{} {}", text.empty() ? "" : "; ", address_of(r),
                        kWays[static_cast<std::size_t>(r.way)]);
  return text;
}

std::string LiftRows::to_json() const {
  return nlohmann::json(*typed()).dump();
}

void LiftRows::from_json(const std::string& text) {
  try {
    rows = rows_in(nlohmann::json::parse(text).get<std::string>());
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The rows are not written as they should be."));
  }
}

void LiftRows::set(std::string_view address, std::string_view text) {
  if (!address.empty())
    throw Error(say("Rows are set all together, as in rows=[4,2] off; [5,2] z."));
  rows = rows_in(text);
}

std::string LiftRows::summary() const {
  return counted(rows.size(), "row");
}

void LiftedPointsOperation::suit(const Beginning& b) {
  if (!b.before) return;
  const bool curves = std::holds_alternative<CurveSet>(*b.before);
  const bool cage = std::holds_alternative<Cage>(*b.before);
  for (const std::array<int, 4>& p : b.points) {
    if (rows.rows.size() == LiftRows::kMost) break;
    LiftRow row{
        {p[0], p[1], p[2], 0}, curves && p[0] == 0 ? 1 : (p[0] == 0 ? 2 : 3), LiftWay::OffSkin};
    if (cage) row = {{p[1], p[2], p[3], 0}, 3, LiftWay::X};
    if (curves) row.way = LiftWay::Z;
    rows.rows.push_back(row);
  }
}

void LiftedPointsOperation::describe(ParameterVisitor& v) {
  v.data({"rows", "Points",
          "Points by number and way, as in [4,2] off and [5,2] z with a semicolon between."},
         rows);
  amounts.resize(rows.rows.size(), 0.0);
  for (std::size_t k = 0; k < rows.rows.size(); ++k) {
    const std::string name = fmt::format("amount_{}", k + 1);
    const std::string label = address_of(rows.rows[k]);
    const std::string help = say("How far the point {} is lifted.", label);
    v.number({name, label, help}, amounts[k], {-10000.0, 10000.0, "mm", 0.5, 3});
  }
}

std::string LiftedPointsOperation::summary() const {
  return rows.summary();
}

Outcome LiftedPointsOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  const Nets below = nets_of(before, label());
  Nets nets = below;
  const bool cage = std::holds_alternative<Cage>(before);
  std::string gone;
  for (std::size_t k = 0; k < rows.rows.size(); ++k) {
    LiftRow r = rows.rows[k];
    if (cage) r.point = {0, r.point.net, r.point.i, r.point.j};
    if (cage && r.way == LiftWay::OffSkin)
      throw Error(say("A point of a cage has no skin to be lifted off. Use x, y or z."));
    if (!below.contains(r.point)) {
      gone += (gone.empty() ? "" : ", ") + address_of(rows.rows[k]);
      continue;
    }
    const double mm = k < amounts.size() ? amounts[k] : 0.0;
    if (mm == 0.0) continue;
    Vec3 way;
    if (r.way == LiftWay::OffSkin)
      way = skin_normal(below, r.point);
    else
      way[static_cast<std::size_t>(r.way)] = 1.0;
    // What is one place is lifted as one.
    std::vector<PointIndex> together{r.point};
    if (const auto of = below.united_of.find(r.point); of != below.united_of.end())
      together = below.united[of->second];
    for (const PointIndex& p : together) {
      Net& net = nets.nets[static_cast<std::size_t>(p.net)];
      net.set_point(p.i, p.j, p.k, net.point(p.i, p.j, p.k) + way * mm);
    }
  }
  Outcome outcome{with_nets(before, nets), {}};
  if (!gone.empty())
    outcome.notes.push_back(
        say("{} is not there on the grid below; the row waits. The other rows hold.", gone));
  return outcome;
}

}  // namespace evenclay
