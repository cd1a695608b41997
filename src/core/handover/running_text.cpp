#include "handover/running_text.h"

#include "formula/recorded.h"
#include "handover/formula_writer.h"
#include "handover/whole_slope_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>

namespace fg {
namespace {

constexpr int kPieces = WindowPieces<int>::kPieces;

/// A sum that a piece of the window holds.
struct Sum {
    const char* name;  ///< of the written member
    Recorded Moments<Recorded>::*of;
};
constexpr std::array kSums{Sum{"count", &Moments<Recorded>::count}, Sum{"value", &Moments<Recorded>::value},
                           Sum{"time", &Moments<Recorded>::time_s},
                           Sum{"time_squares", &Moments<Recorded>::timeSquares},
                           Sum{"products", &Moments<Recorded>::products}};
/// A mean needs no times.
constexpr std::size_t kSumsOfMean = 2;

/// Text with one blank line's worth of indent less: what is written for the inside of a try.
std::string outdented(const std::string& text) {
    std::string out;
    bool isStart = true;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (isStart && text.compare(i, 4, "    ") == 0) i += 4;
        out += text[i];
        isStart = text[i] == '\n';
    }
    return out;
}

class WindowText {
  public:
    WindowText(const RunningCode& running, CodeLanguage language, std::string type, Identifiers& names)
        : m_running(running),
          m_isC(language == CodeLanguage::C),
          m_language(language),
          m_type(std::move(type)),
          m_isWhole(running.law.tail.has_value()),
          m_isRate(running.over == Over::Rate),
          m_names(names) {
        if (!m_isC) m_called.piece = "Piece";  // a class beside which a `piece` is one of it
        for (std::string* name :
             {&m_called.pieces, &m_called.pieceAt, &m_called.join, &m_called.keep, &m_called.window, &m_called.clock,
              &m_called.held, &m_called.oldest, &m_called.last, &m_called.passed, &m_called.piece, &m_called.count,
              &m_called.length, &m_called.timeOf, &m_called.meanOf})
            *name = m_names.freshExact(*name);
        if (running.slope)
            m_slope =
                m_isC ? wholeSlopeC(*running.slope, m_called, m_type) : wholeSlopePython(*running.slope, m_called);
    }

    RunningText write(const std::string& clock, const std::string& reading) {
        RunningText text;
        text.value = m_names.freshExact("value_of_window");
        text.functions = m_isC ? functionsC() : functionsPython();
        if (m_isC) text.memory = memory();  // of objects nobody knows
        constexpr int kOfWholeSlope = 30;   // a piece, in all of its loops
        text.operations = (m_running.slope ? kOfWholeSlope : m_operations) * (kPieces + 1);
        const std::string take = fmt::format("{}({}, {})", m_called.keep, clock, reading);
        if (m_isC) {
            // What is no number is passed over.
            text.body =
                m_isWhole ? fmt::format("    {};\n", take) : fmt::format("    if (!isnan({})) {};\n", reading, take);
            text.body += fmt::format("    {} {};\n    if (!{}(&{})) return FG_NO_VALUE;\n", m_type, text.value,
                                     m_called.window, text.value);
        } else {
            text.body = m_isWhole ? fmt::format("    {}\n", take)
                                  : fmt::format("    if {0} is not None and {0} == {0}: {1}\n", reading, take);
            text.body += fmt::format("    {} = {}()\n    if {} is None: return (FG_NO_VALUE, None)\n", text.value,
                                     m_called.window, text.value);
        }
        return text;
    }

  private:
    [[nodiscard]] bool isMean() const { return m_running.over == Over::Mean; }
    [[nodiscard]] bool isSummed() const { return isMean() || m_isRate; }
    [[nodiscard]] std::size_t sums() const { return m_isRate ? kSums.size() : kSumsOfMean; }

    /// As laid out by most compilers: what is n bytes long begins at a multiple of n.
    [[nodiscard]] std::size_t memory() const {
        const bool isWholeMean = isMean() && m_isWhole;
        const std::size_t one = m_type == "int16_t" ? 2 : m_type == "int32_t" || m_type == "float" ? 4 : 8;
        const std::size_t align = isWholeMean || m_slope ? 8 : std::max<std::size_t>(4, one);
        const std::size_t numbers = m_slope ? 16 : m_isRate || isWholeMean ? 8 : 4;
        const std::size_t sumsOf = m_slope ? 4 * 8 : isWholeMean ? 8 : isSummed() ? sums() * one : one;
        const std::size_t piece = numbers + sumsOf;
        constexpr std::size_t kBeside = 24;
        return (piece + align - 1) / align * align * kPieces + kBeside;
    }

