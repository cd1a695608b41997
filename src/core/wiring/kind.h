#pragma once

#include "numeric/transfer.h"
#include "sensors/family.h"

#include <optional>
#include <span>

namespace fg {

/// The electrical conditions around a network that come from elsewhere on the bench.
struct WiringContext {
    double reference_V = 0;          ///< the converter's reference as it really is
    bool isReferenceSupply = false;  ///< it is the board's supply: what is fed from the one is fed from the other
};

using MadeNetwork = Expected<std::unique_ptr<Transfer>>;

/// Where the wires of a sensor go and what is soldered beside them, in words for people who wire. {pin} stands for the
/// converter's pin, {source} for what feeds the network, a parameter's id in braces for its value.
struct Hookup {
    std::string_view first;   ///< of the signal wire, or of a two-ended sensor's one end
    std::string_view second;  ///< of its other end, or of the lower wire of a pair
    std::vector<std::string_view> beside = {};  ///< clauses; one whose parameter has no value is left out
};

/// What stands between a sensor's signal and the converter pin: everything there is to say about it. Adding one: a file
/// with the network and its row, declared in kind_rows.h.
struct WiringKind {
    std::string_view id;     ///< in gauge files: "divider"
    std::string_view title;  ///< on screen
    Quantity input;          ///< the sensor signal it takes
    Quantity output;         ///< what arrives at the converter
    std::vector<ParameterSpec> (*parameters)();
    MadeNetwork (*make)(const Parameters& parameters, const WiringContext& context);
    /// What the pin sees of the network, Ω, at a sensor signal; null where an amplifier or the sensor itself drives it.
    double (*sourceImpedance_ohm)(const Parameters& wiring, double signal) = nullptr;
    /// The current through a resistive sensor; null where the network does not settle it.
    std::optional<double> (*sensorCurrent_A)(const Parameters& wiring, double source_V, double sensor_ohm) = nullptr;
    /// The same formula recorded.
    std::optional<Recorded> (*recordedCurrent)(const Parameters& wiring, const Recorded& source,
                                               const Recorded& sensor) = nullptr;
    Hookup (*hookup)(const Parameters& wiring) = nullptr;
    bool hangsOnSource = false;   ///< the network itself needs its source, so it is the reference where nobody said
    bool isDifferential = false;  ///< two wires to a differential input
};

[[nodiscard]] std::span<const WiringKind> wiringKinds();
[[nodiscard]] const WiringKind* findWiringKind(std::string_view id);

/// Adds a kind while the program runs; before the first gauge is made. Nothing in the product needs it: the kinds stand
/// in kind_rows.h.
void addWiringKind(WiringKind kind);

/// What feeds the sensor and its network.
struct SensorFeed {
    double voltage_V = 0;           ///< 0: nobody said, and it does not follow from the converter
    bool followsReference = false;  ///< it is the converter's reference, which then cancels
};

/// "source": "reference" is the converter's own, "rail" is source_V. Where nobody said: source_V when it is given, else
/// the reference where that is the supply, or where the network itself hangs on the source (a divider); else unknown.
/// Error when the name is neither, or a rail has no voltage above 0 V.
[[nodiscard]] Expected<SensorFeed> feedOf(std::string_view kind, const Parameters& wiring,
                                          const WiringContext& context);

/// The current through a resistive sensor of `sensor_ohm` in its circuit fed from `source_V`. Nothing for wirings that
/// do not settle it.
[[nodiscard]] std::optional<double> sensorCurrent_A(std::string_view kind, const Parameters& wiring, double source_V,
                                                    double sensor_ohm);

}  // namespace fg
