#include "base/result.h"

namespace rapt {

std::string Error::line() const {
    std::string text;
    for (const std::string* part : {&file, &place, &reason}) {
        if (part->empty()) continue;
        if (!text.empty()) text += ": ";
        text += *part;
    }
    for (char& c : text)
        if (static_cast<unsigned char>(c) < 0x20 || c == 0x7F) c = ' ';
    return text;
}

Error Error::inside(const std::string& container) const {
    Error outer = *this;
    outer.file = container;
    outer.place = file.empty() ? place : (place.empty() ? file : file + ": " + place);
    return outer;
}

} // namespace rapt
