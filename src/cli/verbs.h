#pragma once

#include <CLI/CLI.hpp>

namespace fg::cli {

/// Each adds its verb to the program; the verb's exit code goes to `exitCode`.
void addConvert(CLI::App& program, int& exitCode);
void addParts(CLI::App& program, int& exitCode);
void addCheck(CLI::App& program, int& exitCode);
void addSize(CLI::App& program, int& exitCode);
void addTable(CLI::App& program, int& exitCode);
void addBudget(CLI::App& program, int& exitCode);
void addRegisters(CLI::App& program, int& exitCode);
void addBus(CLI::App& program, int& exitCode);
void addDecode(CLI::App& program, int& exitCode);
void addChoose(CLI::App& program, int& exitCode);
void addPlan(CLI::App& program, int& exitCode);

}  // namespace fg::cli
