#include "core/cut/combine.h"

#include <fmt/format.h>
#include <optional>

#include <BRepAlgoAPI_BooleanOperation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <cmath>
#include <map>
#include <memory>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/projector.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/cut/prepared.h"
#include "core/kernel/guard.h"

namespace evenclay {

namespace {

constexpr std::string_view kNames[] = {"united", "subtracted", "intersected"};

BOPAlgo_Operation kernel_way(Combine how) {
  return how == Combine::Unite      ? BOPAlgo_FUSE
         : how == Combine::Subtract ? BOPAlgo_CUT
                                    : BOPAlgo_COMMON;
}

// Places spread over the faces of a body.
std::vector<Vec3> places_on(const Body& body) {
  std::vector<Vec3> result;
  for (const Face& f : body.faces) {
    const FaceRegion region(f);
    const SurfaceEvaluator e(*f.surface);
    // Steps without a common measure, so that seams and symmetric places are not met again and again.
    for (int k = 0; k < 40; ++k) {
      const double a = std::fmod(0.5 + 0.6180339887 * k, 1.0);
      const double b = (k + 0.37) / 40.0;
      const double u = region.u_low() + a * (region.u_high() - region.u_low());
      const double v = region.v_low() + b * (region.v_high() - region.v_low());
      if (region.contains(u, v)) result.push_back(e.point(u, v));
    }
  }
  return result;
}

// Judges a result by what it should be made of: places of one part that lie clearly inside or outside of another.
class Judge {
 public:
  Judge(const std::vector<Body>& bodies, Combine how)
      : bodies_(bodies), how_(how), first_closed_(topology(bodies.front()).closed) {
    for (const Body& b : bodies) {
      projectors_.emplace_back(b);
      places_.push_back(places_on(b));
      size_ = std::max(size_, size(b));
    }
  }

  // `result` may be empty.
  bool accepts(const Body& result) const {
    std::optional<BodyProjector> made;
    if (!result.faces.empty()) made.emplace(result);
    const double margin = 1e-3 * size_;
    for (std::size_t k = 0; k < bodies_.size(); ++k)
      for (const Vec3& p : places_[k]) {
        const int stays = should_stay(k, p, margin);
        if (stays < 0) continue;
        const bool there = made && made->closest(p).distance < 0.3 * margin;
        if (there != (stays == 1)) return false;
      }
    return true;
  }

 private:
  // Whether a place on the skin of body k belongs to the result's skin; -1 where that is not clear.
  int should_stay(std::size_t k, const Vec3& p, double margin) const {
    bool in_any = false, in_all = true;
    for (std::size_t m = 0; m < bodies_.size(); ++m) {
      if (m == k) continue;
      // An open first part has no inside.
      if (how_ == Combine::Subtract && k > 0 && m == 0 && !first_closed_) return -1;
      const BodyProjection near = projectors_[m].closest(p);
      if (near.distance < margin) return -1;
      const Face& f = bodies_[m].faces[static_cast<std::size_t>(near.face)];
      const Vec3 out = normal(*f.surface, near.u, near.v) * (f.flipped ? -1.0 : 1.0);
      const double side = dot(p - near.point, out) / near.distance;
      if (std::abs(side) < 0.2) return -1;  // nearest to a sharp edge
      const bool in = side < 0.0;
      if (how_ == Combine::Subtract && k > 0) {
        if (m == 0 ? !in : in) return 0;
        continue;
      }
      in_any |= in;
      in_all &= in;
    }
    if (how_ == Combine::Intersect) return in_all ? 1 : 0;
    return how_ == Combine::Subtract && k > 0 ? 1 : in_any ? 0 : 1;
  }

  const std::vector<Body>& bodies_;
  Combine how_;
  bool first_closed_;
  std::vector<BodyProjector> projectors_;
  std::vector<std::vector<Vec3>> places_;
  double size_ = 0.0;
};

// Moved by so little that nobody sees it, in a direction without a common measure with any axis: what only touches
// then crosses or not.
Body nudged(Body body, double mm) {
  const Vec3 way = normalized(Vec3{0.5412, 0.7071, 0.4551}) * mm;
  std::map<const Surface*, std::shared_ptr<const Surface>> done;
  for (Face& f : body.faces) {
    auto& to = done[f.surface.get()];
    if (!to) {
      Surface s = *f.surface;
      for (Vec3& p : s.points.values()) p += way;
      to = std::make_shared<const Surface>(std::move(s));
    }
    f.surface = to;
  }
  for (Edge& e : body.edges)
    for (Vec3& p : e.curve.points) p += way;
  return body;
}

class Combiner {
 public:
  Combiner(const Body& body, std::span<const Body> others, Combine how, int step,
           Progress& progress)
      : how_(how), step_(step), progress_(progress) {
    bodies_.push_back(with_edges(body));
    for (const Body& b : others) bodies_.push_back(with_edges(b));
    closed_ = topology(bodies_.front()).closed;
    judge_.emplace(bodies_, how);
  }

