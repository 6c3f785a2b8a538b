#include "requirements/recognised_list.h"

#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

namespace alder::app {

RecognisedList::RecognisedList(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , title_(new QLabel)
    , list_(new QListWidget) {
  setObjectName("recognised");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 6, 0, 0);
  layout->setSpacing(3);
  title_->setText(
      "Recognised on the part, not asked for yet: pick, T, and type what the drawing says.");
  title_->setContentsMargins(16, 0, 14, 0);
  title_->setFont(theme.text(8.5));
  title_->setProperty("role", "second");
  title_->setWordWrap(true);
  layout->addWidget(title_);
  layout->addWidget(list_, 1);
  list_->setObjectName("recognisedList");
  list_->setAccessibleName("Recognised on the part, not asked for yet");
  list_->setFont(theme.text(9));
  list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setTextElideMode(Qt::ElideRight);
  connect(list_, &QListWidget::itemSelectionChanged, this, &RecognisedList::pick);
  connect(list_, &QListWidget::itemActivated, this, &RecognisedList::typeWanted);
  hide();
}

void RecognisedList::refresh(bool wanted) {
  const bool open = wanted && document_.isOpen();
  // What the model says of its own is gone through by the requirements.
  const bool bare = open && std::all_of(document_.plan().spec.requirements.begin(),
                                        document_.plan().spec.requirements.end(),
                                        [](const Requirement& r) { return r.entity == 0; });
  if (!bare) {
    groups_.clear();
    part_.reset();
    spec_ = {};
    list_->clear();
    return hide();
  }
  // Asked for at every change of the routine; most of them change nothing here.
  const Plan& plan = document_.plan();
  if (plan.part == part_ && plan.spec == spec_) return setVisible(!groups_.empty());
  part_ = plan.part;
  spec_ = plan.spec;
  auto now = surfacesNotAskedFor(*part_, spec_);
  const auto same = [](const SurfaceGroup& a, const SurfaceGroup& b) {
    return a.words == b.words && a.surfaces == b.surfaces;
  };
  if (!std::equal(now.begin(), now.end(), groups_.begin(), groups_.end(), same)) {
    groups_ = std::move(now);
    const QSignalBlocker blocker(list_);
    list_->clear();
    for (const SurfaceGroup& g : groups_)
      list_->addItem(QString::fromStdString(g.words));
    syncSelection();
  }
  setVisible(!groups_.empty());
}

bool RecognisedList::isPicked(const SurfaceGroup& g) const {
  const Selection& s = document_.selection();
  const auto holds = [](const std::vector<FaceId>& all, FaceId id) {
    return std::find(all.begin(), all.end(), id) != all.end();
  };
  return std::all_of(g.surfaces.begin(), g.surfaces.end(), [&](const std::vector<FaceId>& faces) {
    const bool as_face =
        std::any_of(faces.begin(), faces.end(), [&](FaceId id) { return holds(s.faces, id); });
    return as_face || std::any_of(s.features.begin(), s.features.end(), [&](FeatureId id) {
             return holds(document_.plan().nominal(id).faces, faces.front());
           });
  });
}

void RecognisedList::syncSelection() {
  if (groups_.empty()) return;
  const QSignalBlocker blocker(list_);
  for (std::size_t i = 0; i < groups_.size(); ++i) {
    QListWidgetItem* item = list_->item(static_cast<int>(i));
    const bool picked = isPicked(groups_[i]);
    if (picked && !item->isSelected()) list_->scrollToItem(item);
    item->setSelected(picked);
  }
}

// As if each had been picked in the stage.
void RecognisedList::pick() {
  std::vector<FaceId> faces;
  std::vector<FeatureId> features;
  for (std::size_t i = 0; i < groups_.size(); ++i) {
    if (!list_->item(static_cast<int>(i))->isSelected()) continue;
    for (const auto& surface : groups_[i].surfaces) {
      faces.push_back(surface.front());
      for (const NominalFeature& f : document_.plan().spec.features)
        if (f.faces == surface) features.push_back(f.id);
    }
  }
  if (faces.empty()) return;
  if (features.size() == faces.size())
    document_.selectFeatures(std::move(features));
  else
    document_.selectFaces(std::move(faces));
}

} // namespace alder::app
