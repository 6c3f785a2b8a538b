#include "fit/cloud.h"

#include <algorithm>
#include <array>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

constexpr std::size_t kChunk = 1 << 14;

// The inverse placement as plain numbers.
struct Inverse {
  double r[9], t[3];
  explicit Inverse(const Frame& f) {
    const Mat3 m = f.linear().transpose();
    const Vec3 back = -(m * f.translation());
    for (int i = 0; i < 3; ++i) {
      for (int j = 0; j < 3; ++j)
        r[3 * i + j] = m(i, j);
      t[i] = back[i];
    }
  }
  template <class T> void apply(const T& x, const T& y, const T& z, T& u, T& v, T& w) const {
    u = r[0] * x + r[1] * y + r[2] * z + t[0];
    v = r[3] * x + r[4] * y + r[5] * z + t[1];
    w = r[6] * x + r[7] * y + r[8] * z + t[2];
  }
};

template <class T> struct Sums {
  std::array<T, kMostParameters*(kMostParameters + 1) / 2> matrix;
  std::array<T, kMostParameters> right;
  T sum;
  Sums() {
    for (T& t : matrix)
      t = zero();
    for (T& t : right)
      t = zero();
    sum = zero();
  }
  static T zero() {
    if constexpr (std::is_same_v<T, double>)
      return 0.0;
    else
      return T::Zero();
  }
  template <int N> void add(const T* g, const T& d) {
    std::size_t k = 0;
    for (int i = 0; i < N; ++i) {
      for (int j = 0; j <= i; ++j)
        matrix[k++] += g[i] * g[j];
      right[static_cast<std::size_t>(i)] += g[i] * d;
    }
    sum += d * d;
  }
};

template <Shape S> constexpr int countOf() {
  switch (S) {
  case Shape::Plane:
  case Shape::Circle:
    return 3;
  case Shape::Line:
  case Shape::Sphere:
  case Shape::Slot:
    return 4;
  case Shape::Cylinder:
    return 5;
  case Shape::Cone:
    return 6;
  default:
    return 7;
  }
}

template <Shape S, class T>
void addPoint(const Estimate& e, const Inverse& inverse, const T& x, const T& y, const T& z,
              const T& side, Sums<T>& sums) {
  T u, v, w, g[kMostParameters];
  inverse.apply(x, y, z, u, v, w);
  if constexpr (S == Shape::Line) {
    const T zero = Sums<T>::zero(), minus = T(zero - 1.0);
    g[0] = minus, g[1] = zero, g[2] = T(-w), g[3] = zero;
    sums.template add<4>(g, u);
    g[0] = zero, g[1] = minus, g[2] = zero, g[3] = T(-w);
    sums.template add<4>(g, v);
  } else {
    const T d = shapeDistance<S, T>(e, u, v, w, side, g);
    sums.template add<countOf<S>()>(g, d);
  }
}

template <Shape S>
Sums<double> chunkSums(const Cloud& c, const Estimate& e, const Inverse& inverse, std::size_t from,
                       std::size_t to) {
  Sums<Lane> lanes;
  Sums<double> rest;
  std::size_t i = from;
  Lane side = Lane::Ones();
  for (; i + 4 <= to; i += 4) {
    if constexpr (S == Shape::Slot) side = Eigen::Map<const Lane>(&c.side[i]);
    addPoint<S, Lane>(e, inverse, Lane(Eigen::Map<const Lane>(&c.x[i])),
                      Lane(Eigen::Map<const Lane>(&c.y[i])), Lane(Eigen::Map<const Lane>(&c.z[i])),
                      side, lanes);
  }
  for (; i < to; ++i)
    addPoint<S, double>(e, inverse, c.x[i], c.y[i], c.z[i], S == Shape::Slot ? c.side[i] : 1.0,
                        rest);
  for (std::size_t k = 0; k < rest.matrix.size(); ++k)
    rest.matrix[k] += lanes.matrix[k].sum();
  for (std::size_t k = 0; k < rest.right.size(); ++k)
    rest.right[k] += lanes.right[k].sum();
  rest.sum += lanes.sum.sum();
  return rest;
}

