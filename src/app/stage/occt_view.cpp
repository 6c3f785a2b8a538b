#include "stage/occt_view.h"

#include "stage/occt_color.h"
#include <Aspect_DisplayConnection.hxx>
#include <Aspect_NeutralWindow.hxx>
#include <OpenGl_Context.hxx>
#include <OpenGl_FrameBuffer.hxx>
#include <OpenGl_GraphicDriver.hxx>
#include <OpenGl_View.hxx>
#include <OpenGl_Window.hxx>
#include <QCoreApplication>
#include <QMouseEvent>
#include <QOpenGLContext>
#include <QTimer>
#include <QWheelEvent>
#include <Standard_Failure.hxx>
#include <cmath>

namespace alder::app {
namespace {
constexpr int kSmooth = 4; // samples for each pixel
}

void OcctView::prepare() {
  QSurfaceFormat format;
  format.setDepthBufferSize(24);
  format.setStencilBufferSize(8);
  QSurfaceFormat::setDefaultFormat(format);
  QCoreApplication::setAttribute(Qt::AA_ShareOpenGLContexts);
}

OcctView::OcctView(QWidget* parent)
    : QOpenGLWidget(parent) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  QSurfaceFormat format;
  format.setDepthBufferSize(24);
  format.setStencilBufferSize(8);
  setFormat(format);
  setAccessibleName("Stage");
  Handle(Aspect_DisplayConnection) display;
  try {
    display = new Aspect_DisplayConnection();
  } catch (const Standard_Failure&) { // all but the picture goes on
    missing_ = "There is no X display to draw the picture on. Start the program on one (on Wayland "
               "through XWayland).";
  }
  if (QOpenGLContext probe; missing_.isEmpty() && !probe.create())
    missing_ =
        "The picture needs OpenGL through GLX, which this display does not offer. Install the "
        "OpenGL driver (libgl1-mesa-dri draws without a graphics card).";
  const Handle(OpenGl_GraphicDriver) driver = new OpenGl_GraphicDriver(display, false);
  driver->ChangeOptions().buffersNoSwap = true;
  driver->ChangeOptions().buffersOpaqueAlpha = true;
  driver->ChangeOptions().useSystemBuffer = false;
  driver->ChangeOptions().sRGBDisable = true; // Qt's framebuffer takes colours as they are
  viewer_ = new V3d_Viewer(driver);
  viewer_->SetDefaultLights();
  viewer_->SetLightOn();
  context_ = new AIS_InteractiveContext(viewer_);
  context_->SetAutoActivateSelection(false);
  view_ = viewer_->CreateView();
  view_->SetImmediateUpdate(false);
  view_->Camera()->SetProjectionType(Graphic3d_Camera::Projection_Orthographic);
  view_->ChangeRenderingParams().NbMsaaSamples = kSmooth;
  rest_.setSingleShot(true);
  connect(&rest_, &QTimer::timeout, this, [this] { redrawWith(kSmooth); });
  constexpr int kLongEnough = 3000; // ms after it is first seen
  QTimer::singleShot(kLongEnough, this, [this] {
    if (ready_ || !isVisible() || !missing_.isEmpty()) return;
    missing_ =
        "The platform that the program runs on draws no OpenGL, so that there is no picture. "
        "Start it on an X display.";
    emit cameraChanged();
  });
}

OcctView::~OcctView() {
  release();
}

// Taking the view away makes the graphic library's context current on the top-level window, which
// must still be known to the window system then: asked for the size of one that is gone, it answers
// with whatever stands in memory.
void OcctView::release() {
  if (view_.IsNull()) return;
  ready_ = false;
  rest_.stop();
  makeCurrent();
  if (viewer_->Driver()->GetDisplayConnection().IsNull()) { // nothing was ever drawn
    context_.Nullify();
    view_.Nullify();
    viewer_.Nullify();
    return;
  }
  // The connection to the display outlives the viewer: Qt makes its context current once more.
  Handle(Aspect_DisplayConnection) display = viewer_->Driver()->GetDisplayConnection();
  context_->RemoveAll(false);
  context_.Nullify();
  view_->Remove();
  view_.Nullify();
  viewer_.Nullify();
  makeCurrent();
  display.Nullify();
}

