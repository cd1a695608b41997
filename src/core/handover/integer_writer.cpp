#include "handover/integer_writer.h"

#include <fmt/format.h>

namespace fg {
namespace {

class IntegerWriter {
  public:
    IntegerWriter(const IntegerForm& form, CodeLanguage language, std::string code, std::string codeType,
                  std::string resultType)
        : m_form(form),
          m_isC(language == CodeLanguage::C),
          m_language(language),
          m_code(std::move(code)),
          m_codeType(std::move(codeType)),
          m_resultType(std::move(resultType)),
          m_type(fmt::format("int{}_t", form.width)),
          m_indent("    ") {}

    [[nodiscard]] IntegerText write() {
        m_form.kind == IntegerForm::Kind::Table ? table() : polynomial();
        return std::move(m_text);
    }

  private:
    void line(const std::string& text) { m_text.body += m_indent + text + "\n"; }
    [[nodiscard]] std::string whole(std::int64_t value) const { return wholeText(value, m_language); }
    /// " + 3", " - 3"; nothing for 0.
    [[nodiscard]] std::string plus(std::int64_t value) const {
        if (value == 0) return "";
        return value < 0 ? " - " + whole(-value) : " + " + whole(value);
    }
    [[nodiscard]] std::string cast(const std::string& type, const std::string& text) const {
        return m_isC ? fmt::format("({})({})", type, text) : text;
    }
    /// A shift to the right that rounds down, of what may be negative.
    [[nodiscard]] std::string shifted(const std::string& value, int bits) {
        if (bits == 0) return value;
        if (!m_isC) return fmt::format("(({}) >> {})", value, bits);
        if (m_text.functions.empty())
            m_text.functions = fmt::format(
                "/* Divided by 2^bits and rounded down. C leaves it to the compiler what >> does with a negative\n"
                "   number; this is the same everywhere. */\n"
                "static {0} fg_shift({0} value, unsigned bits)\n"
                "{{\n"
                "    return ({0})(value >= 0 ? value >> bits : -1 - ((-1 - value) >> bits));\n"
                "}}\n\n",
                m_type);
        return fmt::format("fg_shift(({})({}), {})", m_type, value, bits);
    }

    void polynomial() {
        const auto& c = m_form.numbers;
        const bool isUnsigned = m_codeType.starts_with('u');
        std::string x = m_code;
        if (m_form.drop > 0 && isUnsigned)
            x = m_isC ? fmt::format("({})({} >> {})", m_codeType, m_code, m_form.drop)
                      : fmt::format("({} >> {})", m_code, m_form.drop);
        else if (m_form.drop > 0)
            // The code may be wider than the arithmetic; it is made smaller first.
            x = m_isC ? fmt::format("({0} >= 0 ? {0} >> {1} : -1 - ((-1 - {0}) >> {1}))", m_code, m_form.drop)
                      : fmt::format("({} >> {})", m_code, m_form.drop);
        line(fmt::format("{}x = {}{}", m_isC ? "const " + m_type + " " : "", cast(m_type, x + plus(-m_form.centre)),
                         m_isC ? ";" : ""));
        const auto end = m_isC ? ";" : "";
        if (c.size() > 2) line(fmt::format("{}y = {}{}", m_isC ? m_type + " " : "", whole(c.back()), end));
        for (std::size_t i = c.size() - 1; i-- > 0;) {
            const std::string y = c.size() > 2 ? "y" : whole(c.back());
            const int shift = m_form.shifts[i];
            const std::int64_t half = shift > 0 ? std::int64_t{1} << (shift - 1) : 0;
            const std::string product = y == "1" ? "x" : y + " * x";
            const std::string sum = shifted(product + plus(half), shift) + plus(c[i]);
            if (i > 0)
                line(fmt::format("y = {}{}", cast(m_type, sum), end));
            else
                m_text.result = cast(m_resultType, shifted(sum, m_form.fraction));
        }
    }

    void table() {
        const auto& p = m_form.numbers;
        std::vector<std::string> numbers;
        for (const std::int64_t entry : p) numbers.push_back(whole(entry));
        const std::string entryType = fmt::format("int{}_t", m_form.entryBits());
        const std::int64_t step = std::int64_t{1} << m_form.drop;
        const std::string about = fmt::format("entry i is code {} + {} * i", m_form.first, step);
        if (m_isC)
            m_text.constants = fmt::format("static const {} points[{}] = {{ /* {} */\n{}}};\n", entryType, p.size(),
                                           about, listText(numbers, "    "));
        else
            m_text.constants = fmt::format("points = (  # {}\n{})\n", about, listText(numbers, "    "));
        const std::string offset = fmt::format("{}{}", m_code, plus(-m_form.first));
        const std::string offsetType = m_codeType.starts_with('u') ? m_codeType : "u" + m_codeType;
        line(fmt::format("{}offset = {}{}", m_isC ? "const " + offsetType + " " : "", cast(offsetType, offset),
                         m_isC ? ";" : ""));
        if (m_form.drop == 0) {
            m_text.result = m_isC ? cast(m_resultType, "points[offset]") : "points[offset]";
            return;
        }
        const std::int64_t half = step / 2, mask = step - 1;
        if (m_isC) {
            line(fmt::format("const {} *p = points + (offset >> {});", entryType, m_form.drop));
            line(fmt::format("const {0} part = ({0})(offset & {1});", m_type, wholeText(mask, m_language, true)));
            line(fmt::format("const {0} step = ({0})(({0})p[1] - ({0})p[0]);", m_type));
            m_text.result =
                cast(m_resultType, fmt::format("p[0] + {}", shifted("step * part" + plus(half), m_form.drop)));
        } else {
            line(fmt::format("i = offset >> {}", m_form.drop));
            line("step = points[i + 1] - points[i]");
            m_text.result = fmt::format("points[i] + ((step * (offset & {}){}) >> {})", mask, plus(half), m_form.drop);
        }
    }

    const IntegerForm& m_form;
    bool m_isC;
    CodeLanguage m_language;
    std::string m_code, m_codeType, m_resultType, m_type, m_indent;
    IntegerText m_text;
};

}  // namespace

IntegerText integerText(const IntegerForm& form, CodeLanguage language, const std::string& code,
                        const std::string& codeType, const std::string& resultType) {
    return IntegerWriter(form, language, code, codeType, resultType).write();
}

}  // namespace fg
