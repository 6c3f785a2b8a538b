// The names of the five cells, slanted over their columns in the requirement sheet.
#pragma once

#include "theme/theme.h"
#include <QListView>
#include <QWidget>
#include <array>

namespace alder::app {

// Where the cells stand in a row, from its right edge, and how far apart.
inline constexpr double kCellsFromRight = 86, kCellPitch = 11;

struct ProgressCell {
  const char* head;
  const char* done; // as a sentence goes on: "the requirement ..."
};
inline constexpr std::array<ProgressCell, 5> kProgressCells{{{"feature", "has features"},
                                                            {"touches", "has touches"},
                                                            {"reach", "can be reached"},
                                                            {"clear", "is free of clashes"},
                                                            {"measured", "is measured"}}};

class ProgressHead : public QWidget {
 public:
  ProgressHead(const QListView& list, const Theme& theme);
  QSize sizeHint() const override { return {130, 44}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  const QListView& list_; // whose rows the heads stand over
  const Theme& theme_;
};

} // namespace alder::app