void OcctView::initializeGL() {
  if (!missing_.isEmpty()) return;
  const Handle(OpenGl_Context) gl = new OpenGl_Context();
  bool has_glx = false;
  try {
    has_glx = gl->Init(false);
  } catch (const Standard_Failure&) {
  }
  if (!has_glx) {
    missing_ =
        "The picture needs OpenGL through GLX, which this display does not offer. Install the "
        "OpenGL driver (libgl1-mesa-dri draws without a graphics card).";
    emit cameraChanged();
    return;
  }
  // The window system knows only the top-level window.
  Handle(Aspect_NeutralWindow) window = new Aspect_NeutralWindow();
  window->SetNativeHandle(static_cast<Aspect_Drawable>(this->window()->winId()));
  window->SetVirtual(true);
  const double ratio = devicePixelRatioF();
  window->SetSize(static_cast<int>(width() * ratio), static_cast<int>(height() * ratio));
  view_->SetWindow(window, gl->RenderingContext());
  TColStd_IndexedDataMapOfStringString told;
  gl->DiagnosticInformation(told, Graphic3d_DiagnosticInfo_Device);
  for (int i = 1; i <= told.Extent(); ++i)
    drawn_by_processor_ = drawn_by_processor_ || told.FindFromIndex(i).Search("llvmpipe") > 0 ||
                          told.FindFromIndex(i).Search("softpipe") > 0;
  ready_ = true;
  emit becameReady();
}

void OcctView::paintGL() {
  if (!ready_) return;
  const Handle(OpenGl_GraphicDriver) driver =
      Handle(OpenGl_GraphicDriver)::DownCast(viewer_->Driver());
  const Handle(OpenGl_Context)& gl = driver->GetSharedContext();
  Handle(OpenGl_FrameBuffer) target = gl->DefaultFrameBuffer();
  if (target.IsNull()) {
    target = new OpenGl_FrameBuffer();
    gl->SetDefaultFrameBuffer(target);
  }
  if (!target->InitWrapper(gl)) return;
  Standard_Integer w = 0, h = 0;
  const Handle(Aspect_NeutralWindow) window =
      Handle(Aspect_NeutralWindow)::DownCast(view_->Window());
  window->Size(w, h);
  if (w != target->GetVPSizeX() || h != target->GetVPSizeY()) {
    window->SetSize(target->GetVPSizeX(), target->GetVPSizeY());
    view_->MustBeResized();
    emit cameraChanged();
  }
  view_->InvalidateImmediate();
  if (view_->IsInvalidated())
    view_->Redraw();
  else
    view_->RedrawImmediate();
}

// Without a graphics card smooth edges cost as much as all the rest: they are drawn at rest.
void OcctView::redraw() {
  constexpr int kAtRest = 300; // ms
  if (drawn_by_processor_) rest_.start(kAtRest);
  redrawWith(drawn_by_processor_ ? 0 : kSmooth);
}

void OcctView::redrawWith(int samples) {
  if (!ready_) return;
  view_->ChangeRenderingParams().NbMsaaSamples = samples;
  view_->Invalidate();
  update();
}

void OcctView::setBackground(const QColor& top, const QColor& bottom) {
  view_->SetBgGradientColors(occtColor(top), occtColor(bottom), Aspect_GFM_VER, false);
  redraw();
}

QPointF OcctView::project(double x, double y, double z) const {
  if (!ready_) return {};
  Standard_Integer px = 0, py = 0;
  view_->Convert(x, y, z, px, py);
  const double ratio = devicePixelRatioF();
  return {px / ratio, py / ratio};
}

void OcctView::fitAll() {
  if (!ready_) return;
  if (home_.IsVoid())
    view_->FitAll(0.06, false);
  else
    view_->FitAll(home_, 0.06, false);
  emit cameraChanged();
  redraw();
}

void OcctView::setHome(const Bnd_Box& box) {
  home_ = box;
}

