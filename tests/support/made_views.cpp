#include "made_views.h"

#include "base/random.h"
#include <fmt/format.h>

namespace alder::test {
namespace {

struct ViewAxes {
  Vec3 x, y, z;
};

class ViewMaker {
 public:
  explicit ViewMaker(const ViewsWanted& wanted)
      : wanted_(wanted)
      , random_(wanted.seed)
      , next_(wanted.first_id) {}

  MadeViews run() {
    for (EntityNumber r : wanted_.requirements)
      callout(r);
    const int count = 1 + pick(3);
    // Models are read by their number, cameras that none holds after them.
    for (int i = 0; i < count; ++i)
      view(i);
    return std::move(made_);
  }

 private:
  int pick(int of) { return static_cast<int>(random_.uniform() * of); }
  bool either() { return random_.uniform() < 0.5; }
  int put(const std::string& record) {
    made_.records += fmt::format("#{}={};\n", next_, record);
    return next_++;
  }
  ViewAxes anyAxes() {
    Vec3 z(random_.normal(), random_.normal(), random_.normal());
    z.normalize();
    Vec3 x = Vec3(random_.normal(), random_.normal(), random_.normal()).cross(z);
    x.normalize();
    return {x, z.cross(x), z};
  }
  std::string numbers(const Vec3& p) {
    return fmt::format("({:.17g},{:.17g},{:.17g})", p.x(), p.y(), p.z());
  }
  int direction(const Vec3& d) { return put("DIRECTION(''," + numbers(d) + ")"); }
  // mm
  int point(const Vec3& p) {
    return put("CARTESIAN_POINT(''," + numbers(p / wanted_.mm_per_unit) + ")");
  }
  int place(const Vec3& origin, const ViewAxes& axes) {
    const int o = point(origin), z = direction(axes.z), x = direction(axes.x);
    return put(fmt::format("AXIS2_PLACEMENT_3D('',#{},#{},#{})", o, z, x));
  }
  static std::string list(const std::vector<int>& ids) {
    std::string text;
    for (int id : ids)
      text += fmt::format("{}#{}", text.empty() ? "" : ",", id);
    return "(" + text + ")";
  }

  // A drawn text of many points, and a leader of few that runs far away.
  void callout(EntityNumber of) {
    const ViewAxes axes = anyAxes();
    const Vec3 middle =
        wanted_.part + 60 * Vec3(random_.normal(), random_.normal(), random_.normal());
    const double half_width = random_.uniform(5, 20), half_height = random_.uniform(1, 4);
    Points text;
    for (int i = 0; i < 30; ++i)
      text.push_back(middle + random_.uniform(-1, 1) * half_width * axes.x +
                     random_.uniform(-1, 1) * half_height * axes.y);
    const Points leader{middle - half_width * axes.x,
                        middle - random_.uniform(100, 400) * axes.x - 30 * axes.y, wanted_.part};
    std::vector<int> contents;
    const int form = wanted_.simple ? 0 : pick(4);
    if (form == 3) { // a place kept for the text
      const int at = place(middle, axes), set = put(fmt::format("GEOMETRIC_SET('',(#{}))", at));
      contents.push_back(put(fmt::format(
          "ANNOTATION_PLACEHOLDER_OCCURRENCE('',(),#{},.ANNOTATION_TEXT.,{:.3f})", set, 2.5)));
    } else if (either()) {
      contents.push_back(occurrence(form, {text, leader}, ""));
    } else {
      contents.push_back(occurrence(form, {leader}, "leader line"));
      contents.push_back(occurrence(form, {text}, "flatness"));
    }
    const int drawn = put(fmt::format("DRAUGHTING_CALLOUT('callout {}',{})", of, list(contents)));
    callouts_.push_back({drawn, of});
    const bool by_part = !wanted_.simple && either();
    const int named = by_part ? contents.back() : drawn;
    associate_.push_back({of, named});
    if (either()) plane(drawn, middle + axes.x * random_.uniform(-30, 30), axes);
    made_.callouts.push_back({of, middle, std::hypot(half_width, half_height)});
  }

