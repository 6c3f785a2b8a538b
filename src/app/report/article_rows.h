// What people fill in of a first article, beside its forms: the fields of the form that is
// selected. Each change is an undoable edit of the routine.
#pragma once

#include "report/report_editor.h"
#include <QVBoxLayout>

namespace alder::app {

void addArticleRows(ArticleForm form, ReportEditor& editor, QVBoxLayout& layout);

} // namespace alder::app
