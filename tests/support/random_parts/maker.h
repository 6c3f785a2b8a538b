// Draws parts for randomPart(): a body with flat places, things made into and onto the places, and
// the tolerances asked of them. One maker, one part.
#pragma once

#include "base/random.h"
#include "part/recognise.h"
#include "pmi_writer.h"
#include "random_parts.h"
#include <functional>
#include <gp_Trsf.hxx>

namespace alder::test {

using demo::FaceShapes;

// Holes and the like are drilled into flat places: a corner, two directions along it, its normal,
// and how deep the material is below.
struct Place {
  Vec3 corner, u, v, normal;
  double width = 0, height = 0, depth = 0;
  std::string datum; // letter of the plane, where it is one
};

enum class Form { Hole, Boss, Cup, Cone, Slot };
struct Made {
  Form form = Form::Hole;
  Vec3 at, direction; // on the surface of the place; out of the material
  double diameter = 0, length = 0;
  std::string datum;
  Vec3 across = Vec3::Zero(); // of a slot
  int group = 0;              // holes of one circle or row, from 1
};

class PartMaker {
 public:
  explicit PartMaker(unsigned seed);
  Result<RandomPart> make(unsigned seed);

 private:
  int pick(int below) { return static_cast<int>(random_.uniform() * below); }
  bool chance(double share) { return random_.uniform() < share; }
  double between(double low, double high); // to 0.1 mm
  gp_Trsf anyMotion();
  void add(const TopoDS_Shape& s);
  void cut(const TopoDS_Shape& s);
  void place(const Vec3& corner, const Vec3& u, double width, const Vec3& v, double height,
             double depth, const std::string& datum = "");
  void plane(const std::string& letter, const Vec3& normal, double offset) {
    planes_.push_back({letter, normal, offset});
  }

  // A body with its datum planes, or a datum axis.
  void body(std::size_t family);
  void turned(std::size_t family);
  void inclined(double l, double w, double h);
  void channel(double l, double w);
  void bothSides(double l, double w, double h);
  void sides(double l, double w, double low, double high, double depth);
  void housing(double l, double w);
  void awkwardBody(std::size_t family);
  void faired(double l, double w, double h);
  void thin(double l, double w);
  void grooved();
  void teeSlot(double l, double w, double h);
  void deep(double l, double w);
  void longer();
  void tapered();

  void circle(double outer, double bore, double height);
  void furnish(std::size_t which);
  void make(const Place& p, const Vec3& at, double room);
  // A bore of at least six times its diameter; through, or blind.
  void deepBore(const Vec3& at, const Vec3& normal, double diameter, double depth);

  // Faces of the moved shape by what they were before the motion.
  FaceShapes where(const std::function<bool(const Ideal&)>& holds) const;
  FaceShapes facesOn(const Vec3& normal, double offset) const;
  FaceShapes facesOf(const Made& m) const;

  void demand();
  void demandOf(const Made& m, bool is_datum);
  void demandOfGroup(int group);
  void demandOfFarSides();
  void demandOfWalls();
  void asked() { ++requirements_; }
  void tolerance(demo::ToleranceSpec spec);
  double small(double low = 0.03, double high = 0.25);
  std::vector<demo::DatumUse> system();

  struct Plane {
    std::string letter;
    Vec3 normal;
    double offset;
  };
  struct Wall {
    Vec3 outward;
    double outer = 0, inner = 0; // offsets along `outward` and against it
  };
  Random random_;
  TopoDS_Shape shape_;
  gp_Trsf back_;
  Vec3 size_ = Vec3::Zero();
  std::vector<Place> places_;
  std::vector<Made> made_;
  std::vector<Plane> planes_, inclined_; // the inclined ones are no datums
  std::vector<Wall> walls_;
  std::vector<std::string> letters_;
  bool freeform_ = false;
  int axis_datum_ = -1, groups_ = 0, requirements_ = 0;
  demo::PmiWriter* writer_ = nullptr;
};

inline constexpr double kFullTurn = 2 * 3.14159265358979323846;

gp_Ax2 axes(const Vec3& p, const Vec3& d);
TopoDS_Shape rod(const Vec3& from, const Vec3& direction, double diameter, double length);
TopoDS_Shape box(const Vec3& low, const Vec3& high);

} // namespace alder::test