    [[nodiscard]] CodeReal real() const { return m_type == "float" ? CodeReal::Float : CodeReal::Double; }
    [[nodiscard]] std::string number(double value) const { return realText(value, m_language, real()); }

    /// The formula of sums about the mean of two groups, as statements that end in assignments to `to`.
    std::string joining() {
        const auto shared = std::make_shared<Recording>();
        Moments<Recorded> to, others;
        std::map<std::int32_t, std::string> inputs;
        const char* dot = m_isC ? "->" : ".";
        const auto leaf = [&](const std::string& name) {
            const Recorded one = Recorded::leaf(*shared, Op::Input, shared->keep(name), "", 1);
            inputs[one.indexIn(*shared)] = name;
            return one;
        };
        for (std::size_t i = 0; i < sums(); ++i) {
            to.*kSums[i].of = leaf(fmt::format("to{}{}", dot, kSums[i].name));
            others.*kSums[i].of = leaf(fmt::format("others{}{}", dot, kSums[i].name));
        }
        to.add(others, m_isRate ? leaf("shift") : Recorded(0.0));
        std::vector<std::int32_t> roots;
        for (std::size_t i = 0; i < sums(); ++i)
            roots.push_back(step(fmt::format("new_{}", kSums[i].name), "", "", to.*kSums[i].of).indexIn(*shared));
        const FormulaCode code = FormulaCode::ofExpression(shared, roots.back());
        m_operations = static_cast<int>(shared->size());
        Identifiers locals({"to", "others", "shift"});
        FormulaWriter writer(code, m_language, real(), "", locals);
        writer.nameInputs(std::move(inputs));
        std::vector<std::string> results;
        const FormulaText text = writer.write(roots, results);
        std::string lines = m_isC ? text.body : outdented(text.body);
        for (std::size_t i = 0; i < sums(); ++i)
            lines += fmt::format("    to{}{} = {}{}\n", dot, kSums[i].name, results[i], m_isC ? ";" : "");
        return lines;
    }
    /// The slope from the sums of `all`.
    [[nodiscard]] std::string slope() const {
        const auto shared = std::make_shared<Recording>();
        Moments<Recorded> all;
        all.products = Recorded::leaf(*shared, Op::Input, "products", "", 1);
        all.timeSquares = Recorded::leaf(*shared, Op::Input, "time_squares", "", 1);
        std::map<std::int32_t, std::string> inputs{{all.products.indexIn(*shared), "all.products"},
                                                   {all.timeSquares.indexIn(*shared), "all.time_squares"}};
        const std::int32_t root = all.slope().indexIn(*shared);
        const FormulaCode code = FormulaCode::ofExpression(shared, root);
        Identifiers locals;
        FormulaWriter writer(code, m_language, real(), "", locals);
        writer.nameInputs(std::move(inputs));
        std::vector<std::string> results;
        (void)writer.write(std::span(&root, 1), results);
        return results[0];
    }

