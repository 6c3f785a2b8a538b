# cmake -DOUTPUT=FILE -DSOURCES=a;b;... -P SourceDigest.cmake: the sum of all these files as source.
set(sums "")
foreach(source ${SOURCES})
  file(SHA256 ${source} sum)
  string(APPEND sums "${sum}")
endforeach()
string(SHA256 digest "${sums}")
file(WRITE ${OUTPUT} "#include \"exchange/routine/judge_source.h\"

namespace alder {

const std::string_view kJudgeSource = \"${digest}\";

} // namespace alder
")
