#include "handover/device_proof.h"

#include "handover/formula_runner.h"
#include "handover/in_parts.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

/// What a share of the frames showed; the means are sums still.
struct Shown {
    CodeError error, ofRoutine;
    std::string atFrame, ofRoutineAt;
    bool hasWrapped = false;
    int atEdges = 0;  ///< refused by a coarser arithmetic alone, or by double alone
    std::optional<std::string> disagreement;
};

class FrameRun {
  public:
    using Blocks = DeviceFrames::Blocks;

    FrameRun(const DeviceProof& proof, const DeviceCode& code, DeviceFrames frames)
        : m_proof(proof),
          m_device(*proof.path.part().device),
          m_code(code),
          m_frames(std::move(frames)),
          m_exactly(*code.formula),
          m_shortly(*code.formula) {
        if (proof.fixed) m_fixed.emplace(*proof.fixed->formula);
    }

    Shown run(int count) {
        for (int i = 0; i < count && !m_shown.disagreement; ++i) take(m_frames.any());
        return std::move(m_shown);
    }

  private:
    void take(Blocks blocks) {
        for (const InputBit& kept : m_proof.settings)
            if (DeviceFrames::isSet(blocks, kept.block, kept.byte, kept.bit) !=
                DeviceFrames::isSet(m_frames.base(), kept.block, kept.byte, kept.bit))
                DeviceFrames::turn(blocks, kept.block, kept.byte, kept.bit);
        RawData raw(std::move(blocks));
        auto decoded = m_device.decode(raw, m_proof.quiet);
        if (!decoded && !m_proof.others.empty()) {
            // Where others' bytes make no sense the decoder refuses the whole frame, which is no matter of this
            // formula.
            Blocks mended = raw.blocks();
            for (const ByteRef& place : m_proof.others)
                for (std::size_t byte = place.first; byte < place.first + place.count; ++byte)
                    mended[place.block].bytes[byte] = m_frames.base()[place.block].bytes[byte];
            raw = RawData(std::move(mended));
            decoded = m_device.decode(raw, m_proof.quiet);
        }
        const DeviceReading* reading = decoded ? decoded->find(m_proof.path.reading()) : nullptr;
        const bool isValue = reading && std::isfinite(reading->value) && reading->bound == Bound::None;
        const bool hasInputs = inputsOf(m_code, raw.blocks(), m_inputs);
        const double mine = hasInputs ? m_exactly(m_inputs) : std::nan("");
        // Also where no value comes of it: the written code gets that far before it knows.
        if (hasInputs) m_shown.hasWrapped = m_shown.hasWrapped || m_exactly.hasWrapped();
        if (!isValue && std::isnan(mine) && hasInputs && m_fixed && isInSpan(inFixedPoint()) && !isAtEdge()) {
            m_shown.disagreement = fmt::format("in fixed point {} has a value", frameText(raw.blocks()));
            return;
        }
        if (!isValue && (std::isnan(mine) || isOthersRefusal(raw, mine))) return;
        const double exact = isValue ? inUnit(reading->value) : std::nan("");
        // A decoder that refuses by a word its formula does not know, or the other way round.
        if (isValue == std::isnan(mine) || std::abs(mine - exact) > 1e-9 * (1 + std::abs(exact))) {
            m_shown.disagreement =
                fmt::format("its decoder says {} of {}, its formula {}",
                            isValue ? plainNumber(exact, 9) : std::string("no value"), frameText(raw.blocks()),
                            std::isnan(mine) ? std::string("no value") : plainNumber(mine, 9));
            return;
        }
        const double off = std::abs((m_proof.isFloat ? m_shortly(m_inputs) : mine) - exact);
        if (std::isnan(off) && isAtEdge()) return;
        if (m_proof.real && isValue) compareWithReal(raw, exact);
        if (m_fixed) compareWithFixed(raw, *decoded, exact);
        CodeError& error = m_shown.error;
        if (!(off <= error.worst) || error.checked == 0) {
            error.worst = std::isnan(off) ? HUGE_VAL : off;
            m_shown.atFrame = frameText(raw.blocks());
        }
        error.mean += off;
        ++error.checked;
    }

    [[nodiscard]] double inUnit(double canonical) const {
        return m_proof.unit.fromCanonical(m_proof.path.correction().apply(canonical));
    }

    /// Does the decoder refuse the frame for the sake of another of its readings, and would give ours as it is?
    [[nodiscard]] bool isOthersRefusal(const RawData& raw, double mine) const {
        const auto decoded = m_device.decode(raw, m_proof.quiet.withoutRefusals());
        const DeviceReading* reading = decoded ? decoded->find(m_proof.path.reading()) : nullptr;
        if (!reading || decoded->readings.size() < 2) return false;
        const double exact = inUnit(reading->value);
        return std::abs(mine - exact) <= 1e-9 * (1 + std::abs(exact));
    }

