#include "part/library_lock.h"

#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_Printer.hxx>

namespace alder {

std::mutex& libraryMutex() {
  static std::mutex mutex;
  return mutex;
}

void silenceLibrary() {
  Message::DefaultMessenger()->ChangePrinters().Clear();
}

} // namespace alder
