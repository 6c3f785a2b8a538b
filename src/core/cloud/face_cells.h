// Cells that divide a face evenly, in which a scanner's points are gathered: a grid on planes,
// rings of equal angles on cylinders, cones and spheres, cubes for all other faces. CAD frame, mm.
#pragma once

#include "part/model.h"
#include <optional>

namespace alder {

// Side of the cells of a surface of this area (mm2) with so many points on it: fine enough for its
// form, and no more of them than a judge needs; each with points enough that their noise averages
// out, as long as some dozens of cells are left.
double cellSizeFor(double area, double points);

class FaceCells {
 public:
  // `size`: side of a cell. `lines`, where given: the direction in which the rows of a plane run.
  FaceCells(const PartModel& part, FaceId face, double size, const std::optional<Vec3>& lines = {});

  std::size_t count() const { return count_; }
  double size() const { return size_; }
  // Cell of a place on the surface; nothing where it lies beyond the face.
  std::optional<std::size_t> cellAt(const Vec3& place) const;
  // Ring, line or layer of a cell. Cells of one row follow each other.
  int rowOf(std::size_t cell) const;
  // Middle of a cell on what is round; elsewhere the place itself.
  Vec3 middleOf(std::size_t cell, const Vec3& place) const;
  // On a cone, a place of the cell moved along its generator to the height of its ring: only there
  // is its section round.
  Vec3 levelled(std::size_t cell, const Vec3& foot) const;

 private:
  enum class Kind { Grid, Rings, Cap, Cubes };
  void divide(const Points& local);
  void divideCap(double low, double high);
  double radiusAt(double along) const; // of a ring
  Vec3 onRing(double angle, std::size_t ring) const;

  Kind kind_ = Kind::Cubes;
  Ideal ideal_;
  double size_ = 1;
  Frame frame_ = Frame::Identity(), inverse_ = Frame::Identity();
  Vec3 low_ = Vec3::Zero(), step_ = Vec3::Ones();
  std::array<int, 3> n_{1, 1, 1};  // rows, places in a row, layers
  std::vector<std::size_t> first_; // of each row of a cap
  std::size_t count_ = 0;
};

} // namespace alder
