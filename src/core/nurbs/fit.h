// Least-squares fitting of control points to samples, one direction at a time.
// Source: The NURBS Book, section 9.4 (least-squares curve approximation), tensor-product form.
#pragma once

#include <memory>
#include <span>
#include <vector>

#include "core/nurbs/knot_vector.h"

namespace evenclay {

/// Fits the coefficients of one direction. Samples lie at `places` with weights; a solve takes
/// many right-hand sides at once. Coefficients named in `fixed` keep the values they are given.
/// The systems are small (at most a few hundred coefficients) and solved by Cholesky with one
/// step of refinement. Where the samples leave coefficients open, the smallest of the best fits is
/// taken. Throws Error when samples or places are no numbers.
class LineFit {
 public:
  LineFit(const KnotVector& knots, std::span<const double> places, std::span<const double> weights,
          std::vector<int> fixed);
  ~LineFit();
  LineFit(LineFit&&) noexcept;

  /// samples[s * width + c]: value c of sample s. coefficients[i * width + c] has its fixed rows
  /// filled in and receives the others.
  void solve(std::span<const double> samples, std::size_t width,
             std::span<double> coefficients) const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

/// Sample places and weights for fitting onto `target` a function that is smooth between
/// `old_breaks` (in the target's domain): at least 6 (degree + 3 of a higher degree) a target span and one in each old span, the
/// ends of a clamped direction included. Weights are proportional to the length they stand for.
struct FitSamples {
  std::vector<double> places, weights;
};
FitSamples fit_samples(const KnotVector& target, std::span<const double> old_breaks);

}  // namespace evenclay
