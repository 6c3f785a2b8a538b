// What is known of the part beside its geometry, and the files that belong to it.
#include "document/document.h"

#include "base/files.h"
#include <QFileInfo>
#include <algorithm>

namespace alder::app {

void Document::setHeaderField(HeaderField field, const QString& text) {
  if (!open_) return;
  PartHeader header = plan().header;
  header[field] = text.trimmed().toStdString();
  if (header == plan().header) return;
  edit("Change the " + QString::fromUtf8(words(field).data()).toLower(), {SetHeader{header}});
}

void Document::takeTitle(const std::vector<std::pair<std::string, std::string>>& title) {
  if (!open_) return;
  PartHeader header = plan().header;
  QStringList taken;
  for (const auto& [caption, text] : title)
    if (const auto field = headerFieldOf(caption); field && header[*field].empty()) {
      header[*field] = text;
      taken << QString::fromStdString(text);
    }
  if (taken.isEmpty()) {
    emit message("The drawing says nothing of the part that is not known already", true);
    return;
  }
  if (edit("Take the part data from the drawing", {SetHeader{header}}))
    emit message("Taken from the title block: " + taken.join(", "), false);
}

void Document::attachDocument(const QString& path) {
  if (!open_) return;
  auto bytes = readFile(path.toStdString());
  if (!bytes) {
    emit message(QString::fromStdString(bytes.error().message), true);
    return;
  }
  PartHeader header = plan().header;
  header.documents.push_back({QFileInfo(path).fileName().toStdString(),
                              std::make_shared<const std::string>(std::move(*bytes))});
  edit("Attach " + QFileInfo(path).fileName(), {SetHeader{header}});
}

void Document::detachDocument(const std::string& name) {
  PartHeader header = plan().header;
  std::erase_if(header.documents, [&](const AttachedDocument& d) { return d.name == name; });
  edit("Remove " + QString::fromStdString(name), {SetHeader{header}});
}

void Document::writeDocument(const std::string& name, const QString& path) {
  for (const AttachedDocument& d : plan().header.documents) {
    if (d.name != name) continue;
    const auto done = writeFile(path.toStdString(), *d.bytes);
    emit message(done ? "Wrote " + QFileInfo(path).fileName()
                      : QString::fromStdString(done.error().message),
                 !done);
  }
}

} // namespace alder::app
