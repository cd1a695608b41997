#include "planning/plan.h"

#include <initializer_list>

namespace fg {
namespace {

/// One line of a CSV file (RFC 4180).
std::string csvLine(std::initializer_list<std::string> fields) {
    std::string line;
    for (const std::string& field : fields) {
        line += line.empty() ? "" : ",";
        if (field.find_first_of(",\"\r\n") == std::string::npos) {
            line += field;
            continue;
        }
        line += '"';
        for (const char c : field) line += c == '"' ? std::string("\"\"") : std::string(1, c);
        line += '"';
    }
    return line + "\r\n";
}

}  // namespace

std::string partsCsv(const std::vector<PartsLine>& parts) {
    std::string csv = csvLine({"count", "value", "what", "tolerance", "where"});
    for (const PartsLine& line : parts)
        csv += csvLine({std::to_string(line.count), line.value, line.what, line.tolerance, line.where});
    return csv;
}

std::string wiresCsv(const std::vector<PinWires>& wires) {
    std::string csv = csvLine({"mark", "gauge", "part", "conductor", "pin", "to", "colour"});
    for (const PinWires& one : wires)
        for (const Wire& wire : one.wires)
            csv += csvLine({wire.mark, one.who, one.part, wire.conductor, wire.pin, wire.to, wire.colour});
    return csv;
}

}  // namespace fg