    [[nodiscard]] double inFixedPoint() {
        m_fixedInputs.resize(m_proof.fixed->formula->recording().size());
        for (const FixedPoint::Input& one : m_proof.fixed->inputs)
            m_fixedInputs[static_cast<std::size_t>(one.whole)] =
                std::nearbyint(m_inputs[static_cast<std::size_t>(one.real)] / one.step);
        const double value = (*m_fixed)(m_fixedInputs);
        m_shown.hasWrapped = m_shown.hasWrapped || m_fixed->hasWrapped();
        return value;
    }

    /// Outside of the span and of what the part is made for, fixed point need not say anything; where it does it is
    /// held to be right as well.
    void compareWithFixed(const RawData& raw, const Decoded& decoded, double exact) {
        const double value = inFixedPoint();
        const bool isAsked =
            isWithin(decoded, m_proof.path.correction().apply(decoded.find(m_proof.path.reading())->value));
        if (!isAsked && !isInSpan(value)) return;
        if (std::isnan(value)) {
            if (isAtEdge()) return;
            m_shown.disagreement = fmt::format("in fixed point {} has no value", frameText(raw.blocks()));
            return;
        }
        tell(m_shown.ofRoutine, m_shown.ofRoutineAt, std::abs(value - exact), raw);
    }

    [[nodiscard]] bool isInSpan(double value) const {
        const Interval& span = m_proof.span;
        return value >= m_proof.unit.fromCanonical(span.low) && value <= m_proof.unit.fromCanonical(span.high);
    }

    /// At the very edge of what it takes, a coarser arithmetic may refuse where double does not, and the other way
    /// round; that is so for one frame in a thousand at most.
    [[nodiscard]] bool isAtEdge() { return ++m_shown.atEdges < kProofFrames / kProofParts / 1000; }

    /// Is a value in the span, and everything of its frame what the part is made for?
    [[nodiscard]] bool isWithin(const Decoded& decoded, double canonical) const {
        const auto& ranges = m_proof.path.part().ranges;
        return m_proof.span.contains(canonical) &&
               std::all_of(decoded.readings.begin(), decoded.readings.end(), [&](const DeviceReading& one) {
                   const auto range = ranges.find(one.id);
                   return range == ranges.end() || range->second.contains(one.value);
               });
    }

    void tell(CodeError& error, std::string& at, double off, const RawData& raw) const {
        if (off > error.worst || error.checked == 0) {
            error.worst = off;
            at = frameText(raw.blocks());
        }
        error.mean += off;
        ++error.checked;
    }

    /// What the document's routine in real numbers says of the frame, within the span and what the part is made for: of
    /// a cold or a hot one beyond that, integers need not say anything.
    void compareWithReal(const RawData& raw, double whole) {
        const auto decoded = m_device.decode(raw, *m_proof.real);
        const DeviceReading* reading = decoded ? decoded->find(m_proof.path.reading()) : nullptr;
        if (!reading || !std::isfinite(reading->value)) return;
        const double canonical = m_proof.path.correction().apply(reading->value);
        if (!isWithin(*decoded, canonical)) return;
        const double off = std::abs(m_proof.unit.fromCanonical(canonical) - whole);
        tell(m_shown.ofRoutine, m_shown.ofRoutineAt, off, raw);
    }

    [[nodiscard]] std::string frameText(const Blocks& blocks) const {
        std::string text;
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            if (m_code.blocks[i].isCalibration) continue;
            for (const std::uint8_t byte : blocks[i].bytes)
                text += fmt::format("{}{:02X}", text.empty() ? "" : " ", byte);
        }
        return text;
    }

    const DeviceProof& m_proof;
    const Device& m_device;
    const DeviceCode& m_code;
    DeviceFrames m_frames;
    FormulaRunner<double> m_exactly;
    FormulaRunner<float> m_shortly;
    std::optional<FormulaRunner<double>> m_fixed;
    std::vector<double> m_inputs, m_fixedInputs;
    Shown m_shown;
};

}  // namespace

Expected<void> proveDevice(const DeviceProof& proof, const DeviceFrames& frames, DeviceCode& code) {
    const std::vector<Shown> parts = inParts(kProofParts, [&](int part) {
        return FrameRun(proof, code, frames.others(static_cast<unsigned>(part))).run(kProofFrames / kProofParts);
    });
    for (const Shown& part : parts) {
        if (part.disagreement) return refuseDevice(proof.path, *part.disagreement);
        if (code.error.takeIn(part.error)) code.atFrame = part.atFrame;
        if (code.ofRoutine.takeIn(part.ofRoutine)) code.ofRoutineAt = part.ofRoutineAt;
        code.hasWrapped = code.hasWrapped || part.hasWrapped;
    }
    if (code.error.checked < kProofFrames / 100) return refuseDevice(proof.path, "too few frames of it have a value");
    code.error.mean /= static_cast<double>(code.error.checked);
    if (code.ofRoutine.checked > 0) code.ofRoutine.mean /= static_cast<double>(code.ofRoutine.checked);
    return {};
}

tl::unexpected<Error> refuseDevice(const DigitalPath& path, const std::string& why) {
    return fail(ErrorCode::Unsupported, "sensor.part", fmt::format("“{}”: {}", path.part().id, why),
                "a part whose decoder is a formula of its bytes, or the gauge as readings in your program");
}

}  // namespace fg
