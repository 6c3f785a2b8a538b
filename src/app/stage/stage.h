// The picture in the middle: what each desk shows of the document, picking, and the captions over
// it.
#pragma once

#include "document/document.h"
#include "shell/desk.h"
#include "stage/occt_view.h"
#include "stage/scene_object.h"
#include "theme/theme.h"
#include <AIS_ColoredShape.hxx>
#include <Graphic3d_ClipPlane.hxx>

namespace alder::app {

class StageOverlay;

class Stage : public QWidget {
  Q_OBJECT

 public:
  Stage(Document& document, const Theme& theme, QWidget* parent = nullptr);

  void setDesk(Desk desk);
  void setCalm(bool calm); // without the way: for who runs the routine
  Desk desk() const { return desk_; }
  OcctView& view() { return *view_; }
  StageOverlay& overlay() { return *overlay_; }
  void look(OcctView::Standard direction);
  void seeAll();
  // A view that the model's designer saved, by its place in the model, with its callouts; until
  // another look is taken.
  void showView(std::size_t view);
  // One that the routine keeps, by its name.
  void showKept(const std::string& name);
  const KeptView* keptView() const; // that is shown; null: none
  KeptView seenNow() const;         // with the callouts that are shown, without a name
  // Where the label of a kept view's callout was put, or is being dragged to, widget coordinates.
  std::optional<QPointF> labelOf(const KeptCallout& callout) const;
  // Views of the model, then those that are kept: the place of the one that is shown.
  std::optional<std::size_t> shownView() const;
  std::vector<RequirementId> requirementsOfView() const;
  // Where the designer drew a requirement, machine frame.
  std::optional<Vec3> calloutOf(const Requirement& requirement) const;
  void frameSelection(); // moves the camera so that the selected features fill the picture
  // Keeps the ball in the middle of the picture.
  void setFollowing(bool following);
  bool following() const { return following_; }
  QPointF project(const Vec3& machine) const;
  // A place on the feature for leaders, machine frame.
  Vec3 anchorOf(FeatureId feature) const;
  // The farthest off of a cloud's places that face the eye, well apart from each other.
  std::vector<MapPlace> worstPlaces(std::size_t most) const;
  std::optional<MapPlace> placeUnderMouse() const;
  const DeviationMap& map() const { return map_; }
  // What of the surface of the map's features is not seen, and left out of it: shares.
  double notSeen() const { return not_seen_; }
  double leftOut() const { return left_out_; }
  // Of the section, as it is being dragged; nothing: none is shown.
  std::optional<CutPlane> cutNow() const;
  // Its frame, about the part, and where it is taken hold of, widget coordinates.
  struct SectionFrame {
    std::array<QPointF, 4> corners;
    QPointF handle, along; // a mm along the normal moves the handle so; small: towards the eye
    double scale = 1;      // pixels a mm across the line of sight
  };
  std::optional<SectionFrame> sectionFrame() const;
  QString ledText() const; // of the shank being turned by hand; else empty

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void rebuildPart();
  void rebuildScene();
  void recolorPart();
  void moveTool();
  void showTrail(std::size_t position, const Vec3& ball);
  void showObject(SceneGeometry geometry);
  double pointRadius() const;
  void setHome();
  gp_Dir viewDirection() const;
  void showFixture();
  int fixtureState() const; // at the playhead
  std::optional<Position> builtStylus() const;
  std::optional<Position> ledStylus() const;
  std::optional<std::string> fixtureAt(const QPoint& at) const;
  void showShell();
  void showTouches();
  void showConstructed();
  void showWay();
  void showClashes();
  void showDeviations();
  // stage_places.cpp: what a cloud showed
  void showPlaces();
  void showWhiskers();
  void showUnshown();
  bool findUnderMouse(); // by what the view has picked there; whether it is another one
  // stage_section.cpp: a section, with what lies before the plane taken away; the deviations of a
  // map along its outlines
  void showSection();
  void clipBySection();
  bool isKept(const Vec3& place) const;
  bool clipsAway() const; // the side to which the plane's normal points, as the eye is now
  bool holdSection(const QPointF& at);
  void dragSection(const QPointF& to);
  double enlarged(double off, double allowed) const;
  void showZones();
  double exaggerationFor(double allowed) const;
  void pick(const QPoint& at, bool add);
  void pickFace(FaceId face, bool add);
  std::optional<Vec3> pickedPlace() const; // CAD frame
  // stage_shank.cpp: the shank of the selected feature's stylus turned by hand
  void leadShank(const QPoint& at);
  void forceShank();
  FaceId faceAt(const QPoint& at);
  std::optional<FeatureId> featureOf(FaceId face) const;

  Document& document_;
  const Theme& theme_;
  OcctView* view_;
  StageOverlay* overlay_;
  Desk desk_ = Desk::Part;
  Handle(AIS_ColoredShape) part_;
  std::vector<Handle(SceneObject)> objects_;
  DeviationMap map_; // in the Verdict desk
  double not_seen_ = 0, left_out_ = 0;
  std::optional<std::size_t> under_mouse_; // of the map's places
  Handle(Graphic3d_ClipPlane) clip_, cap_; // of all but what lies in the plane; of the part
  std::vector<Handle(SceneObject)> tool_;
  Handle(SceneObject) trail_;
  bool following_ = false, calm_ = false;
  struct Led {
    FeatureId feature;
    Access access;
    int reached = 0, touches = 0;
  };
  std::optional<Led> led_; // while it is turned
  Access tool_access_;
  bool tool_bare_ = false, tool_blocked_ = false;
  std::string tool_bench_; // as it was when the tool was made
  PartPtr shown_part_;
  bool fit_pending_ = false;
  int shown_state_ = 0; // of the fixture
  bool holdLabel(const QPointF& at);
  void dropLabel(bool moved);
  Vec3 rightOf(const KeptView& view) const; // machine frame
  Vec3 upOf(const KeptView& view) const;

  std::optional<std::size_t> shown_view_;
  std::string shown_kept_; // empty: none
  struct HeldLabel {
    RequirementId requirement;
    QPointF from, middle; // the mouse where it took hold; the label's middle, now
  };
  std::optional<HeldLabel> held_;
  struct HeldSection {
    QPointF from;
    double at_first, at;
  };
  std::optional<HeldSection> held_section_;
};

} // namespace alder::app
