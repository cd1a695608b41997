// Room `formula`: a formula is written once, as a function template over its number type. With double it gives a value,
// with Recorded its expression (for the trace, later for code), with Dual a slope, with Bounds an interval.
#pragma once

#include <array>
#include <cstdint>
#include <deque>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// What a node of an expression does with its operands.
enum class Op : std::uint8_t {
    Constant,   ///< a number of the formula itself
    Input,      ///< what the formula is given each time: a code, a resistance
    Parameter,  ///< what belongs to the part or the circuit: R25, B
    Unknown,    ///< what a Solve looks for
    Step,       ///< a named intermediate value, a line of the trace
    Aside,      ///< a named value without a line of its own: T0 = 25 °C + 273.15 K
    Negate,
    Add,
    Subtract,
    Multiply,
    Divide,
    Power,
    Exp,
    Log,  ///< natural logarithm
    Sqrt,
    Sinh,
    Asinh,
    Floor,
    Round,  ///< to the nearest whole number, halves upwards
    Min,
    Max,
    Select,  ///< operands: taken where the condition holds, taken where it does not, condition
    Refuse,  ///< a Select whose other side has no value
    Less,
    LessEqual,
    Differs,  ///< of two numbers
    And,
    IsInfinite,
    ShiftLeft,   ///< of integers; the second operand is the number of bits
    ShiftRight,  ///< arithmetic for signed integers
    Convert,     ///< an integer in another width
    Solve,       ///< operands: the function of the unknown, the value it is to have, the unknown
    Table,       ///< operands: the argument, the piece of the table that holds there
    Call         ///< operands: the argument, the body that holds there; a function too long to be printed in place
};

/// One node; operands are indices of earlier nodes, −1 where there is none.
struct Node {
    Op op = Op::Constant;
    std::array<std::int32_t, 3> operands{-1, -1, -1};
    double value = 0;           ///< as computed when it was recorded; NaN where the formula has none
    std::string_view name{};    ///< of inputs, parameters, unknowns, steps and calls; of a constant how it is written
    std::string_view unit{};    ///< id of the unit of a named value or a constant ("degC"), or a compound ("V/°C")
    std::string_view source{};  ///< of steps
    bool isTaken = true;        ///< Select: the first side holds
    std::int8_t bits = 0;       ///< of an integer, negative for an unsigned one; 0: a real number
    bool wraps = false;         ///< an integer operation whose exact result does not fit its width
    std::int64_t whole = 0;     ///< the value of an integer, exact where `value` may have rounded it
    std::int32_t table = -1;    ///< Table: which of the recording's tables
};

/// An expression as it is recorded: nodes in the order in which they were computed. Names live as long as it does.
class Recording {
  public:
    Recording() = default;
    Recording(const Recording&) = delete;
    Recording& operator=(const Recording&) = delete;

    std::int32_t add(Node node);
    [[nodiscard]] const Node& at(std::int32_t index) const { return m_nodes[static_cast<std::size_t>(index)]; }
    [[nodiscard]] std::size_t size() const { return m_nodes.size(); }
    /// A text that lives as long as the recording.
    [[nodiscard]] std::string_view keep(std::string_view text);

    /// The points of a table, ascending in x, for nodes to refer to.
    using TablePoints = std::vector<std::array<double, 2>>;
    std::int32_t addTable(TablePoints points);
    [[nodiscard]] const TablePoints& tableAt(std::int32_t index) const {
        return m_tables[static_cast<std::size_t>(index)];
    }

  private:
    std::vector<Node> m_nodes;
    std::vector<TablePoints> m_tables;
    std::deque<std::string> m_texts;
};

/// A text that lives as long as the program, the same for the same letters: names made of a unit ("slope_V_per_degC").
[[nodiscard]] std::string_view interned(std::string_view text);

}  // namespace fg
