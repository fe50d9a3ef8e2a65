// Picking faces and edges of bodies for a step that works on them: each click adds a face or a whole chain of
// edges, or takes it out again.
#pragma once

#include <map>
#include <memory>

#include "app/tools/hand_tool.h"
#include "app/tools/pick_target.h"
#include "core/body/topology.h"

namespace evenclay {

class PickTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return false; }  // a click is all there is
  bool hover(const QPointF& at) override;
  QString hover_words() const override { return words_; }
  void leave() override;
  void add_to(Scene& scene) const override;

 private:
  /// A parameter of the chosen step that takes faces or edges.
  struct List {
    std::string name;
    QString label;
    std::vector<Pick> picks;
    PickRange range;
    PartId part = 0;  ///< another one, on which it picks; 0: the shape before
    std::shared_ptr<const PickTarget> on;
    bool one_chain = false;  ///< a click puts another chain in place of the last
    bool takes(PickKind kind) const;
  };
  struct Hit {
    std::size_t list = 0;
    PickKind kind = PickKind::Edge;
    std::vector<std::size_t> items;  ///< a chain of edges, or one face
  };
  std::vector<List> lists() const;
  bool picking(const std::vector<List>& lists, Qt::KeyboardModifiers modifiers) const;
  std::optional<Hit> hit(const std::vector<List>& lists, const QPointF& at, bool single) const;
  std::optional<std::size_t> edge_at(const PickTarget& on, const QPointF& at, double& rank) const;
  std::optional<std::size_t> face_at(const List& list, const QPointF& at) const;
  bool is_picked(const List& list, const Hit& hit) const;
  /// A click on edges that the step takes in its own way: as a place of one, or for their next rule.
  bool taken_otherwise(const List& list, const Hit& hit, const QPointF& at);
  bool one_edge(Qt::KeyboardModifiers modifiers) const;
  double share_at(const Curve& edge, const QPointF& at) const;
  QString edge_words(const List& list, const Hit& hit, const QPointF& at) const;
  void set_picks(const List& list, std::vector<Pick> picks);

  std::optional<Hit> hovered_;
  QString words_;
  mutable PickTargets targets_;
};

}  // namespace evenclay
