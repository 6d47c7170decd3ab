#pragma once
// Large values (jobs, pieces, words) are copied and compared in many files; their members stand
// once, so that each of those files need not compile them again.

/// Declares construction, copies, moves and the comparison of a struct, all as by default.
#define RAPT_VALUE(Type)                                                                           \
    Type();                                                                                        \
    Type(const Type&);                                                                             \
    Type(Type&&) noexcept;                                                                         \
    Type& operator=(const Type&);                                                                  \
    Type& operator=(Type&&) noexcept;                                                              \
    ~Type();                                                                                       \
    friend bool operator==(const Type&, const Type&)

/// Their definitions, in the source file of the struct.
#define RAPT_VALUE_MEMBERS(Type)                                                                   \
    Type::Type() = default;                                                                        \
    Type::Type(const Type&) = default;                                                             \
    Type::Type(Type&&) noexcept = default;                                                         \
    Type& Type::operator=(const Type&) = default;                                                  \
    Type& Type::operator=(Type&&) noexcept = default;                                              \
    Type::~Type() = default;                                                                       \
    bool operator==(const Type&, const Type&) = default;
