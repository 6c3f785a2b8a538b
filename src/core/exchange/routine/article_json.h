// What a first article says beside the results, as routines and files of its own write it
// (docs/files.md).
#pragma once

#include "bench/json_fields.h"
#include "plan/article/first_article.h"

namespace alder {

Json toJson(const FirstArticle& article);
// What is wrong is complained of.
FirstArticle articleFrom(const JsonFields& f);

// A file that is filled in by hand or by another program: as above, the characteristics by their
// numbers ("number"). What is not known in it is an error.
Result<FirstArticle> articleFromFile(const std::string& text, const std::string& label,
                                     const Specification& spec);

} // namespace alder
