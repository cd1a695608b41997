#include "verb.h"

#include "output.h"

#include <CLI/CLI.hpp>
#include <cstdint>
#include <cstdio>
#include <iostream>

namespace fg::cli {

struct Verb::Inside {
    std::shared_ptr<CLI::App> program;  ///< keeps the whole tree
    CLI::App* app = nullptr;
    std::shared_ptr<int> exitCode;
};

namespace {

bool isDefaultWorthShowing(const std::string& value) { return !value.empty(); }
bool isDefaultWorthShowing(const std::vector<std::string>& value) { return !value.empty(); }
template <class Number>
bool isDefaultWorthShowing(Number value) {
    return value != Number{};
}

int refuseUnexpected(const std::string& what) {
    // Not through fmt: it throws again where stderr is full as well.
    std::fputs(("fgauge: " + what + "\n").c_str(), stderr);
    return kBadInput;
}

}  // namespace

Verb Verb::verb(const std::string& name, const std::string& purpose) {
    return Verb(std::make_shared<Inside>(
        Inside{m_inside->program, m_inside->app->add_subcommand(name, purpose), m_inside->exitCode}));
}

template <class Value>
Verb& Verb::option(const std::string& names, Value& value, const std::string& help) {
    CLI::Option* made = m_inside->app->add_option(names, value, help);
    if (isDefaultWorthShowing(value)) made->capture_default_str();
    return *this;
}

template <class Value>
Verb& Verb::required(const std::string& names, Value& value, const std::string& help) {
    m_inside->app->add_option(names, value, help)->required();
    return *this;
}

template Verb& Verb::option(const std::string&, std::string&, const std::string&);
template Verb& Verb::option(const std::string&, std::vector<std::string>&, const std::string&);
template Verb& Verb::option(const std::string&, double&, const std::string&);
template Verb& Verb::option(const std::string&, int&, const std::string&);
template Verb& Verb::option(const std::string&, std::uint32_t&, const std::string&);
template Verb& Verb::option(const std::string&, std::size_t&, const std::string&);
template Verb& Verb::required(const std::string&, std::string&, const std::string&);

Verb& Verb::flag(const std::string& names, bool& value, const std::string& help) {
    m_inside->app->add_flag(names, value, help);
    return *this;
}

Verb Verb::oneOf(const std::string& title, const std::string& help) {
    CLI::Option_group* group = m_inside->app->add_option_group(title, help);
    group->require_option(1);
    return Verb(std::make_shared<Inside>(Inside{m_inside->program, group, m_inside->exitCode}));
}

Verb& Verb::requireVerb() {
    m_inside->app->require_subcommand(1);
    return *this;
}

Verb& Verb::run(std::function<int()> action) {
    m_inside->app->callback([exitCode = m_inside->exitCode, action = std::move(action)] { *exitCode = action(); });
    return *this;
}

Program::Program(const std::string& name, const std::string& purpose, const std::string& version) {
    auto program = std::make_shared<CLI::App>(purpose, name);
    program->set_version_flag("--version", name + " " + version);
    auto inside = std::make_shared<Verb::Inside>(Verb::Inside{program, program.get(), std::make_shared<int>(kFine)});
    m_top = std::unique_ptr<Verb>(new Verb(std::move(inside)));
}

Program::~Program() = default;

int Program::run(int argc, char** argv) {
    CLI::App& program = *m_top->m_inside->program;
    try {
        program.parse(argc, argv);
    } catch (const CLI::Success& asked) {
        program.exit(asked);  // --help, --version
    } catch (const CLI::ParseError& error) {
        return refuseUsage(error.what());
    } catch (const std::exception& error) {
        return refuseUnexpected(error.what());  // a full disk behind a pipe, memory
    }
    // What still waits in the buffer may not fit either.
    std::cout.flush();
    if (std::cout.fail() || std::fflush(stdout) != 0 || std::ferror(stdout) != 0)
        return refuseUnexpected("the output cannot be written");
    return *m_top->m_inside->exitCode;
}

}  // namespace fg::cli