  /// Nothing when the kernel could not do it; reason() says why. Places within `within` mm are taken as one, the
  /// other parts are moved by `moved` mm.
  std::optional<Combined> tried(double within, double moved) {
    std::vector<Body> bodies = bodies_;
    for (std::size_t k = 1; k < bodies.size() && moved > 0.0; ++k)
      bodies[k] = nudged(bodies_[k], moved * static_cast<double>(k));
    given_.clear();
    for (const Body& b : bodies) given_.push_back(given_to_kernel(b));
    BRepAlgoAPI_BooleanOperation algorithm;
    TopTools_ListOfShape arguments, tools;
    arguments.Append(given_.front().shape.all);
    for (std::size_t k = 1; k < given_.size(); ++k) tools.Append(given_[k].shape.all);
    algorithm.SetOperation(kernel_way(how_));
    algorithm.SetFuzzyValue(within);
    if (!cut_by_kernel(algorithm, arguments, tools, progress_)) {
      reason_ = say("its faces could not be cut with each other");
      return std::nullopt;
    }
    if (!TopExp_Explorer(algorithm.Shape(), TopAbs_FACE).More()) {
      reason_ = judge_->accepts({}) ? std::string() : missed();  // empty: nothing is left
      return std::nullopt;
    }
    reason_ = kernel::faults_of(algorithm.Shape(), closed_);
    if (!reason_.empty()) return std::nullopt;
    const kernel::History history = kernel::history_of(algorithm);
    Combined result{kernel::named_body(algorithm.Shape(), given_, history, step_, progress_), 1,
                    std::max(within, moved)};
    const Topology t = topology(with_edges(result.body));
    if (closed_ && !t.closed) {
      reason_ = say("the result would not be closed");
      return std::nullopt;
    }
    reason_ = faults_of_body(result.body);
    if (!reason_.empty()) return std::nullopt;
    if (!judge_->accepts(result.body)) {
      reason_ = missed();
      return std::nullopt;
    }
    result.shells = t.shells.size();
    return result;
  }

  const std::string& reason() const { return reason_; }

 private:
  Combine how_;
  int step_;
  Progress& progress_;
  std::vector<Body> bodies_;
  std::vector<kernel::Given> given_;
  bool closed_ = false;
  std::optional<Judge> judge_;
  std::string reason_;
  static std::string missed() { return say("a line in which their faces cross was not found"); }
};

}  // namespace

Combined combined(const Body& body, std::span<const Body> others, Combine how, double tolerance,
                  int step, Progress& progress) {
  if (body.faces.empty()) throw Error(say("The part has no faces."));
  if (others.empty()) throw Error(say("No other part is chosen yet. Choose one in the settings."));
  if (how != Combine::Subtract) need_closed(body, "The part");
  for (const Body& other : others) need_closed(other, "The other part");
  std::optional<Combined> result;
  std::string reason;
  kernel::guarded(say("The parts could not be {}", kNames[static_cast<int>(how)]), [&] {
    Combiner combiner(body, others, how, step, progress);
    for (const auto& [within, moved] : {std::pair{0.0, 0.0},
                                        {1e-5, 0.0},
                                        {0.0, 1e-4},
                                        {1e-4, 0.0},
                                        {0.0, 1e-3},
                                        {1e-3, 0.0},
                                        {tolerance, 0.0}}) {
      if (within > tolerance || moved > tolerance) continue;
      result = combiner.tried(within, moved);
      reason = combiner.reason();
      if (result || reason.empty()) return;
    }
  });
  if (result) return *std::move(result);
  if (reason.empty())
    throw Error(how == Combine::Intersect
                    ? say("The parts have nothing in common. Move one over the other.")
                    : say("Nothing of the part would be left; the other one covers it all."));
  throw Error(
      say("The parts could not be {}: {}. Where faces lie on each other or only touch, "
          "move one part by "
          "a hundredth of a millimetre or more.",
          kNames[static_cast<int>(how)], reason));
}

}  // namespace evenclay
