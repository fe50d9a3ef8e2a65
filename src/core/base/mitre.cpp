#include "core/base/mitre.h"

#include <Eigen/Eigenvalues>

namespace evenclay {

namespace {

constexpr double kSmooth =
    0.01;  // share of the planes' squares below which they leave a direction open
constexpr double kLongest = 3.0;

}  // namespace

void Mitre::add(const Vec3& normal, double weight) {
  const Vec3& n = normal;
  xx_ += weight * n.x * n.x;
  xy_ += weight * n.x * n.y;
  xz_ += weight * n.x * n.z;
  yy_ += weight * n.y * n.y;
  yz_ += weight * n.y * n.z;
  zz_ += weight * n.z * n.z;
  sum_ += n * weight;
}

// The mean normal, as long as suits the planes best, put right in the directions that the planes do decide.
Vec3 Mitre::move() const {
  Eigen::Matrix3d square;
  square << xx_, xy_, xz_, xy_, yy_, yz_, xz_, yz_, zz_;
  const Eigen::Vector3d sum(sum_.x, sum_.y, sum_.z);
  const double squares = sum.dot(square * sum);
  if (!(squares > 1e-12 * square.trace())) return {};
  Eigen::Vector3d way = sum * (sum.squaredNorm() / squares);
  Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> own;
  own.computeDirect(square);
  const Eigen::Vector3d left = sum - square * way;
  for (int k = 0; k < 3; ++k) {
    if (own.eigenvalues()[k] < kSmooth * square.trace()) continue;
    const Eigen::Vector3d axis = own.eigenvectors().col(k);
    way += axis * (axis.dot(left) / own.eigenvalues()[k]);
  }
  if (const double l = way.norm(); l > kLongest) way *= kLongest / l;
  return {way.x(), way.y(), way.z()};
}

}  // namespace evenclay
