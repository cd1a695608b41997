#pragma once

#include "handover/code_text.h"
#include "handover/integer_form.h"

#include <optional>

namespace fg {

/// How the handed-over code computes.
enum class CodeArithmetic { Float, Double, Int16, Int32, Int64, Table };
inline constexpr std::array kCodeArithmetics{CodeArithmetic::Float, CodeArithmetic::Double, CodeArithmetic::Int32,
                                             CodeArithmetic::Int16, CodeArithmetic::Int64,  CodeArithmetic::Table};

/// "float", "double", "int16", "int32", "int64", "table".
[[nodiscard]] std::string_view arithmeticName(CodeArithmetic arithmetic);
/// Bits of its integers; of a table those of its sums.
[[nodiscard]] constexpr int widthOf(CodeArithmetic arithmetic) {
    return arithmetic == CodeArithmetic::Int16 ? 16 : arithmetic == CodeArithmetic::Int64 ? 64 : 32;
}
[[nodiscard]] Expected<CodeArithmetic> arithmeticFromName(std::string_view name);
/// "c", "micropython".
[[nodiscard]] Expected<CodeLanguage> codeLanguageFromName(std::string_view name);

enum class CodeShape {
    Function,  ///< a function to call
    Program    ///< with a loop that reads, converts and prints, behind functions that the maker fills in
};
[[nodiscard]] Expected<CodeShape> codeShapeFromName(std::string_view name);

/// What is wanted of the code.
struct CodeWish {
    CodeLanguage language = CodeLanguage::C;
    CodeArithmetic arithmetic = CodeArithmetic::Float;
    CodeShape shape = CodeShape::Function;
    double wantedError = 0;  ///< ±, canonical difference; 0: see wantedErrorOf()
    std::string unit = {};   ///< id; empty: the reading's
};

struct CodeFile {
    std::string name, text;
};

/// A status of the written code, with its number.
struct CodeStatus {
    std::string_view id, name;  ///< "clipped", "FG_CLIPPED"
    int number;
    std::string_view meaning;
};
[[nodiscard]] std::span<const CodeStatus> codeStatuses();

/// A parameter of the written function.
struct CodeParameter {
    std::string name, type;
    std::string block;  ///< of a digital part; empty for a code
    std::size_t bytes = 0;
    std::string of = {};       ///< the decoder's block that it is a piece of
    std::size_t at = 0;        ///< where it stands in that
    std::string unit = {};     ///< of a reading that a derived gauge takes
    std::int64_t scale = 1;    ///< what it is given as is the reading times this
    std::string address = {};  ///< of its first register, hexadecimal; empty where it has none
    bool isClock = false;      ///< the board's time, ms, of a value of the last while
};

/// A gauge as code, and what was found when it was run over every code.
struct GaugeCode {
    std::vector<CodeFile> files;
    std::string header, function, gives, signature;
    std::vector<CodeParameter> takes;
    const Unit* unit = nullptr;
    std::int64_t scale = 1;     ///< an integer result is the value times this
    std::string method;         ///< "Beta equation", "polynomial of degree 5", "20 entries, linear"
    bool isFixedPoint = false;  ///< its integers are the formula in fixed point
    CodeError error;            ///< in `unit`
    double wanted = 0;          ///< in `unit`
    std::string atFrame;  ///< the worst of a digital part, its bytes, or of a law, its readings; `range` says nothing
    std::string checkedOver = "codes";  ///< what was run: "frames with a value", "sets of readings"
    CodeRange range;
    std::optional<IntegerForm> form;     ///< of whole numbers
    std::size_t bytes = 0;               ///< of constants and tables
    std::size_t memory = 0;              ///< bytes of variables that stay between two calls, of C
    int operations = 0;                  ///< estimated, of one conversion
    std::vector<std::string> kept = {};  ///< settings of a part for which alone the code is made: "cfg = 3"
    std::vector<Finding> findings;
    /// How far the integers are from overflow, 1: they just fit. Nothing for other arithmetic, and for a part's own
    /// routine, whose products are its document's.
    [[nodiscard]] std::optional<double> headroom() const {
        return form && atFrame.empty() ? std::optional(form->headroom()) : std::nullopt;
    }
    [[nodiscard]] bool holds() const { return error.worst <= wanted; }
    /// How many times the wanted error the worst one is.
    [[nodiscard]] double timesWanted() const { return error.worst / wanted; }
    /// Is the error too small for anybody to read, as that of a double?
    [[nodiscard]] bool isWithoutError() const { return error.worst < 1e-6 * wanted; }
    /// The error of one code of the range, in `unit`.
    std::function<double(std::int64_t)> errorAt;
};

/// The error wanted of code where nobody said: a tenth of the accuracy wanted of the gauge, of its uncertainty in the
/// middle of the span, or of a hundredth of the span, the first that is known; as 1, 2 or 5 times a power of ten.
/// Canonical difference.
[[nodiscard]] double wantedErrorOf(const Gauge& gauge);

/// A power of ten that leaves the rounding of the result below a half of `wanted` (in the unit of the result).
[[nodiscard]] std::int64_t codeScaleFor(double wanted);

/// The gauge as code. Errors: Missing for a gauge without all its values; Unsupported for a part or a law that is no
/// plain formula, or an arithmetic that cannot hold this gauge; Range for a wanted error below 0; Unknown for a unit of
/// another quantity.
[[nodiscard]] Expected<GaugeCode> writeCode(const Gauge& gauge, const CodeWish& wish);

}  // namespace fg
