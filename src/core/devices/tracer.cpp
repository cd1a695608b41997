#include "devices/tracer.h"

namespace fg {

std::string Tracer::sourceWith(std::string_view remark) const {
    return remark.empty() ? m_source : m_source + "; " + std::string(remark);
}

void Tracer::print() {
    if (!m_kept) return;
    for (TraceLine& line : linesSince(*m_kept, m_printed)) decoded.lines.push_back({std::move(line), {}});
    m_printed = static_cast<std::int32_t>(m_kept->size());
}

}  // namespace fg
