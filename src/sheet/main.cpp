// alderpoint-sheet LABEL MEGABYTES pages | sheets FIRST LAST | picture PAGE DOTS_PER_INCH |
// balloons MARKS: reads a drawing for the other programs; see sheet/sheet_file.h.
#include "ballooned.h"
#include "pdf_file.h"
#include "picture_file.h"
#include "reader.h"
#include "text_in_picture.h"

#include <cstdlib>

namespace {

using namespace alder;

constexpr double kScanDots = 300; // an inch, at which text of pictures is read
constexpr double kCovers = 0.5;   // of the sheet is a picture: it is a scan

bool isScan(const DrawingSheet& sheet) {
  if (!sheet.characters.empty()) return false;
  double area = 0;
  for (const PictureBox& b : sheet.pictures)
    area += (b.high - b.low).prod();
  return area > kCovers * sheet.size.width * sheet.size.height;
}

template <class File> Result<std::string> sheets(const File& file, const ReaderTask& task) {
  std::vector<DrawingSheet> all;
  const int first = std::atoi(task.arguments.at(1).c_str()),
            last = std::min(file.pages(), std::atoi(task.arguments.at(2).c_str()));
  for (int page = std::max(1, first); page <= last; ++page) {
    task.progress.step(static_cast<double>(page - first) / (last - first + 1),
                       fmt::format("Reading page {}", page));
    all.push_back(file.sheet(page));
    if (!isScan(all.back())) continue;
    if (const auto picture = file.picture(page, kScanDots))
      readPicture(pixOf(*picture), all.back());
  }
  return sheetsToBytes(all);
}

template <class File> Result<std::string> answer(const File& file, const ReaderTask& task) {
  const std::string& what = task.arguments.at(0);
  if (what == "pages") {
    std::vector<SheetSize> sizes;
    for (int page = 1; page <= file.pages(); ++page)
      sizes.push_back(file.size(page));
    return sizesToBytes(sizes);
  }
  if (what == "sheets") return sheets(file, task);
  const int page = std::atoi(task.arguments.at(1).c_str());
  if (page < 1 || page > file.pages()) return fail("{}: there is no page {}.", task.label, page);
  auto picture = file.picture(page, std::strtod(task.arguments.at(2).c_str(), nullptr));
  if (!picture) return pass(picture.error());
  return pictureToBytes(*picture);
}

Result<std::string> readDrawing(const ReaderTask& task) {
  const bool balloons = task.arguments.at(0) == "balloons";
  if (PictureFile::looksLike(task.bytes)) {
    if (balloons)
      return fail("{}: it is a picture; balloons are written on PDF drawings only.", task.label);
    const auto file = PictureFile::open(task.bytes, task.label);
    return file ? answer(*file, task) : pass(file.error());
  }
  constexpr std::size_t kFront = 1024; // within which a PDF says that it is one
  if (task.bytes.substr(0, kFront).find("%PDF-") == std::string::npos)
    return fail("{}: it is no drawing that can be read; give a PDF, PNG, JPEG or TIFF.",
                task.label);
  if (balloons) {
    const auto marks = marksFromText(task.arguments.at(1));
    return marks ? ballooned(task.bytes, task.label, *marks) : pass(marks.error());
  }
  const auto file = PdfFile::open(task.bytes, task.label);
  return file ? answer(*file, task) : pass(file.error());
}

} // namespace

int main(int argc, char** argv) {
  return readerMain(
      argc, argv, "print it with less on a page", readDrawing, [](const std::exception& e) {
        return fmt::format("the PDF library gives up ({}); export or print it again.", e.what());
      });
}