    std::string functionsC() {
        std::string members = m_isRate ? "    uint32_t number, first_ms; /* counted from the first reading on; time of "
                                         "its own first one */\n"
                                       : "    uint32_t number; /* counted from the first reading on */\n";
        if (!isSummed())
            members += fmt::format("    {} value;\n", m_type);
        else if (m_slope)
            members += m_slope->members;
        else if (m_isWhole)
            members += "    uint32_t count;\n    int64_t sum;\n";
        else if (m_isRate)
            members +=
                fmt::format("    {} count, value, time, time_squares, products; /* means, and sums about them */\n",
                            m_type);
        else
            members += fmt::format("    {} count, value; /* value: their mean */\n", m_type);
        std::string text = fmt::format(
            "/* The readings of the last {0} ms, in pieces. A window of n pieces is true to 1/n of its length; fewer "
            "need less\n   memory. */\n"
            "#define {1} {2}u\n#define {3} {0}u\n"
            "struct {4} {{\n{5}}};\n"
            "static struct {4} {6}[{1}];\n"
            "static uint32_t {7}, {8};\n"
            "static uint32_t {9};\n"
            "static uint64_t {10}; /* since the first reading */\n\n",
            m_running.window_ms, m_called.count, kPieces, m_called.length, m_called.piece, members, m_called.pieces,
            m_called.oldest, m_called.held, m_called.last, m_called.passed);
        std::string fresh = "number";
        if (m_isRate) fresh += ", now_ms";
        if (!isSummed()) fresh += ", reading";
        const std::string parameters =
            isSummed() && !m_slope ? "uint32_t now_ms" : fmt::format("uint32_t now_ms, {} reading", m_type);
        std::string zeros;
        if (m_slope)
            zeros = m_slope->fresh;
        else if (isSummed())
            for (std::size_t i = 0; i < (m_isWhole ? 2 : sums()); ++i) zeros += m_isWhole ? ", 0" : ", " + number(0);
        text += fmt::format(
            "/* The piece that a time belongs to. What has left the window goes. */\n"
            "static struct {0} *{1}({2})\n{{\n"
            "    if ({3} > 0) {4} += (uint32_t)(now_ms - {5});\n"
            "    {5} = now_ms;\n"
            "    const uint32_t number = (uint32_t)({4} / {6} * {7} + {4} % {6} * {7} / {6});\n"
            "    while ({3} > 0 && (uint32_t)(number - {8}[{9}].number) >= {7}) {{\n"
            "        {9} = ({9} + 1) % {7};\n        --{3};\n    }}\n"
            "    if ({3} == 0 || {8}[({9} + {3} - 1) % {7}].number != number) {{\n"
            "        const struct {0} empty = {{{10}{11}}};\n"
            "        {8}[({9} + {3}) % {7}] = empty;\n        ++{3};\n    }}\n"
            "    return &{8}[({9} + {3} - 1) % {7}];\n}}\n\n",
            m_called.piece, m_called.pieceAt, parameters, m_called.held, m_called.passed, m_called.last,
            m_called.length, m_called.count, m_called.pieces, m_called.oldest, fresh, zeros);
        if (isSummed() && !m_isWhole)
            text += fmt::format(
                "/* Others join the sums of some readings{}.\n   Sums about the mean of two groups together: Chan, "
                "Golub, LeVeque, Updating formulae (1979). */\n"
                "static void {}(struct {} *to, const struct {} *others{})\n{{\n{}}}\n\n",
                m_isRate ? "; their times count from shift on, s" : "", m_called.join, m_called.piece, m_called.piece,
                m_isRate ? fmt::format(", {} shift", m_type) : "", joining());
        if (m_slope) text += m_slope->functions;
        return text + keepC() + windowC();
    }

    [[nodiscard]] std::string keepC() const {
        std::string lines;
        if (!isSummed())
            lines = fmt::format(
                "    struct {0} *piece = {1}(now_ms, reading);\n    if (reading {2} piece->value) "
                "piece->value = reading;\n",
                m_called.piece, m_called.pieceAt, m_running.over == Over::Least ? "<" : ">");
        else if (m_slope)
            lines = fmt::format("    struct {} *piece = {}(now_ms, reading);\n{}", m_called.piece, m_called.pieceAt,
                                m_slope->keep);
        else if (m_isWhole)
            lines = fmt::format("    struct {} *piece = {}(now_ms);\n    ++piece->count;\n    piece->sum += reading;\n",
                                m_called.piece, m_called.pieceAt);
        else
            lines = fmt::format(
                "    struct {0} *piece = {1}(now_ms);\n"
                "    const struct {0} one = {{.count = {2}, .value = reading}};\n"
                "    {3}(piece, &one{4});\n",
                m_called.piece, m_called.pieceAt, number(1), m_called.join,
                m_isRate ? fmt::format(", ({})(now_ms - piece->first_ms) / {}", m_type, number(1000)) : "");
        return fmt::format("static void {}(uint32_t now_ms, {} reading)\n{{\n{}}}\n\n", m_called.keep, m_type, lines);
    }

