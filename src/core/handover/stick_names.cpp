#include "handover/stick_names.h"

#include <algorithm>
#include <cctype>
#include <cstdint>
#include <fmt/format.h>
#include <set>

namespace rapt {
namespace {

std::string lowered(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

/// Plain letters for U+00C0 to U+00FF, by their place.
constexpr const char* plainLetters =
    "AAAAAAACEEEEIIIIDNOOOOO*OUUUUYTsaaaaaaaceeeeiiiidnooooo*ouuuuyty";

/// The text with letters of western Europe without their marks; everything else that is not ASCII
/// parts words.
std::string plain(const std::string& text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<std::uint8_t>(text[i]);
        if (c < 0x80) {
            out += text[i];
        } else if (c == 0xC3 && i + 1 < text.size()) {
            const char letter = plainLetters[static_cast<std::uint8_t>(text[++i]) & 0x3F];
            out += letter == '*' ? ' ' : letter;
        } else if ((c & 0xC0) != 0x80) {
            out += ' ';
        }
    }
    return out;
}

/// In the machine's letters: itself, in the other case, or not at all.
std::string inLetters(char c, const StickRules& rules) {
    const auto u = static_cast<unsigned char>(c);
    for (const char variant :
         {c, static_cast<char>(std::toupper(u)), static_cast<char>(std::tolower(u))})
        if (rules.letters.find(variant) != std::string::npos) return {variant};
    return {};
}

std::vector<std::string> wordsOf(const std::string& name, const StickRules& rules) {
    std::vector<std::string> words(1);
    for (const char c : plain(name)) {
        const bool inWord = std::isalnum(static_cast<unsigned char>(c)) != 0;
        if (!inWord && !words.back().empty()) words.emplace_back();
        if (inWord) words.back() += inLetters(c, rules);
    }
    if (words.back().empty()) words.pop_back();
    return words;
}

std::size_t lengthOf(const std::vector<std::string>& words, std::size_t between) {
    std::size_t sum = words.empty() ? 0 : between * (words.size() - 1);
    for (const std::string& w : words) sum += w.size();
    return sum;
}

/// Cut from the ends of the longest words until all is as short as asked.
std::string shortened(std::vector<std::string> words, std::size_t most,
                      const std::string& between) {
    while (!words.empty() && lengthOf(words, between.size()) > most) {
        auto longest = std::max_element(words.begin(), words.end(),
                                        [](auto& a, auto& b) { return a.size() <= b.size(); });
        longest->pop_back();
        if (longest->empty()) words.erase(longest);
    }
    std::string text;
    for (const std::string& w : words) text += (text.empty() ? "" : between) + w;
    return text;
}

std::string separatorIn(const StickRules& rules) {
    for (const char c : {'-', '_'})
        if (rules.letters.find(c) != std::string::npos) return {c};
    return {};
}

/// What keeps names apart: nothing, then 2, 3, ….
std::string suffix(int attempt) { return attempt == 1 ? std::string() : std::to_string(attempt); }

} // namespace

std::vector<std::string> stickNames(const std::string& job, std::size_t count,
                                    const StickRules& rules,
                                    const std::vector<std::string>& taken) {
    std::set<std::string> used;
    for (const std::string& name : taken) used.insert(lowered(name));
    const std::string between = separatorIn(rules);
    const int digits = count > 99 ? static_cast<int>(std::to_string(count).size()) : 2;
    const auto words = wordsOf(job, rules);
    for (int attempt = 1;; ++attempt) {
        const std::size_t fixed = static_cast<std::size_t>(digits) + suffix(attempt).size();
        const auto whole = static_cast<std::size_t>(rules.nameLength);
        const std::size_t room = whole > fixed ? whole - fixed : 0;
        const bool parted = room >= 4 && !between.empty();
        const std::string stem = shortened(words, parted ? room - between.size() : room,
                                           room >= 10 ? between : std::string());
        std::vector<std::string> names;
        bool clash = false;
        for (std::size_t i = 1; i <= count; ++i) {
            names.push_back(fmt::format("{:0{}}{}{}{}", i, digits,
                                        parted && !stem.empty() ? between : "", stem,
                                        suffix(attempt)));
            clash |= used.contains(lowered(names.back() + stickEnding));
        }
        if (!clash) return names;
    }
}

} // namespace rapt
