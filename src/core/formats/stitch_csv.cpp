#include "formats/stitch_csv.h"

#include "formats/limits.h"

#include "base/csv.h"
#include "base/file_io.h"

#include <bitset>
#include <charconv>
#include <cstring>
#include <fmt/format.h>
#include <optional>

namespace rapt {
namespace {

constexpr std::string_view columnLine = "op,x_mm,y_mm,thread";

bool isDigit(char c) { return c >= '0' && c <= '9'; }

enum class Coordinate { good, malformed, tooLarge };

/// Reads `[+-]digits[.digits]` up to `end` into 1/100,000 mm, rounding half away from zero.
Coordinate readCoordinate(const char*& p, const char* end, std::int32_t& out) {
    bool negative = false;
    if (p < end && (*p == '-' || *p == '+')) negative = *p++ == '-';
    const char* start = p;
    std::int64_t value = 0;
    while (p < end && isDigit(*p)) value = std::min<std::int64_t>(value * 10 + (*p++ - '0'), 1e12);
    std::ptrdiff_t digits = p - start;
    value *= unitsPerMm;
    if (p < end && *p == '.') {
        start = ++p;
        std::int64_t unit = unitsPerMm / 10;
        while (p < end && isDigit(*p)) {
            const int digit = *p - '0';
            if (unit > 0)
                value += unit * digit;
            else if (p - start == 5 && digit >= 5)
                ++value;
            unit /= 10;
            ++p;
        }
        digits += p - start;
    }
    if (digits == 0) return Coordinate::malformed;
    if (value > static_cast<std::int64_t>(maxCoordinateMm) * unitsPerMm)
        return Coordinate::tooLarge;
    out = static_cast<std::int32_t>(negative ? -value : value);
    return Coordinate::good;
}

std::optional<Op> opNamed(std::string_view name) {
    if (name == "stitch") return Op::stitch;
    if (name == "jump") return Op::jump;
    if (name == "trim") return Op::trim;
    if (name == "stop") return Op::stop;
    return std::nullopt;
}

/// One pass over the text, line by line.
class Reader {
public:
    Reader(std::string_view t, const std::string& f) : text(t), file(f) {}

    Result<StitchList> read() {
        if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
        // Most lines are about 22 bytes long; one allocation then serves the whole list.
        list.stitches.reserve(text.size() / 22);
        std::size_t at = 0;
        while (at < text.size()) {
            const void* hit = std::memchr(text.data() + at, '\n', text.size() - at);
            const std::size_t end =
                hit ? static_cast<std::size_t>(static_cast<const char*>(hit) - text.data())
                    : text.size();
            std::string_view line = text.substr(at, end - at);
            at = end + 1;
            ++lineNumber;
            if (line.ends_with('\r')) line.remove_suffix(1);
            if (!line.empty() && !takeLine(line)) return failure;
        }
        return finish();
    }

private:
    bool fail(std::string reason) {
        failure = badInput(std::move(reason), fmt::format("line {}", lineNumber), file);
        return false;
    }

    bool takeLine(std::string_view line) {
        if (line[0] == '#') return takeComment(line);
        if (!versionSeen)
            return fail("the first line must be '# rapt-stitches 1'; this is not a stitch list");
        if (!columnsSeen) return takeColumns(line);
        return takeRecord(line);
    }

    bool takeColumns(std::string_view line) {
        if (!splitCsvRecord(line, fields) ||
            fields != std::vector<std::string>{"op", "x_mm", "y_mm", "thread"})
            return fail(fmt::format("expected the column line '{}'", columnLine));
        columnsSeen = true;
        return true;
    }

    bool takeComment(std::string_view line) {
        if (columnsSeen) return fail("lines beginning with # must come before the column line");
        if (!isPlainUtf8(line)) return fail("is not valid UTF-8");
        std::string_view body = line.substr(1);
        while (body.starts_with(' ')) body.remove_prefix(1);
        if (!versionSeen) return takeVersion(body);
        if (body.starts_with("name,")) return takeName(body);
        if (body.starts_with("thread,")) return takeThread(body);
        if (body.starts_with("rapt-stitches")) return fail("a second version line");
        list.remarks.emplace_back(line);
        return true;
    }

    bool takeVersion(std::string_view body) {
        if (!body.starts_with("rapt-stitches "))
            return fail("the first line must be '# rapt-stitches 1'; this is not a stitch list");
        if (body != "rapt-stitches 1")
            return fail("this version of stitch lists is not known; version 1 is read");
        versionSeen = true;
        return true;
    }

