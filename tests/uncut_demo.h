// The demo without its cut, for tests of what comes before cutting.
#pragma once

#include "core/demo/skerry.h"
#include "core/document/document.h"

namespace evenclay::testing {

inline Document uncut_demo() {
  Document d = make_demo();
  const Part& shell = *find_part(d, std::string_view("Shell"));
  d = without_step(d, shell.steps.back().id);
  d = without_part(d, find_part(d, std::string_view("Knob opening"))->id);
  return d;
}

}  // namespace evenclay::testing
