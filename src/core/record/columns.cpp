#include "record/columns.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <set>
#include <variant>

namespace rapt {
using nlohmann::json;

/// A count from 0, up to what a list may have; anything else is no record.
static int countIn(const json& j) {
    const double count = j.get<double>();
    if (!(count >= 0 && count <= 40'000'000))
        throw json::out_of_range::create(406, "a count is out of range", &j);
    return static_cast<int>(count);
}

// The JSON of the lists' elements; found by nlohmann's lookup.
static void to_json(json& j, const ThreadUsed& t) {
    j = {{"color", t.color}, {"name", t.name}, {"length_m", t.lengthM}};
}
static void from_json(const json& j, ThreadUsed& t) {
    t = {j.at("color"), j.value("name", ""), j.at("length_m")};
}
static void to_json(json& j, const WordsSewn& w) {
    j = {{"text", w.text}, {"face", w.face}, {"cap_mm", w.capMm}};
}
static void from_json(const json& j, WordsSewn& w) {
    w = {j.at("text"), j.value("face", ""), j.value("cap_mm", 0.0)};
}
static void to_json(json& j, const HoopingFound& f) {
    j = {{"hooping", f.hooping},
         {"by", f.by},
         {"rms_mm", f.rmsMm},
         {"rotation_deg", f.rotationDeg},
         {"scale", f.scale}};
}
static void from_json(const json& j, HoopingFound& f) {
    f = {countIn(j.at("hooping")), j.value("by", ""), j.value("rms_mm", 0.0),
         j.value("rotation_deg", 0.0), j.value("scale", 1.0)};
}
static void to_json(json& j, const RunStop& s) {
    j = {{"hooping", s.hooping}, {"stitch", s.stitch}, {"kind", s.kind}, {"layers", s.layers}};
}
static void from_json(const json& j, RunStop& s) {
    s = {countIn(j.at("hooping")), static_cast<std::size_t>(countIn(j.at("stitch"))), j.at("kind"),
         j.value("layers", 0.0)};
}
static void to_json(json& j, const PartSeconds& p) {
    j = {{"part", p.part}, {"seconds", p.seconds}};
}
static void from_json(const json& j, PartSeconds& p) { p = {j.at("part"), j.at("seconds")}; }

namespace {

using Member =
    std::variant<std::string StitchOut::*, std::int64_t StitchOut::*,
                 std::optional<double> StitchOut::*, std::vector<double> StitchOut::*,
                 std::vector<ThreadUsed> StitchOut::*, std::vector<WordsSewn> StitchOut::*,
                 std::vector<HoopingFound> StitchOut::*, std::vector<RunStop> StitchOut::*,
                 std::vector<PartSeconds> StitchOut::*>;

struct Entry {
    const char* name;
    Member member;
    bool searched = false;
};

const std::vector<Entry>& entries() {
    using R = StitchOut;
    static const std::vector<Entry> list{
        {"id", &R::id},
        {"uid", &R::uid},
        {"date", &R::date, true},
        {"bench", &R::bench, true},
        {"job", &R::job, true},
        {"job_id", &R::jobId},
        {"customer", &R::customer, true},
        {"fabric", &R::fabric, true},
        {"outcome", &R::outcome, true},
        {"cause", &R::cause, true},
        {"note", &R::note, true},
        {"spot_x_mm", &R::spotX},
        {"spot_y_mm", &R::spotY},
        {"cloth", &R::cloth, true},
        {"stabilizer", &R::stabilizer, true},
        {"topper", &R::topper, true},
        {"needle", &R::needle, true},
        {"frame", &R::frame, true},
        {"machine", &R::machine, true},
        {"width_mm", &R::widthMm, true},
        {"height_mm", &R::heightMm, true},
        {"speed_spm", &R::speed},
        {"stitches", &R::stitches},
        {"hoopings", &R::hoopings},
        {"quantity", &R::quantity},
        {"threads", &R::threads, true},
        {"bobbin_m", &R::bobbinM},
        {"stabilizer_cm2", &R::stabilizerCm2},
        {"peak_layers", &R::peakLayers},
        {"peak_hits_per_mm2", &R::peakHits},
        {"excess", &R::excess},
        {"lettering", &R::lettering, true},
        {"method", &R::method, true},
        {"found", &R::found, true},
        {"gaps_mm", &R::gapsMm},
        {"predicted_join_rms_mm", &R::predictedJoinMm},
        {"placing_sigma_mm", &R::placingSigmaMm},
        {"draw_in_mm", &R::drawInMm},
        {"events", &R::events, true},
        {"estimated", &R::estimated},
        {"taken", &R::taken},
        {"seconds_estimated", &R::secondsEstimated},
        {"seconds_taken", &R::secondsTaken},
        {"labour_min_estimated", &R::labourMinutesEstimated},
        {"labour_min", &R::labourMinutes},
        {"cost", &R::cost},
        {"price", &R::price},
        {"currency", &R::currency},
        {"job_file", &R::jobFile},
        {"picture", &R::picture},
        {"photo", &R::photo},
        {"revision", &R::revision},
    };
    return list;
}

CellKind kindOf(const Member& member) {
    if (std::holds_alternative<std::string StitchOut::*>(member)) return CellKind::text;
    if (std::holds_alternative<std::int64_t StitchOut::*>(member)) return CellKind::integer;
    if (std::holds_alternative<std::optional<double> StitchOut::*>(member)) return CellKind::number;
    return CellKind::list;
}

struct Writer {
    std::string operator()(const std::string& text) const { return text; }
    std::string operator()(std::int64_t n) const { return fmt::format("{}", n); }
    std::string operator()(const std::optional<double>& x) const {
        return x ? fmt::format("{}", *x) : std::string();
    }
    template<class T>
    std::string operator()(const std::vector<T>& list) const {
        if (list.empty()) return {};
        return json(list).dump(-1, ' ', false, json::error_handler_t::replace);
    }
};

/// Sets a value from text; the reason if that is not possible.
struct Reader {
    std::string_view text;
    std::optional<std::string> operator()(std::string& value) const {
        value = text;
        return std::nullopt;
    }
    std::optional<std::string> operator()(std::int64_t& value) const {
        value = 0;
        if (text.empty()) return std::nullopt;
        const auto [end, ec] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (ec == std::errc() && end == text.data() + text.size()) return std::nullopt;
        return fmt::format("'{}' is no whole number", text);
    }
    std::optional<std::string> operator()(std::optional<double>& value) const {
        value.reset();
        if (text.empty()) return std::nullopt;
        double x = 0;
        const auto [end, ec] = std::from_chars(text.data(), text.data() + text.size(), x);
        if (ec != std::errc() || end != text.data() + text.size() || !std::isfinite(x))
            return fmt::format("'{}' is no number", text);
        value = x;
        return std::nullopt;
    }
    template<class T>
    std::optional<std::string> operator()(std::vector<T>& list) const {
        list.clear();
        if (text.empty()) return std::nullopt;
        try {
            list = json::parse(text).get<std::vector<T>>();
            return std::nullopt;
        } catch (const json::exception&) {
            return std::string("is not the JSON list that belongs there");
        }
    }
};

bool isWordByte(unsigned char c) { return c >= 0x80 || std::isalnum(c); }

/// The base letters of the Latin accented ones, in lower case (U+00C0 to U+017F).
constexpr const char* plainLatin[] = {
    "a", "a", "a",  "a",  "a", "a", "ae", "c",  "e",  "e", "e", "e", "i",  "i",  "i", "i", "d", "n",
    "o", "o", "o",  "o",  "o", " ", "o",  "u",  "u",  "u", "u", "y", "th", "ss", "a", "a", "a", "a",
    "a", "a", "ae", "c",  "e", "e", "e",  "e",  "i",  "i", "i", "i", "d",  "n",  "o", "o", "o", "o",
    "o", " ", "o",  "u",  "u", "u", "u",  "y",  "th", "y", "a", "a", "a",  "a",  "a", "a", "c", "c",
    "c", "c", "c",  "c",  "c", "c", "d",  "d",  "d",  "d", "e", "e", "e",  "e",  "e", "e", "e", "e",
    "e", "e", "g",  "g",  "g", "g", "g",  "g",  "g",  "g", "h", "h", "h",  "h",  "i", "i", "i", "i",
    "i", "i", "i",  "i",  "i", "i", "ij", "ij", "j",  "j", "k", "k", "k",  "l",  "l", "l", "l", "l",
    "l", "l", "l",  "l",  "l", "n", "n",  "n",  "n",  "n", "n", "n", "n",  "n",  "o", "o", "o", "o",
    "o", "o", "oe", "oe", "r", "r", "r",  "r",  "r",  "r", "s", "s", "s",  "s",  "s", "s", "s", "s",
    "t", "t", "t",  "t",  "t", "t", "u",  "u",  "u",  "u", "u", "u", "u",  "u",  "u", "u", "u", "u",
    "w", "w", "y",  "y",  "y", "z", "z",  "z",  "z",  "z", "z", "s"};

/// Lower case without accents; other letters and signs stay.
std::string plain(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        if (c < 0x80) {
            out += static_cast<char>(std::tolower(c));
            continue;
        }
        const auto next = i + 1 < text.size() ? static_cast<unsigned char>(text[i + 1]) : 0u;
        const unsigned code = (c & 0x1fu) << 6 | (next & 0x3fu);
        if ((c & 0xe0) == 0xc0 && code >= 0xc0 && code < 0x180) {
            out += plainLatin[code - 0xc0];
            ++i;
        } else if ((c == 0xc2)) { // signs such as × come here; they part words
            out += ' ';
            ++i;
        } else {
            out += static_cast<char>(c);
        }
    }
    return out;
}

/// The letters and figures of a word without the signs between them.
std::string joined(std::string_view word) {
    std::string out;
    for (const char c : word)
        if (isWordByte(static_cast<unsigned char>(c))) out += c;
    return out;
}

template<class Word>
void eachBetween(std::string_view text, bool (*inside)(unsigned char), Word word) {
    std::size_t from = 0;
    for (std::size_t i = 0; i <= text.size(); ++i)
        if (i == text.size() || !inside(static_cast<unsigned char>(text[i]))) {
            if (i > from) word(text.substr(from, i - from));
            from = i + 1;
        }
}

bool isNoBlank(unsigned char c) { return !std::isspace(c); }

} // namespace

