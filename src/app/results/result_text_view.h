// Lines of a result file as they stand there, with what was read of each marked. A person points at
// a word, by mouse or keyboard, to say what it is.
#pragma once

#include "exchange/results/propose_kind.h"
#include "theme/theme.h"
#include <QAbstractScrollArea>

namespace alder::app {

class ResultTextView : public QAbstractScrollArea {
  Q_OBJECT

 public:
  explicit ResultTextView(const Theme& theme, QWidget* parent = nullptr);

  // Both are kept by the caller until others are set.
  void show(const ResultText& text, const ResultsRead& read);
  std::size_t line() const { return line_; }
  void setLine(std::size_t line); // scrolls to it
  // The words that are chosen, of one line.
  Pointing chosen(ResultRole role) const;
  // Where a byte of a line stands in the viewport.
  QPoint pointOf(std::size_t line, std::size_t byte) const;
  bool nextNotRead(); // to the next line with figures that was passed over; false: there is none

 signals:
  void lineChosen(std::size_t line);
  void pointedAt(const QPoint& where); // asks what the chosen words are

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Word {
    std::size_t from = 0, to = 0; // bytes
  };
  std::vector<Word> wordsOf(std::size_t line) const;
  void measure();
  void choose(std::size_t line, std::size_t word, bool extend);
  std::pair<std::size_t, std::size_t> at(const QPoint& pos) const; // line, word
  double x(std::size_t line, std::size_t byte) const;              // without scrolling
  QRectF wordRect(std::size_t line, std::size_t from, std::size_t to) const;
  void paintLine(QPainter& p, std::size_t line, double y) const;
  void paintSpan(QPainter& p, const ReadSpan& span, const QRectF& rect) const;

  const Theme& theme_;
  const ResultText* text_ = nullptr;
  const ResultsRead* read_ = nullptr;
  std::size_t line_ = 0, first_ = 0, last_ = 0; // chosen words of that line
  double row_ = 18, letter_ = 8, gutter_ = 56;
};

// How a role is marked: names are filled, nominals and limits underlined, the actual value framed.
enum class RoleMark { None, Name, Nominal, Limit, Actual, OfPart };
RoleMark markOf(ResultRole role);

} // namespace alder::app
