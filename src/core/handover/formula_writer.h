#pragma once

#include "handover/code_text.h"
#include "handover/formula_code.h"
#include "handover/whole_tail.h"

#include <map>
#include <span>

namespace fg {

/// The pieces of a formula as program text.
struct FormulaText {
    std::string constants;  ///< of the part and the circuit, with their units
    std::string functions;  ///< that the body calls; tables among them
    std::string body;       ///< statements, indented by four blanks
    std::string result;     ///< what the body comes to
    bool hasReal = false;   ///< of writeWhole(): something of it is no whole number, and the text not to be used
    std::size_t bytes = 0;  ///< of the constants and tables
};

/// Writes an expression as statements of a language: a named step is a variable, its unit and source a comment. The
/// order of operations is that of the expression; nothing is simplified.
///
/// `input` is what the code is called, as the formula's number type. `names` keeps what is taken in the file. What the
/// formula refuses returns FG_NO_VALUE.
class FormulaWriter {
  public:
    FormulaWriter(const FormulaCode& code, CodeLanguage language, CodeReal real, std::string input, Identifiers& names);
    /// What the inputs are called where there are several, by node.
    void nameInputs(std::map<std::int32_t, std::string> names) { m_inputNames = std::move(names); }
    /// Signed integers wrap as on every machine, though C leaves it open.
    void letWrap(bool isWrapping) { m_isWrapping = isWrapping; }
    [[nodiscard]] FormulaText write();
    /// The same of several nodes that share their steps: what each comes to behind the body.
    [[nodiscard]] FormulaText write(std::span<const std::int32_t> roots, std::vector<std::string>& results);
    /// The same up to the whole number that a tail begins with, in integers alone: what is refused by the real steps
    /// behind a whole number is refused by that number.
    [[nodiscard]] FormulaText writeWhole(const WholeTail& tail);

  private:
    /// How tightly a piece of text holds together, the same order in C and Python.
    enum Tightness { kLoose = 0, kAnd = 1, kCompare = 2, kPlus = 3, kTimes = 4, kMinus = 5, kTight = 6 };
    struct Piece {
        std::string text;
        int binding;
    };
    /// An operation between two operands: its sign, how tightly either side has to hold, how tightly the whole does.
    struct Infix {
        const char* sign;
        int left, right, binding;
    };
    /// Of the four of arithmetic.
    [[nodiscard]] static Infix infixOf(Op op) {
        const bool isTimes = op == Op::Multiply || op == Op::Divide;
        const char* sign = op == Op::Add ? "+" : op == Op::Subtract ? "-" : op == Op::Multiply ? "*" : "/";
        return isTimes ? Infix{sign, kTimes, kMinus, kTimes} : Infix{sign, kPlus, kTimes, kPlus};
    }
    [[nodiscard]] Piece pieceOf(std::int32_t index);
    [[nodiscard]] Piece operationOf(std::int32_t index, const Node& node);
    /// An operand of a real operation: integers are cast.
    [[nodiscard]] Piece realOf(std::int32_t index);
    [[nodiscard]] Piece wholeOperation(std::int32_t index, const Node& node);
    [[nodiscard]] std::string wrapped(const std::string& text, int bits);
    [[nodiscard]] std::string wholeInside(std::int32_t index, int needed);
    [[nodiscard]] std::string typeOf(const Node& node) const;
    [[nodiscard]] Piece comparisonOf(const Node& node);
    /// A whole number against a bound; nothing where the text would mean something else in C.
    [[nodiscard]] std::optional<Piece> boundOf(std::int32_t whole, const char* sign, double bound);
    void refuseUnless(const Node& refusal);
    void refuseTail(std::int32_t index);
    [[nodiscard]] Piece branchOf(std::int32_t index, const Node& node);
    [[nodiscard]] Piece solveOf(std::int32_t index, const Node& node);
    [[nodiscard]] Piece callOf(const Node& node);
    [[nodiscard]] Piece tableOf(const Node& node);
    [[nodiscard]] std::string parameterOf(const Node& node);
    [[nodiscard]] std::string inside(std::int32_t index, int needed);
    [[nodiscard]] std::string function(std::string_view name) const;
    [[nodiscard]] Piece named(std::int32_t index, std::string_view name, const std::string& text,
                              const std::string& remark);
    /// A function of one argument of its own: `write` fills the body and returns what stands behind it.
    template <class Write>
    void function(const std::string& name, const std::string& argument, const Write& write);
    void line(const std::string& text);
    [[nodiscard]] bool isC() const { return m_language == CodeLanguage::C; }
    [[nodiscard]] std::string literal(double value) const { return realText(value, m_language, m_real); }
    [[nodiscard]] const char* type() const { return m_real == CodeReal::Float ? "float" : "double"; }

    using Scope = std::map<std::int32_t, std::string>;
    const FormulaCode& m_code;
    CodeLanguage m_language;
    CodeReal m_real;
    std::string m_input;
    Identifiers& m_names;
    FormulaText m_text;
    std::vector<Scope> m_scopes{1};
    std::string m_out, m_indent = "    ", m_unknown;
    std::map<std::pair<std::string, double>, std::string> m_parameters;
    std::map<std::int32_t, std::string> m_tables;
    std::map<std::int32_t, std::string> m_inputNames;
    std::set<std::string> m_helpers;
    bool m_isNested = false, m_hasTableFunction = false, m_isWrapping = false, m_isWhole = false;
};

}  // namespace fg
