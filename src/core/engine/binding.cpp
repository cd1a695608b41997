#include "engine/binding.h"
#include "path/said_path.h"
#include "units/value_text.h"

#include "gauge/gauge.h"
#include "units/letters.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <cmath>

namespace fg {
namespace {

/// Does a word of one stand in the other, three letters at least?
bool isAlike(const std::string& channel, const std::string& name) {
    constexpr std::size_t kLeast = 3;
    const std::string a = lowered(channel), b = lowered(name);
    for (std::size_t begin = 0; begin < b.size();) {
        const std::size_t end = std::min(b.find(' ', begin), b.size());
        const std::string word = b.substr(begin, end - begin);
        if (word.size() >= kLeast && (a.find(word) != std::string::npos || word.find(a) != std::string::npos))
            return a.size() >= kLeast;
        begin = end + 1;
    }
    return false;
}

}  // namespace

std::vector<BindingGuess> bindingGuesses(const std::string& channel, const Raw& raw, const std::string& unit,
                                         const Bench& bench, const Catalogue& catalogue) {
    std::vector<BindingGuess> guesses;
    if (!unit.empty()) return guesses;
    constexpr int kBytesFit = 8, kInsideSpan = 4, kNameFits = 6, kIsFree = 2;
    const auto* bytes = std::get_if<std::vector<std::uint8_t>>(&raw);
    for (const BenchGauge& one : bench.gauges) {
        const auto gauge = Gauge::make(one.spec, catalogue);
        if (!gauge || gauge->derived() || gauge->said() || (bytes != nullptr) != (gauge->digital() != nullptr))
            continue;
        const Reading reading = bytes ? gauge->read(*bytes) : gauge->read(std::get<double>(raw));
        if (std::isnan(reading.value)) continue;
        BindingGuess guess{one.id, 0, {}};
        const Interval span = one.spec.spanCanonical();
        const bool isInside = reading.value >= span.low && reading.value <= span.high;
        guess.reason = fmt::format("{} say{} {} {}{}", bytes ? fmt::format("its {} bytes", bytes->size()) : "its value",
                                   bytes ? "" : "s", significantDigits(gauge->unit().fromCanonical(reading.value), 4),
                                   gauge->unit().symbol, isInside ? ", inside the span" : ", outside the span");
        if (bytes) guess.weight += kBytesFit;
        if (isInside) guess.weight += kInsideSpan;
        if (isAlike(channel, one.spec.name)) {
            guess.weight += kNameFits;
            guess.reason += "; the name fits";
        }
        if (one.spec.channel.empty())
            guess.weight += kIsFree;
        else if (one.spec.channel != channel)
            guess.reason += fmt::format("; it listens to “{}” now", one.spec.channel);
        guesses.push_back(std::move(guess));
    }
    std::stable_sort(guesses.begin(), guesses.end(),
                     [](const BindingGuess& a, const BindingGuess& b) { return a.weight > b.weight; });
    return guesses;
}

std::vector<const Unit*> unitsSaid(const std::string& written) {
    std::vector<const Unit*> units;
    for (const Unit& unit : allUnits()) {
        if (!isMeasurand(unit.quantity)) continue;
        if (written.empty()) {
            units.push_back(&unit);
            continue;
        }
        const auto one = readValue("1 " + written, unit.quantity), two = readValue("2 " + written, unit.quantity);
        if (one && two && std::abs(one->canonical - unit.toCanonical(1)) <= 1e-12 * std::abs(unit.scale) &&
            std::abs(two->canonical - unit.toCanonical(2)) <= 1e-12 * std::abs(unit.scale))
            return {&unit};
    }
    return units;
}

std::int64_t addSaid(Bench& bench, const std::string& channel, const Unit& unit, std::int64_t beside) {
    GaugeSpec spec = defaultSaidGauge(channel, unit);
    const BenchGauge* own = bench.find(beside);
    std::string name = own ? own->spec.name + ", as the board says" : channel;
    const auto isTaken = [&](const std::string& wanted) {
        return std::any_of(bench.gauges.begin(), bench.gauges.end(),
                           [&](const BenchGauge& one) { return one.spec.name == wanted; });
    };
    for (int number = 2; isTaken(name); ++number)
        name = (own ? own->spec.name + ", as the board says " : channel + " ") + std::to_string(number);
    spec.name = name;
    if (own) {
        spec.reading.span = own->spec.reading.span;
        spec.reading.unit = own->spec.reading.unit;
    }
    const std::int64_t id = bench.add(std::move(spec));
    if (BenchGauge* raw = bench.find(beside)) raw->spec.beside = {id, name};
    return id;
}

}  // namespace fg
