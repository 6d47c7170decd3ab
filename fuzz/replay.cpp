// Reads every seed with its reader and, with a number, so many mutations of each target's seeds:
// the same ones every time. Says what took longest. Built with any compiler; CI runs it.
//   rapt-fuzz-replay SEEDS [MUTATIONS [TARGET]]

#include "targets.h"

#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <random>
#include <unistd.h>

namespace {

namespace fs = std::filesystem;

std::string current; ///< what is being read, to be kept if the reader dies

void keepAndDie(int signal) {
    std::FILE* file = std::fopen("fuzz-crash.bin", "wb");
    if (file) {
        std::fwrite(current.data(), 1, current.size(), file);
        std::fclose(file);
    }
    std::signal(signal, SIG_DFL);
    std::raise(signal);
}

std::string bytesOf(const fs::path& path) {
    std::ifstream file(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

/// A few changes of the kinds that break readers.
std::string mutated(const std::vector<std::string>& seeds, std::mt19937& dice) {
    std::string text = seeds[dice() % seeds.size()];
    const auto at = [&] { return text.empty() ? 0 : dice() % text.size(); };
    for (unsigned n = 1 + dice() % 6; n > 0; --n) {
        switch (dice() % 7) {
        case 0:
            if (!text.empty()) text[at()] = static_cast<char>(dice() % 256);
            break;
        case 1:
            text.insert(at(), 1, static_cast<char>(dice() % 256));
            break;
        case 2:
            if (!text.empty()) text.erase(at(), 1 + dice() % 8);
            break;
        case 3: {
            constexpr const char* odd[] = {"-1",  "0",    "1e300",     "1e-300", "99999999999",
                                           "nan", "\"",   ",",         "\n",     "[[[[",
                                           "{",   "-0.0", "2147483648"};
            text.insert(at(), odd[dice() % std::size(odd)]);
            break;
        }
        case 4: {
            const std::string& other = seeds[dice() % seeds.size()];
            if (other.empty()) break;
            const std::size_t from = dice() % other.size();
            text.insert(at(), other.substr(from, dice() % 200));
            break;
        }
        case 5:
            text.resize(at());
            break;
        default: {
            const std::size_t from = at();
            text.insert(at(), text.substr(from, dice() % 40));
        }
        }
    }
    return text;
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 2) return 2;
    for (const int signal : {SIGSEGV, SIGABRT, SIGFPE, SIGALRM}) std::signal(signal, keepAndDie);
    const long mutations = argc > 2 ? std::atol(argv[2]) : 0;
    std::size_t read = 0;
    for (const auto& target : rapt::fuzz::targets()) {
        if (argc > 3 && std::string(argv[3]) != target.name) continue;
        std::vector<std::string> seeds;
        for (const auto& entry : fs::directory_iterator(fs::path(argv[1]) / target.name))
            seeds.push_back(bytesOf(entry.path()));
        std::mt19937 dice(20260401);
        double longest = 0;
        const auto run = [&](const std::string& bytes) {
            current = bytes;
            const auto begun = std::chrono::steady_clock::now();
            ::alarm(60); // on a busy machine; the aim is five seconds
            target.read(current);
            ::alarm(0);
            const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begun;
            longest = std::max(longest, took.count());
            ++read;
        };
        for (const std::string& seed : seeds) run(seed);
        for (long i = 0; i < mutations; ++i) run(mutated(seeds, dice));
        std::printf("%-14s %zu seeds, %ld mutations, the longest took %.3f s\n", target.name,
                    seeds.size(), mutations, longest);
    }
    std::printf("%zu inputs read\n", read);
    return 0;
}