    [[nodiscard]] std::string windowC() const {
        std::string lines = fmt::format("    if ({} == 0) return 0;\n", m_called.held);
        const auto loop = [&](const std::string& inside) {
            return fmt::format(
                "    for (uint32_t i = 0; i < {0}; ++i) {{\n        const struct {1} *piece = &{2}[({3} + i) % {4}];\n"
                "{5}    }}\n",
                m_called.held, m_called.piece, m_called.pieces, m_called.oldest, m_called.count, inside);
        };
        if (!isSummed()) {
            lines += fmt::format("    *value = {}[{}].value;\n", m_called.pieces, m_called.oldest) +
                     loop(fmt::format("        if (piece->value {} *value) *value = piece->value;\n",
                                      m_running.over == Over::Least ? "<" : ">"));
        } else if (m_slope) {
            lines += m_slope->value;
        } else if (m_isWhole) {
            lines +=
                "    int64_t sum = 0, count = 0;\n" +
                loop("        sum += piece->sum;\n        count += piece->count;\n") +
                fmt::format("    *value = ({})((sum >= 0 ? sum + count / 2 : sum - count / 2) / count);\n", m_type);
        } else if (isMean()) {
            lines += fmt::format("    struct {} all = {{0}};\n", m_called.piece) +
                     loop(fmt::format("        {}(&all, piece);\n", m_called.join)) + "    *value = all.value;\n";
        } else {
            const std::string shift = fmt::format("({})(piece->first_ms - {}[{}].first_ms) / {}", m_type,
                                                  m_called.pieces, m_called.oldest, number(1000));
            lines +=
                fmt::format("    struct {} all = {{0}};\n    {} passed = {};\n", m_called.piece, m_type, number(0)) +
                loop(fmt::format("        const {0} shift = {1};\n        {2}(&all, piece, shift);\n"
                                 "        passed = piece->time + shift - {3}[{4}].time;\n",
                                 m_type, shift, m_called.join, m_called.pieces, m_called.oldest)) +
                fmt::format(
                    "    /* no slope before a tenth of the window has passed */\n"
                    "    if (!(passed > {0} && passed >= {1} * {2})) return 0;\n    *value = {3};\n",
                    number(0), number(kLeastPartForRate), number(static_cast<double>(m_running.window_ms) / 1000),
                    slope());
        }
        return fmt::format(
            "/* What the window comes to; 0: nothing yet. */\nstatic int {}({} *value)\n{{\n{}    return "
            "1;\n}}\n\n",
            m_called.window, m_type, lines);
    }

    std::string functionsPython() {
        std::string members = "        self.number = number  # counted from the first reading on\n";
        if (m_isRate) members += "        self.first_ms = first_ms  # time of its own first reading\n";
        if (!isSummed())
            members += "        self.value = first\n";
        else if (m_slope)
            members += m_slope->members;
        else if (m_isWhole)
            members += "        self.count = self.sum = 0\n";
        else
            for (std::size_t i = 0; i < sums(); ++i) members += fmt::format("        self.{} = 0.0\n", kSums[i].name);
        std::string first = m_isRate ? ", first_ms" : "", fresh = m_isRate ? ", now_ms" : "";
        const bool isOfReading = m_slope || !isSummed();  // a piece begins with its first reading
        if (isOfReading) {
            first += ", first";
            fresh += ", reading";
        }
        std::string text = fmt::format(
            "# The readings of the last {0} ms, in pieces. A window of n pieces is true to 1/n of its length; fewer "
            "need less\n# memory.\n"
            "{1} = {2}\n{3} = {0}\n{4} = []\n{5} = [0, 0]  # last time, and what has passed since the first\n\n"
            "class {6}:\n    def __init__(self, number{7}):\n{8}\n",
            m_running.window_ms, m_called.count, kPieces, m_called.length, m_called.pieces, m_called.clock,
            m_called.piece, first, members);
        text += fmt::format(
            "def {0}(now_ms{1}):\n"
            "    # The piece that a time belongs to; time.ticks_ms() wraps at 30 bits or more.\n"
            "    if {2}: {3}[1] += (now_ms - {3}[0]) & 0x3FFFFFFF\n"
            "    {3}[0] = now_ms\n"
            "    number = {3}[1] * {4} // {5}\n"
            "    while {2} and number - {2}[0].number >= {4}: {2}.pop(0)\n"
            "    if not {2} or {2}[-1].number != number: {2}.append({6}(number{7}))\n"
            "    return {2}[-1]\n\n",
            m_called.pieceAt, isOfReading ? ", reading" : "", m_called.pieces, m_called.clock, m_called.count,
            m_called.length, m_called.piece, fresh);
        if (isSummed() && !m_isWhole)
            text += fmt::format(
                "def {}(to, others{}):\n"
                "    # Sums about the mean of two groups together: Chan, Golub, LeVeque, Updating formulae "
                "(1979).\n{}\n",
                m_called.join, m_isRate ? ", shift" : "", joining());
        if (m_slope) text += m_slope->functions;
        return text + keepPython() + windowPython();
    }