    bool takeName(std::string_view body) {
        if (nameSeen) return fail("a second name line");
        if (!splitCsvRecord(body, fields) || fields.size() != 2)
            return fail("a name line is 'name,TEXT'; a name with a comma or quote is quoted");
        list.name = fields[1];
        nameSeen = true;
        return true;
    }

    bool takeThread(std::string_view body) {
        if (!splitCsvRecord(body, fields) || fields.size() != 5)
            return fail("a thread line is 'thread,INDEX,#rrggbb,WEIGHT,NAME'");
        Thread t;
        int index = 0;
        if (!readWhole(fields[1], index) || index < 1 || index > 255)
            return fail(fmt::format("thread index '{}' is not from 1 to 255", fields[1]));
        t.index = static_cast<std::uint8_t>(index);
        if (declared[t.index]) return fail(fmt::format("thread {} is declared twice", index));
        if (!parseRgb(fields[2], t.color))
            return fail(fmt::format("colour '{}' is not of the form #rrggbb", fields[2]));
        if (!readWeight(fields[3], t.weight))
            return fail(
                fmt::format("thread weight '{}' is not a number from 1 to 1000", fields[3]));
        t.name = fields[4];
        declared[t.index] = true;
        list.threads.push_back(std::move(t));
        return true;
    }

    static bool readWhole(std::string_view field, int& out) {
        const auto r = std::from_chars(field.data(), field.data() + field.size(), out);
        return r.ec == std::errc() && r.ptr == field.data() + field.size() && !field.empty();
    }

    static bool readWeight(std::string_view field, double& out) {
        const auto r = std::from_chars(field.data(), field.data() + field.size(), out,
                                       std::chars_format::fixed);
        return r.ec == std::errc() && r.ptr == field.data() + field.size() && out >= 1 &&
               out <= 1000;
    }

    /// The fast way through the usual unquoted record; anything else takes the slow way, which
    /// also finds the reason.
    bool takeRecord(std::string_view line) {
        const char* p = line.data();
        const char* end = p + line.size();
        const char* comma = static_cast<const char*>(std::memchr(p, ',', line.size()));
        const auto op = comma ? opNamed({p, static_cast<std::size_t>(comma - p)}) : std::nullopt;
        if (!op) return takeRecordSlowly(line);
        Stitch s{0, 0, *op, 1};
        p = comma + 1;
        if (readCoordinate(p, end, s.x) != Coordinate::good || p >= end || *p++ != ',' ||
            readCoordinate(p, end, s.y) != Coordinate::good || p >= end || *p++ != ',')
            return takeRecordSlowly(line);
        int thread = 0;
        const char* digits = p;
        while (p < end && isDigit(*p) && p - digits < 4) thread = thread * 10 + (*p++ - '0');
        if (p != end || p == digits) return takeRecordSlowly(line);
        return addRecord(s, thread);
    }

    bool takeRecordSlowly(std::string_view line) {
        if (!isPlainUtf8(line)) return fail("is not valid UTF-8");
        if (!splitCsvRecord(line, fields)) return fail("the quotes of this record are wrong");
        if (fields.size() != 4)
            return fail(
                fmt::format("a record has 4 fields ({}), this has {}", columnLine, fields.size()));
        const auto op = opNamed(fields[0]);
        if (!op) return fail(fmt::format("'{}' is not one of stitch, jump, trim, stop", fields[0]));
        Stitch s{0, 0, *op, 1};
        if (!readField(fields[1], "x_mm", s.x) || !readField(fields[2], "y_mm", s.y)) return false;
        int thread = 0;
        if (!readWhole(fields[3], thread))
            return fail(fmt::format("thread '{}' is not a whole number", fields[3]));
        return addRecord(s, thread);
    }

    bool readField(const std::string& field, const char* column, std::int32_t& out) {
        const char* p = field.data();
        const char* end = p + field.size();
        const Coordinate got = readCoordinate(p, end, out);
        if (got == Coordinate::malformed || p != end)
            return fail(
                fmt::format("{} '{}' is not a decimal number of millimetres", column, field));
        if (got == Coordinate::tooLarge)
            return fail(fmt::format("{} {} is beyond ±10,000 mm", column, field));
        return true;
    }

