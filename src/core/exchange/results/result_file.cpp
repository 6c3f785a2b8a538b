#include "exchange/results/result_file.h"

#include "exchange/qif/qif_file.h"
#include <algorithm>
#include <filesystem>

namespace alder {
namespace {

Result<ResultFile> opened(std::string bytes, const std::string& name) {
  ResultFile file;
  file.name = std::filesystem::path(name).filename().string();
  auto text = resultText(bytes, name);
  if (!text) return pass(text.error());
  file.bytes = std::move(bytes);
  file.text = std::move(*text);
  return file;
}

// More than any drawing asks for, and than are looked at one by one.
constexpr std::size_t kMostValues = 5000, kMostParts = 5000;

Result<ResultFile> withValues(ResultFile file, const std::string& name) {
  for (const ResultsOfPart& p : file.read.parts)
    if (p.values.size() > kMostValues)
      return fail("{}: holds {} values of one part, more than a report of results has; is it a "
                  "point cloud?",
                  name, p.values.size());
  if (file.read.parts.size() > kMostParts)
    return fail("{}: holds {} parts; divide it into files of {} at most.", name,
                file.read.parts.size(), kMostParts);
  if (file.read.values() > 0) return file;
  return fail("{}: no measured value was found in its {} lines; is it a file of results?", name,
              file.text.lines.size());
}

Result<ResultFile> openedQif(std::string bytes, const std::string& name) {
  auto results = readQifResults(bytes, name);
  if (!results) return pass(results.error());
  ResultFile file;
  file.name = std::filesystem::path(name).filename().string();
  file.bytes = std::move(bytes);
  file.text = std::move(results->text);
  file.read = std::move(results->read);
  file.fixed = file.known = true;
  file.kind.name = "QIF";
  const bool points = std::any_of(file.read.parts.begin(), file.read.parts.end(),
                                  [](const ResultsOfPart& p) { return !p.points.empty(); });
  if (file.read.values() == 0 && !points)
    return fail("{}: holds no results; if it holds a plan or requirements, read it as such.", name);
  if (points && file.read.values() == 0) return file;
  return withValues(std::move(file), name);
}

} // namespace

Result<ResultFile> readResultFile(std::string bytes, const std::string& name,
                                  const std::vector<FileKind>& kept) {
  if (isQif(bytes)) return openedQif(std::move(bytes), name);
  auto file = opened(std::move(bytes), name);
  if (!file) return pass(file.error());
  if (isDmisOutput(file->text)) {
    file->fixed = file->known = true;
    file->kind.name = "DMIS";
    file->read = readDmisOutput(file->text);
  } else if (const FileKind* known = kindOf(kept, file->text)) {
    file->known = true;
    readAgain(*file, *known);
  } else {
    KindProposal proposal = proposeKind(file->text);
    file->kind = std::move(proposal.kind);
    file->read = std::move(proposal.read);
  }
  return withValues(std::move(*file), name);
}

Result<ResultFile> readResultFile(std::string bytes, const std::string& name,
                                  const FileKind& kind) {
  auto file = opened(std::move(bytes), name);
  if (!file) return pass(file.error());
  file->known = true;
  readAgain(*file, kind);
  return withValues(std::move(*file), name);
}

void readAgain(ResultFile& file, FileKind kind) {
  file.read = readResults(file.text, kind);
  file.kind = std::move(kind);
}

} // namespace alder
