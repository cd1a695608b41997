#pragma once

#include "bench/gauge_json.h"
#include "catalogue/catalogue.h"
#include "path/analog_path.h"
#include "sensors/family.h"

#include <gtest/gtest.h>
#include <unistd.h>
#include <charconv>
#include <clocale>
#include <filesystem>
#include <fstream>
#include <limits>
#include <sstream>

namespace fg::test {

/// The tests run in the locale of whoever runs them, as a program of his might.
inline const bool kIsLocalised = std::setlocale(LC_ALL, "") && std::setlocale(LC_MESSAGES, "C");

/// A number with a decimal point, whatever the locale.
inline double number(const std::string& text) {
    double value = std::numeric_limits<double>::quiet_NaN();
    std::from_chars(text.data(), text.data() + text.size(), value);
    return value;
}

/// The shipped data of the source tree.
inline std::filesystem::path dataFolder() { return std::filesystem::path(FAIRGAUGE_SOURCE) / "data"; }

inline const Catalogue& catalogue() {
    static const Catalogue read = Catalogue::read(std::vector{dataFolder()});
    return read;
}

/// The demo's glue pot: 10 kΩ NTC, B 3950 K, on the low side of 2.2 kΩ, 12 bits of 3.3 V.
inline GaugeSpec gluePot() { return readGaugeFile((dataFolder() / "demo/glue-pot.json").string()).value(); }

/// The same with a dissipation constant, ± 20 %: it warms itself by 0.31 K at 60 °C.
inline GaugeSpec warmPot() {
    GaugeSpec spec = gluePot();
    spec.sensor.parameters.set("dissipation_W_per_K", 0.004);
    spec.sensor.parameters.set("dissipation_tolerance", 0.2);
    return spec;
}

inline AnalogPath pathOf(const GaugeSpec& spec) {
    auto path = AnalogPath::build(spec, catalogue());
    if (!path) throw std::runtime_error(path.error().message());
    return *path;
}

/// A gauge with a part of fixed characteristic, straight on a converter.
inline GaugeSpec directGauge(const std::string& part, int bits, double reference_V) {
    GaugeSpec spec;
    spec.sensor.part = part;
    spec.converter.parameters = {{"bits", static_cast<double>(bits)}, {"reference_V", reference_V}};
    return spec;
}

/// A part's transfer function at a supply.
inline std::unique_ptr<Transfer> sensorOf(const std::string& id, double supply_V = 5, const Parameters& more = {}) {
    const Part* part = catalogue().findPart(id);
    if (!part) throw std::runtime_error("no part " + id);
    auto made =
        findSensorFamily(part->family)->make(more.over(part->parameters), {part->quantity, part->range, supply_V});
    if (!made) throw std::runtime_error(made.error().message());
    return std::move(*made);
}

inline std::string readText(const std::filesystem::path& file) {
    std::ostringstream text;
    text << std::ifstream(file, std::ios::binary).rdbuf();
    return text.str();
}

inline void writeText(const std::filesystem::path& file, const std::string& text) {
    std::ofstream(file, std::ios::binary) << text;
}

/// A folder of the test's own that goes away with it.
class TemporaryFolder {
  public:
    TemporaryFolder() {
        std::string pattern = (std::filesystem::temp_directory_path() / "fair-gauge-test-XXXXXX").string();
        m_path = ::mkdtemp(pattern.data());
    }
    ~TemporaryFolder() {
        std::error_code ignored;
        std::filesystem::remove_all(m_path, ignored);
    }
    TemporaryFolder(const TemporaryFolder&) = delete;
    TemporaryFolder& operator=(const TemporaryFolder&) = delete;
    [[nodiscard]] std::filesystem::path operator/(const std::string& name) const { return m_path / name; }
    [[nodiscard]] const std::filesystem::path& path() const { return m_path; }

  private:
    std::filesystem::path m_path;
};

}  // namespace fg::test
