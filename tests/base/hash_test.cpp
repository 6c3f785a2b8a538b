#include "base/hash.h"

#include <QTest>
#include "registry.h"
#include <set>

using namespace alder;

class HashTest : public QObject {
  Q_OBJECT
 private slots:
  // Values of FNV-1a as published by its authors: journals and files hold them.
  void published() {
    QCOMPARE(hashText(hashOf("")), std::string("14650fb0739d0383"));
    QCOMPARE(hashOf("", 0xcbf29ce484222325ull), 0xcbf29ce484222325ull);
    QCOMPARE(hashOf("a", 0xcbf29ce484222325ull), 0xaf63dc4c8601ec8cull);
    QCOMPARE(hashOf("foobar", 0xcbf29ce484222325ull), 0x85944171f73967e8ull);
  }
  // Each single change of a long text is told, also of its length and its end.
  void longTexts() {
    std::string text;
    for (int i = 0; i < 203; ++i)
      text += static_cast<char>('0' + i % 10);
    std::set<std::uint64_t> seen{hashOfLong(text)};
    for (std::size_t i = 0; i < text.size(); ++i)
      for (const int bit : {0, 3, 7}) {
        std::string other = text;
        other[i] = static_cast<char>(other[i] ^ (1 << bit));
        QVERIFY(seen.insert(hashOfLong(other)).second);
      }
    for (std::size_t n = 0; n < text.size(); ++n)
      QVERIFY(seen.insert(hashOfLong(text.substr(0, n))).second);
    for (int zeros = 1; zeros < 20; ++zeros)
      QVERIFY(seen.insert(hashOfLong(text + std::string(std::size_t(zeros), '\0'))).second);
    QCOMPARE(hashOfLong(text), hashOfLong(std::string(text)));
  }
};
ALDER_TEST(HashTest)
#include "hash_test.moc"
