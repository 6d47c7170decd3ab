// Prints how loud the judgement is on honest layouts, and how many planted faults it finds, names
// and helps, by kind.
//   rapt-study-table [LAYOUTS] [FIRST SEED]

#include "study.h"

#include "base/paths.h"

#include <cstdio>
#include <cstdlib>

using namespace rapt;

namespace {

void honestRows(const Library& library, int layouts, std::uint64_t first) {
    int quiet = 0, stopped = 0, cautioned = 0;
    for (int i = 0; i < layouts; ++i) {
        const std::uint64_t seed = first + static_cast<std::uint64_t>(i);
        const auto judged = study::judge(study::honestLayout(library, seed), library);
        stopped += judged.stops > 0;
        cautioned += judged.stops == 0 && judged.cautions > 0;
        quiet += judged.worst.empty();
        if (!judged.worst.empty())
            std::printf("  loud, seed %llu: %s\n", static_cast<unsigned long long>(seed),
                        judged.worst.c_str());
    }
    std::printf("| honest | %d | quiet %d | with a stop %d | with a caution %d |\n\n", layouts,
                quiet, stopped, cautioned);
}

void faultRow(const Library& library, const study::Fault& fault, int layouts, std::uint64_t first) {
    int planted = 0, found = 0, named = 0, remedies = 0, working = 0;
    for (std::uint64_t seed = first; planted < layouts && seed < first + 400; ++seed) {
        Job job = study::honestLayout(library, seed);
        std::string piece;
        if (!fault.plant(job, library, seed, piece)) continue;
        ++planted;
        const auto judged = study::judge(job, library, &fault, piece);
        found += judged.found;
        named += judged.named;
        remedies += judged.remedies;
        working += judged.working;
        if (!judged.found)
            std::printf("  silent, seed %llu, %s; it says: %s\n",
                        static_cast<unsigned long long>(seed), fault.name.c_str(),
                        judged.worst.c_str());
        if (!judged.failing.empty())
            std::printf("  no way out, seed %llu: %s\n", static_cast<unsigned long long>(seed),
                        judged.failing.c_str());
    }
    std::printf("| %s | %d | %d | %d | %d of %d |\n", fault.name.c_str(), planted, found, named,
                working, remedies);
}

} // namespace

int main(int argc, char** argv) {
    const int layouts = argc > 1 ? std::atoi(argv[1]) : 200;
    const auto first = static_cast<std::uint64_t>(argc > 2 ? std::atoll(argv[2]) : 1);
    const auto library = loadHouseLibrary(dataFolder(), "");
    if (!library) {
        std::fprintf(stderr, "%s\n", library.error().line().c_str());
        return 1;
    }
    honestRows(*library, layouts, first);
    std::printf("| fault | planted | found | said first | ways out that lead out |\n"
                "|---|---|---|---|---|\n");
    const int each = std::max(1, layouts / static_cast<int>(study::faults().size()));
    for (const study::Fault& fault : study::faults()) faultRow(*library, fault, each, first + 1000);
    return 0;
}
