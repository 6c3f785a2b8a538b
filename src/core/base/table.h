// Records known by their id, in an order that says nothing of it. An id is given once: adding and
// removing change no other record's id, and what a removed one was called is not used again, so
// that whatever was kept by id (a stored run, a journal, a selection) means the same or nothing.
#pragma once

#include <algorithm>
#include <cstddef>
#include <initializer_list>
#include <stdexcept>
#include <utility>
#include <vector>

namespace alder {

// `Record` has a member `id` of type Id<...>, which is not changed while it is in the table.
template <class Record> class Table {
 public:
  using value_type = Record;
  using Key = decltype(Record::id);
  using iterator = typename std::vector<Record>::iterator;
  using const_iterator = typename std::vector<Record>::const_iterator;

  Table() = default;
  Table(std::initializer_list<Record> records) {
    for (const Record& r : records)
      push_back(r);
  }

  std::size_t size() const { return records_.size(); }
  bool empty() const { return records_.empty(); }
  iterator begin() { return records_.begin(); }
  iterator end() { return records_.end(); }
  auto rbegin() const { return records_.rbegin(); }
  auto rend() const { return records_.rend(); }
  const_iterator begin() const { return records_.begin(); }
  const_iterator end() const { return records_.end(); }
  Record& operator[](std::size_t place) { return records_[place]; }
  const Record& operator[](std::size_t place) const { return records_[place]; }
  Record& front() { return records_.front(); }
  const Record& front() const { return records_.front(); }
  Record& back() { return records_.back(); }
  const Record& back() const { return records_.back(); }

  // Place in the order; size() where it is not there.
  std::size_t placeOf(Key id) const {
    const auto at = static_cast<std::size_t>(id.value);
    return id.valid() && at < places_.size() && places_[at] != kNowhere ? places_[at] : size();
  }
  bool holds(Key id) const { return placeOf(id) < size(); }
  Record* find(Key id) { return holds(id) ? &records_[placeOf(id)] : nullptr; }
  const Record* find(Key id) const { return holds(id) ? &records_[placeOf(id)] : nullptr; }
  // Of a record that is known to be there.
  Record& at(Key id) { return const_cast<Record&>(std::as_const(*this).at(id)); }
  const Record& at(Key id) const {
    if (const Record* found = find(id)) return *found;
    throw std::out_of_range("a record that is not in its table");
  }

  // Of a record yet to come.
  Key next() const { return Key{next_}; }
  // Ids up to that of another table are not given again here.
  void reserveIdsOf(const Table& other) { next_ = std::max(next_, other.next_); }
  void reserveIdsBelow(Key id) { next_ = std::max(next_, id.value); }

  void push_back(Record record) { insert(size(), std::move(record)); }
  // The record's id is valid and not in the table.
  void insert(std::size_t place, Record record) {
    if (!record.id.valid() || holds(record.id))
      throw std::invalid_argument("a record whose id is not new in its table");
    reserveIdsBelow(Key{record.id.value + 1});
    records_.insert(records_.begin() + static_cast<std::ptrdiff_t>(place), std::move(record));
    places_.resize(static_cast<std::size_t>(next_), kNowhere);
    placeFrom(place);
  }
  void erase(Key id) {
    const std::size_t place = placeOf(id);
    if (place == size()) return;
    records_.erase(records_.begin() + static_cast<std::ptrdiff_t>(place));
    places_[static_cast<std::size_t>(id.value)] = kNowhere;
    placeFrom(place);
  }
  void clear() {
    records_.clear();
    places_.clear();
  }
  void pop_back() { erase(Key(back().id)); }

  // The same records in the same order; which ids were used before does not count.
  friend bool operator==(const Table& a, const Table& b) { return a.records_ == b.records_; }

 private:
  static constexpr std::size_t kNowhere = static_cast<std::size_t>(-1);

  void placeFrom(std::size_t first) {
    for (std::size_t i = first; i < records_.size(); ++i)
      places_[static_cast<std::size_t>(records_[i].id.value)] = i;
  }

  std::vector<Record> records_;
  std::vector<std::size_t> places_; // by id
  int next_ = 0;
};

} // namespace alder