    [[nodiscard]] std::string keepPython() const {
        std::string lines;
        if (!isSummed())
            lines =
                fmt::format("    piece = {}(now_ms, reading)\n    if reading {} piece.value: piece.value = reading\n",
                            m_called.pieceAt, m_running.over == Over::Least ? "<" : ">");
        else if (m_slope)
            lines = fmt::format("    piece = {}(now_ms, reading)\n{}", m_called.pieceAt, m_slope->keep);
        else if (m_isWhole)
            lines = fmt::format("    piece = {}(now_ms)\n    piece.count += 1\n    piece.sum += reading\n",
                                m_called.pieceAt);
        else
            lines = fmt::format(
                "    piece = {0}(now_ms)\n    one = {1}(0{2})\n    one.count = 1.0\n    one.value = reading\n"
                "    {3}(piece, one{4})\n",
                m_called.pieceAt, m_called.piece, m_isRate ? ", 0" : "", m_called.join,
                m_isRate ? ", ((now_ms - piece.first_ms) & 0x3FFFFFFF) / 1000.0" : "");
        return fmt::format("def {}(now_ms, reading):\n{}\n", m_called.keep, lines);
    }

    [[nodiscard]] std::string windowPython() const {
        std::string lines = fmt::format("    if not {}: return None\n", m_called.pieces);
        const auto loop = [&](const std::string& inside) {
            return fmt::format("    for piece in {}:\n{}", m_called.pieces, inside);
        };
        if (!isSummed()) {
            lines += fmt::format("    return {}(piece.value for piece in {})\n",
                                 m_running.over == Over::Least ? "min" : "max", m_called.pieces);
        } else if (m_slope) {
            lines += m_slope->value;
        } else if (m_isWhole) {
            lines += "    sum = count = 0\n" + loop("        sum += piece.sum\n        count += piece.count\n") +
                     "    return (sum + count // 2) // count if sum >= 0 else -((count // 2 - sum) // count)\n";
        } else if (isMean()) {
            lines += fmt::format("    all = {}(0)\n", m_called.piece) +
                     loop(fmt::format("        {}(all, piece)\n", m_called.join)) + "    return all.value\n";
        } else {
            lines +=
                fmt::format("    all, first = {}(0, 0), {}[0]\n", m_called.piece, m_called.pieces) +
                loop(fmt::format("        shift = ((piece.first_ms - first.first_ms) & 0x3FFFFFFF) / 1000.0\n"
                                 "        {}(all, piece, shift)\n        passed = piece.time + shift - first.time\n",
                                 m_called.join)) +
                fmt::format(
                    "    # no slope before a tenth of the window has passed\n"
                    "    if not (passed > 0.0 and passed >= {} * {}): return None\n    return {}\n",
                    number(kLeastPartForRate), number(static_cast<double>(m_running.window_ms) / 1000), slope());
        }
        return fmt::format("def {}():\n{}\n", m_called.window, lines);
    }

    const RunningCode& m_running;
    bool m_isC;
    CodeLanguage m_language;
    std::string m_type;
    bool m_isWhole, m_isRate;
    int m_operations = 2;  // of a piece that joins the others
    Identifiers& m_names;
    WindowNames m_called;
    std::optional<WholeSlopeText> m_slope;  // of a rate in whole numbers
};

}  // namespace

RunningText runningText(const RunningCode& running, CodeLanguage language, const std::string& type, Identifiers& names,
                        const std::string& clock, const std::string& reading) {
    return WindowText(running, language, type, names).write(clock, reading);
}

}  // namespace fg
