#include "part/pmi/modifiers.h"

namespace alder {
namespace {

void collect(const PmiSource& source, const StepValue& v, PmiModifiers& out) {
  switch (v.kind) {
  case StepValue::Kind::Enumeration:
    if (v.text.find("MAXIMUM_MATERIAL") != std::string::npos)
      out.material = MaterialModifier::Maximum;
    else if (v.text.find("LEAST_MATERIAL") != std::string::npos)
      out.material = MaterialModifier::Least;
    else if (v.text != "REGARDLESS_OF_FEATURE_SIZE") // what holds without a modifier
      out.others.push_back(v.text);
    return;
  case StepValue::Kind::List:
  case StepValue::Kind::Typed:
    for (const StepValue& item : v.items)
      collect(source, item, out);
    return;
  case StepValue::Kind::Reference: {
    const PmiEntity entity = source.at(v.reference);
    if (!entity) return out.others.push_back("#" + std::to_string(v.reference));
    std::string name = entity.text("modifier_type");
    const auto value = source.measure(entity.to("modifier_value"));
    if (name.empty()) name = entity.type();
    if (value) name += fmt::format(" {:g}", value->value);
    return out.others.push_back(name);
  }
  case StepValue::Kind::Text:
    return out.others.push_back(v.text);
  case StepValue::Kind::Number:
    return out.others.push_back(fmt::format("{:g}", v.number));
  case StepValue::Kind::Null:
    return;
  }
}

} // namespace

PmiModifiers modifiersIn(const PmiSource& source, const StepValue& value) {
  PmiModifiers out;
  collect(source, value, out);
  return out;
}

} // namespace alder
