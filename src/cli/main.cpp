#include "output.h"
#include "verbs.h"

int main(int argc, char** argv) {
    CLI::App program{"Turns raw counts and bus readings into calibrated physical units, and back.", "fgauge"};
    program.set_version_flag("--version", "fgauge " FAIRGAUGE_VERSION);
    program.require_subcommand(1);
    int exitCode = fg::cli::kFine;
    fg::cli::addConvert(program, exitCode);
    fg::cli::addParts(program, exitCode);
    fg::cli::addCheck(program, exitCode);
    fg::cli::addSize(program, exitCode);
    fg::cli::addBudget(program, exitCode);
    fg::cli::addTable(program, exitCode);
    fg::cli::addDecode(program, exitCode);
    fg::cli::addRegisters(program, exitCode);
    fg::cli::addBus(program, exitCode);
    fg::cli::addChoose(program, exitCode);
    fg::cli::addPlan(program, exitCode);
    try {
        program.parse(argc, argv);
    } catch (const CLI::Success& asked) {
        return program.exit(asked);  // --help, --version
    } catch (const CLI::ParseError& error) {
        return fg::cli::refuseUsage(error.what());
    }
    return exitCode;
}
