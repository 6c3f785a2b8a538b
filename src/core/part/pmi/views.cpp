#include "part/pmi/views.h"

#include "part/step_place.h"
#include <algorithm>
#include <cctype>
#include <cmath>

namespace alder {
namespace {

using Kind = StepValue::Kind;

// Attributes that an entity declares itself: in a complex instance they have a record of their own,
// in a simple one they follow those of its supertypes.
class Own {
 public:
  Own(const StepInstance& instance, std::string_view entity, std::size_t inherited)
      : record_(instance.records.size() > 1 ? instance.find(entity) : &instance.records.front())
      , first_(instance.records.size() > 1 ? 0 : inherited) {}

  const StepValue& value(std::size_t i) const {
    static const StepValue kNone;
    return record_ && first_ + i < record_->values.size() ? record_->values[first_ + i] : kNone;
  }
  int reference(std::size_t i) const { return value(i).reference; }
  double number(std::size_t i) const { return value(i).number; }

 private:
  const StepRecord* record_;
  std::size_t first_;
};

std::string itemName(const StepInstance& instance) {
  const StepRecord* r = instance.find("REPRESENTATION_ITEM");
  if (!r) r = instance.find("REPRESENTATION");
  if (!r) r = &instance.records.front();
  return !r->values.empty() && r->values[0].kind == Kind::Text ? r->values[0].text : std::string();
}

// REPRESENTATION(name, items, context)
std::vector<int> itemsOf(const StepInstance& representation) {
  std::vector<int> ids;
  for (const StepValue& v : Own(representation, "REPRESENTATION", 0).value(1).items)
    if (v.isReference()) ids.push_back(v.reference);
  return ids;
}

double millimetresIn(const StepText& text, int representation) {
  const StepInstance* i = text.instance(representation);
  return i ? unitsOfContext(text, Own(*i, "REPRESENTATION", 0).reference(2)).mm : 1;
}

// STYLED_ITEM(styles, item)
int drawnItem(const StepInstance& occurrence) {
  return Own(occurrence, "STYLED_ITEM", 1).reference(1);
}

bool isLeader(const StepInstance& instance) {
  for (const StepRecord& r : instance.records)
    if (r.type.find("LEADER") != r.type.npos || r.type.find("TERMINATOR") != r.type.npos)
      return true;
  std::string name = itemName(instance);
  std::transform(name.begin(), name.end(), name.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return name.find("leader") != name.npos;
}

// All points of what annotations draw, in the file's units.
class DrawnPoints {
 public:
  explicit DrawnPoints(const StepText& text)
      : text_(text) {}

  void add(const StepInstance& occurrence) { addItem(drawnItem(occurrence), 0); }
  const Points& points() const { return points_; }

 private:
  void addItem(int id, int depth) {
    constexpr int kDeepest = 8;
    constexpr std::size_t kMost = 20000;
    if (depth > kDeepest || points_.size() >= kMost || !seen_.insert(id).second) return;
    if (const auto p = pointAt(text_, id)) return points_.push_back(*p);
    const auto instance = text_.anyInstance(id);
    if (!instance) return;
    for (const StepRecord& r : instance->records) {
      if (r.type == "COORDINATES_LIST") addCoordinates(r);
      for (const StepValue& v : r.values)
        addReferences(v, depth);
    }
  }

  void addReferences(const StepValue& v, int depth) {
    if (v.isReference()) addItem(v.reference, depth + 1);
    for (const StepValue& item : v.items)
      addReferences(item, depth);
  }

  // COORDINATES_LIST(name, npoints, position_coords)
  void addCoordinates(const StepRecord& r) {
    if (r.values.size() < 3) return;
    for (const StepValue& p : r.values[2].items)
      if (p.items.size() == 3)
        points_.emplace_back(p.items[0].number, p.items[1].number, p.items[2].number);
  }

  const StepText& text_;
  std::set<int> seen_;
  Points points_;
};

// A leader has few points, a text has many: the middle one of all is in the text.
Vec3 middleOf(const Points& points, const StepPlace& plane) {
  const Vec3 y = plane.z.cross(plane.x);
  Vec3 middle = Vec3::Zero();
  for (const Vec3& axis : {plane.x, y, plane.z}) {
    std::vector<double> along;
    along.reserve(points.size());
    for (const Vec3& p : points)
      along.push_back(axis.dot(p));
    std::sort(along.begin(), along.end());
    middle += axis * (along[(along.size() - 1) / 2] + along[along.size() / 2]) / 2;
  }
  return middle;
}

// ANNOTATION_PLANE(elements), a styled item of a PLANE or PLANAR_BOX; by what lies in it.
std::map<int, StepPlace> planesOfAnnotations(const StepText& text) {
  std::map<int, StepPlace> planes;
  for (int id : text.ofType("ANNOTATION_PLANE")) {
    const StepInstance& instance = *text.instance(id);
    const auto plane = text.anyInstance(drawnItem(instance));
    if (!plane) continue;
    for (const StepRecord& r : plane->records)
      for (const StepValue& v : r.values)
        if (const auto place = v.isReference() ? placeAt(text, v.reference, 1) : std::nullopt)
          for (const StepValue& element : Own(instance, "ANNOTATION_PLANE", 3).value(0).items)
            planes.emplace(element.reference, *place);
  }
  return planes;
}

// What stands on a component of an assembly is drawn in its frame, which may lie anywhere.
class Components {
 public:
  explicit Components(const StepText& text)
      : text_(text) {
    // (id, name, description, relating, related, reference designator)
    for (int id : text.ofType("NEXT_ASSEMBLY_USAGE_OCCURRENCE"))
      if (const auto& values = text.instance(id)->records.front().values; values.size() > 4)
        placed_.insert(values[4].reference);
  }

  bool hold(int requirement) const {
    return !placed_.empty() && placed_.count(productOf(requirement)) > 0;
  }

 private:
  // The first definition of a product among what it names, what that names, and so on.
  int productOf(int requirement) const {
    constexpr std::size_t kMost = 200;
    std::vector<int> queue{requirement};
    std::set<int> seen{requirement};
    for (std::size_t k = 0; k < queue.size() && k < kMost; ++k) {
      const StepInstance* i = text_.instance(queue[k]);
      if (!i) continue;
      if (i->type().starts_with("PRODUCT_DEFINITION") && i->type() != "PRODUCT_DEFINITION_SHAPE")
        return i->id;
      for (const StepRecord& r : i->records)
        for (const StepValue& v : r.values) {
          if (v.isReference() && seen.insert(v.reference).second) queue.push_back(v.reference);
          for (const StepValue& item : v.items)
            if (item.isReference() && seen.insert(item.reference).second)
              queue.push_back(item.reference);
        }
    }
    return 0;
  }

  const StepText& text_;
  std::set<int> placed_;
};

bool holds(const std::vector<int>& all, int id) {
  return std::find(all.begin(), all.end(), id) != all.end();
}

class ViewReader {
 public:
  ViewReader(const PmiSource& source, const std::vector<Drawn>& drawn,
             const std::vector<int>& requirements, const Teller& tell)
      : text_(source.text())
      , requirements_(requirements)
      , tell_(tell)
      , components_(text_) {
    for (const Drawn& d : drawn)
      for (int part : d.parts)
        by_part_[part].push_back(&d);
  }

  std::vector<PmiView> run() {
    for (int model : text_.ofType("DRAUGHTING_MODEL"))
      for (int item : itemsOf(*text_.instance(model)))
        if (isCamera(item)) read(item, model);
    // REPRESENTATION_MAP(mapping_origin, mapped_representation)
    for (int usage : text_.ofType("CAMERA_USAGE")) {
      const Own map(*text_.instance(usage), "REPRESENTATION_MAP", 0);
      if (isCamera(map.reference(0))) read(map.reference(0), map.reference(1));
    }
    for (const char* type : {"CAMERA_MODEL_D3", "CAMERA_MODEL_D3_MULTI_CLIPPING"})
      for (int camera : text_.ofType(type))
        if (cameras_.count(camera) == 0) read(camera, 0);
    for (std::size_t i = 0; i < views_.size(); ++i)
      if (views_[i].name.empty()) views_[i].name = fmt::format("View {}", i + 1);
    return std::move(views_);
  }

 private:
  bool isCamera(int id) const {
    const StepInstance* i = text_.instance(id);
    return i && i->records.size() > 0 &&
           std::any_of(i->records.begin(), i->records.end(),
                       [](const StepRecord& r) { return r.type.starts_with("CAMERA_MODEL_D3"); });
  }

  // CAMERA_MODEL_D3(view_reference_system, perspective_of_volume)
  void read(int camera, int model) {
    if (!seen_.insert({camera, model}).second) return;
    cameras_.insert(camera);
    const StepInstance& instance = *text_.instance(camera);
    const Own own(instance, "CAMERA_MODEL_D3", 1);
    PmiView view;
    view.entity = camera;
    view.cut = std::any_of(instance.records.begin(), instance.records.end(),
                           [](const StepRecord& r) { return r.type.ends_with("CLIPPING"); });
    const StepInstance* of = text_.instance(model);
    if (of) view.name = itemName(*of);
    if (view.name.empty()) view.name = itemName(instance);
    const double mm = of ? millimetresIn(text_, model) : millimetresOf(camera);
    const auto place = placeAt(text_, own.reference(0), mm);
    if (!place) return tellLeft(view, "where its camera stands cannot be read");
    view.right = place->x;
    view.towards = place->z;
    view.up = place->z.cross(place->x);
    view.corner = place->origin;
    readWindow(view, own.reference(1), *place, mm);
    readSection(view, instance, mm);
    if (of && !addShown(view, *of)) return;
    views_.push_back(std::move(view));
  }

  // CAMERA_MODEL_D3_MULTI_CLIPPING(shape_clipping): planes, or unions of planes, which stay
  // undrawn.
  void readSection(PmiView& view, const StepInstance& camera, double mm) const {
    if (!view.cut) return;
    const Own own(camera, "CAMERA_MODEL_D3_MULTI_CLIPPING", 3);
    const auto& planes = own.value(0).items;
    if (planes.size() != 1) return;
    const auto plane = text_.anyInstance(planes.front().reference);
    if (!plane || !plane->find("PLANE")) return;
    const StepRecord* item = plane->find("ELEMENTARY_SURFACE"); // in a complex instance
    const int at = item && !item->values.empty() ? item->values.back().reference
                                                 : Own(*plane, "PLANE", 1).reference(0);
    if (const auto place = placeAt(text_, at, mm))
      view.section = CutPlane{place->z, place->z.dot(place->origin)};
  }

  // VIEW_VOLUME(projection_type, projection_point, view_plane_distance, front_plane_distance,
  // front_plane_clipping, back_plane_distance, back_plane_clipping, sides_clipping, view_window),
  // all of it in the view reference system.
  void readWindow(PmiView& view, int volume, const StepPlace& place, double mm) const {
    const StepInstance* v = text_.instance(volume);
    if (!v || !v->is("VIEW_VOLUME")) return;
    const Own own(*v, "VIEW_VOLUME", 0);
    const auto inModel = [&](const Vec3& p) -> Vec3 {
      return place.origin + mm * (p.x() * view.right + p.y() * view.up + p.z() * view.towards);
    };
    if (own.value(0).text == "CENTRAL")
      if (const auto eye = pointAt(text_, own.reference(1))) view.eye = inModel(*eye);
    // PLANAR_EXTENT(size_in_x, size_in_y), PLANAR_BOX(placement)
    const StepInstance* box = text_.instance(own.reference(8));
    if (!box) return;
    const Own extent(*box, "PLANAR_EXTENT", 1);
    view.width = mm * extent.number(0);
    view.height = mm * extent.number(1);
    Vec3 corner(0, 0, own.number(2));
    if (const auto at = placementOf(*box)) corner.head<2>() = *at;
    view.corner = inModel(corner);
  }

  std::optional<Vec2> placementOf(const StepInstance& box) const {
    const bool complex = box.records.size() > 1;
    const Own own(box, "PLANAR_BOX", complex ? 0 : 3);
    if (const auto place = placeAt(text_, own.reference(0), 1))
      return Vec2(place->origin.head<2>());
    const auto flat = text_.anyInstance(own.reference(0)); // AXIS2_PLACEMENT_2D(name, location, ..)
    const StepRecord* r = flat ? flat->find("AXIS2_PLACEMENT_2D") : nullptr;
    const auto point = r && r->values.size() > 1 ? text_.anyInstance(r->values[1].reference)
                                                 : std::optional<StepInstance>();
    const StepRecord* p = point ? point->find("CARTESIAN_POINT") : nullptr;
    if (!p || p->values.size() < 2 || p->values[1].items.size() < 2) return {};
    return Vec2(p->values[1].items[0].number, p->values[1].items[1].number);
  }

  // Of a camera that no model holds: of any representation that does.
  double millimetresOf(int camera) const {
    for (const std::string& type : text_.typesEndingWith("REPRESENTATION"))
      for (int id : text_.ofType(type))
        if (holds(itemsOf(*text_.instance(id)), camera)) return millimetresIn(text_, id);
    return 1;
  }

  // False where it is a view of a component's own frame.
  bool addShown(PmiView& view, const StepInstance& model) {
    std::vector<int> items = itemsOf(model);
    for (std::size_t k = 0; k < items.size(); ++k)
      if (const StepInstance* i = text_.instance(items[k]); i && i->is("ANNOTATION_PLANE"))
        for (const StepValue& v : Own(*i, "ANNOTATION_PLANE", 3).value(0).items)
          if (v.isReference()) items.push_back(v.reference);
    std::set<int> shown;
    for (int item : items)
      if (const auto found = by_part_.find(item); found != by_part_.end())
        for (const Drawn* d : found->second)
          for (int of : d->means)
            if (holds(requirements_, of)) shown.insert(of);
    if (std::any_of(shown.begin(), shown.end(), [&](int r) { return components_.hold(r); })) {
      tellLeft(view, "it is of a component of the assembly");
      return false;
    }
    view.shows.assign(shown.begin(), shown.end());
    return true;
  }

  void tellLeft(const PmiView& view, const char* why) const {
    tell_(view.entity, fmt::format("saved view \"{}\" is left out: {}", view.name, why));
  }

  const StepText& text_;
  const std::vector<int>& requirements_;
  const Teller& tell_;
  const Components components_;
  std::map<int, std::vector<const Drawn*>> by_part_;
  std::set<std::pair<int, int>> seen_;
  std::set<int> cameras_;
  std::vector<PmiView> views_;
};

} // namespace

std::vector<PmiCallout> readCallouts(const PmiSource& source, const std::vector<Drawn>& drawn,
                                     const std::vector<int>& requirements, const Teller& tell) {
  const StepText& text = source.text();
  const auto planes = planesOfAnnotations(text);
  const Components components(text);
  std::vector<PmiCallout> callouts;
  std::set<int> placed;
  int elsewhere = 0;
  for (const Drawn& d : drawn) {
    std::vector<int> of;
    for (int id : d.means)
      if (holds(requirements, id) && placed.count(id) == 0) of.push_back(id);
    if (of.empty()) continue;
    if (components.hold(of.front())) {
      elsewhere += static_cast<int>(of.size());
      continue;
    }
    DrawnPoints words(text), all(text);
    const StepPlace* plane = nullptr;
    for (int part : d.parts) {
      if (const auto found = planes.find(part); found != planes.end()) plane = &found->second;
      const StepInstance* i = text.instance(part);
      if (!i || i->is("DRAUGHTING_CALLOUT")) continue;
      all.add(*i);
      if (!isLeader(*i)) words.add(*i);
    }
    const Points& points = words.points().empty() ? all.points() : words.points();
    if (points.empty()) continue;
    const Vec3 at = millimetresIn(text, d.model) * middleOf(points, plane ? *plane : StepPlace{});
    if (!at.allFinite()) continue;
    for (int id : of) {
      placed.insert(id);
      callouts.push_back({id, at});
    }
  }
  if (elsewhere > 0)
    tell(0, fmt::format("{} drawn on components of the assembly {} shown beside {} instead",
                        elsewhere == 1 ? "a callout" : fmt::format("{} callouts", elsewhere),
                        elsewhere == 1 ? "is" : "are",
                        elsewhere == 1 ? "its feature" : "their features"));
  return callouts;
}

std::vector<PmiView> readViews(const PmiSource& source, const std::vector<Drawn>& drawn,
                               const std::vector<int>& requirements, const Teller& tell) {
  return ViewReader(source, drawn, requirements, tell).run();
}

ParallelView parallelView(const PmiView& view, const Box3& part) {
  ParallelView seen{part.center(), view.up, view.towards, 0, 0};
  double width = view.width, height = view.height;
  if (!(width > 0) || !(height > 0) || part.isEmpty()) return seen;
  const Vec3 across = width * view.right + height * view.up;
  for (const Vec3& middle : {Vec3(view.corner + across / 2), view.corner}) {
    double scale = 1;
    Vec3 centre = middle;
    if (view.eye) { // the window as it is seen at the depth of the part
      const double window = view.towards.dot(*view.eye - middle),
                   depth = view.towards.dot(*view.eye - part.center());
      if (!(window > 0) || !(depth > 0)) continue;
      scale = depth / window;
      centre = *view.eye + scale * (middle - *view.eye);
    }
    const Vec3 off = part.center() - centre;
    if (std::abs(off.dot(view.right)) > scale * width / 2 ||
        std::abs(off.dot(view.up)) > scale * height / 2)
      continue;
    seen.centre = centre;
    seen.width = scale * width;
    seen.height = scale * height;
    return seen;
  }
  return seen;
}

} // namespace alder
