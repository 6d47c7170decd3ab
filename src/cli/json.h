#pragma once
// JSON as the command answers it. Its members are compiled once, in json.cpp, and not with every
// verb.

#include <nlohmann/json.hpp>

extern template class nlohmann::basic_json<nlohmann::ordered_map>;
