// Points of a scan that do not belong to the form: dust, edges of the table, what the scanner saw twice.
#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// How stray each point is: 1 and more counts as stray. A point must stand off the middle of its neighbours by ten
/// standard deviations of all points and by six of its neighbours (common practice; deviations from medians): what they
/// have in common is the form's, which a coarse grid cannot hold, and no reason to leave a point out.
/// off: mm from a fitted surface; at: places on it, 0..1; size: of the scan, mm. Throws Cancelled.
std::vector<double> strayness(const std::vector<double>& off, const std::vector<Parameter>& at,
                              double size, Progress& progress);

/// Tukey's biweight: 1 for what fits, falling to 0 for what is stray. Source: J. Tukey, Exploratory Data Analysis, 1977
/// (from memory).
std::vector<double> weights_for(const std::vector<double>& strayness);

}  // namespace evenclay
