#pragma once
// Every reader of bytes that come from outside, as a function that may be given any bytes. It must
// give a value or an error, soon and with little memory; nothing else is asked.

#include <functional>
#include <string>
#include <vector>

namespace rapt::fuzz {

/// One reader.
struct Target {
    const char* name;
    void (*read)(const std::string& bytes);
};

/// All of them, in a fixed order; seeds lie in seeds/NAME/.
const std::vector<Target>& targets();

} // namespace rapt::fuzz
