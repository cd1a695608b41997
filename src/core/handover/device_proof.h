#pragma once

#include "handover/device_frames.h"
#include "handover/fixed_point.h"

namespace fg {

/// A device's code is held against its decoder here, frame by frame.
struct DeviceProof {
    const DigitalPath& path;
    const Unit& unit;
    bool isFloat = false;                    ///< what single precision costs is told, otherwise what the code does
    DeviceOptions quiet = {};                ///< of the decoder: without checksums and traces
    std::optional<DeviceOptions> real = {};  ///< the same of the routine in real numbers, beside one in integers
    std::optional<FixedPoint> fixed = {};    ///< the code's formula in integers
    Interval span{};                         ///< canonical: where the two routines are compared
    /// Bytes that other readings of the part rest on, and this one does not.
    std::vector<ByteRef> others = {};
    std::vector<InputBit> settings = {};  ///< that whole numbers take only as they are
};

/// Runs the code over kProofFrames frames of every kind and fills in what it found: `error`, `atFrame`, `ofRoutine`,
/// `hasWrapped`. The frames are the same on every machine; they are shared out among its cores. Errors: Unsupported
/// with the frame for which code and decoder disagree, or where too few frames have a value.
[[nodiscard]] Expected<void> proveDevice(const DeviceProof& proof, const DeviceFrames& frames, DeviceCode& code);

/// Why a part is not handed over.
[[nodiscard]] tl::unexpected<Error> refuseDevice(const DigitalPath& path, const std::string& why);

}  // namespace fg
