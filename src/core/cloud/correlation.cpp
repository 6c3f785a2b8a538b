#include "cloud/correlation.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <fftw3.h>
#include <mutex>
#include <tbb/enumerable_thread_specific.h>

namespace alder {
namespace {

constexpr int kSmallest = 32, kLargest = 72;
constexpr double kPartCells = 28; // that the part takes across

using Complex = std::complex<float>;

struct FftwFree {
  void operator()(void* p) const { fftwf_free(p); }
};
template <class T> using Buffer = std::unique_ptr<T[], FftwFree>;
template <class T> Buffer<T> bufferOf(std::size_t n) {
  return Buffer<T>(static_cast<T*>(fftwf_malloc(n * sizeof(T))));
}

// The library's planner is not for two threads, in all of the program.
std::mutex& plannerMutex() {
  static std::mutex mutex;
  return mutex;
}

int goodSize(double wanted) {
  for (const int n : {32, 36, 40, 45, 48, 54, 60, 64, 72})
    if (n >= wanted) return n;
  return kLargest;
}

} // namespace

struct Correlation::Impl {
  int n = kSmallest;
  double h = 1;
  Buffer<Complex> part; // transform of the nearness to the part
  fftwf_plan forward = nullptr, backward = nullptr;

  struct Scratch {
    Buffer<float> field;
    Buffer<Complex> spectrum;
  };
  mutable tbb::enumerable_thread_specific<Scratch> scratch{[this] { return newScratch(); }};

  std::size_t cells() const { return static_cast<std::size_t>(n) * n * n; }
  std::size_t waves() const { return static_cast<std::size_t>(n) * n * (n / 2 + 1); }
  Scratch newScratch() const { return {bufferOf<float>(cells()), bufferOf<Complex>(waves())}; }
  static fftwf_complex* raw(Complex* c) { return reinterpret_cast<fftwf_complex*>(c); }

  std::size_t at(int x, int y, int z) const {
    const auto wrap = [&](int v) { return static_cast<std::size_t>(((v % n) + n) % n); };
    return (wrap(x) * static_cast<std::size_t>(n) + wrap(y)) * static_cast<std::size_t>(n) +
           wrap(z);
  }
  int cell(double v) const { return static_cast<int>(std::floor(v / h + 0.5)); }

  ~Impl() {
    const std::lock_guard lock(plannerMutex());
    fftwf_destroy_plan(forward);
    fftwf_destroy_plan(backward);
  }

  // 1 in the cells of the part, falling off over its neighbours.
  void fillPart(const Points& points) {
    Scratch& s = scratch.local();
    std::fill_n(s.field.get(), cells(), 0.f);
    constexpr int kAround = 2;
    for (const Vec3& p : points) {
      const int x = cell(p.x()), y = cell(p.y()), z = cell(p.z());
      for (int i = -kAround; i <= kAround; ++i)
        for (int j = -kAround; j <= kAround; ++j)
          for (int k = -kAround; k <= kAround; ++k) {
            const double d2 = (Vec3(x + i, y + j, z + k) - p / h).squaredNorm();
            float& v = s.field[at(x + i, y + j, z + k)];
            v = std::max(v, static_cast<float>(std::exp(-d2 / 2)));
          }
    }
    part = bufferOf<Complex>(waves());
    fftwf_execute_dft_r2c(forward, s.field.get(), raw(part.get()));
  }
};

Correlation::Correlation(const Points& part, double part_reach, double cloud_reach)
    : impl_(new Impl) {
  Impl& m = *impl_;
  m.h = 2 * part_reach / kPartCells;
  m.n = goodSize(std::max(kPartCells, 2 * cloud_reach / m.h) * 1.1);
  m.h = std::max(m.h, 2 * cloud_reach * 1.05 / m.n);
  Impl::Scratch& s = m.scratch.local();
  {
    const std::lock_guard lock(plannerMutex());
    m.forward = fftwf_plan_dft_r2c_3d(m.n, m.n, m.n, s.field.get(), Impl::raw(s.spectrum.get()),
                                      FFTW_ESTIMATE);
    m.backward = fftwf_plan_dft_c2r_3d(m.n, m.n, m.n, Impl::raw(s.spectrum.get()), s.field.get(),
                                       FFTW_ESTIMATE);
  }
  m.fillPart(part);
}
Correlation::~Correlation() = default;

double Correlation::step() const {
  return impl_->h;
}

Correlation::Best Correlation::best(const Points& cloud, const Mat3& turn) const {
  const Impl& m = *impl_;
  Impl::Scratch& s = m.scratch.local();
  std::fill_n(s.field.get(), m.cells(), 0.f);
  for (const Vec3& p : cloud) {
    const Vec3 q = turn * p;
    s.field[m.at(m.cell(q.x()), m.cell(q.y()), m.cell(q.z()))] += 1;
  }
  fftwf_execute_dft_r2c(m.forward, s.field.get(), Impl::raw(s.spectrum.get()));
  for (std::size_t i = 0; i < m.waves(); ++i)
    s.spectrum[i] = m.part[i] * std::conj(s.spectrum[i]);
  fftwf_execute_dft_c2r(m.backward, Impl::raw(s.spectrum.get()), s.field.get());
  const float* top = std::max_element(s.field.get(), s.field.get() + m.cells());
  const auto index = static_cast<int>(top - s.field.get());
  const auto back = [&](int v) { return m.h * (v > m.n / 2 ? v - m.n : v); };
  return {static_cast<double>(*top) / static_cast<double>(m.cells()) /
              static_cast<double>(std::max<std::size_t>(cloud.size(), 1)),
          {back(index / (m.n * m.n)), back(index / m.n % m.n), back(index % m.n)}};
}

} // namespace alder
