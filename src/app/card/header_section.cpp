// What is known of the part beside its geometry: in the overview of the card.
#include "card/card.h"

#include <QFileDialog>
#include <QLineEdit>
#include <algorithm>

namespace alder::app {

void Card::headerSection() {
  const PartHeader& header = document_.plan().header;
  head("Part data");
  bool all = true;
  for (std::size_t i = 0; i < kHeaderFields; ++i) {
    const auto field = static_cast<HeaderField>(i);
    if (header[field].empty() && !whole_header_) {
      all = false;
      continue;
    }
    auto* edit = new QLineEdit(QString::fromStdString(header[field]));
    edit->setCursorPosition(0); // a long one is seen from its beginning
    edit->setObjectName(QString("header_") + QString::fromUtf8(name(field).data()));
    connect(edit, &QLineEdit::editingFinished, this,
            [this, edit, field] { document_.setHeaderField(field, edit->text()); });
    row(QString::fromUtf8(words(field).data()).toLower(), edit);
  }
  for (const AttachedDocument& d : header.documents) {
    const QString file = QString::fromStdString(d.name);
    link(file + " …", "writeDocument", [this, n = d.name, file] {
      const QString path = QFileDialog::getSaveFileName(this, "Write the document", file);
      if (!path.isEmpty()) document_.writeDocument(n, path);
    });
    link("Remove " + file, "removeDocument", [this, n = d.name] { document_.detachDocument(n); });
  }
  if (!all)
    link("Number, revision, order, material …", "wholeHeader", [this] {
      whole_header_ = true;
      refreshLater();
    });
  const bool some_empty =
      std::any_of(header.fields.begin(), header.fields.end(), [](auto& f) { return f.empty(); });
  if (some_empty && !document_.plan().drawings.empty())
    link("Take them from the drawing", "titleFromDrawing", [this] { emit wanted("takeTitle"); });
  link("Attach a document …", "attachHere", [this] { emit wanted("attachDocument"); });
}

} // namespace alder::app
