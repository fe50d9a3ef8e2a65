// The background thread that turns documents into pictures and measures.
#pragma once

#include <chrono>
#include <condition_variable>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

#include "core/display/display.h"

namespace evenclay {

/// What is computed besides shapes and gauges.
struct DisplayWants {
  bool deviation = false;  ///< colours of the chosen part against the shape before the shown step
  MapKind map = MapKind::None;  ///< colours of the chosen part
  bool stretch = false;         ///< colours of the chosen pattern and its target by stretch
  bool tile = false;            ///< the chosen part as a tile among its neighbours
  bool joints = false;          ///< how the faces of the chosen body meet
  bool flat_faces = false;      ///< forms as their polygons instead of their limit
  bool before = false;          ///< the shape before the shown step
  bool plot = false;            ///< what other counts of a Rebuild would do
  std::optional<SectionWish> sections = {};  ///< of the chosen part with a plane
  bool operator==(const DisplayWants&) const = default;
};

/// What the window wants to see. A document is a value, so no locks are needed.
struct DisplayRequest {
  Document document;
  PartId chosen = 0;
  StepId shown_step = 0;  ///< the chosen part is shown as it was after this step; 0: after the last
  bool dragging = false;  ///< answer coarsely at once; the exact answer may be given up
  DisplayWants wants = {};
  /// How long a dragging hand must wait for its exact answer: longer where a frame takes long to draw, since a hand that
  /// waits for its picture does not rest.
  std::chrono::milliseconds rests{120};
};

class DisplayCache;

/// The newest request wins: one that is waiting is replaced, and the exact part of a running one
/// is cancelled. A drag is answered in this order: the chosen part up to the shown step, coarsely and
/// always finished, so that a hand that posts faster than answers come still sees each answer; the
/// visible parts that depend on it, cheapest first, given up for a newer request unless they are quick;
/// when the hand rests, all visible parts exactly, part by part. Hidden parts are not computed unless
/// chosen. `answered` is called on the worker's thread.
class DisplayWorker {
 public:
  explicit DisplayWorker(std::function<void(std::shared_ptr<const DisplayAnswer>)> answered);
  ~DisplayWorker();

  /// Returns the request's number, which its answers carry.
  std::size_t post(DisplayRequest request);
  /// Gives up what is running and waiting; shapes already shown stay.
  void cancel();
  /// 0..1 while something is running, nothing when idle. Thread-safe.
  std::optional<double> share() const;
  /// True when no request is running or waiting.
  bool idle() const;

 private:
  void run();
  void answer(const DisplayRequest& request, std::size_t number, Progress& progress);
  void answer_drag(const DisplayRequest& request, DisplayAnswer& a, Progress& progress);
  void answer_dependents(const DisplayRequest& request, DisplayAnswer& a, Progress& progress);
  void answer_exact(const DisplayRequest& request, DisplayAnswer& a, Progress& progress);
  DisplayPart coarse_part(const DisplayRequest& request, PartId part, const ShapePtr& shape,
                          Progress& progress);
  void say_trouble(std::size_t number, std::string sentence);

  std::function<void(std::shared_ptr<const DisplayAnswer>)> answered_;
  mutable std::mutex mutex_;
  std::condition_variable wake_;
  std::optional<DisplayRequest> waiting_;
  std::size_t last_number_ = 0;
  std::shared_ptr<Progress> running_;
  bool exact_running_ = false;
  bool quit_ = false;
  std::unique_ptr<DisplayCache> cache_;
  std::thread thread_;
};

}  // namespace evenclay
