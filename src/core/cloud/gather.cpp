#include "cloud/gather.h"

#include "base/units.h"
#include "cloud/face_cells.h"
#include <Eigen/Eigenvalues>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

constexpr std::size_t kChunk = 1 << 15;
constexpr double kFarther = 5;   // of the reach: so far it is still said of which face a point is
constexpr double kStandsOut = 3; // robust standard deviations
constexpr double kFewest = 0.35; // of the usual number of points of the cells about one
constexpr std::size_t kAbout = 24;
constexpr double kMostCells = 20000; // of a surface
const double kAskew = std::cos(radians(35));
constexpr int kTellsNormal = 12; // points of a cell whose own normal is looked at

// What a point became: a cell, counted over all faces, or none.
constexpr std::uint32_t kElsewhere = 0xffffffff;

// Sum of integers by face: the order of adding does not matter.
struct Counts {
  std::vector<std::size_t> at_edges, far;
  std::size_t elsewhere = 0;
};

class Gatherer {
 public:
  Gatherer(const PointCloud& cloud, const Frame& placement, const NearestSurface& surface,
           const EdgeZone& edges, const GatherSettings& settings, std::size_t stride)
      : cloud_(cloud)
      , placement_(placement)
      , surface_(surface)
      , edges_(edges)
      , settings_(settings)
      , stride_(std::max<std::size_t>(stride, 1))
      , count_((cloud.points.size() + stride_ - 1) / stride_)
      , askers_([&] { return std::make_unique<NearestSurface::Asker>(surface_); }) {}

  Result<Gathered> run(const Progress& progress) {
    layOutCells();
    if (auto done = assign(progress); !done) return pass(done.error());
    sortByCell();
    average();
    leaveOutThin();
    for (std::size_t f = 0; f < out_.faces.size(); ++f)
      tellNoise(f);
    lendNoise();
    squares();
    return std::move(out_);
  }

 private:
  void layOutCells() {
    const PartModel& part = surface_.part();
    std::vector<double> sizes(part.faces.size(), settings_.cell);
    for (const Surface& s : part.surfaces) {
      double area = 0;
      for (const FaceId face : s.faces)
        area += part.face(face).area;
      const auto points = settings_.points.find(s.id);
      // More cells than this of one surface nobody can judge in time.
      const double size =
          settings_.cell > 0
              ? std::max(settings_.cell, std::sqrt(area / kMostCells))
              : cellSizeFor(area, points != settings_.points.end() ? points->second : 0);
      for (const FaceId face : s.faces)
        sizes[static_cast<std::size_t>(face.value)] = size;
    }
    out_.faces.resize(part.faces.size());
    for (std::size_t f = 0; f < part.faces.size(); ++f) {
      const FaceId face{static_cast<int>(f)};
      const auto lines = settings_.lines.find(face);
      cells_.emplace_back(part, face, std::max(sizes[f], 1e-3),
                          lines != settings_.lines.end() ? std::optional(lines->second)
                                                         : std::nullopt);
      out_.faces[f].cell = cells_.back().size();
      first_.push_back(total_);
      total_ += cells_.back().count();
    }
    first_.push_back(total_);
  }

  Vec3 placed(std::size_t i) const { return placement_ * cloud_.points[i * stride_]; }

