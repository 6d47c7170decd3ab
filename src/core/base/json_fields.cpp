#include "base/json_fields.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr int maxDepth = 64;

/// Deep nesting would exhaust memory in the parser, so it is found before parsing.
bool nestsTooDeep(const std::string& text) {
    int depth = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            if (c == '\\') ++i;
            if (c == '"') quoted = false;
        } else if (c == '"') {
            quoted = true;
        } else if (c == '[' || c == '{') {
            if (++depth > maxDepth) return true;
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return false;
}

/// "at line 3, column 7" out of the parser's message, whose prefix is of no use to a person.
std::string parserReason(const std::string& what) {
    const auto at = what.find("] ");
    return at == std::string::npos ? what : what.substr(at + 2);
}

} // namespace

Result<json> parseJson(const std::string& text, const std::string& file) {
    if (nestsTooDeep(text))
        return badInput(fmt::format("is nested more than {} levels deep", maxDepth), {}, file);
    try {
        return json::parse(text);
    } catch (const json::exception& e) {
        return badInput("is not valid JSON: " + parserReason(e.what()), {}, file);
    }
}

Fields::Fields(const json& value, std::string w) : object(value), where(std::move(w)) {
    if (!object.is_object()) throw FieldError{where, "must be an object"};
}

std::string Fields::path(const char* key) const { return where.empty() ? key : where + "." + key; }

const json& Fields::raw(const char* key) const {
    const auto it = object.find(key);
    if (it == object.end()) throw FieldError{path(key), "is missing"};
    return *it;
}

double numberOf(const json& value, const std::string& path, double low, double high) {
    if (!value.is_number()) throw FieldError{path, "must be a number"};
    const double v = value.get<double>();
    if (!std::isfinite(v)) throw FieldError{path, "must be a finite number"};
    if (v < low || v > high)
        throw FieldError{path, fmt::format("is {}, allowed is {} to {}", v, low, high)};
    return v;
}

double Fields::number(const char* key, double low, double high) const {
    return numberOf(raw(key), path(key), low, high);
}

double Fields::number(const char* key, double fallback, double low, double high) const {
    return has(key) ? number(key, low, high) : fallback;
}

double Fields::positive(const char* key, double fallback) const {
    const double v = number(key, fallback, -1e9, 1e9);
    if (v <= 0) throw FieldError{path(key), fmt::format("is {}, it must be over 0", v)};
    return v;
}

int Fields::integer(const char* key, int fallback, int low, int high) const {
    if (!has(key)) return fallback;
    const double v = number(key, low, high);
    if (v != std::floor(v)) throw FieldError{path(key), "must be a whole number"};
    return static_cast<int>(v);
}

std::string Fields::text(const char* key) const {
    const json& v = raw(key);
    if (!v.is_string()) throw FieldError{path(key), "must be a text"};
    return v.get<std::string>();
}

std::string Fields::text(const char* key, const std::string& fallback) const {
    return has(key) ? text(key) : fallback;
}

bool Fields::flag(const char* key, bool fallback) const {
    if (!has(key)) return fallback;
    const json& v = raw(key);
    if (!v.is_boolean()) throw FieldError{path(key), "must be true or false"};
    return v.get<bool>();
}

const json& Fields::array(const char* key) const {
    static const json none = json::array();
    if (!has(key)) return none;
    const json& v = raw(key);
    if (!v.is_array()) throw FieldError{path(key), "must be a list"};
    return v;
}

namespace {

// Under this key the unknown members of known members are kept; no file of ours has it.
constexpr const char* nestedKey = "\x01nested";

json unknownIn(const json& object, const std::vector<const char*>& known,
               const std::vector<NestedKeys>& nested) {
    json rest = json::object();
    for (const auto& [key, value] : object.items()) {
        const bool isKnown = std::any_of(known.begin(), known.end(),
                                         [&, &k = key](const char* name) { return k == name; });
        if (!isKnown) rest[key] = value;
    }
    for (const NestedKeys& n : nested) {
        const auto found = object.find(n.key);
        if (found == object.end()) continue;
        json inside;
        if (found->is_object()) inside = unknownIn(*found, n.known, n.nested);
        bool any = !inside.empty();
        if (found->is_array())
            for (const json& entry : *found) {
                inside.push_back(entry.is_object() ? unknownIn(entry, n.known, n.nested)
                                                   : json::object());
                any = any || !inside.back().empty();
            }
        if (any) rest[nestedKey][n.key] = std::move(inside);
    }
    return rest;
}

void restoreIn(json& object, const json& unknown) {
    for (const auto& [key, value] : unknown.items())
        if (key != nestedKey) object[key] = value;
    const auto nested = unknown.find(nestedKey);
    if (nested == unknown.end()) return;
    for (const auto& [key, inside] : nested->items()) {
        const auto own = object.find(key);
        if (own == object.end()) continue;
        if (own->is_object() && inside.is_object()) restoreIn(*own, inside);
        if (!own->is_array() || !inside.is_array() || own->size() != inside.size()) continue;
        for (std::size_t i = 0; i < inside.size(); ++i)
            if ((*own)[i].is_object()) restoreIn((*own)[i], inside[i]);
    }
}

} // namespace

namespace {

/// Numbers, and lists of numbers within lists: points.
bool isPlainList(const json& value) {
    return value.is_array() && std::all_of(value.begin(), value.end(), [](const json& v) {
               return v.is_number() || (v.is_array() && isPlainList(v));
           });
}

void write(const json& value, std::size_t depth, std::string& out) {
    if (!value.is_structured() || value.empty() || isPlainList(value)) {
        out += value.dump();
        return;
    }
    const std::string inner(depth + 1, ' ');
    out += value.is_object() ? '{' : '[';
    bool first = true;
    for (const auto& [key, entry] : value.items()) {
        out += first ? "\n" : ",\n";
        first = false;
        out += inner;
        if (value.is_object()) out += json(key).dump() + ": ";
        write(entry, depth + 1, out);
    }
    out += '\n' + std::string(depth, ' ') + (value.is_object() ? '}' : ']');
}

} // namespace

std::string writtenJson(const json& value) {
    std::string out;
    write(value, 0, out);
    return out;
}

std::string Fields::unknown(std::initializer_list<const char*> known,
                            const std::vector<NestedKeys>& nested) const {
    const json rest = unknownIn(object, known, nested);
    return rest.empty() ? std::string() : rest.dump();
}

void restoreUnknown(json& object, const std::string& unknown) {
    if (!unknown.empty()) restoreIn(object, json::parse(unknown));
}

} // namespace rapt
