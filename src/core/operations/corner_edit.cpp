#include "core/operations/corner_edit.h"

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/cut/corner_edit.h"
#include "core/operations/body_picks.h"
#include "core/operations/common.h"
#include "core/subdivision/form.h"

namespace evenclay {

namespace {

// Corners that no straight edge ends at cannot move, so they are left out of the net.
struct CornerNet {
  Body body;
  Corners corners;
  std::vector<std::uint32_t> shown;  ///< corner of each point of the net
  FormNet net;
};

CornerNet corner_net(const Body& given, double tolerance) {
  CornerNet result{edged(given), {}, {}, {}};
  result.corners = corners_of(result.body, tolerance);
  std::vector<std::int64_t> number(result.corners.places.size(), -1);
  Form form;
  for (std::size_t f = 0; f < result.corners.faces.size(); ++f) {
    FormFace face{result.body.faces[f].tag, {}};
    for (const std::uint32_t c : result.corners.faces[f]) {
      if (number[c] < 0) {
        number[c] = static_cast<std::int64_t>(form.points.size());
        form.points.push_back(result.corners.places[c]);
        form.point_tags.push_back(result.corners.names[c]);
        result.shown.push_back(c);
      }
      face.points.push_back(static_cast<std::uint32_t>(number[c]));
    }
    if (!face.points.empty()) form.faces.push_back(std::move(face));
  }
  if (form.faces.empty())
    throw Error(say(
        "The part has no face of straight edges, so it has no corners to move. Shape its points, "
        "or "
        "use a cage."));
  form = linked(std::move(form));
  result.net = {form.points, links_of(form)};
  return result;
}

}  // namespace

void CornerEditOperation::describe(ParameterVisitor& v) {
  describe_symmetry(v, symmetry);
  v.data({"point", "Corners", "What the hand did to them."}, point);
}

ShapesPoints::Offer CornerEditOperation::offered(const Shape&) const {
  throw Error(say("The corners come with the step's result."));
}

Outcome CornerEditOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  CornerNet net = corner_net(faces_of(before, label()), inputs.tolerance);
  auto hand = std::make_shared<HandNets>();
  const Net below(net.net);
  hand->below = Nets(std::vector<Net>{below});
  const Shaping shaping = point.nets.empty() || point.nets.front().empty()
                              ? no_shaping(below)
                              : carry(point.nets.front(), below).shaping;
  hand->shapings = {shaping};
  Outcome outcome{before, {}};
  outcome.hand = hand;
  const Net moved = with_shaping(below, shaping);
  std::vector<Vec3> places = net.corners.places;
  for (std::size_t k = 0; k < net.shown.size(); ++k) places[net.shown[k]] = moved.form()->points[k];
  try {
    outcome.shape = with_corners(net.body, places, inputs.tolerance);
  } catch (const Error& e) {
    // The corners stay in the hand, so that they can be moved back.
    outcome.shape = net.body;
    outcome.notes.emplace_back(say("Not moved: {}", e.what()));
  }
  return outcome;
}

OperationPtr CornerEditOperation::with_shapings(Shapings shapings) const {
  auto changed = std::make_shared<CornerEditOperation>(*this);
  changed->point.nets = std::move(shapings);
  return changed;
}

OperationPtr CornerEditOperation::with_symmetry(SymmetryPlane planes) const {
  auto changed = std::make_shared<CornerEditOperation>(*this);
  changed->symmetry = planes;
  return changed;
}

}  // namespace evenclay