    bool addRecord(Stitch s, int thread) {
        if (thread < 1 || thread > 255)
            return fail(fmt::format("thread {} is not from 1 to 255", thread));
        s.thread = static_cast<std::uint8_t>(thread);
        if (!list.threads.empty() && !declared[s.thread])
            return fail(fmt::format("thread {} is not declared in a thread line", thread));
        used[s.thread] = true;
        list.stitches.push_back(s);
        return true;
    }

    Result<StitchList> finish() {
        if (!versionSeen)
            return badInput("the first line must be '# rapt-stitches 1'; this file is empty",
                            "line 1", file);
        if (!columnsSeen)
            return badInput(fmt::format("ends before the column line '{}'", columnLine),
                            fmt::format("line {}", lineNumber), file);
        if (list.threads.empty())
            for (std::size_t i = 1; i <= 255; ++i)
                if (used[i]) list.threads.push_back(defaultThread(static_cast<std::uint8_t>(i)));
        list.stitches.shrink_to_fit();
        return std::move(list);
    }

    std::string_view text;
    const std::string& file;
    StitchList list;
    Error failure;
    std::vector<std::string> fields;
    std::bitset<256> declared;
    std::bitset<256> used;
    std::size_t lineNumber = 0;
    bool versionSeen = false;
    bool nameSeen = false;
    bool columnsSeen = false;
};

/// Millimetres with two decimals, or as many more (up to five) as the value has.
void appendCoordinate(std::string& out, std::int32_t units) {
    char buffer[16];
    char* p = buffer + sizeof buffer;
    const bool negative = units < 0;
    std::uint32_t value =
        negative ? 0u - static_cast<std::uint32_t>(units) : static_cast<std::uint32_t>(units);
    int decimals = 5;
    while (decimals > 2 && value % 10 == 0) {
        value /= 10;
        --decimals;
    }
    for (int i = 0; i < decimals; ++i, value /= 10) *--p = static_cast<char>('0' + value % 10);
    *--p = '.';
    do {
        *--p = static_cast<char>('0' + value % 10);
        value /= 10;
    } while (value > 0);
    if (negative && units != 0) *--p = '-';
    out.append(p, buffer + sizeof buffer);
}

void appendRecord(std::string& out, Op op, std::int32_t x, std::int32_t y, std::uint8_t thread) {
    constexpr const char* names[] = {"stitch,", "jump,", "trim,", "stop,"};
    out += names[static_cast<int>(op)];
    appendCoordinate(out, x);
    out += ',';
    appendCoordinate(out, y);
    out += ',';
    out += std::to_string(thread);
    out += '\n';
}

/// Line ends and control characters as one blank.
std::string onOneLine(const std::string& text) {
    std::string line;
    for (const char c : text) {
        const bool control = static_cast<unsigned char>(c) < 0x20 || c == 0x7F;
        if (!control)
            line += c;
        else if (line.empty() || line.back() != ' ')
            line += ' ';
    }
    return line;
}

std::string formatHead(const StitchList& list) {
    std::string out = "# rapt-stitches 1\n";
    if (!list.name.empty()) out += "# name," + quotedCsvField(onOneLine(list.name)) + "\n";
    for (const Thread& t : list.threads)
        out += fmt::format("# thread,{},{},{},{}\n", t.index, formatRgb(t.color), t.weight,
                           quotedCsvField(onOneLine(t.name)));
    for (const std::string& remark : list.remarks) out += remark + "\n";
    return out + std::string(columnLine) + "\n";
}

} // namespace

Result<StitchList> parseStitchCsv(std::string_view text, const std::string& file) {
    return Reader(text, file).read();
}

Result<StitchList> readStitchFile(const std::string& path) {
    const Result<std::string> text = readWholeFile(path, limits::stitchListBytes);
    if (!text) return text.error();
    return parseStitchCsv(*text, path);
}

std::string formatStitchCsv(const StitchList& list) {
    std::string out = formatHead(list);
    out.reserve(out.size() + list.stitches.size() * 26);
    const Stitch* needle = nullptr;
    std::optional<std::uint8_t> lastThread;
    bool cut = false;
    for (const Stitch& s : list.stitches) {
        if (s.op == Op::stitch) {
            const bool changed = lastThread && *lastThread != s.thread;
            if ((cut || changed) && needle && needle->op != Op::jump)
                appendRecord(out, Op::jump, needle->x, needle->y, s.thread);
            cut = false;
            lastThread = s.thread;
        }
        if (s.op == Op::trim) cut = true;
        if (s.op == Op::jump) cut = false;
        appendRecord(out, s.op, s.x, s.y, s.thread);
        if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
    }
    return out;
}

} // namespace rapt