  int occurrence(int form, const std::vector<Points>& lines, const std::string& name) {
    std::vector<int> parts;
    if (form == 0) {
      std::string all, strips;
      int count = 0;
      for (const Points& line : lines) {
        std::string strip;
        for (const Vec3& p : line) {
          all += (all.empty() ? "" : ",") + numbers(p / wanted_.mm_per_unit);
          strip += (strip.empty() ? "" : ",") + std::to_string(++count);
        }
        strips += (strips.empty() ? "(" : ",(") + strip + ")";
      }
      const int points = put(fmt::format("COORDINATES_LIST('',{},({}))", count, all)),
                curves = put(fmt::format("TESSELLATED_CURVE_SET('',#{},({}))", points, strips)),
                set = put(fmt::format("TESSELLATED_GEOMETRIC_SET('',(#{}))", curves));
      return put(fmt::format("TESSELLATED_ANNOTATION_OCCURRENCE('{}',(),#{})", name, set));
    }
    for (const Points& line : lines) {
      std::vector<int> ids;
      for (const Vec3& p : line)
        ids.push_back(point(p));
      parts.push_back(put("POLYLINE(''," + list(ids) + ")"));
    }
    const int set = put("GEOMETRIC_CURVE_SET(''," + list(parts) + ")");
    if (form == 1) return put(fmt::format("ANNOTATION_CURVE_OCCURRENCE('{}',(),#{})", name, set));
    return put(fmt::format("(ANNOTATION_CURVE_OCCURRENCE()ANNOTATION_OCCURRENCE()"
                           "DRAUGHTING_ANNOTATION_OCCURRENCE()GEOMETRIC_REPRESENTATION_ITEM()"
                           "REPRESENTATION_ITEM('{}')STYLED_ITEM((),#{}))",
                           name, set));
  }

  void plane(int drawn, const Vec3& origin, const ViewAxes& axes) {
    const int at = place(origin, axes), item = put(fmt::format("PLANE('',#{})", at));
    const int id = either()
                       ? put(fmt::format("ANNOTATION_PLANE('',(),#{},(#{}))", item, drawn))
                       : put(fmt::format("(ANNOTATION_OCCURRENCE()ANNOTATION_PLANE((#{}))"
                                         "GEOMETRIC_REPRESENTATION_ITEM()REPRESENTATION_ITEM('')"
                                         "STYLED_ITEM((),#{}))",
                                         drawn, item));
    planes_[drawn] = id;
  }

  void view(int number) {
    const ViewAxes axes = anyAxes();
    MadeView v;
    v.name = fmt::format("Ansicht {} \"oben\"", number + 1);
    v.towards = axes.z;
    v.up = axes.y;
    v.width = random_.uniform(150, 400);
    v.height = random_.uniform(100, 300);
    const double plane = random_.uniform(-50, 50), far = random_.uniform(300, 900);
    const bool central = !wanted_.simple && pick(3) == 0;
    v.about_its_place = !wanted_.simple && pick(3) == 0;
    // the part in the window, near its middle
    v.middle = wanted_.part + 0.1 * v.width * axes.x - 0.2 * v.height * axes.y + plane * axes.z;
    Vec3 origin = v.middle - plane * axes.z;
    Vec3 corner(-v.width / 2, -v.height / 2, 0);
    if (v.about_its_place) {
      // from a corner there the part would be outside
      corner = Vec3::Zero();
      v.middle += 0.1 * v.width * axes.x + 0.4 * v.height * axes.y;
      origin = v.middle - plane * axes.z;
    }
    const Vec3 eye(0, 0, plane + far);
    if (central) v.eye = origin + eye.z() * axes.z;
    const int volume = window(v, plane, corner, eye, central);
    const int at = place(origin, axes);
    v.cut = !wanted_.simple && pick(4) == 0;
    const std::string name = v.name;
    std::string record = fmt::format("CAMERA_MODEL_D3('{}',#{},#{})", name, at, volume);
    if (v.cut) {
      const ViewAxes across = anyAxes();
      const Vec3 on = origin + Vec3(random_.uniform(-20, 20), 3, random_.uniform(-9, 9));
      std::string planes = fmt::format("#{}", put(fmt::format("PLANE('',#{})", place(on, across))));
      if (pick(3) == 0)
        planes += fmt::format(",#{}", put(fmt::format("PLANE('',#{})", at)));
      else
        v.section = std::pair{on, across.z};
      record = either() ? fmt::format("CAMERA_MODEL_D3_MULTI_CLIPPING('{}',#{},#{},({}))", name, at,
                                      volume, planes)
                        : fmt::format("(CAMERA_MODEL()CAMERA_MODEL_D3(#{},#{})"
                                      "CAMERA_MODEL_D3_MULTI_CLIPPING(({}))"
                                      "GEOMETRIC_REPRESENTATION_ITEM()REPRESENTATION_ITEM('{}'))",
                                      at, volume, planes, name);
    } else if (!wanted_.simple && either()) {
      record = fmt::format("(CAMERA_MODEL()CAMERA_MODEL_D3(#{},#{})"
                           "GEOMETRIC_REPRESENTATION_ITEM()REPRESENTATION_ITEM('{}'))",
                           at, volume, name);
    }
    model(v, put(record));
    made_.views.push_back(std::move(v));
  }

