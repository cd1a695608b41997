#pragma once

#include "handover/formula_code.h"
#include "handover/gauge_code.h"
#include "handover/whole_tail.h"

namespace fg {

/// A bit of a block, and what it is worth in a number.
struct InputBit {
    std::size_t block = 0, byte = 0;
    int bit = 0;
    double weight = 0;  ///< negative for a sign
};

/// A number of the formula as its bits make it: the sum of the weights of those that are set.
struct JoinedInput {
    std::int32_t node = -1;
    std::string name;
    std::vector<InputBit> bits;
    double rest = 0;  ///< added to the sum
};

/// What the smallest bit of a number is worth.
[[nodiscard]] double stepOf(const JoinedInput& input);
/// The number in steps of that size, a whole one.
[[nodiscard]] JoinedInput inSteps(JoinedInput input, double step);

/// A bit that the decoder takes only as it is.
struct FixedBit {
    std::size_t block = 0, byte = 0;
    int bit = 0;
    bool isSet = false;
};

/// A checksum that a block carries.
enum class CheckKind {
    Crc8Ones,     ///< polynomial 0x31, high bit first, from 0xFF
    Crc8Zero,     ///< the same from 0
    Crc8Wire,     ///< polynomial 0x31, low bit first, from 0
    Sum8,         ///< sum of bytes
    Crc16Modbus,  ///< low byte first
    PromLow,      ///< four bits over eight words, in the low half of the last byte
    PromHigh      ///< the same in the high half of the first byte
};
struct BlockCheck {
    CheckKind kind;
    std::size_t block = 0, first = 0, count = 0, at = 0;
};

struct DeviceBlock {
    std::string name;  ///< in the code
    std::size_t bytes = 0;
    bool isCalibration = false;
    std::string of;      ///< name of the decoder's block; several may have the same
    std::size_t at = 0;  ///< where it stands in those
};

/// The reading of a digital part as an expression over the bytes of its blocks.
///
/// Nothing of it is typed a second time: the expression is the one that the decoder records; how numbers are joined
/// from bits is found by turning each bit over and looking what the decoder makes of it; checksums by trying the usual
/// ones on frames that the part would send. What comes out is then held against the decoder over kProofFrames frames of
/// every kind: a part for which one disagrees is refused.
struct DeviceCode {
    std::shared_ptr<FormulaCode> formula;
    std::vector<DeviceBlock> blocks;
    std::vector<JoinedInput> inputs;
    std::vector<FixedBit> fixed;
    std::vector<BlockCheck> checks;
    /// In integers that the part's document has no routine for: the one number that the reading follows from, in its
    /// own steps, and the formula over it.
    struct OneNumber {
        std::int32_t node = -1;
        double step = 1;
        std::int64_t least = 0, most = 0;
        std::vector<std::pair<std::int32_t, double>> others = {};  ///< inputs that only say whether there is a value,
                                                                   ///< with one that they take; see `fixed`
        /// Of those the ones that only have to lie between two ends, in their own steps.
        struct Limit {
            JoinedInput number;
            std::int64_t least = 0, most = 0;
        };
        std::vector<Limit> limits = {};
        std::vector<std::string> settings = {};  ///< of the part, taken as they are: "cfg = 3"
    };
    std::optional<OneNumber> one;
    /// Where the routine ends that `formula` is: in integers that the part's document has one for, or in fixed point
    /// where the reading follows from several numbers.
    std::optional<WholeTail> tail;
    bool isFixedPoint = false;
    /// How far that routine is from the one in real numbers, over frames in the span; nothing checked where the
    /// document has no other.
    CodeError ofRoutine;
    std::string ofRoutineAt;  ///< bytes of the worst
    bool hasWrapped = false;  ///< an integer of the routine may not fit its width for some bytes: it has to wrap
    CodeError error;          ///< of the arithmetic, in the unit; `checked` are the frames with a value
    std::string atFrame;      ///< bytes of the worst, without calibration
};

inline constexpr int kProofFrames = 100'000;

/// Which integers are wanted where there is a choice.
enum class WholeWay {
    Usual,  ///< of a single number, or the routine of the part's document, or in fixed point: the first that there is
    Fixed   ///< in fixed point
};

/// `scale`: what a result in fixed point is the reading times. Errors: Unsupported for a part whose decoder decides by
/// more than its formula records (the frame that shows it is named), and for an integer arithmetic where the part's
/// document has a wider routine, or none, and its formula does not go into fixed point (see fixedPointOf()).
[[nodiscard]] Expected<DeviceCode> deviceCodeOf(const DigitalPath& path, const GaugeSpec& spec, const Unit& unit,
                                                CodeArithmetic arithmetic, std::int64_t scale,
                                                WholeWay way = WholeWay::Usual);

}  // namespace fg
