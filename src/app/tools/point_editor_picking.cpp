// What PointEditor picks: points, rows, rings, named selections.
#include <algorithm>
#include <set>

#include "app/tools/point_editor.h"
#include "core/base/error.h"

namespace evenclay {

const FormNet* PointEditor::form() const {
  return net_ && !net_->shown.nets.empty() ? net_->shown.nets.front().form() : nullptr;
}

void PointEditor::set_form_kind(PickKind kind) {
  if (kind == form_kind_) return;
  const Selection points = picked_;
  form_kind_ = kind;
  form_picked_.clear();
  if (form() != nullptr) {
    // Faces and edges all of whose points were picked stay picked.
    pick_form(tags_with(*form(), kind, points));
  }
  Q_EMIT changed();
}

void PointEditor::pick_form(std::vector<Tag> tags) {
  if (form() == nullptr) return;
  form_picked_ = std::move(tags);
  refresh_form_picks();
  refresh_shares();
  Q_EMIT changed();
  Q_EMIT form_picked_by_hand();
}

std::vector<Pick> PointEditor::form_picks() const {
  if (form() == nullptr) return {};
  return as_picks(*form(), form_kind_, with_mirrored(*form(), form_kind_, form_picked_, mirrors_));
}

// The numbers of points change with the steps below; names do not.
void PointEditor::refresh_form_picks() {
  if (form() == nullptr) {
    form_picked_.clear();
    return;
  }
  form_picked_ = still_there(*form(), form_kind_, form_picked_);
  picked_ = points_of(*form(), form_kind_, form_picked_);
  if (!picked_.empty() && !picked_.contains(leader_)) leader_ = *picked_.begin();
}

// Those picked already keep their order.
std::vector<Tag> PointEditor::tags_of(const Selection& points) const {
  const auto& names = form()->links->point_tags;
  std::set<Tag> wanted;
  for (const PointIndex& p : points) wanted.insert(names[static_cast<std::size_t>(p.i)]);
  std::vector<Tag> result;
  for (const Tag t : form_picked_)
    if (wanted.erase(t) > 0) result.push_back(t);
  for (const PointIndex& p : points)
    if (const Tag t = names[static_cast<std::size_t>(p.i)]; wanted.erase(t) > 0)
      result.push_back(t);
  return result;
}

void PointEditor::pick(const Selection& points) {
  if (form() != nullptr) {
    if (form_kind_ == PickKind::Corner)
      pick_form(tags_of(points));
    else
      pick_form(tags_with(*form(), form_kind_, points));
    return;
  }
  picked_ = net_ ? with_united(net_->shown, points) : Selection{};
  if (!picked_.empty() && !picked_.contains(leader_)) leader_ = *picked_.begin();
  refresh_shares();
  Q_EMIT changed();
}

void PointEditor::extend_to_rows(int direction) {
  if (!net_) return;
  if (form() != nullptr) {
    if (form_kind_ == PickKind::Edge)
      pick_form(direction == 0 ? loops_along(*form(), form_picked_)
                               : rings_across(*form(), form_picked_));
    else if (form_kind_ == PickKind::Face)
      pick_form(bands_along(*form(), form_picked_));
    else
      model_.say_trouble(tr("Points of a form lie in no rows. Pick edges or faces for that."));
    return;
  }
  Selection all = picked_;
  for (const PointIndex& p : picked_) {
    if (direction >= net_->shown.of(p).directions()) continue;
    const Selection row = row_through(net_->shown, p, direction);
    all.insert(row.begin(), row.end());
  }
  pick(all);
}

void PointEditor::extend_to_rings() {
  if (!net_) return;
  if (form() != nullptr) {
    extend_to_rows(0);
    return;
  }
  Selection all = picked_;
  for (const PointIndex& p : picked_) {
    const Selection ring = ring_through(net_->shown, p);
    all.insert(ring.begin(), ring.end());
  }
  pick(all);
}

void PointEditor::extend_to(PointIndex to) {
  if (!net_) return;
  Selection all = picked_;
  const Selection range = range_between(net_->shown, picked_.empty() ? to : leader_, to);
  all.insert(range.begin(), range.end());
  pick(all);
}

Selection PointEditor::found_in(const std::function<bool(const Vec3&)>& inside,
                                bool touched) const {
  if (!net_) return {};
  if (form() != nullptr) return points_where(net_->shown, inside);
  Selection result;
  if (filter_ != PickFilter::NetLines) result = points_where(net_->shown, inside);
  if (filter_ == PickFilter::NetLines) result = net_lines_where(net_->shown, inside, !touched);
  return result;
}

void PointEditor::set_filter(PickFilter filter) {
  filter_ = filter;
  Q_EMIT changed();
}

void PointEditor::set_visible_only(bool only) {
  visible_only_ = only;
  Q_EMIT changed();
}

void PointEditor::set_snap(const SnapKinds& snap) {
  snap_ = snap;
  Q_EMIT changed();
}

QStringList PointEditor::names() const {
  QStringList result;
  if (const Part* part = find_part(model_.document(), model_.chosen_part()))
    for (const NamedPoints& s : part->selections) result.append(QString::fromStdString(s.name));
  return result;
}

void PointEditor::name_selection(const QString& name) {
  model_.attempt([&] {
    NamedPoints kept{name.trimmed().toStdString(), {}};
    if (form() != nullptr)
      kept.picks = as_picks(*form(), form_kind_, form_picked_);
    else
      for (const PointIndex& p : picked_) kept.points.push_back({p.net, p.i, p.j, p.k});
    if (model_.trial()) model_.keep_trial();
    model_.commit(with_selection(model_.document(), model_.chosen_part(), std::move(kept)),
                  tr("Name a selection"));
    model_.say(tr("%1 points are kept as %2, in Select › Named selections.")
                   .arg(picked_.size())
                   .arg(name.trimmed()));
  });
}

void PointEditor::pick_named_on_form(const NamedPoints& named) {
  if (named.picks.empty()) return;
  set_form_kind(named.picks.front().kind);
  std::vector<Tag> tags;
  for (const Pick& p : named.picks) tags.push_back(p.tag);
  pick_form(std::move(tags));
  if (form_picked_.size() < named.picks.size())
    model_.say_trouble(tr("The form has changed: %1 of the %2 picked under %3 are still there.")
                           .arg(form_picked_.size())
                           .arg(named.picks.size())
                           .arg(QString::fromStdString(named.name)));
}

void PointEditor::pick_named(const QString& name) {
  const Part* part = find_part(model_.document(), model_.chosen_part());
  if (part == nullptr || !net_) return;
  for (const NamedPoints& s : part->selections) {
    if (s.name != name.toStdString()) continue;
    if (form() != nullptr) {
      pick_named_on_form(s);
      continue;
    }
    Selection found;
    for (const auto& [net, i, j, k] : s.points)
      if (const PointIndex p{net, i, j, k}; net_->shown.contains(p)) found.insert(p);
    pick(found);
    if (found.size() < s.points.size())
      model_.say_trouble(tr("The grid has changed: %1 of the %2 points of %3 are still there.")
                             .arg(found.size())
                             .arg(s.points.size())
                             .arg(name));
  }
}

void PointEditor::forget_named(const QString& name) {
  model_.attempt([&] {
    if (model_.trial()) model_.keep_trial();
    model_.commit(without_selection(model_.document(), model_.chosen_part(), name.toStdString()),
                  tr("Forget a selection"));
  });
}

void PointEditor::grow() {
  if (form() != nullptr)
    pick_form(grown(*form(), form_kind_, form_picked_));
  else if (net_)
    pick(grown(net_->shown, picked_));
}

void PointEditor::shrink() {
  if (form() != nullptr)
    pick_form(shrunk(*form(), form_kind_, form_picked_));
  else if (net_)
    pick(shrunk(net_->shown, picked_));
}

void PointEditor::pick_partners() {
  if (mirrors_.empty()) {
    model_.say_trouble(tr("Switch symmetry on first; then every point has a partner."));
    return;
  }
  const Selection others = partners();
  pick(others.empty() ? picked_ : others);
}

void PointEditor::pick_checker(bool other) {
  if (form() != nullptr) {
    model_.say_trouble(tr("The points of a form lie in no rows, so there is no checker of them."));
    return;
  }
  pick(checker(picked_, other));
}

void PointEditor::pick_every(int n, int start) {
  if (form() != nullptr) {
    model_.say_trouble(tr("The points of a form lie in no rows to count along."));
    return;
  }
  if (picked_.size() < 2 || n < 2) {
    model_.say_trouble(tr("Pick a row with E or R first; then every n-th of it can be taken."));
    return;
  }
  pick(every_nth(picked_, row_direction(picked_).value_or(0), n, start));
}

Vec3 PointEditor::picked_centre() const {
  return net_ ? evenclay::pivot_place(net_->shown, picked_, leader_, symmetry(), Pivot::Picked)
              : Vec3{};
}

Selection PointEditor::partners() const {
  if (!net_) return {};
  Selection result = with_partners(mirrors_, picked_);
  for (const PointIndex& p : picked_) result.erase(p);
  return result;
}

void PointEditor::set_falloff(const Falloff& falloff) {
  falloff_ = falloff;
  refresh_shares();
  move_again();
  Q_EMIT changed();
}

bool PointEditor::held(PointIndex point) const {
  const ShapesPoints* shaped = shaped_step();
  return shaped != nullptr && net_ && is_held(net_->shown, point, shaped->edge_rules());
}

}  // namespace evenclay
