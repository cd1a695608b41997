#include "units/error.h"

namespace fg {

std::string Error::message() const {
    std::string text = where;
    if (!text.empty()) text += ": ";
    if (!found.empty()) text += "found " + found;
    if (!expected.empty()) text += (found.empty() ? "expected " : ", expected ") + expected;
    return text;
}

Error Error::within(const std::string& context) const {
    Error outer = *this;
    outer.where = where.empty() ? context : context + ": " + where;
    return outer;
}

}  // namespace fg