  int window(const MadeView& v, double plane, const Vec3& corner, const Vec3& eye, bool central) {
    const double mm = wanted_.mm_per_unit;
    int at = 0;
    if (wanted_.simple || either()) {
      at = place(corner, {Vec3::UnitX(), Vec3::UnitY(), Vec3::UnitZ()});
    } else {
      const int o = put(
          fmt::format("CARTESIAN_POINT('',({:.17g},{:.17g}))", corner.x() / mm, corner.y() / mm));
      at = put(fmt::format("AXIS2_PLACEMENT_2D('',#{},$)", o));
    }
    const int box = !wanted_.simple && either()
                        ? put(fmt::format("(GEOMETRIC_REPRESENTATION_ITEM()PLANAR_BOX(#{})"
                                          "PLANAR_EXTENT({:.17g},{:.17g})REPRESENTATION_ITEM(''))",
                                          at, v.width / mm, v.height / mm))
                        : put(fmt::format("PLANAR_BOX('',{:.17g},{:.17g},#{})", v.width / mm,
                                          v.height / mm, at));
    const int from = point(eye);
    return put(fmt::format("VIEW_VOLUME(.{}.,#{},{:.17g},0.,.F.,0.,.F.,.F.,#{})",
                           central ? "CENTRAL" : "PARALLEL", from, plane / mm, box));
  }

  void model(MadeView& v, int camera) {
    std::vector<int> items;
    const bool by_usage = !wanted_.simple && pick(3) == 0;
    if (!by_usage) items.push_back(camera);
    for (const auto& [drawn, of] : callouts_) {
      if (!either()) continue;
      v.shows.push_back(of);
      const auto plane = planes_.find(drawn);
      items.push_back(plane != planes_.end() && !wanted_.simple ? plane->second : drawn);
    }
    const std::string name = either() ? v.name : "";
    const int id =
        put(wanted_.simple || either()
                ? fmt::format("DRAUGHTING_MODEL('{}',{},#{})", name, list(items), wanted_.context)
                : fmt::format("(CHARACTERIZED_OBJECT(*,*)CHARACTERIZED_REPRESENTATION()"
                              "DRAUGHTING_MODEL()REPRESENTATION('{}',{},#{}))",
                              name, list(items), wanted_.context));
    if (by_usage) put(fmt::format("CAMERA_USAGE(#{},#{})", camera, id));
    for (const auto& [of, named] : associate_)
      put(fmt::format("DRAUGHTING_MODEL_ITEM_ASSOCIATION('','',#{},#{},#{})", of, id, named));
    associate_.clear(); // once is enough
  }

  const ViewsWanted& wanted_;
  Random random_;
  int next_;
  std::vector<std::pair<int, EntityNumber>> callouts_;  // drawn, of
  std::vector<std::pair<EntityNumber, int>> associate_; // of, what is named
  std::map<int, int> planes_;                           // of a callout
  MadeViews made_;
};

} // namespace

MadeViews madeViews(const ViewsWanted& wanted) {
  return ViewMaker(wanted).run();
}

} // namespace alder::test
