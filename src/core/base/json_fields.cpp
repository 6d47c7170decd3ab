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

std::string Fields::unknown(std::initializer_list<const char*> known) const {
    json rest = json::object();
    for (const auto& [key, value] : object.items()) {
        const bool isKnown = std::any_of(known.begin(), known.end(),
                                         [&, &k = key](const char* name) { return k == name; });
        if (!isKnown) rest[key] = value;
    }
    return rest.empty() ? std::string() : rest.dump();
}

void restoreUnknown(json& object, const std::string& unknown) {
    if (!unknown.empty()) object.update(json::parse(unknown));
}

} // namespace rapt
