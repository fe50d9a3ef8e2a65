// Layers, locks, saved views and the order of steps.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/document.h"

namespace evenclay {

namespace {

template <typename Things>
auto named(Things& things, std::string_view name) {
  return std::find_if(things.begin(), things.end(), [&](const auto& x) { return x.name == name; });
}

Part& part_of(Document& d, PartId id) {
  const auto it = std::find_if(d.parts.begin(), d.parts.end(), [&](auto& p) { return p.id == id; });
  if (it == d.parts.end()) throw Error(say("The part is no longer there."));
  return *it;
}

Error no_layer(std::string_view name) {
  return Error(say("There is no layer '{}'.", name));
}

}  // namespace

const Layer* find_layer(const Document& d, std::string_view name) {
  const auto it = named(d.layers, name);
  return it == d.layers.end() ? nullptr : &*it;
}

bool is_visible(const Document& d, const Part& part) {
  const Layer* layer = find_layer(d, part.layer);
  return part.look.visible && (layer == nullptr || layer->visible);
}

bool is_locked(const Document& d, const Part& part) {
  const Layer* layer = find_layer(d, part.layer);
  return part.locked || (layer != nullptr && layer->locked);
}

Document with_lock(const Document& document, PartId part, bool locked) {
  Document d = document;
  part_of(d, part).locked = locked;
  return d;
}

Document with_step_moved(const Document& document, StepId step, int places) {
  const Part* part = part_of_step(document, step);
  if (part == nullptr) throw Error(say("The build step is no longer there."));
  const auto count = static_cast<int>(part->steps.size());
  const auto from = static_cast<int>(
      std::find_if(part->steps.begin(), part->steps.end(), [&](auto& s) { return s.id == step; }) -
      part->steps.begin());
  if (from == 0)
    throw Error(say("'{}' is the source of {}; it stays the first step.", part->steps.front().name,
                    part->name));
  if (places < 1 - from || places >= count - from)
    throw Error(say("'{}' cannot be moved further.", part->steps[std::size_t(from)].name));
  Document d = document;
  auto& steps = part_of(d, part->id).steps;
  const auto at = steps.begin() + from;
  if (places > 0)
    std::rotate(at, at + 1, at + places + 1);
  else
    std::rotate(at + places, at, at + 1);
  return d;
}

Document with_layer(const Document& document, const Layer& layer) {
  if (layer.name.empty()) throw Error(say("A layer needs a name. Type one."));
  Document d = document;
  const auto it = named(d.layers, layer.name);
  if (it != d.layers.end())
    *it = layer;
  else
    d.layers.push_back(layer);
  return d;
}

Document with_layer_name(const Document& document, std::string_view from, std::string_view to) {
  if (to.empty()) throw Error(say("A layer needs a name. Type one."));
  if (from == to) return document;
  if (find_layer(document, to) != nullptr)
    throw Error(say("There is a layer '{}' already. Choose another name.", to));
  Document d = document;
  const auto it = named(d.layers, from);
  if (it == d.layers.end()) throw no_layer(from);
  for (Part& p : d.parts)
    if (p.layer == from) p.layer = to;
  it->name = to;
  return d;
}

Document without_layer(const Document& document, std::string_view name) {
  Document d = document;
  const auto it = named(d.layers, name);
  if (it == d.layers.end()) throw no_layer(name);
  for (Part& p : d.parts)
    if (p.layer == it->name) p.layer.clear();
  d.layers.erase(it);
  return d;
}

Document with_part_in_layer(const Document& document, PartId part, std::string_view layer) {
  Document d = document;
  if (!layer.empty() && find_layer(d, layer) == nullptr)
    d = with_layer(d, Layer{std::string(layer)});
  part_of(d, part).layer = layer;
  return d;
}

Document with_view(const Document& document, const SavedView& view) {
  if (view.name.empty()) throw Error(say("A view needs a name. Type one."));
  if (!(view.height > 0.0) || !std::isfinite(view.height) || !is_finite(view.target) ||
      !std::isfinite(view.yaw) || !(std::abs(view.pitch) <= 90.0))
    throw Error(say("The view '{}' looks from nowhere.", view.name));
  Document d = document;
  const auto it = named(d.views, view.name);
  if (it != d.views.end())
    *it = view;
  else
    d.views.push_back(view);
  return d;
}

Document without_view(const Document& document, std::string_view name) {
  Document d = document;
  const auto it = named(d.views, name);
  if (it == d.views.end()) throw Error(say("There is no saved view '{}'.", name));
  d.views.erase(it);
  return d;
}

}  // namespace evenclay
