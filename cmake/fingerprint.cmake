# Writes a source with a number that changes when any file listed in LIST does.
file(STRINGS "${LIST}" files)
list(SORT files)
set(sum "")
foreach(file IN LISTS files)
  file(SHA256 "${file}" one)
  string(APPEND sum "${one}")
endforeach()
string(SHA256 all "${sum}")
string(SUBSTRING "${all}" 0 16 short)
file(WRITE "${MADE}" "#include <string_view>
namespace mnemon {
extern const std::string_view kCodeFingerprint;
const std::string_view kCodeFingerprint = \"${short}\";
}  // namespace mnemon
")