const std::vector<RecordColumn>& recordColumns() {
    static const std::vector<RecordColumn> list = [] {
        std::vector<RecordColumn> columns;
        for (const Entry& e : entries()) columns.push_back({e.name, kindOf(e.member)});
        return columns;
    }();
    return list;
}

std::string cellOf(const StitchOut& record, std::size_t column) {
    return std::visit([&](auto member) { return Writer{}(record.*member); },
                      entries()[column].member);
}

Status setCell(StitchOut& record, std::size_t column, std::string_view text) {
    const auto problem = std::visit([&](auto member) { return Reader{text}(record.*member); },
                                    entries()[column].member);
    if (problem) return badInput(*problem, entries()[column].name);
    return done();
}

std::string searchWords(const StitchOut& record) {
    std::string text;
    for (std::size_t c = 0; c < entries().size(); ++c)
        if (entries()[c].searched) text += cellOf(record, c) + ' ';
    text = plain(text);
    std::set<std::string> words;
    eachBetween(text, isNoBlank, [&](std::string_view run) {
        // Lists are JSON; a word in it ends at its quotes.
        eachBetween(
            run, [](unsigned char c) { return c != '"' && c != ',' && c != ':'; },
            [&](std::string_view word) {
                words.insert(joined(word));
                eachBetween(word, isWordByte, [&](std::string_view w) { words.emplace(w); });
            });
    });
    if (record.widthMm && record.heightMm)
        words.insert(fmt::format("{:.0f}x{:.0f}", *record.widthMm, *record.heightMm));
    words.erase("");
    std::string out;
    for (const std::string& w : words) out += (out.empty() ? "" : " ") + w;
    return out;
}

std::vector<std::string> searchTerms(std::string_view query) {
    std::vector<std::string> terms;
    eachBetween(plain(query), isNoBlank, [&](std::string_view word) {
        if (std::string term = joined(word); !term.empty()) terms.push_back(std::move(term));
    });
    return terms;
}

} // namespace rapt
