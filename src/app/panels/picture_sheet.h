// Sheets with a picture of each saved view.
#pragma once

#include <QString>
#include <string>
#include <vector>

#include "core/display/studio.h"

namespace evenclay {

struct SheetWish {
  QString title;
  std::vector<SavedView> views;  ///< at least one
  int rays = 16;
};

/// PDF bytes: A4 across, four views a page with their names, the title and the page's number beneath. Runs on any thread.
/// Throws Error, Cancelled.
std::string picture_sheet(const std::vector<StudioPart>& parts, const SheetWish& wish,
                          Progress& progress);

}  // namespace evenclay
