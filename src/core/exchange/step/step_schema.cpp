#include "exchange/step/step_schema.h"

#include <fmt/format.h>

namespace alder {
namespace {

constexpr std::string_view kSchema =
    "AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF { 1 0 10303 442 1 1 4 }";

bool isAp242(const StepText& text) {
  return text.schema().starts_with("AP242");
}

} // namespace

void toAp242(const StepText& text, StepEdit& edit) {
  if (isAp242(text)) return;
  for (const auto& [was, now] :
       {std::pair<std::string_view, std::string_view>{"MECHANICAL_CONTEXT", "PRODUCT_CONTEXT"},
        {"DESIGN_CONTEXT", "PRODUCT_DEFINITION_CONTEXT"}})
    for (int id : text.ofType(was))
      if (const std::string_view statement = text.statement(id); statement.starts_with(was))
        edit.replace(id, std::string(now) + std::string(statement.substr(was.size())));
  for (int id : text.ofType("APPLICATION_PROTOCOL_DEFINITION")) {
    const auto& v = text.instance(id)->records.front().values;
    if (v.size() == 4 && v[3].isReference())
      edit.replace(id, fmt::format("APPLICATION_PROTOCOL_DEFINITION('international standard',"
                                   "'ap242_managed_model_based_3d_engineering',2014,#{})",
                                   v[3].reference));
  }
  // Who approved, made and classified it: AP242 says that with other entities.
  for (const std::string& type : text.typesBeginningWith("CC_DESIGN_"))
    for (int id : text.ofType(type))
      edit.remove(id);
}

std::string withSchema(std::string bytes, const StepText& text) {
  if (isAp242(text)) return bytes;
  const auto from = bytes.find("FILE_SCHEMA");
  const auto to = from == std::string::npos ? from : bytes.find(';', from);
  if (to != std::string::npos)
    bytes.replace(from, to - from, fmt::format("FILE_SCHEMA(('{}'))", kSchema));
  return bytes;
}

} // namespace alder
