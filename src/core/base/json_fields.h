#pragma once
// Reading JSON objects field by field, with errors that name the key, and keeping what we do not
// know. Included by .cpp files only.

#include "base/result.h"

#include <initializer_list>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace rapt {

/// Thrown inside a reader and turned into an Error at its public edge.
struct FieldError {
    std::string place;
    std::string reason;
};

/// Parses JSON text with a cap on nesting. `file` names the place of an error.
Result<nlohmann::json> parseJson(const std::string& text, const std::string& file);

/// The known keys of an object, or of the objects of a list, that stands under a key.
struct NestedKeys {
    const char* key;
    std::vector<const char*> known;
    std::vector<NestedKeys> nested{};
};

/// One object and its path for errors, such as `pieces[2].pose`.
class Fields {
public:
    /// Fields of a value; `where` names it in errors. Throws FieldError if it is no object.
    Fields(const nlohmann::json& value, std::string where);

    /// True if the key is there.
    bool has(const char* key) const { return object.contains(key); }
    /// The value as it stands; throws FieldError without it.
    const nlohmann::json& raw(const char* key) const;
    /// How errors name a key: `pieces[2].pose.x`.
    std::string path(const char* key) const;

    /// Required values (the ones without a fallback) and optional ones. Wrong types, and numbers
    /// that are not finite or outside [low, high], throw a FieldError.
    double number(const char* key, double low, double high) const;
    /// A finite number in [low, high]; `fallback` without the key.
    double number(const char* key, double fallback, double low, double high) const;
    /// A finite number above 0; `fallback` without the key.
    double positive(const char* key, double fallback) const;
    /// A whole number in [low, high]; `fallback` without the key.
    int integer(const char* key, int fallback, int low, int high) const;
    /// Text that must be there.
    std::string text(const char* key) const;
    /// Text; `fallback` without the key.
    std::string text(const char* key, const std::string& fallback) const;
    /// True or false; `fallback` without the key.
    bool flag(const char* key, bool fallback) const;
    /// The elements of an array, or none if the key is absent.
    const nlohmann::json& array(const char* key) const;
    /// The object under a key.
    Fields child(const char* key) const { return Fields(raw(key), path(key)); }

    /// JSON text of the members that are not named here, also of those within the objects and lists
    /// of objects that `nested` names; empty if there are none.
    std::string unknown(std::initializer_list<const char*> known,
                        const std::vector<NestedKeys>& nested = {}) const;

private:
    const nlohmann::json& object;
    std::string where;
};

/// JSON text for people and version control: a key a line, but numbers and points in lists on one
/// line, however many they are. Throws as nlohmann::json::dump does for text that is no UTF-8.
std::string writtenJson(const nlohmann::json& value);

/// A number within bounds out of any JSON value.
double numberOf(const nlohmann::json& value, const std::string& path, double low, double high);

/// Puts kept unknown members back into an object that is being written. Those of nested objects go
/// where such an object is still written, those of lists where there are as many entries.
void restoreUnknown(nlohmann::json& object, const std::string& unknown);

} // namespace rapt
