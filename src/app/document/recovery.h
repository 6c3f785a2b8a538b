// Work that was not saved outlives a crash: a copy is kept beside the user's state while there are
// changes, and offered at the next start.
#pragma once

#include "document/document.h"
#include <QDateTime>
#include <QTimer>
#include <atomic>
#include <optional>
#include <thread>
#include <vector>

namespace alder::app {

// A copy that another run of the program left behind.
struct LeftWork {
  QString file, note; // the routine; what tells of it
  QString routine;    // its name
  QString path;       // of the file it was opened from, or saved to; empty: it never was
  QString last_edit;
  QDateTime when;
};

QString recoveryFolder(); // ALDERPOINT_STATE, else alderpoint/unsaved in the user's state
// Newest first. Those that a running program still keeps are not among them.
std::vector<LeftWork> leftWork();
void dropLeft(const LeftWork& left);

class Recovery : public QObject {
  Q_OBJECT

 public:
  // `interval`: how long a change may go without a copy, ms.
  explicit Recovery(Document& document, int interval = 20000, QObject* parent = nullptr);
  ~Recovery() override;  // the program ends as it should: nothing is left
  void end() { drop(); } // what is open was saved or given up
  void keepNow();        // if there are changes that are not saved
  // What was left and is open now goes when there is a copy of it, or it was saved or dropped.
  void takeOver(const LeftWork& left) { taken_over_ = left; }

 signals:
  void kept(const QString& last_edit); // a copy is whole; the last edit that is in it

 private:
  void noticed();
  void drop();

  Document& document_;
  QString file_, note_;
  QTimer timer_;
  bool kept_ = false;
  std::atomic<bool> writing_ = false;
  std::optional<LeftWork> taken_over_;
  std::jthread thread_;
};

} // namespace alder::app
