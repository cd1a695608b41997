#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace fg::cli {

/// A verb of the command line: what it takes, and what it does. The parser behind it (CLI11) is compiled in verb.cpp
/// alone.
///
/// `names` as on the command line: "--gauge", or "part" for a value without a name. What is handed in by reference
/// receives the value and must outlive the parsing; what stands in it already is shown as the default.
class Verb {
  public:
    /// A verb below this one.
    Verb verb(const std::string& name, const std::string& purpose);

    /// `Value` is std::string, std::vector<std::string>, double, int, std::size_t or std::uint32_t.
    template <class Value>
    Verb& option(const std::string& names, Value& value, const std::string& help);
    template <class Value>
    Verb& required(const std::string& names, Value& value, const std::string& help);
    Verb& flag(const std::string& names, bool& value, const std::string& help);

    /// Options of which exactly one must be given: the result takes them, the verb stays as it is.
    Verb oneOf(const std::string& title, const std::string& help);
    Verb& requireVerb();

    /// What happens when the verb was given; the result is the exit code.
    Verb& run(std::function<int()> action);

  private:
    friend class Program;
    struct Inside;
    explicit Verb(std::shared_ptr<Inside> inside) : m_inside(std::move(inside)) {}
    std::shared_ptr<Inside> m_inside;
};

/// The whole command line.
class Program {
  public:
    Program(const std::string& name, const std::string& purpose, const std::string& version);
    ~Program();
    [[nodiscard]] Verb& top() { return *m_top; }

    /// Parses and runs; the exit code. A wrong command line is one line on stderr and kBadInput.
    int run(int argc, char** argv);

  private:
    std::unique_ptr<Verb> m_top;
};

}  // namespace fg::cli
