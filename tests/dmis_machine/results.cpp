#include "results.h"

#include <Eigen/SVD>
#include <cmath>
#include <optional>
#include <sstream>

namespace dmis_machine {
namespace {

struct Fitted {
  V point = V::Zero(), direction = V::UnitZ();
  double radius = 0;
  double range = 0; // of the points about it
};

std::vector<std::string> partsOf(const std::string& text) {
  std::vector<std::string> parts;
  std::istringstream in(text);
  for (std::string part; std::getline(in, part, ',');)
    parts.push_back(part);
  return parts;
}

double rangeOf(const Eigen::VectorXd& r) {
  return r.maxCoeff() - r.minCoeff();
}

Fitted plane(const Nominal& n, const std::vector<V>& points) {
  V middle = V::Zero();
  for (const V& p : points)
    middle += p / static_cast<double>(points.size());
  Eigen::MatrixXd a(static_cast<Eigen::Index>(points.size()), 3);
  for (std::size_t i = 0; i < points.size(); ++i)
    a.row(static_cast<Eigen::Index>(i)) = (points[i] - middle).transpose();
  const Eigen::JacobiSVD<Eigen::MatrixXd> svd(a, Eigen::ComputeThinU | Eigen::ComputeThinV);
  Fitted f;
  f.point = middle;
  f.direction = svd.matrixV().col(2);
  if (f.direction.dot(n.direction) < 0) f.direction = -f.direction;
  f.range = rangeOf(a * f.direction);
  return f;
}

// Gauss-Newton over two shifts, two tilts and the radius.
Fitted cylinder(const Nominal& n, const std::vector<V>& points) {
  const V u = n.direction.unitOrthogonal(), v = n.direction.cross(u);
  const auto at = [&](const Eigen::Matrix<double, 5, 1>& x) {
    Fitted f;
    f.point = n.point + x[0] * u + x[1] * v;
    f.direction = (n.direction + x[2] * u + x[3] * v).normalized();
    f.radius = x[4];
    return f;
  };
  const auto offs = [&](const Fitted& f) {
    Eigen::VectorXd r(static_cast<Eigen::Index>(points.size()));
    for (std::size_t i = 0; i < points.size(); ++i) {
      const V d = points[i] - f.point;
      r[static_cast<Eigen::Index>(i)] = (d - d.dot(f.direction) * f.direction).norm() - f.radius;
    }
    return r;
  };
  Eigen::Matrix<double, 5, 1> x;
  x << 0, 0, 0, 0, n.size / 2;
  for (int round = 0; round < 40; ++round) {
    Eigen::MatrixXd j(static_cast<Eigen::Index>(points.size()), 5);
    for (int k = 0; k < 5; ++k) {
      Eigen::Matrix<double, 5, 1> small = Eigen::Matrix<double, 5, 1>::Zero();
      small[k] = 1e-6;
      j.col(k) = (offs(at(x + small)) - offs(at(x - small))) / 2e-6;
    }
    const Eigen::Matrix<double, 5, 1> by =
        Eigen::JacobiSVD<Eigen::MatrixXd>(j, Eigen::ComputeThinU | Eigen::ComputeThinV)
            .solve(-offs(at(x)));
    x += by;
    if (by.norm() < 1e-12) break;
  }
  Fitted f = at(x);
  f.range = rangeOf(offs(f));
  return f;
}

std::optional<Fitted> fitted(const Nominal& n, const std::vector<V>& points) {
  if (n.word == "PLANE" && points.size() >= 3) return plane(n, points);
  if (n.word == "CYLNDR" && points.size() >= 5) return cylinder(n, points);
  return {};
}

// The direction that a feature should have: at its nominal angle to the datum, as near as may be to
// what it has.
V ideal(const V& actual, const V& nominal, const V& datum, const V& nominal_datum) {
  const double along = nominal.dot(nominal_datum);
  const V across = actual - actual.dot(datum) * datum;
  if (across.norm() < 1e-9) return along < 0 ? V(-datum) : datum;
  const double sine = std::sqrt(std::max(0.0, 1 - along * along));
  return (along * datum + sine * across.normalized()).normalized();
}

// Between planes across the ideal direction; of an axis the diameter about it.
double orientation(const Nominal& n, const Fitted& f, const std::vector<V>& points, const V& to) {
  double least = 1e300, most = -1e300;
  const V along = n.word == "PLANE" ? to : f.direction;
  for (const V& p : points) {
    const double t = (p - f.point).dot(along);
    least = std::min(least, t), most = std::max(most, t);
  }
  if (n.word == "PLANE") return most - least;
  const V axis = std::max(n.length, most - least) * f.direction; // over the length of the feature
  return (axis - axis.dot(to) * to).norm();
}

} // namespace

std::vector<Result> resultsOf(const Done& done,
                              const std::map<std::string, std::vector<V>>& points) {
  std::vector<Result> all;
  for (const auto& [tolerance, feature] : done.results) {
    const auto words = partsOf(done.tolerances.at(tolerance));
    const auto touched = points.find(feature);
    if (touched == points.end()) continue;
    const Nominal& n = done.nominals.at(feature);
    const auto f = fitted(n, touched->second);
    if (!f) continue;
    const auto number = [&](std::size_t i) { return std::stod(words.at(i)); };
    Result r{tolerance, feature, 0, 0, 0};
    if ((words[0] == "DIAM" || words[0] == "RAD") && n.word == "CYLNDR") {
      r.actual = (words[0] == "DIAM" ? 2 : 1) * (f->radius - n.size / 2);
      r.lower = number(1), r.upper = number(2);
    } else if ((words[0] == "FLAT" && n.word == "PLANE") ||
               (words[0] == "CYLCTY" && n.word == "CYLNDR")) {
      r.actual = f->range;
      r.upper = number(1);
    } else if (words[0] == "PARLEL" || words[0] == "PERP" || words[0] == "ANGLR") {
      const std::size_t at = words[0] == "ANGLR" ? 2 : 1;
      // one datum of one feature, without modifiers
      if (words.size() != at + 4 || words[at + 1] != "RFS" || words[at + 3] != "RFS") continue;
      const std::string& datum = words[at + 2]; // "DAT(A)"
      const auto of = done.datums.find(datum.substr(4, datum.size() - 5));
      if (of == done.datums.end() || of->second.size() != 1) continue;
      const auto there = points.find(of->second[0]);
      if (there == points.end()) continue;
      const Nominal& nd = done.nominals.at(of->second[0]);
      const auto d = fitted(nd, there->second);
      if (!d) continue;
      r.actual = orientation(n, *f, touched->second,
                             ideal(f->direction, n.direction, d->direction, nd.direction));
      r.upper = number(at);
    } else {
      continue;
    }
    all.push_back(r);
  }
  return all;
}

} // namespace dmis_machine
