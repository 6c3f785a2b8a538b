// The bodies of the CAD file, in the tree of its components: which of them are the part.
#include "card/card.h"
#include "card/words.h"
#include <QHeaderView>
#include <QKeyEvent>
#include <QTreeWidget>
#include <algorithm>

namespace alder::app {
namespace {

constexpr int kBody = Qt::UserRole; // number of the body; components have none

// Components in the order of the file, bodies below theirs; with checks for those that are taken.
class BodyTree : public QTreeWidget {
 public:
  BodyTree(const PartModel& part, std::function<void()> take)
      : take_(std::move(take)) {
    setObjectName("bodies");
    setHeaderHidden(true);
    setUniformRowHeights(true);
    setAccessibleName("Bodies of the CAD file");
    std::vector<QTreeWidgetItem*> components;
    for (const CadComponent& c : part.components) {
      auto* above =
          c.parent < 0 ? invisibleRootItem() : components[static_cast<std::size_t>(c.parent)];
      auto* item = new QTreeWidgetItem(above, {text(c.name)});
      item->setFlags(item->flags() | Qt::ItemIsAutoTristate | Qt::ItemIsUserCheckable);
      components.push_back(item);
    }
    std::vector<int> count(part.components.size(), 0); // bodies of each component
    for (const Body& b : part.bodies)
      if (b.component >= 0) ++count[static_cast<std::size_t>(b.component)];
    for (std::size_t i = 0; i < part.bodies.size(); ++i) {
      const Body& b = part.bodies[i];
      const auto home = static_cast<std::size_t>(std::max(0, b.component));
      // A component of one body is that body.
      const bool same = b.component >= 0 && count[home] == 1 && components[home]->childCount() == 0;
      auto* item =
          same ? components[home]
               : new QTreeWidgetItem(b.component < 0 ? invisibleRootItem() : components[home],
                                     {text(b.name)});
      if (b.hidden) item->setText(0, item->text(0) + "  (not shown in the file)");
      item->setFlags((item->flags() | Qt::ItemIsUserCheckable) & ~Qt::ItemIsAutoTristate);
      item->setData(0, kBody, static_cast<int>(i));
      item->setCheckState(0, b.left_out ? Qt::Unchecked : Qt::Checked);
    }
    expandAll();
    constexpr int kMostRows = 12;
    int rows = 0;
    for (QTreeWidgetItemIterator it(this); *it && rows < kMostRows; ++it)
      ++rows;
    setFixedHeight(std::max(2, rows) * (sizeHintForRow(0) > 0 ? sizeHintForRow(0) : 22) + 6);
  }

  std::vector<int> leftOut() {
    std::vector<int> out;
    for (QTreeWidgetItemIterator it(this); *it; ++it)
      if ((*it)->data(0, kBody).isValid() && (*it)->checkState(0) == Qt::Unchecked)
        out.push_back((*it)->data(0, kBody).toInt());
    std::sort(out.begin(), out.end());
    return out;
  }

 protected:
  void keyPressEvent(QKeyEvent* event) override {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return take_();
    QTreeWidget::keyPressEvent(event);
  }

 private:
  std::function<void()> take_;
};

} // namespace

void Card::bodiesSection() {
  const PartModel& part = *document_.plan().part;
  if (part.bodies.size() < 2) return;
  const auto left = static_cast<std::size_t>(leftOut(part).size());
  head(QString("Bodies (%1 of %2)").arg(part.bodies.size() - left).arg(part.bodies.size()));
  auto tree = std::make_shared<BodyTree*>(nullptr);
  const auto take = [this, tree] { document_.takeBodies((*tree)->leftOut()); };
  *tree = new BodyTree(part, take);
  layout_->addWidget(*tree);
  link("Take the bodies that are marked (Enter)", "takeBodies", take);
}

} // namespace alder::app