void OcctView::look(Standard direction) {
  if (!ready_) return;
  static constexpr V3d_TypeOfOrientation kDirections[]{
      V3d_TypeOfOrientation_Zup_AxoRight, V3d_TypeOfOrientation_Zup_Front,
      V3d_TypeOfOrientation_Zup_Back,     V3d_TypeOfOrientation_Zup_Left,
      V3d_TypeOfOrientation_Zup_Right,    V3d_TypeOfOrientation_Zup_Top,
      V3d_TypeOfOrientation_Zup_Bottom};
  view_->SetProj(kDirections[static_cast<int>(direction)]);
  fitAll();
}

void OcctView::look(const gp_Pnt& centre, const gp_Dir& towards, const gp_Dir& up, double width,
                    double height) {
  if (!ready_) return;
  const Handle(Graphic3d_Camera) camera = view_->Camera();
  const double distance = camera->Distance();
  camera->SetEyeAndCenter(centre.Translated(distance * gp_Vec(towards)), centre);
  camera->SetUp(up);
  if (!(width > 0) || !(height > 0)) return fitAll();
  // the scale is the shorter side of the picture
  const double aspect = camera->Aspect();
  camera->SetScale(aspect > 1 ? std::max(height, width / aspect)
                              : std::max(width, height * aspect));
  emit cameraChanged();
  redraw();
}

OcctView::Seen OcctView::seen() const {
  const Handle(Graphic3d_Camera) camera = view_->Camera();
  const gp_XYZ sides = camera->ViewDimensions();
  return {camera->Center(), camera->Direction().Reversed(), camera->OrthogonalizedUp(), sides.X(),
          sides.Y()};
}

QPoint OcctView::pixels(const QPointF& at) const {
  const double ratio = devicePixelRatioF();
  return {static_cast<int>(at.x() * ratio), static_cast<int>(at.y() * ratio)};
}

void OcctView::mousePressEvent(QMouseEvent* event) {
  pressed_ = last_ = pixels(event->position());
  dragged_ = false;
  leading_ = event->button() == Qt::LeftButton && event->modifiers() & Qt::ControlModifier;
  holding_ = event->button() == Qt::LeftButton && !leading_ && holds_ && holds_(event->position());
  if (holding_) return;
  if (ready_ && event->button() == Qt::LeftButton) view_->StartRotation(pressed_.x(), pressed_.y());
}

void OcctView::mouseMoveEvent(QMouseEvent* event) {
  if (!ready_) return;
  const QPoint at = pixels(event->position());
  if ((at - pressed_).manhattanLength() > 4) dragged_ = true;
  const bool pan = event->buttons() & (Qt::MiddleButton | Qt::RightButton) ||
                   (event->buttons() & Qt::LeftButton && event->modifiers() & Qt::ShiftModifier);
  if (holding_) {
    if (dragged_) emit heldTo(event->position());
    return;
  }
  if (leading_ && event->buttons() & Qt::LeftButton) {
    if (dragged_) emit led(at);
    return;
  }
  if (pan && dragged_) {
    view_->Pan(at.x() - last_.x(), last_.y() - at.y());
  } else if (event->buttons() & Qt::LeftButton && dragged_) {
    view_->Rotation(at.x(), at.y());
  } else if (event->buttons() == Qt::NoButton) {
    emit hovered(at);
    last_ = at;
    return;
  }
  last_ = at;
  emit cameraChanged();
  redraw();
}

void OcctView::mouseReleaseEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && !dragged_)
    emit clicked(pixels(event->position()), event->modifiers() & Qt::ControlModifier);
  if (std::exchange(holding_, false)) emit letGo(dragged_);
  if (leading_ && dragged_) emit ledOff();
  leading_ = false;
}

void OcctView::wheelEvent(QWheelEvent* event) {
  if (!ready_) return;
  const QPoint at = pixels(event->position());
  const int step = event->angleDelta().y() / 6;
  view_->StartZoomAtPoint(at.x(), at.y());
  view_->ZoomAtPoint(at.x(), at.y(), at.x() + step, at.y());
  emit cameraChanged();
  redraw();
}

} // namespace alder::app
