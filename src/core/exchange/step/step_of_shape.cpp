#include "exchange/step/step_of_shape.h"

#include "base/files.h"
#include "base/temporary_file.h"
#include "part/library_lock.h"

#include <Interface_Static.hxx>
#include <STEPControl_Writer.hxx>
#include <Standard_Failure.hxx>

namespace alder {

Result<std::string> stepOfShape(const PartModel& part) {
  const std::lock_guard lock(libraryMutex());
  silenceLibrary();
  try {
    STEPControl_Writer writer;
    Interface_Static::SetCVal("write.step.schema", "AP242DIS");
    Interface_Static::SetCVal("write.step.product.name", part.name.c_str());
    auto file = TemporaryFile::with(""); // the library writes to files only
    if (!file) return pass(file.error());
    if (writer.Transfer(part.shape, STEPControl_AsIs) != IFSelect_RetDone ||
        writer.Write(file->path().c_str()) != IFSelect_RetDone)
      return fail("{}: the shape cannot be written as STEP.", part.name);
    return readFile(file->path());
  } catch (const Standard_Failure& failure) {
    return fail("{}: the shape cannot be written as STEP ({}).", part.name,
                failure.GetMessageString());
  }
}

} // namespace alder
