#include "bench/journal.h"

#include "bench/gauge_json.h"
#include "catalogue/json_fields.h"
#include "units/letters.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cctype>
#include <map>
#include <optional>
#include <sstream>

namespace fg {
namespace {

constexpr std::array kKinds{std::pair{EntryKind::Note, std::string_view("note")},
                            std::pair{EntryKind::Piece, std::string_view("piece")},
                            std::pair{EntryKind::Photograph, std::string_view("photograph")},
                            std::pair{EntryKind::Setting, std::string_view("setting")},
                            std::pair{EntryKind::Calibration, std::string_view("calibration")}};

/// Every leaf of a description by its path; a list counts as one leaf.
void leavesOf(const nlohmann::json& json, const std::string& path, std::map<std::string, std::string>& leaves) {
    if (!json.is_object()) {
        leaves[path] = json.is_string() ? json.get<std::string>() : json.dump();
        return;
    }
    for (const auto& [name, value] : json.items()) leavesOf(value, path.empty() ? name : path + "." + name, leaves);
}

std::map<std::string, std::string> leavesOf(const GaugeSpec& spec) {
    std::map<std::string, std::string> leaves;
    if (const auto json = parseJson(writeGauge(spec), spec.name)) leavesOf(*json, "", leaves);
    std::erase_if(leaves, [](const auto& leaf) {
        return leaf.first.starts_with("correction") || leaf.first == "name" || leaf.first == "note" ||
               leaf.first == "examples";
    });
    return leaves;
}

/// Long texts (lists of points, dumps) are told as such.
std::string shortly(const std::string& text) {
    constexpr std::size_t kMost = 40;
    return text.size() <= kMost ? text : fmt::format("a list or text of {} characters", text.size());
}

/// "a 1 → 2" and "a 2 → 3" are "a 1 → 3", and "a 1 → 2" and "a 2 → 1" are nothing; nothing where they are of two
/// fields.
std::optional<std::string> joinedChange(const std::string& before, const std::string& now) {
    constexpr std::string_view kArrow = " → ";
    struct Change {
        std::string field, from, to;
    };
    const auto split = [&](const std::string& text) -> std::optional<Change> {
        const std::size_t blank = text.find(' '), arrow = text.find(kArrow);
        if (blank == std::string::npos || arrow == std::string::npos || blank >= arrow ||
            text.find(';') != std::string::npos)
            return {};
        return Change{text.substr(0, blank), text.substr(blank + 1, arrow - blank - 1),
                      text.substr(arrow + kArrow.size())};
    };
    const auto first = split(before), second = split(now);
    if (!first || !second || first->field != second->field || first->to != second->from) return {};
    if (first->from == second->to) return std::string();
    return first->field + " " + first->from + std::string(kArrow) + second->to;
}

GaugeSpec gaugeUnder(JsonFields& fields, const char* name, const std::string& file) {
    const auto& json = fields.at(name);
    auto spec = readGauge(json.dump(), file + ": " + name);
    if (spec) return std::move(*spec);
    fields.refuse(ErrorCode::Syntax, name, spec.error().message(), "a gauge");
    return {};
}

}  // namespace

std::string_view entryKindName(EntryKind kind) {
    for (const auto& [one, name] : kKinds)
        if (one == kind) return name;
    return "note";
}

bool JournalEntry::operator==(const JournalEntry& other) const {
    return id == other.id && time == other.time && gauge == other.gauge && name == other.name && kind == other.kind &&
           text == other.text && file == other.file &&
           (calibration == other.calibration ||
            (calibration && other.calibration && *calibration == *other.calibration));
}

Journal::Journal(std::vector<JournalEntry> entries) {
    for (const JournalEntry& entry : entries) m_nextId = std::max(m_nextId, entry.id + 1);
    Entries list;
    for (JournalEntry& entry : entries) {
        if (entry.id == 0) entry.id = m_nextId++;
        list.push_back(std::make_shared<const JournalEntry>(std::move(entry)));
    }
    std::stable_sort(list.begin(), list.end(), [](const Entry& a, const Entry& b) { return a->time < b->time; });
    m_entries = std::make_shared<const Entries>(std::move(list));
}

Journal::Entry Journal::find(std::int64_t id) const {
    const auto it = std::find_if(m_entries->begin(), m_entries->end(), [&](const Entry& one) { return one->id == id; });
    return it == m_entries->end() ? nullptr : *it;
}

std::int64_t Journal::add(JournalEntry entry) {
    if (entry.id == 0) entry.id = m_nextId;
    m_nextId = std::max(m_nextId, entry.id + 1);
    const std::int64_t id = entry.id;
    Entries list = *m_entries;
    const auto later = std::upper_bound(list.begin(), list.end(), entry.time,
                                        [](const std::string& time, const Entry& one) { return time < one->time; });
    list.insert(later, std::make_shared<const JournalEntry>(std::move(entry)));
    m_entries = std::make_shared<const Entries>(std::move(list));
    return id;
}

void Journal::remove(std::int64_t id) {
    if (!find(id)) return;
    Entries list = *m_entries;
    std::erase_if(list, [&](const Entry& one) { return one->id == id; });
    m_entries = std::make_shared<const Entries>(std::move(list));
}

void Journal::noteSetting(std::int64_t gauge, const std::string& name, const std::string& text,
                          const std::string& time) {
    std::string line = text;
    if (!m_entries->empty()) {
        const JournalEntry& last = *m_entries->back();
        const bool isSameDay = last.time.substr(0, 10) == time.substr(0, 10);
        const auto joined = last.kind == EntryKind::Setting && last.gauge == gauge && isSameDay
                                ? joinedChange(last.text, text)
                                : std::nullopt;
        if (joined) {
            line = *joined;
            remove(last.id);
        }
    }
    if (!line.empty()) add({0, time, gauge, name, EntryKind::Setting, line, {}, {}});
}

std::vector<Journal::Entry> Journal::search(std::string_view words, std::int64_t gauge) const {
    std::istringstream split{lowered(words)};
    std::vector<std::string> wanted;
    for (std::string word; split >> word;) wanted.push_back(word);
    std::vector<Entry> found;
    for (auto it = m_entries->rbegin(); it != m_entries->rend(); ++it) {
        const JournalEntry& entry = **it;
        if (gauge != 0 && entry.gauge != gauge) continue;
        const std::string all = lowered(entry.time + " " + entry.name + " " + std::string(entryKindName(entry.kind)) +
                                        " " + entry.text + " " + entry.file);
        if (std::all_of(wanted.begin(), wanted.end(),
                        [&](const std::string& word) { return all.find(word) != std::string::npos; }))
            found.push_back(*it);
    }
    return found;
}

std::vector<Journal::Entry> Journal::calibrationsOf(std::int64_t gauge) const {
    std::vector<Entry> found;
    for (const Entry& entry : *m_entries)
        if (entry->gauge == gauge && entry->calibration) found.push_back(entry);
    return found;
}

bool Journal::operator==(const Journal& other) const {
    return m_entries == other.m_entries ||
           std::equal(m_entries->begin(), m_entries->end(), other.m_entries->begin(), other.m_entries->end(),
                      [](const Entry& a, const Entry& b) { return a == b || *a == *b; });
}

std::string writeEntry(const JournalEntry& entry) {
    nlohmann::ordered_json json{{"time", entry.time}, {"kind", entryKindName(entry.kind)}};
    if (entry.gauge != 0) json["gauge"] = entry.gauge;
    for (const auto& [name, text] : {std::pair{"name", &entry.name}, {"text", &entry.text}, {"file", &entry.file}})
        if (!text->empty()) json[name] = *text;
    if (entry.calibration) {
        const auto put = [&](const char* name, const GaugeSpec& spec) {
            json[name] = nlohmann::ordered_json::parse(writeGauge(spec));
        };
        put("found", entry.calibration->found);
        put("left", entry.calibration->left);
    }
    return jsonText(json);
}

Expected<JournalEntry> readEntry(const std::string& text, const std::string& file) {
    const auto json = parseJson(text, file);
    if (!json) return tl::unexpected(json.error());
    return guarded(file, [&]() -> Expected<JournalEntry> {
        JsonFields fields(*json, file);
        for (const auto& [name, value] : json->items())
            if (const std::array known{"time", "kind", "gauge", "name", "text", "file", "found", "left"};
                std::find(known.begin(), known.end(), name) == known.end())
                fields.refuse(ErrorCode::Unknown, name, "an unknown field", "a field of a journal's entry");
        JournalEntry entry;
        entry.time = fields.text("time");
        const std::string kind = fields.text("kind");
        const auto known =
            std::find_if(kKinds.begin(), kKinds.end(), [&](const auto& one) { return one.second == kind; });
        if (known == kKinds.end())
            fields.refuse(ErrorCode::Unknown, "kind", "“" + kind + "”",
                          "“note”, “piece”, “photograph”, “setting” or “calibration”");
        else
            entry.kind = known->first;
        entry.gauge = static_cast<std::int64_t>(fields.numberOr("gauge", 0));
        entry.name = fields.textOr("name", "");
        entry.text = fields.textOr("text", "");
        entry.file = fields.textOr("file", "");
        if (fields.has("found") != fields.has("left"))
            fields.refuse(ErrorCode::Missing, fields.has("found") ? "left" : "found", "nothing",
                          "the gauge as it was found and as it was left");
        if (fields.has("found") && fields.has("left"))
            entry.calibration = std::make_shared<const CalibrationKept>(
                CalibrationKept{gaugeUnder(fields, "found", file), gaugeUnder(fields, "left", file)});
        if (fields.error()) return tl::unexpected(*fields.error());
        return entry;
    });
}

std::string writeJournal(const Journal& journal) {
    nlohmann::ordered_json json{{"entries", nlohmann::ordered_json::array()}};
    for (const Journal::Entry& entry : journal.entries())
        json["entries"].push_back(nlohmann::ordered_json::parse(writeEntry(*entry)));
    return jsonText(json, 2);
}

Expected<Journal> readJournal(const std::string& text, const std::string& file) {
    const auto json = parseJson(text, file);
    if (!json) return tl::unexpected(json.error());
    if (!json->is_object() || !json->contains("entries") || !(*json)["entries"].is_array())
        return fail(ErrorCode::Syntax, file, "no list “entries”", "the entries of a journal");
    std::vector<JournalEntry> entries;
    for (std::size_t i = 0; i < (*json)["entries"].size(); ++i) {
        auto entry = readEntry((*json)["entries"][i].dump(), fmt::format("{}: entries[{}]", file, i));
        if (!entry) return tl::unexpected(entry.error());
        entries.push_back(std::move(*entry));
    }
    return Journal(std::move(entries));
}

std::string whatChanged(const GaugeSpec& before, const GaugeSpec& after, std::size_t most) {
    const auto old = leavesOf(before), now = leavesOf(after);
    std::vector<std::string> changes;
    for (const auto& [path, text] : now) {
        const auto it = old.find(path);
        if (it == old.end())
            changes.push_back(fmt::format("{} {}", path, shortly(text)));
        else if (it->second != text)
            changes.push_back(fmt::format("{} {} → {}", path, shortly(it->second), shortly(text)));
    }
    for (const auto& [path, text] : old)
        if (now.count(path) == 0) changes.push_back(fmt::format("{} {} taken away", path, shortly(text)));
    std::string line;
    for (std::size_t i = 0; i < std::min(most, changes.size()); ++i) line += (i > 0 ? "; " : "") + changes[i];
    if (changes.size() > most) line += fmt::format("; and {} more", changes.size() - most);
    return line;
}

}  // namespace fg
