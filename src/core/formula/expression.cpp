#include "formula/expression.h"

#include <mutex>
#include <set>

namespace fg {

std::int32_t Recording::add(Node node) {
    m_nodes.push_back(node);
    return static_cast<std::int32_t>(m_nodes.size()) - 1;
}

std::int32_t Recording::addTable(TablePoints points) {
    m_tables.push_back(std::move(points));
    return static_cast<std::int32_t>(m_tables.size() - 1);
}

std::string_view Recording::keep(std::string_view text) { return m_texts.emplace_back(text); }

std::string_view interned(std::string_view text) {
    static std::mutex guard;
    static std::set<std::string, std::less<>> texts;
    const std::lock_guard lock(guard);
    const auto it = texts.find(text);
    return it != texts.end() ? *it : *texts.emplace(text).first;
}

}  // namespace fg