  Done assign(const Progress& progress) {
    cell_.assign(count_, kElsewhere);
    deviation_.assign(count_, 0);
    tbb::enumerable_thread_specific<Counts> counts([&] {
      Counts c;
      c.at_edges.resize(out_.faces.size());
      c.far.resize(out_.faces.size());
      return c;
    });
    const std::size_t chunks = (count_ + kChunk - 1) / kChunk;
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, chunks, [&](std::size_t k) {
      if (progress.cancelled()) return;
      auto& asker = *askers_.local();
      Counts& own = counts.local();
      for (std::size_t i = k * kChunk; i < std::min(count_, (k + 1) * kChunk); ++i)
        assignOne(i, asker, own);
      progress.step(static_cast<double>(++done) / static_cast<double>(chunks),
                    "giving points to faces");
    });
    if (progress.cancelled()) return cancelledError();
    for (const Counts& c : counts) {
      out_.elsewhere += c.elsewhere;
      for (std::size_t f = 0; f < out_.faces.size(); ++f) {
        out_.faces[f].at_edges += c.at_edges[f];
        out_.faces[f].far += c.far[f];
      }
    }
    return {};
  }

  void assignOne(std::size_t i, NearestSurface::Asker& asker, Counts& counts) {
    const Vec3 p = placed(i);
    Vec3 facing;
    const bool known = !cloud_.normals.empty() && settings_.normals != NormalsUse::Ignored;
    if (known) facing = turn(placement_, cloud_.normals[i * stride_].cast<double>());
    if (known && settings_.normals == NormalsUse::Reversed) facing = -facing;
    const auto foot = asker.at(p, settings_.reach * kFarther, known ? &facing : nullptr);
    if (!foot) {
      ++counts.elsewhere;
      return;
    }
    const auto f = static_cast<std::size_t>(foot->face.value);
    if (std::abs(foot->distance) > settings_.reach) {
      ++counts.far[f];
      return;
    }
    if (edges_.holds(foot->face, foot->point)) {
      ++counts.at_edges[f];
      return;
    }
    const auto cell = cells_[f].cellAt(foot->point);
    if (!cell) { // beyond the end of the face
      ++counts.at_edges[f];
      return;
    }
    cell_[i] = static_cast<std::uint32_t>(first_[f] + *cell);
    deviation_[i] = static_cast<float>(foot->distance);
  }

  // Stable, so that the sums of a cell are taken in the order of the file.
  void sortByCell() {
    begin_.assign(total_ + 1, 0);
    for (const std::uint32_t c : cell_)
      if (c != kElsewhere) ++begin_[c + 1];
    for (std::size_t c = 0; c < total_; ++c)
      begin_[c + 1] += begin_[c];
    order_.resize(begin_[total_]);
    std::vector<std::uint32_t> next(begin_.begin(), begin_.end() - 1);
    for (std::size_t i = 0; i < count_; ++i)
      if (cell_[i] != kElsewhere) order_[next[cell_[i]]++] = static_cast<std::uint32_t>(i);
    std::vector<std::uint32_t>().swap(cell_);
  }

  void average() {
    struct Cell {
      std::size_t face, cell;
    };
    std::vector<Cell> held;
    for (std::size_t f = 0; f + 1 < first_.size(); ++f)
      for (std::size_t c = first_[f]; c < first_[f + 1]; ++c)
        if (begin_[c + 1] > begin_[c]) held.push_back({f, c});
    std::vector<std::optional<Place>> places(held.size());
    std::vector<std::size_t> outliers(held.size(), 0);
    tbb::parallel_for(std::size_t{0}, held.size(), [&](std::size_t k) {
      places[k] = placeOf(held[k].face, held[k].cell, *askers_.local(), outliers[k]);
    });
    for (std::size_t k = 0; k < held.size(); ++k) {
      FaceTally& tally = out_.faces[held[k].face];
      tally.outliers += outliers[k];
      if (places[k])
        out_.places.push_back(*places[k]);
      else
        tally.askew += begin_[held[k].cell + 1] - begin_[held[k].cell] - outliers[k];
    }
  }

  std::optional<Place> placeOf(std::size_t f, std::size_t c, NearestSurface::Asker& asker,
                               std::size_t& outliers) const {
    const std::uint32_t* begin = &order_[begin_[c]];
    const std::size_t n = begin_[c + 1] - begin_[c];
    double middle = 0, room = 1e300;
    if (n >= 5) {
      std::vector<float> d(n);
      for (std::size_t k = 0; k < n; ++k)
        d[k] = deviation_[begin[k]];
      const auto median = [&] {
        std::nth_element(d.begin(), d.begin() + static_cast<long>(n / 2), d.end());
        return d[n / 2];
      };
      middle = median();
      for (float& v : d)
        v = std::abs(v - static_cast<float>(middle));
      room = std::max(kStandsOut * 1.4826 * median(), 1e-4);
    }
    Vec3 sum = Vec3::Zero();
    double deviations = 0, squares = 0;
    Mat3 spread = Mat3::Zero();
    std::size_t kept = 0;
    const Vec3 origin = placed(begin[0]);
    for (std::size_t k = 0; k < n; ++k) {
      const double d = deviation_[begin[k]];
      if (std::abs(d - middle) > room) continue;
      const Vec3 p = placed(begin[k]) - origin;
      ++kept;
      sum += p;
      spread += p * p.transpose();
      deviations += d;
      squares += d * d;
    }
    outliers = n - kept;
    const auto m = static_cast<double>(kept);
    Place place;
    place.face = FaceId{static_cast<int>(f)};
    place.count = static_cast<int>(kept);
    place.deviation = deviations / m;
    place.spread =
        kept > 1
            ? std::sqrt(std::max(0.0, squares - m * place.deviation * place.deviation) / (m - 1))
            : 0;
    const auto foot = asker.on(place.face, origin + sum / m);
    if (!foot) return {};
    place.foot = foot->point;
    place.normal = foot->normal;
    if (kept >= kTellsNormal && place.spread < cells_[f].size() / 10) {
      const Mat3 about = spread / m - (sum / m) * (sum / m).transpose();
      Eigen::SelfAdjointEigenSolver<Mat3> axes;
      axes.computeDirect(about);
      // Points in one line have no normal.
      const bool wide = axes.eigenvalues()[1] > 0.02 * axes.eigenvalues()[2];
      if (wide && std::abs(axes.eigenvectors().col(0).dot(place.normal)) < kAskew) return {};
    }
    const std::size_t cell = c - first_[f];
    place.foot = cells_[f].levelled(cell, place.foot);
    place.meant = cells_[f].middleOf(cell, place.foot);
    place.row = cells_[f].rowOf(cell);
    return place;
  }

  // Cells at the border of what was seen hold few points, fewer than most of those about them: how
  // densely the scanner looked may differ over a face.
  void leaveOutThin() {
    std::vector<char> thin(out_.places.size(), 0);
    tbb::parallel_for(std::size_t{0}, out_.faces.size(), [&](std::size_t f) {
      const auto [begin, end] = placesOf(f);
      std::vector<std::pair<double, int>> about;
      for (std::size_t i = begin; i < end; ++i) {
        about.clear();
        for (std::size_t k = begin; k < end; ++k)
          about.emplace_back((out_.places[k].foot - out_.places[i].foot).squaredNorm(),
                             out_.places[k].count);
        const auto nearest = about.begin() + static_cast<long>(std::min(kAbout, about.size()));
        if (nearest != about.end()) std::nth_element(about.begin(), nearest, about.end());
        std::vector<double> counts;
        for (auto n = about.begin(); n != nearest; ++n)
          counts.push_back(n->second);
        const auto usual = counts.begin() + static_cast<long>(counts.size() * 3 / 4);
        std::nth_element(counts.begin(), usual, counts.end());
        thin[i] = out_.places[i].count < kFewest * *usual;
      }
    });
    std::vector<Place> kept;
    for (std::size_t i = 0; i < thin.size(); ++i) {
      const Place& p = out_.places[i];
      FaceTally& tally = out_.faces[static_cast<std::size_t>(p.face.value)];
      (thin[i] ? tally.thin : tally.used) += static_cast<std::size_t>(p.count);
      if (!thin[i]) kept.push_back(p);
    }
    out_.places = std::move(kept);
  }

  // Those of a face: from the first to before the last.
  std::pair<std::size_t, std::size_t> placesOf(std::size_t face) const {
    const auto before = [](const Place& p, std::size_t f) {
      return static_cast<std::size_t>(p.face.value) < f;
    };
    const auto all = out_.places.begin();
    const auto begin = std::lower_bound(all, out_.places.end(), face, before),
               end = std::lower_bound(begin, out_.places.end(), face + 1, before);
    return {static_cast<std::size_t>(begin - all), static_cast<std::size_t>(end - all)};
  }

  static double medianOf(std::vector<double> v) {
    const auto middle = v.begin() + static_cast<long>(v.size() / 2);
    std::nth_element(v.begin(), middle, v.end());
    return *middle;
  }

  void tellNoise(std::size_t f) {
    const auto range = placesOf(f);
    const auto begin = out_.places.begin() + static_cast<long>(range.first),
               end = out_.places.begin() + static_cast<long>(range.second);
    FaceTally& tally = out_.faces[f];
    std::vector<double> spreads, counts, bends;
    for (auto p = begin; p != end; ++p) {
      counts.push_back(p->count);
      if (p->count >= 5) spreads.push_back(p->spread);
      // Five in a line, side by side.
      bool line = p - begin >= 4;
      for (auto q = p - (line ? 4 : 0); q != p && line; ++q)
        line = q->row == (q + 1)->row && (q->foot - (q + 1)->foot).norm() < 1.5 * tally.cell;
      if (line)
        bends.push_back(std::abs((p - 4)->deviation - 4 * (p - 3)->deviation +
                                 6 * (p - 2)->deviation - 4 * (p - 1)->deviation + p->deviation));
    }
    if (spreads.size() >= 5) {
      tally.noise = medianOf(spreads);
      tally.place_noise = tally.noise / std::sqrt(std::max(1.0, medianOf(counts)));
    }
    // Of independent noise the fourth difference has 70 times the variance; smooth form has hardly
    // any.
    if (bends.size() >= 20)
      tally.place_noise = std::max(tally.place_noise, 1.4826 * medianOf(bends) / std::sqrt(70.0));
    tally.noise = std::max(tally.noise, tally.place_noise);
    const double usual = counts.empty() ? 1 : std::max(1.0, medianOf(counts));
    for (auto p = begin; p != end; ++p)
      p->noise = tally.place_noise * std::sqrt(usual / std::max(1, p->count));
  }

  // A face with too few points to tell is no better than the others.
  void lendNoise() {
    std::vector<double> known;
    for (const FaceTally& t : out_.faces)
      if (t.noise > 0) known.push_back(t.noise);
    if (known.empty()) return;
    const double usual = medianOf(known);
    for (Place& p : out_.places) {
      FaceTally& tally = out_.faces[static_cast<std::size_t>(p.face.value)];
      if (p.noise > 0) continue;
      tally.noise = usual;
      p.noise = usual / std::sqrt(std::max(1, p.count));
      tally.place_noise = std::max(tally.place_noise, p.noise);
    }
  }

  void squares() {
    double sum = 0, n = 0;
    for (const Place& p : out_.places) {
      sum += p.count * p.deviation * p.deviation + std::max(0, p.count - 1) * p.spread * p.spread;
      n += p.count;
    }
    out_.rms = n > 0 ? std::sqrt(sum / n) : 0;
  }

  const PointCloud& cloud_;
  const Frame& placement_;
  const NearestSurface& surface_;
  const EdgeZone& edges_;
  const GatherSettings& settings_;
  std::size_t stride_, count_;
  tbb::enumerable_thread_specific<std::unique_ptr<NearestSurface::Asker>> askers_;
  std::vector<FaceCells> cells_;
  std::vector<std::size_t> first_; // cell of each face, and one beyond the last
  std::size_t total_ = 0;
  std::vector<std::uint32_t> cell_, order_, begin_;
  std::vector<float> deviation_;
  Gathered out_;
};

} // namespace

std::size_t Gathered::used() const {
  std::size_t sum = 0;
  for (const FaceTally& f : faces)
    sum += f.used;
  return sum;
}

Result<Gathered> gather(const PointCloud& cloud, const Frame& placement,
                        const NearestSurface& surface, const EdgeZone& edges,
                        const GatherSettings& settings, std::size_t stride,
                        const Progress& progress) {
  return Gatherer(cloud, placement, surface, edges, settings, stride).run(progress);
}

} // namespace alder
