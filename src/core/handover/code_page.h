#pragma once

#include "handover/device_code.h"
#include "handover/gauge_code.h"
#include "handover/running_code.h"

#include <map>

namespace fg {

/// How the raw word becomes the code, and what both are called.
struct RawCode {
    std::string parameter;  ///< type of what the function takes
    std::size_t bytes = 0;
    std::string name, type;  ///< of the code in the body
    std::string lines;       ///< statements in between
};

/// The files of one gauge, piece by piece.
class CodePage {
  public:
    CodePage(const Gauge& gauge, const CodeWish& wish, GaugeCode& code);

    /// For a digital part: its blocks, their checks, and the numbers that the formula takes from them.
    std::map<std::int32_t, std::string> takeDevice(const DeviceCode& device, CodeReal real, std::string& helpers);

    /// For a derived gauge: the readings that it takes.
    std::map<std::int32_t, std::string> takeReadings(std::span<const LawParameter> readings);

    /// For a value of the last while: the board's clock and the reading; what the window comes to.
    std::map<std::int32_t, std::string> takeRunning(const RunningCode& running, std::string& helpers);

    [[nodiscard]] const RawCode& raw() const { return m_raw; }
    [[nodiscard]] Identifiers& names() { return m_names; }
    [[nodiscard]] const std::string& base() const { return m_base; }

    /// The source with its header. `isReal`: the result may be no number.
    void write(const std::string& constants, const std::string& functions, const std::string& body,
               const std::string& result, bool isReal);

  private:
    /// Bits that have to be as they are, a byte at a time.
    void refuseFixed(const std::vector<FixedBit>& fixed);

    void sign();

    void keepWithin(const std::string& name, const Interval& range);
    void keepWithin(const std::string& name, std::int64_t least, std::int64_t most);

    void refuseIf(const std::string& condition, const char* status);

    void addCheck(const BlockCheck& check, std::string& helpers);

    std::string addInput(const JoinedInput& input, const DeviceCode& device, CodeReal real);

    /// A number beside the one, where it says that there is nothing: on the sides on which it can.
    void refuseBeyond(const DeviceCode::OneNumber::Limit& limit, const DeviceCode& device, CodeReal real);

    /// The one number of a part stands where a converter's code does.
    void takeNumber(const DeviceCode::OneNumber& one, const std::string& name);

    [[nodiscard]] std::string whole(std::int64_t value) const;

    void unpack(const Converter& converter);

    /// What the code is, as lines for a comment.
    [[nodiscard]] std::vector<std::string> about() const;
    [[nodiscard]] static std::string stageTitle(Stage stage);

    [[nodiscard]] std::string comment() const;

    [[nodiscard]] std::string statusLines() const;

    /// The codes to compare with for the gauge's alarm.
    [[nodiscard]] std::string thresholds() const;

    [[nodiscard]] std::string header() const;

    [[nodiscard]] std::string guards() const;

    [[nodiscard]] std::string source(const std::string& constants, const std::string& functions,
                                     const std::string& body, const std::string& result, bool isReal) const;

    [[nodiscard]] std::string module(const std::string& constants, const std::string& functions,
                                     const std::string& body, const std::string& result, bool isReal) const;

    const Gauge& m_gauge;
    const CodeWish& m_wish;
    GaugeCode& m_code;
    bool m_isC;
    std::string m_base;
    Identifiers m_names;
    RawCode m_raw;
    std::string m_before;  ///< what stands before the formula
    std::string m_given;   ///< what is given, in words
    std::string m_call;    ///< its names
};

}  // namespace fg
