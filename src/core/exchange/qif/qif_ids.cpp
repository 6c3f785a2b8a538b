#include "exchange/qif/qif_ids.h"

#include "base/hash.h"
#include <algorithm>
#include <array>
#include <uuid/uuid.h>

namespace alder::qif {
namespace {

constexpr std::array<std::string_view, 13> kNames{"feature_definition",
                                                  "feature_nominal",
                                                  "feature_item",
                                                  "characteristic_definition",
                                                  "characteristic_nominal",
                                                  "characteristic_item",
                                                  "datum",
                                                  "datum_target",
                                                  "reference_frame",
                                                  "action",
                                                  "tip",
                                                  "part",
                                                  "machine"};
constexpr int kSlots = 16;
static_assert(kNames.size() <= kSlots);

constexpr const char* kSpace = "9b0f5c52-6d0e-4a43-8f6b-2d3a54c1e7f0"; // drawn once

std::string textOf(const uuid_t& id) {
  std::array<char, 37> text{};
  uuid_unparse_lower(id, text.data());
  return text.data();
}

std::string partKey(const Plan& plan) {
  return plan.part ? hashText(hashOfLong(plan.part->bytes)) : plan.name;
}

std::string uuidIn(const std::string& part, const KeptQif& kept, Thing thing, int number) {
  const std::string key = keyOf(thing, number);
  const auto known = kept.uuids.find(key);
  return known != kept.uuids.end() ? known->second : uuidOf(part + " " + key);
}

} // namespace

std::string keyOf(Thing thing, int number) {
  return fmt::format("{} {}", kNames[static_cast<std::size_t>(thing)], number);
}

int datumNumber(const Specification& spec, const std::string& letter) {
  constexpr int kLetters = 26;
  const bool capitals =
      !letter.empty() && letter.size() <= 2 &&
      std::all_of(letter.begin(), letter.end(), [](char c) { return c >= 'A' && c <= 'Z'; });
  int number = 0;
  if (capitals) {
    for (const char c : letter)
      number = number * (kLetters + 1) + (c - 'A' + 1);
    return number;
  }
  for (const Datum& d : spec.datums)
    if (++number; d.letter == letter) break;
  return (kLetters + 1) * (kLetters + 1) + number;
}

Ids::Ids(const Plan& plan, const KeptQif& kept)
    : kept_(kept)
    , part_(partKey(plan))
    , base_(kept.id_max) {
  const int datums = static_cast<int>(plan.spec.datums.size());
  const int most = std::max({plan.spec.features.next().value, plan.spec.requirements.next().value,
                             100 * (27 * 27 + datums + 1)});
  first_fresh_ = base_ + kSlots * (most + 2);
}

int Ids::of(Thing thing, int number) {
  const auto known = kept_.ids.find(keyOf(thing, number));
  const int id = known != kept_.ids.end() ? known->second
                                          : base_ + kSlots * (number + 1) + static_cast<int>(thing);
  max_ = std::max(max_, id);
  return id;
}

std::string Ids::uuid(Thing thing, int number) const {
  return uuidIn(part_, kept_, thing, number);
}

std::string uuidOf(std::string_view name) {
  uuid_t space, id;
  uuid_parse(kSpace, space);
  uuid_generate_sha1(id, space, name.data(), name.size());
  return textOf(id);
}

std::string uuidOf(const Plan& plan, const KeptQif& kept, Thing thing, int number) {
  return uuidIn(partKey(plan), kept, thing, number);
}

} // namespace alder::qif
