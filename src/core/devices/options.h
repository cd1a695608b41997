#pragma once

#include "units/error.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// A setting that decoding depends on and that the bytes do not say.
struct OptionSpec {
    std::string id;                    ///< the data sheet's word: "oss", "gain", "integration_ms"
    std::string title;                 ///< on screen
    std::vector<std::string> choices;  ///< what it may be; empty: a number
    std::string otherwise;             ///< its default
    double low = 0, high = 0;          ///< of a number; equal: any above 0
};

/// Options by name, as texts.
class DeviceOptions {
  public:
    DeviceOptions() = default;
    DeviceOptions(std::initializer_list<std::pair<const std::string, std::string>> values) : m_values(values) {}

    void set(const std::string& id, const std::string& value) { m_values[id] = value; }
    [[nodiscard]] const std::map<std::string, std::string>& all() const { return m_values; }
    /// The option's text; empty when it is not there.
    [[nodiscard]] std::string text(const std::string& id) const;
    /// The option as a number; NaN when it is none.
    [[nodiscard]] double number(const std::string& id) const;
    [[nodiscard]] bool is(const std::string& id, std::string_view value) const { return text(id) == value; }

    /// Defaults filled in. Errors: Unknown option, Range for a value that is not among its choices or outside its
    /// limits.
    [[nodiscard]] Expected<DeviceOptions> completed(const std::vector<OptionSpec>& specs) const;

    /// Whether decoding is to say how it came to its readings. Without it is quicker by an order of magnitude: for
    /// recordings, feeds, and the searches of encode().
    [[nodiscard]] bool wantsLines() const { return m_wantsLines; }
    [[nodiscard]] DeviceOptions withoutLines() const {
        DeviceOptions quiet = *this;
        quiet.m_wantsLines = false;
        return quiet;
    }

    /// Checksums that do not fit are not looked at: for proofs that run over bytes of any kind.
    [[nodiscard]] bool ignoresChecksums() const { return m_ignoresChecksums; }
    [[nodiscard]] DeviceOptions withoutChecksums() const {
        DeviceOptions careless = *this;
        careless.m_ignoresChecksums = true;
        return careless;
    }

    /// What is refused is gone on with (Tracer::expect() is always true): for proofs that look at one reading of a
    /// frame whose other ones make no sense. Checksums are not looked at either.
    [[nodiscard]] bool ignoresRefusals() const { return m_ignoresRefusals; }
    [[nodiscard]] DeviceOptions withoutRefusals() const {
        DeviceOptions lenient = withoutChecksums();
        lenient.m_ignoresRefusals = true;
        return lenient;
    }

    bool operator==(const DeviceOptions& other) const { return m_values == other.m_values; }

  private:
    std::map<std::string, std::string> m_values;
    bool m_wantsLines = true;
    bool m_ignoresChecksums = false;
    bool m_ignoresRefusals = false;
};

}  // namespace fg