// One call per chunk, side by side where that pays.
template <class F> void overChunks(std::size_t size, F&& f) {
  const std::size_t chunks = (size + kChunk - 1) / kChunk;
  const auto one = [&](std::size_t k) { f(k, k * kChunk, std::min(size, (k + 1) * kChunk)); };
  if (chunks < 2) {
    if (chunks == 1) one(0);
    return;
  }
  tbb::parallel_for(std::size_t{0}, chunks, one);
}

} // namespace

Cloud cloudOf(const Points& points) {
  Cloud c;
  const std::size_t n = points.size();
  c.centre = centroid(points);
  c.x.resize(n), c.y.resize(n), c.z.resize(n);
  double reach = 0;
  for (std::size_t i = 0; i < n; ++i) {
    const Vec3 q = points[i] - c.centre;
    c.x[i] = q.x(), c.y[i] = q.y(), c.z[i] = q.z();
    reach = std::max(reach, q.squaredNorm());
  }
  c.reach = std::sqrt(reach);
  return c;
}

Cloud thinned(const Cloud& cloud, std::size_t most) {
  if (cloud.size() <= most) return cloud;
  std::vector<std::size_t> which;
  for (std::size_t i = 0; i < most; ++i)
    which.push_back(i * cloud.size() / most);
  return subset(cloud, which);
}

Cloud subset(const Cloud& cloud, const std::vector<std::size_t>& which) {
  Cloud c;
  c.centre = cloud.centre;
  c.reach = cloud.reach;
  for (const std::size_t i : which) {
    c.x.push_back(cloud.x[i]), c.y.push_back(cloud.y[i]), c.z.push_back(cloud.z[i]);
    if (!cloud.side.empty()) c.side.push_back(cloud.side[i]);
  }
  return c;
}

NormalEquations normalEquations(Shape shape, const Cloud& cloud, const Estimate& e) {
  const Inverse inverse(e.frame);
  std::vector<Sums<double>> parts((cloud.size() + kChunk - 1) / kChunk);
  const int n = withShape(shape, [&]<Shape S>() {
    overChunks(cloud.size(), [&](std::size_t k, std::size_t from, std::size_t to) {
      parts[k] = chunkSums<S>(cloud, e, inverse, from, to);
    });
    return countOf<S>();
  });
  NormalEquations out{SmallMatrix::Zero(n, n), SmallVector::Zero(n), 0};
  for (const auto& part : parts) {
    std::size_t k = 0;
    for (int i = 0; i < n; ++i) {
      for (int j = 0; j <= i; ++j)
        out.matrix(i, j) += part.matrix[k++];
      out.right[i] += part.right[static_cast<std::size_t>(i)];
    }
    out.sum += part.sum;
  }
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < i; ++j)
      out.matrix(j, i) = out.matrix(i, j);
  return out;
}

void distances(Shape shape, const Cloud& c, const Estimate& e, std::vector<double>& out) {
  out.resize(c.size());
  const Inverse inverse(e.frame);
  withShape(shape, [&]<Shape S>() {
    overChunks(c.size(), [&](std::size_t, std::size_t from, std::size_t to) {
      std::size_t i = from;
      Lane u, v, w, g[kMostParameters], side = Lane::Ones();
      for (; i + 4 <= to; i += 4) {
        if constexpr (S == Shape::Slot) side = Eigen::Map<const Lane>(&c.side[i]);
        inverse.apply(Lane(Eigen::Map<const Lane>(&c.x[i])), Lane(Eigen::Map<const Lane>(&c.y[i])),
                      Lane(Eigen::Map<const Lane>(&c.z[i])), u, v, w);
        Eigen::Map<Lane> four(&out[i]);
        four = shapeDistance<S, Lane>(e, u, v, w, side, g);
      }
      double p, q, r, h[kMostParameters];
      for (; i < to; ++i) {
        inverse.apply(c.x[i], c.y[i], c.z[i], p, q, r);
        out[i] = shapeDistance<S, double>(e, p, q, r, S == Shape::Slot ? c.side[i] : 1.0, h);
      }
    });
  });
}

double distanceAt(Shape shape, const Cloud& c, const Estimate& e, std::size_t i, double* gradient) {
  const Vec3 q = e.frame.linear().transpose() * (c.at(i) - e.frame.translation());
  const double side = shape == Shape::Slot ? c.side[i] : 1;
  return withShape(shape, [&]<Shape S>() {
    return shapeDistance<S, double>(e, q.x(), q.y(), q.z(), side, gradient);
  });
}

} // namespace alder
