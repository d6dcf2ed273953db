# Writes FILE's bytes into a C++ source as a string of numbers: no escape can then go wrong.
file(READ "${FILE}" bytes HEX)
string(REGEX REPLACE "([0-9a-f][0-9a-f])" "0x\\1," bytes "${bytes}")
string(REGEX REPLACE "((0x[0-9a-f][0-9a-f],)(0x[0-9a-f][0-9a-f],)?(0x[0-9a-f][0-9a-f],)?(0x[0-9a-f][0-9a-f],)?(0x[0-9a-f][0-9a-f],)?(0x[0-9a-f][0-9a-f],)?(0x[0-9a-f][0-9a-f],)?(0x[0-9a-f][0-9a-f],)?)" "\\1\n" bytes "${bytes}")
file(WRITE "${MADE}" "#include <string_view>
namespace mnemon {
static const unsigned char bytes_of_${NAME}[] = {
${bytes}};
extern const std::string_view ${NAME};
const std::string_view ${NAME}{reinterpret_cast<const char*>(bytes_of_${NAME}), sizeof bytes_of_${NAME}};
}  // namespace mnemon
")
