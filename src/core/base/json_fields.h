#pragma once
// Reading JSON objects field by field, with errors that name the key, and keeping what we do not
// know. Included by .cpp files only.

#include "base/result.h"

#include <initializer_list>
#include <nlohmann/json.hpp>
#include <string>

namespace rapt {

/// Thrown inside a reader and turned into an Error at its public edge.
struct FieldError {
    std::string place;
    std::string reason;
};

/// Parses JSON text with a cap on nesting. `file` names the place of an error.
Result<nlohmann::json> parseJson(const std::string& text, const std::string& file);

/// One object and its path for errors, such as `pieces[2].pose`.
class Fields {
public:
    Fields(const nlohmann::json& value, std::string where);

    bool has(const char* key) const { return object.contains(key); }
    const nlohmann::json& raw(const char* key) const;
    std::string path(const char* key) const;

    /// Required values (the ones without a fallback) and optional ones. Wrong types, and numbers
    /// that are not finite or outside [low, high], throw a FieldError.
    double number(const char* key, double low, double high) const;
    double number(const char* key, double fallback, double low, double high) const;
    double positive(const char* key, double fallback) const;
    int integer(const char* key, int fallback, int low, int high) const;
    std::string text(const char* key) const;
    std::string text(const char* key, const std::string& fallback) const;
    bool flag(const char* key, bool fallback) const;
    /// The elements of an array, or none if the key is absent.
    const nlohmann::json& array(const char* key) const;
    Fields child(const char* key) const { return Fields(raw(key), path(key)); }

    /// JSON text of the members that are not named here; empty if there are none.
    std::string unknown(std::initializer_list<const char*> known) const;

private:
    const nlohmann::json& object;
    std::string where;
};

/// A number within bounds out of any JSON value.
double numberOf(const nlohmann::json& value, const std::string& path, double low, double high);

/// Puts kept unknown members back into an object that is being written.
void restoreUnknown(nlohmann::json& object, const std::string& unknown);

} // namespace rapt
