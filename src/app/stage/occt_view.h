// The CAD library's viewer inside a Qt OpenGL widget: camera, drawing, picking. What is shown is
// the business of StageScene.
#pragma once

#include <AIS_InteractiveContext.hxx>
#include <Bnd_Box.hxx>
#include <QColor>
#include <QOpenGLWidget>
#include <QTimer>
#include <V3d_View.hxx>
#include <V3d_Viewer.hxx>
#include <functional>

class OpenGl_FrameBuffer;

namespace alder::app {

class OcctView : public QOpenGLWidget {
  Q_OBJECT

 public:
  // To be called before the application object is made: the top-level window must have depth and
  // stencil buffers too, and contexts must be shared.
  static void prepare();
  explicit OcctView(QWidget* parent = nullptr);
  ~OcctView() override;
  void release(); // before the top-level window goes; nothing is drawn afterwards

  const Handle(AIS_InteractiveContext) & context() const { return context_; }
  const Handle(V3d_View) & view() const { return view_; }
  void setBackground(const QColor& top, const QColor& bottom);
  QPointF project(double x, double y, double z) const; // widget coordinates
  bool ready() const { return ready_; }
  // Known at once where no context can be made; the widget then must not go into a window.
  QString missing() const {
    return missing_;
  } // why there is no picture; empty: there is, or will be

  void setHome(const Bnd_Box& box); // what fitAll shows
  void fitAll();
  enum class Standard { Iso, Front, Back, Left, Right, Top, Bottom };
  void look(Standard direction);
  // Against `towards`; a window of this size, mm, is all in the picture. No size: what fitAll
  // shows.
  void look(const gp_Pnt& centre, const gp_Dir& towards, const gp_Dir& up, double width,
            double height);
  // What is all in the picture now.
  struct Seen {
    gp_Pnt centre;
    gp_Dir towards, up; // to the eye
    double width = 0, height = 0;
  };
  Seen seen() const;
  // Asked where the left button goes down: whether something is there that is dragged by itself.
  void setHolds(std::function<bool(const QPointF&)> holds) { holds_ = std::move(holds); }
  void redraw(); // schedules a paint with the scene redrawn

 signals:
  void becameReady();
  void cameraChanged();
  void clicked(const QPoint& at, bool add);
  void led(const QPoint& at); // dragged with Ctrl
  void ledOff();
  void heldTo(const QPointF& at); // what is held is dragged, widget coordinates
  void letGo(bool moved);
  void hovered(const QPoint& at);

 protected:
  void initializeGL() override;
  void paintGL() override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  void redrawWith(int samples);
  QPoint pixels(const QPointF& at) const;

  Handle(V3d_Viewer) viewer_;
  Handle(V3d_View) view_;
  Handle(AIS_InteractiveContext) context_;
  Bnd_Box home_;
  QString missing_;
  QPoint pressed_, last_;
  QTimer rest_; // runs out when nothing changed for a moment
  std::function<bool(const QPointF&)> holds_;
  bool holding_ = false;
  bool dragged_ = false, leading_ = false, ready_ = false, drawn_by_processor_ = false;
};

} // namespace alder::app
