// Five parts of the demo without the cut and without layers, for tests of what comes before.
#pragma once

#include "core/demo/skerry.h"
#include "core/document/document.h"

namespace evenclay::testing {

inline Document uncut_demo() {
  Document d = make_demo();
  const Part& shell = *find_part(d, std::string_view("Shell"));
  d = without_step(d, shell.steps.back().id);
  // What reads another part goes before it.
  for (const char* name :
       {"Knob", "Knob profile", "Knob opening", "Foot", "Foot sides", "Foot front and back",
        "Case lid", "Case collar", "Case rim", "Side sketch"})
    d = without_part(d, find_part(d, std::string_view(name))->id);
  while (!d.layers.empty()) d = without_layer(d, d.layers.front().name);
  return d;
}

}  // namespace evenclay::testing
