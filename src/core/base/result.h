#pragma once
// Errors as values. A core function that can fail returns Result<T>; nothing in the core throws
// across a public header, and nothing is half done when it fails.

#include <string>
#include <utility>
#include <variant>

namespace rapt {

/// Which of the kinds of failure this is (docs/formats.md, "The command"): it decides the command's
/// exit status.
enum class Fault {
    badInput,  ///< input that cannot be read or is malformed, or output that cannot be written (3)
    cannotDo,  ///< understood, but impossible as asked (4)
    cancelled, ///< stopped by a person or overtaken by an edit; nobody is told
};

/// What went wrong, in words a person can act on.
struct Error {
    Fault fault = Fault::badInput;
    std::string file;   ///< the file as the person named it; empty if no file is concerned
    std::string place;  ///< member, line or key inside the file; may be empty
    std::string reason; ///< one sentence without a full stop, with what to do where that is known

    /// "file: place: reason" on one line, leaving out what is empty.
    std::string line() const;
    /// The same error seen from a containing file: the old file becomes part of the place.
    Error inside(const std::string& container) const;
};

/// What was given cannot be read.
inline Error badInput(std::string reason, std::string place = {}, std::string file = {}) {
    return {Fault::badInput, std::move(file), std::move(place), std::move(reason)};
}
/// What was asked cannot be done.
inline Error cannotDo(std::string reason, std::string place = {}, std::string file = {}) {
    return {Fault::cannotDo, std::move(file), std::move(place), std::move(reason)};
}
/// A long computation was asked to stop.
inline Error cancelled() { return {Fault::cancelled, {}, {}, "cancelled"}; }

/// A value or an Error. Ask with `if (result)` before taking `*result`.
template<class T>
class [[nodiscard]] Result {
public:
    /// What was asked for.
    Result(T value) : state(std::in_place_index<0>, std::move(value)) {}
    /// Why it is not there.
    Result(Error error) : state(std::in_place_index<1>, std::move(error)) {}

    /// True if there is a value.
    explicit operator bool() const { return state.index() == 0; }
    /// The value; only where there is one.
    T& operator*() { return std::get<0>(state); }
    /// The value; only where there is one.
    const T& operator*() const { return std::get<0>(state); }
    /// The value; only where there is one.
    T* operator->() { return &std::get<0>(state); }
    /// The value; only where there is one.
    const T* operator->() const { return &std::get<0>(state); }
    /// Why there is none; only where there is none.
    const Error& error() const { return std::get<1>(state); }

private:
    std::variant<T, Error> state;
};

/// The result of something done only for its effect.
using Status = Result<std::monostate>;
/// Nothing went wrong.
inline Status done() { return std::monostate{}; }

} // namespace rapt
