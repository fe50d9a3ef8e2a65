// Five parts of the demo without cage, cut and layers, and with a coarse pattern: for tests of what comes before.
#pragma once

#include "core/demo/skerry.h"
#include "core/document/document.h"
#include "core/operations/flow_pattern.h"

namespace evenclay::testing {

inline Document uncut_demo() {
  Document d = make_demo();
  const auto part = [&d](const char* name) { return find_part(d, std::string_view(name)); };
  // 18 × 6 tiles on a band of the shell as it is shaped by hand.
  const Step& pattern = part("Grille")->steps.front();
  auto flow = std::make_shared<FlowPatternOperation>(
      dynamic_cast<const FlowPatternOperation&>(*pattern.operation));
  flow->target = {part("Shell")->id, part("Shell")->steps.at(2).id};
  flow->sizing = FlowSizing::Counts;
  flow->count_u = 18;
  flow->count_v = 6;
  flow->v_from = 0.38;
  flow->v_to = 0.72;
  flow->fade_v_from = flow->fade_v_to = 0.0;
  flow->tile_u = flow->tile_v = 17.0;  // what the formulas gave is dropped
  flow->divisions = 12;
  d = with_operation(d, pattern.id, flow);
  while (part("Shell")->steps.size() > 3) d = without_step(d, part("Shell")->steps.back().id);
  d = without_step(d, part("Dimple tile")->steps.back().id);
  // What reads another part goes before it.
  for (const char* name : {"Foot print",     "Grip",
                           "Grip clay scan", "Knob seat",
                           "Lid outline",    "Carry loop",
                           "Clasp",          "Badge",
                           "Knob",           "Knob profile",
                           "Knob opening",   "Foot",
                           "Foot sides",     "Foot front and back",
                           "Case ribs",      "Rib tile",
                           "Case lid",       "Case collar",
                           "Case rim",       "Side sketch",
                           "Waist cage"})
    d = without_part(d, part(name)->id);
  while (!d.views.empty()) d = without_view(d, d.views.front().name);
  while (!d.layers.empty()) d = without_layer(d, d.layers.front().name);
  return d;
}

}  // namespace evenclay::testing
