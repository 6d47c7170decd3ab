// libFuzzer's way in. RAPT_FUZZ_TARGET names the reader that its bytes go to.

#include "targets.h"

#include <algorithm>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <string_view>

namespace {

const rapt::fuzz::Target& chosen() {
    const char* name = std::getenv("RAPT_FUZZ_TARGET");
    const auto& all = rapt::fuzz::targets();
    const auto found = std::find_if(all.begin(), all.end(), [&](const rapt::fuzz::Target& target) {
        return name && std::string_view(target.name) == name;
    });
    if (found == all.end()) {
        std::fputs("RAPT_FUZZ_TARGET names no reader\n", stderr);
        std::exit(2);
    }
    return *found;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const rapt::fuzz::Target& target = chosen();
    target.read({reinterpret_cast<const char*>(data), size});
    return 0;
}
