#pragma once
// What people call a frame.

#include "library/library.h"

#include <QString>

namespace rapt::app {

/// The name of its record; its id where there is none.
inline QString frameName(const Library& library, const std::string& id) {
    const auto hoop = library.hoop(id);
    return QString::fromStdString(hoop ? hoop->name : id);
}

} // namespace rapt::app
